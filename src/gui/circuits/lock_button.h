#pragma once

#include <QAbstractButton>

namespace fg::gui {

/// The lock at a value: closed (fixed by the maker) or open (the solver may choose it). Checked means open.
class LockButton final : public QAbstractButton {
    Q_OBJECT
  public:
    explicit LockButton(const QString& name, QWidget* parent = nullptr);

  protected:
    void paintEvent(QPaintEvent* event) override;
};

}  // namespace fg::gui
