#pragma once

#include <QLayout>
#include <QWidget>

namespace fg::gui {

/// Takes the items out of a layout from its beginning, all but the last `kept`. Their widgets are gone at once to the
/// eye and deleted when nothing runs in them any more.
inline void clearLayout(QLayout& layout, int kept = 0) {
    while (layout.count() > kept) {
        QLayoutItem* item = layout.takeAt(0);
        if (item->widget()) {
            item->widget()->hide();
            item->widget()->deleteLater();
        }
        delete item;
    }
}

}  // namespace fg::gui
