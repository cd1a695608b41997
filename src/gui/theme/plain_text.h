#pragma once

#include <QObject>

namespace fg::gui {

/// Text is plain unless a widget says otherwise: names, messages and lines from a board may hold markup, which would be
/// loaded and laid out. Labels whose format was left open are made plain before they are first shown; tips are shown as
/// they stand. Markup is for labels that ask for it (Qt::RichText) and escape what comes from outside.
class PlainTextByDefault final : public QObject {
    Q_OBJECT
  public:
    /// For the whole application; once.
    static void install();

  protected:
    bool eventFilter(QObject* object, QEvent* event) override;

  private:
    using QObject::QObject;
};

}  // namespace fg::gui
