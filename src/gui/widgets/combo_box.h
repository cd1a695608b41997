#pragma once

#include <QComboBox>

namespace fg::gui {

/// A list of choices that draws its own arrow, in the ink of the theme. A style sheet could name a picture for it, but
/// then every start would load the library that reads pictures, for ten pixels.
class ComboBox final : public QComboBox {
  public:
    using QComboBox::QComboBox;

  protected:
    void paintEvent(QPaintEvent* event) override;
};

}  // namespace fg::gui
