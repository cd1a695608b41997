#pragma once

#include <QLabel>
#include <QPushButton>
#include <QWidget>

namespace fg::gui {

/// One line over the work that says what went wrong and stays until it is read. Never a modal box.
class MessageBar final : public QWidget {
    Q_OBJECT
  public:
    explicit MessageBar(QWidget* parent = nullptr);
    void showMessage(const QString& text);
    [[nodiscard]] QString text() const { return m_text.text(); }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    QLabel m_text;
    QPushButton m_close;
};

}  // namespace fg::gui
