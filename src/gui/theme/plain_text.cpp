#include "theme/plain_text.h"

#include <QAbstractItemView>
#include <QApplication>
#include <QHelpEvent>
#include <QLabel>
#include <QToolTip>

namespace fg::gui {
namespace {

/// Markup is what the tip of a widget may be taken for; as text it is wrapped for that, escaped.
QString asText(const QString& tip) { return Qt::mightBeRichText(tip) ? Qt::convertFromPlainText(tip) : tip; }

/// The tip of a cell, by the view whose inside was pointed at.
QString tipOfCell(const QAbstractItemView& view, const QPoint& at) {
    return view.indexAt(at).data(Qt::ToolTipRole).toString();
}

}  // namespace

void PlainTextByDefault::install() {
    static PlainTextByDefault* const filter = new PlainTextByDefault(qApp);
    qApp->installEventFilter(filter);
}

bool PlainTextByDefault::eventFilter(QObject* object, QEvent* event) {
    if (event->type() == QEvent::Polish) {
        if (auto* label = qobject_cast<QLabel*>(object); label && label->textFormat() == Qt::AutoText)
            label->setTextFormat(Qt::PlainText);
        return false;
    }
    if (event->type() != QEvent::ToolTip) return false;
    auto* widget = qobject_cast<QWidget*>(object);
    if (!widget) return false;
    const auto* help = static_cast<QHelpEvent*>(event);
    const auto* view = qobject_cast<QAbstractItemView*>(widget->parentWidget());
    const bool isInside = view && view->viewport() == widget;
    const QString tip = isInside ? tipOfCell(*view, help->pos()) : widget->toolTip();
    if (tip.isEmpty() || !Qt::mightBeRichText(tip)) return false;
    QToolTip::showText(help->globalPos(), asText(tip), widget);
    return true;
}

}  // namespace fg::gui
