#include "widgets/value_edit.h"

#include "paint/marks.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "units/value_text.h"
#include "widgets/text.h"

#include <QKeyEvent>
#include <QPainter>

namespace fg::gui {

ValueEdit::ValueEdit(Quantity quantity, const Unit* unit, const QString& suffix, QWidget* parent)
    : QLineEdit(parent), m_quantity(quantity), m_unit(unit ? unit : &canonicalUnit(quantity)), m_suffix(suffix) {
    setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    connect(this, &QLineEdit::textEdited, this, [this] {
        m_invalid = false;
        const auto value = readText();
        if (value)
            showHint(tr("reads as %1").arg(textFor(*value)), false);
        else
            showHint(qs(value.error().message()), true);
        update();
    });
}

void ValueEdit::setUnit(const Unit* unit) {
    m_unit = unit;
    if (unit) m_quantity = unit->quantity;
    if (m_hasValue) setValue(m_value);
}

void ValueEdit::setSuffix(const QString& suffix) {
    m_suffix = suffix;
    if (m_hasValue) setValue(m_value);
}

QString ValueEdit::textFor(double canonical) const {
    if (canonical == 0 && !m_zeroText.isEmpty()) return m_zeroText;
    NumberText text = shortEngineering(canonical, m_quantity);
    const bool own = m_unit != &canonicalUnit(m_quantity) || !m_unit->takesPrefix;
    if (own) text = {plainNumber(m_unit->fromCanonical(canonical), 8), std::string(m_unit->symbol)};
    QString unit = qs(text.unit) + m_suffix;
    return qs(text.digits) + (unit.isEmpty() ? QString() : QStringLiteral(" ") + unit);
}

Expected<double> ValueEdit::readText() const {
    QString entered = text().trimmed();
    if (!m_zeroText.isEmpty() && entered == m_zeroText) return 0.0;
    if (!m_suffix.isEmpty() && entered.endsWith(m_suffix)) entered.chop(m_suffix.size());
    return readValue(entered.toStdString(), m_quantity, m_unit).map([](const ReadValue& value) {
        return value.canonical;
    });
}

void ValueEdit::setValue(double canonical) {
    m_value = canonical;
    m_hasValue = true;
    if (m_invalid || (hasFocus() && isModified())) return;
    const QString shown = textFor(canonical);
    if (shown != text()) setText(shown);
}

void ValueEdit::setInvalid(const QString& reason) {
    m_invalid = true;
    m_reason = reason;
    setAccessibleDescription(reason);
    showHint(reason, true);
    update();
}

void ValueEdit::restore() {
    m_invalid = false;
    m_reason.clear();
    setAccessibleDescription({});
    setModified(false);
    setText(textFor(m_value));
    showHint({}, false);
    update();
}

void ValueEdit::commit() {
    // A refused entry is not offered again by leaving the field: what it depends on may have changed meanwhile.
    if (!isModified() || m_invalid) return;
    const auto value = readText();
    if (!value) return setInvalid(qs(value.error().message()));
    if (onCommit) {
        if (const auto taken = onCommit(*value); !taken) return setInvalid(qs(taken.error().message()));
    }
    m_value = *value;
    restore();
}

bool ValueEdit::event(QEvent* event) {
    if (event->type() != QEvent::ShortcutOverride) return QLineEdit::event(event);
    const auto* key = static_cast<QKeyEvent*>(event);
    // Esc takes an entry back before it means anything to the window; undo with nothing typed is the bench's, not the
    // field's.
    if (key->key() == Qt::Key_Escape && (isModified() || m_invalid)) {
        event->accept();
        return true;
    }
    if (!isModified() && (key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo))) {
        event->ignore();
        return true;
    }
    return QLineEdit::event(event);
}

void ValueEdit::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
        commit();
        if (!m_invalid) selectAll();
        return;
    }
    if (event->key() == Qt::Key_Escape) {
        restore();
        selectAll();
        return;
    }
    QLineEdit::keyPressEvent(event);
}

void ValueEdit::focusInEvent(QFocusEvent* event) {
    QLineEdit::focusInEvent(event);
    if (m_invalid)
        showHint(m_reason, true);
    else
        QMetaObject::invokeMethod(this, &QLineEdit::selectAll, Qt::QueuedConnection);
}

void ValueEdit::focusOutEvent(QFocusEvent* event) {
    if (event->reason() != Qt::PopupFocusReason && event->reason() != Qt::ActiveWindowFocusReason) commit();
    QLineEdit::focusOutEvent(event);
    if (!m_invalid) showHint({}, false);
}

void ValueEdit::hideEvent(QHideEvent* event) {
    showHint({}, false);
    QLineEdit::hideEvent(event);
}

void ValueEdit::showHint(const QString& text, bool bad) {
    if (text.isEmpty()) {
        if (m_hint) m_hint->deleteLater();
        return;
    }
    if (!m_hint) {
        // On the window, so that it may lie over what follows without moving it.
        m_hint = new QLabel(window());
        m_hint->setObjectName(QStringLiteral("entryHint"));
        m_hint->setAttribute(Qt::WA_TransparentForMouseEvents);
        m_hint->setMargin(px(4));
    }
    const Palette& p = colours();
    m_hint->setStyleSheet(
        QStringLiteral("background: %1; color: %2; border: 1px solid %3; %4")
            .arg(p.sheet.name(), p.ink.name(), p.rule.name(), bad ? QStringLiteral("font-weight: bold;") : QString()));
    m_hint->setFont(Theme::instance().text(12, bad));
    m_hint->setWordWrap(true);
    m_hint->setText(text);
    m_hint->setMaximumWidth(px(360));
    m_hint->setFixedWidth(std::min(px(360), m_hint->fontMetrics().horizontalAdvance(text) + px(16)));
    m_hint->adjustSize();
    QPoint at = mapTo(window(), QPoint(0, height() + 2));
    at.setX(std::max(0, std::min(at.x(), window()->width() - m_hint->width() - 4)));
    if (at.y() + m_hint->height() > window()->height())
        at.setY(mapTo(window(), QPoint(0, 0)).y() - m_hint->height() - 2);
    m_hint->move(at);
    m_hint->raise();
    m_hint->show();
}

void ValueEdit::paintEvent(QPaintEvent* event) {
    QLineEdit::paintEvent(event);
    if (!m_invalid) return;
    QPainter painter(this);
    paintFrame(painter, rect(), colours().ink, 2);
    painter.setPen(QPen(colours().ink, 1, Qt::DashLine));
    painter.drawLine(px(6), height() - px(5), width() - px(26), height() - px(5));
    paintSeverity(painter, Severity::Fault, QRectF(px(5), (height() - px(12)) / 2.0, px(12), px(12)));
}

}  // namespace fg::gui
