#pragma once

#include <QEvent>
#include <QLabel>

namespace fg::gui {

/// Makes a label's text selectable with the mouse, from when the mouse first comes over it. Selectable at once, the
/// label would lay its text out as an editable document at every change: ten times the work, for texts that are mostly
/// only read. Both look the same.
inline void makeSelectable(QLabel& label) {
    class Pointed final : public QObject {
      public:
        using QObject::QObject;
        bool eventFilter(QObject* object, QEvent* event) override {
            if (event->type() == QEvent::Enter)
                static_cast<QLabel*>(object)->setTextInteractionFlags(Qt::TextSelectableByMouse);
            return false;
        }
    };
    label.installEventFilter(new Pointed(&label));
}

}  // namespace fg::gui
