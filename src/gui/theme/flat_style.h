#pragma once

#include <QProxyStyle>

namespace fg::gui {

/// The toolkit's own plain style, but for marks that it would read from picture files: every reader of pictures that
/// the desktop has would be loaded for them, while the window waits.
class FlatStyle final : public QProxyStyle {
    Q_OBJECT
  public:
    FlatStyle();
    [[nodiscard]] QIcon standardIcon(StandardPixmap which, const QStyleOption* option,
                                     const QWidget* widget) const override;
};

}  // namespace fg::gui
