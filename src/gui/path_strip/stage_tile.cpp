#include "path_strip/stage_tile.h"
#include "paint/marks.h"
#include "paint/number_painter.h"
#include "paint/text_painter.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/text.h"

#include <algorithm>
#include <cmath>
#include <QCoreApplication>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QStatusTipEvent>

namespace fg::gui {
namespace {

QString clipNote(const StageValue& value, bool isReading) {
    const QString limit = value.clip == Clip::AtLeast ? QObject::tr("At least") : QObject::tr("At most");
    if (isReading) return limit;
    return limit + (value.stage == Stage::Converter
                        ? (value.value > 0 ? QObject::tr(": full scale") : QObject::tr(": code 0"))
                        : QObject::tr(": clipped"));
}

}  // namespace

QString StageTile::title() const {
    const GaugeView* view = m_workbench.current();
    return qs(view ? view->titleOf(m_stage) : stageTitle(m_stage));
}

StageTile::StageTile(Workbench& workbench, Stage stage, QWidget* parent)
    : QWidget(parent), m_workbench(workbench), m_stage(stage) {
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setAttribute(Qt::WA_OpaquePaintEvent);  // it paints all of itself: nothing behind it has to be
    setObjectName(QStringLiteral("tile.") + qs(stageName(stage)));
    setToolTip(tr("Double-click, or press Enter, to type a value here"));
    connect(&m_workbench, &Workbench::valuesChanged, this, &StageTile::refresh);
    connect(&m_workbench, &Workbench::stageChanged, this, &StageTile::refresh);
    connect(&m_workbench, &Workbench::currentChanged, this, &StageTile::endEdit);
    // A value put in elsewhere takes the place of one begun here.
    connect(&m_workbench, &Workbench::valueTried, this, [this](Stage tried) {
        if (tried != m_stage) endEdit();
    });
    connect(&m_workbench, &Workbench::gaugesChanged, this, qOverload<>(&QWidget::update));
    connect(&Theme::instance(), &Theme::changed, this, [this] {
        updateGeometry();
        update();
    });
    refresh();
}

QSize StageTile::sizeHint() const { return {px(m_stage == Stage::Reading ? 196 : 138), px(84)}; }

void StageTile::refresh() {
    const GaugeView* view = m_workbench.current();
    if (!view) {
        m_shown.forget();
        m_shownValue.forget();
        return update();
    }
    const QString spoken = tr("%1: %2").arg(title(), qs(view->textAt(m_stage).joined()));
    const Evaluation* evaluation = view->evaluation();
    const bool isEntry = evaluation && evaluation->entry.stage == m_stage;
    const QString frame = QStringLiteral("%1|%2|%3|%4|%5|%6|%7|%8")
                              .arg(view->id())
                              .arg(title(), note(*view))
                              .arg(static_cast<int>(view->origin()))
                              .arg(view->isStale())
                              .arg(isEntry)
                              .arg(m_workbench.stage() == m_stage)
                              .arg(view->budget() ? view->budget()->sensorStated : -1);
    const bool isOther = m_shown.changesTo(frame), isValue = m_shownValue.changesTo(spoken);
    if (isValue) setAccessibleName(spoken);
    if (isOther) return update();
    // While it is live only what moves is painted again.
    if (isValue) update(valueArea());
}

QRect StageTile::valueArea() const {
    const int top = px(27), bottom = m_stage == Stage::Reading ? height() - px(3) : px(61);
    return {px(4), top, width() - px(8), bottom - top};
}

bool StageTile::hasExamples(const GaugeView& view) const {
    const std::string prefix = std::string(stageName(m_stage)) + ".";
    const auto& examples = view.spec().examples;
    return std::any_of(examples.begin(), examples.end(),
                       [&](const std::string& field) { return field.starts_with(prefix); });
}

QString StageTile::note(const GaugeView& view) const {
    if (!m_reason.isEmpty()) return m_reason;
    if (view.problem()) return m_stage == findingFromError(*view.problem()).stage ? tr("See findings") : QString();
    const Evaluation* evaluation = view.evaluation();
    if (!evaluation) return {};
    const StageValue& value = evaluation->at(m_stage);
    if (!value.problem.empty()) return tr("No value");
    if (hasExamples(view)) {
        const QString whole = tr("example value, not yours");
        const bool fits = textWidth(Theme::instance().text(12), whole) <= width() - px(16);
        return fits ? whole : tr("example, not yours");
    }
    if (value.clip != Clip::None && m_stage != Stage::Reading) return clipNote(value, false);
    const Stage pinned = evaluation->entry.stage;
    if (view.origin() == Origin::Tried && pinned == m_stage) return tr("pinned, tried value");
    if (view.origin() == Origin::Example && pinned == m_stage) return tr("middle of the span");
    if (view.isStale() && m_stage == Stage::Converter) return tr("Stale: %1 s old").arg(std::floor(view.age_s()));
    const GaugeSpec& spec = view.spec();
    if (m_stage == Stage::World) {
        const Unit& unit = spec.readingUnit();
        return tr("span %1 … %2 %3")
            .arg(qs(plainNumber(spec.reading.span.low)), qs(plainNumber(spec.reading.span.high)), qs(unit.symbol));
    }
    if (m_stage == Stage::Reading) return {};
    return qs(view.signalPath()->stageNote(m_stage));
}

bool StageTile::isFaulty(const GaugeView& view) const {
    const Evaluation* evaluation = view.evaluation();
    if (!m_reason.isEmpty() || !evaluation) return !m_reason.isEmpty();
    const StageValue& value = evaluation->at(m_stage);
    return !value.problem.empty() || (value.clip != Clip::None && m_stage != Stage::Reading);
}

// At large text a tile may be narrower than its title: then the title gets smaller rather than running out of the tile.
QFont StageTile::titleFont() const {
    QFont font = Theme::instance().caption();
    const GaugeView* view = m_workbench.current();
    const double room = width() - px(10) - px(8) - (view && isFaulty(*view) ? px(16) : 0);
    while (font.pixelSize() > 12 && textWidth(font, title()) > room) font.setPixelSize(font.pixelSize() - 1);
    return font;
}

void StageTile::paintCorner(QPainter& painter, const GaugeView& view) const {
    const Palette& p = colours();
    const double y = px(21);
    const double right = width() - px(10);
    painter.setFont(Theme::instance().text(12));
    const Evaluation* evaluation = view.evaluation();
    const double captionEnd = px(10) + textWidth(titleFont(), title()) + px(4);
    const auto fits = [&](const QString& text, double rightEdge) {
        return rightEdge - textWidth(Theme::instance().text(12, true), text) > captionEnd;
    };
    const bool isEntry = evaluation && evaluation->entry.stage == m_stage;
    const QRectF mark(right - px(13), y - px(11), px(13), px(13));
    if (isFaulty(view)) {
        paintSeverity(painter, Severity::Fault, mark);
    } else if (isEntry && view.origin() == Origin::Tried) {
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(Qt::NoPen);
        painter.setBrush(p.ink);
        painter.drawPolygon(QPolygonF(
            {{mark.left(), mark.top() + 2}, {mark.right(), mark.top() + 2}, {mark.center().x(), mark.bottom()}}));
        painter.setFont(Theme::instance().text(12, true));
        painter.setPen(p.ink);
        if (fits(tr("pin"), mark.left() - px(4)))
            paintText(painter, QRectF(0, mark.top() - 2, mark.left() - px(4), mark.height() + 4),
                      Qt::AlignRight | Qt::AlignVCenter, tr("pin"));
    } else if (isEntry && view.isStale()) {
        paintSeverity(painter, Severity::Doubt, mark);
    } else if (isEntry && view.origin() == Origin::Live) {
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(Qt::NoPen);
        painter.setBrush(p.ink);
        // Beside the caption, or just below it where the caption needs the whole width.
        const bool hasRoom = captionEnd < mark.right() - px(9);
        painter.drawEllipse(QRectF(mark.right() - px(9), hasRoom ? mark.top() + px(2.5) : px(23), px(8), px(8)));
        painter.setPen(p.ink);
        if (fits(tr("live"), mark.right() - px(13)))
            paintText(painter, QRectF(0, mark.top() - 2, mark.right() - px(13), mark.height() + 4),
                      Qt::AlignRight | Qt::AlignVCenter, tr("live"));
    } else if (fits(QStringLiteral("^8"), right)) {
        painter.setPen(p.ink3);
        paintText(painter, QRectF(0, mark.top() - 2, right, mark.height() + 4), Qt::AlignRight | Qt::AlignVCenter,
                  QStringLiteral("^%1").arg(static_cast<int>(m_stage) + 1));
    }
}

void StageTile::paintBytes(QPainter& painter, const QString& bytes, const QColor& ink) const {
    // Two lines of pairs; what does not fit is told by its end.
    painter.setFont(Theme::instance().digits(13));
    painter.setPen(ink);
    const int pairs =
        std::max(1, static_cast<int>((width() - px(18)) / textWidth(painter.font(), QStringLiteral("00 "))));
    const QStringList all = bytes.split(QLatin1Char(' '));
    QStringList second = all.mid(pairs, pairs);
    if (all.size() > 2 * pairs) second.last() = QStringLiteral("…");
    paintText(painter, QPointF(px(10), px(41)), all.mid(0, pairs).join(QLatin1Char(' ')));
    paintText(painter, QPointF(px(10), px(57)), second.join(QLatin1Char(' ')));
}

void StageTile::paintInputs(QPainter& painter, const QString& inputs, const QColor& ink) const {
    painter.setFont(Theme::instance().text(15));
    painter.setPen(ink);
    paintText(painter, QPointF(px(10), px(48)), fittedText(painter.font(), inputs, width() - px(20)));
}

void StageTile::paintValue(QPainter& painter, const GaugeView& view) const {
    const Palette& p = colours();
    const ReadingText text = view.textAt(m_stage);
    NumberStyle style;
    style.ink = view.isStale() ? p.ink3 : p.ink;
    QString digits = qs(text.sign) + qs(text.value.digits);
    QString unit = qs(text.value.unit);
    if (m_stage == Stage::Converter && view.path() && text.sign.empty())
        unit = tr("of %1").arg(view.path()->converter().codeCount(), 0, 'f', 0);
    const bool isReading = m_stage == Stage::Reading;
    if (view.digital() && m_stage == Stage::Converter) return paintBytes(painter, digits, style.ink);
    if (view.isDerived() && m_stage == Stage::Sensor) return paintInputs(painter, digits, style.ink);
    style.size = isReading ? 32 : 22;
    style.bold = isReading;
    const auto tooWide = [&] { return numberWidth(digits, unit, style) > width() - px(20); };
    while (style.size > 14 && tooWide()) style.size -= 1;
    if (m_stage == Stage::Converter && tooWide()) unit.clear();
    while (style.size > 10 && tooWide()) style.size -= 1;
    paintNumber(painter, {static_cast<double>(px(10)), static_cast<double>(px(isReading ? 52 : 50))}, digits, unit,
                style);
    if (!isReading) return;
    const double y = px(75);
    if (!text.uncertainty.empty()) {
        NumberStyle small;
        small.size = 14;
        small.unitSize = 12;
        const double used = paintNumber(painter, {static_cast<double>(px(10)), y},
                                        QStringLiteral("± ") + qs(text.uncertainty), qs(text.value.unit), small);
        const QString coverage = view.budget() && !view.budget()->sensorStated ? tr("without the sensor") : tr("95 %");
        painter.setFont(Theme::instance().text(12));
        painter.setPen(p.ink2);
        if (textWidth(painter.font(), coverage) + used + px(24) < width())
            paintText(painter, QRectF(0, y - px(13), width() - px(10), px(17)), Qt::AlignRight | Qt::AlignVCenter,
                      coverage);
    } else if (!view.path() && view.budget() && !view.budget()->sensorStated) {
        painter.setFont(Theme::instance().text(12));
        painter.setPen(p.ink2);
        paintText(painter, QPointF(px(10), y), tr("accuracy not stated"));
    } else if (view.evaluation() && view.evaluation()->at(Stage::Reading).clip != Clip::None) {
        paintSeverity(painter, Severity::Fault, QRectF(px(10), y - px(11), px(13), px(13)));
        painter.setFont(Theme::instance().text(12, true));
        painter.setPen(p.ink);
        paintText(painter, QPointF(px(29), y), clipNote(view.evaluation()->at(Stage::Reading), true) + tr(": clipped"));
    }
}

void StageTile::paintEvent(QPaintEvent* event) {
    QPainter painter(this);
    const Palette& p = colours();
    for (const QRect& piece : event->region()) painter.fillRect(piece, p.sheet);
    const GaugeView* view = m_workbench.current();
    if (!view) return;
    const bool isValue = valueArea().contains(event->rect()) && (m_stage != Stage::Reading || note(*view).isEmpty());
    const bool selected = m_workbench.stage() == m_stage;
    const bool pinned =
        view->origin() == Origin::Tried && view->evaluation() && view->evaluation()->entry.stage == m_stage;
    if (isValue) {
        paintCorner(painter, *view);
        if (!isEdited()) paintValue(painter, *view);
        return;
    }
    paintFrame(painter, rect(), p.rule);
    if (pinned) paintFrame(painter, rect(), p.ink, 2);
    if (selected) paintFrame(painter, rect(), p.brass, 2);
    painter.fillRect(QRect(0, 0, width(), px(4)), selected ? p.brass : p.of(view->spec().quantity).line);

    painter.setFont(titleFont());
    painter.setPen(selected ? p.brass : p.ink2);
    paintText(painter, QPointF(px(10), px(21)), title());
    paintCorner(painter, *view);
    if (!isEdited()) paintValue(painter, *view);

    QString below = note(*view);
    if (!below.isEmpty()) {
        const bool strong =
            !m_reason.isEmpty() || (view->evaluation() && view->evaluation()->at(m_stage).clip != Clip::None);
        painter.setFont(Theme::instance().text(12, strong));
        painter.setPen(strong ? p.ink : p.ink2);
        const QRectF box(px(10), px(61), width() - px(16), height() - px(63));
        // The word "span" goes first where the numbers need its room.
        const bool tooLong = textWidth(painter.font(), below) > box.width() && below.startsWith(tr("span "));
        if (tooLong) below = below.mid(tr("span ").size());
        paintText(painter, box, Qt::AlignLeft | Qt::AlignTop, fittedText(painter.font(), below, box.width()));
    }
    if (hasFocus()) {
        painter.setPen(QPen(p.ink, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(rect()).adjusted(3.5, 5.5, -3.5, -3.5));
    }
}

// A tile has room for the beginning only; the whole reason stands in the status line while the entry waits.
void StageTile::giveReason(const QString& reason) {
    if (reason == m_reason) return;
    m_reason = reason;
    QStatusTipEvent tip(reason);
    QCoreApplication::sendEvent(this, &tip);
}

void StageTile::makeEdit() {
    if (m_edit) return;
    m_edit = new QLineEdit(this);
    m_edit->setObjectName(QStringLiteral("tile.edit.") + qs(stageName(m_stage)));
    m_edit->setAccessibleName(tr("Value at the %1 stage").arg(qs(stageTitle(m_stage))));
    m_edit->hide();
    m_edit->installEventFilter(this);
    connect(m_edit, &QLineEdit::textEdited, this, [this] {
        giveReason({});
        update();
    });
    placeEdit();
}

void StageTile::beginEdit() {
    const GaugeView* view = m_workbench.current();
    if (!view || !view->signalPath() || (view->digital() && m_stage == Stage::Wiring)) return;
    m_workbench.selectStage(m_stage);
    if (isEdited()) return m_edit->setFocus();
    QString text;
    if (view->evaluation() && !view->evaluation()->at(m_stage).text.empty()) {
        text = qs(view->evaluation()->at(m_stage).text);
    } else if (view->evaluation() && !std::isnan(view->evaluation()->at(m_stage).value)) {
        // The correction tile shows the amount added, but takes the corrected value: that is what leaves the stage.
        ReadingText shown = view->textAt(m_stage == Stage::Correction ? Stage::Reading : m_stage);
        text = qs(shown.value.joined());
        // What is typed into this tile is a word: so is what stands there to begin with.
        if (m_stage == Stage::Converter && view->path() && !view->path()->converter().wordsAreCodes()) {
            const double code = view->evaluation()->at(m_stage).value;
            text = code == std::floor(code)
                       ? QStringLiteral("0x") +
                             QString::number(view->path()->converter().wordOfCode(static_cast<std::int64_t>(code)), 16)
                                 .toUpper()
                       : QString();
        }
    }
    makeEdit();
    m_edit->setText(text);
    m_edit->setModified(false);
    giveReason({});
    m_edit->setFont(Theme::instance().digits(17));
    m_edit->show();
    m_edit->setFocus();
    m_edit->selectAll();
    update();
}

void StageTile::endEdit() {
    giveReason({});
    if (m_edit) m_edit->hide();
    refresh();
}

void StageTile::commitEdit() {
    const auto tried = m_workbench.tryText(m_stage, m_edit->text());
    if (!tried) {
        giveReason(qs(tried.error().message()));
        setToolTip(m_reason);
        m_edit->setAccessibleDescription(m_reason);
        update();
        return;
    }
    setToolTip(tr("Double-click, or press Enter, to type a value here"));
    m_edit->setAccessibleDescription({});
    endEdit();
    setFocus();
}

bool StageTile::eventFilter(QObject* object, QEvent* event) {
    // Esc takes the entry back here before it may mean "back to live" to the window.
    if (m_edit && object == m_edit && event->type() == QEvent::ShortcutOverride &&
        static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        event->accept();
        return true;
    }
    if (m_edit && object == m_edit && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Return || key == Qt::Key_Enter) {
            commitEdit();
            return true;
        }
        if (key == Qt::Key_Escape) {
            endEdit();
            setFocus();
            return true;
        }
    }
    // Leaving without Enter drops an untouched entry; a refused or half-typed one stays.
    if (m_edit && object == m_edit && event->type() == QEvent::FocusOut && !m_edit->isModified()) endEdit();
    return QWidget::eventFilter(object, event);
}

void StageTile::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton) m_workbench.selectStage(m_stage);
}

void StageTile::mouseDoubleClickEvent(QMouseEvent*) { beginEdit(); }

void StageTile::keyPressEvent(QKeyEvent* event) {
    const QString text = event->text();
    // Bytes begin with a hexadecimal digit as often as with a decimal one.
    const GaugeView* view = m_workbench.current();
    const bool takesBytes = m_stage == Stage::Converter && view && view->digital();
    const bool isHex = !text.isEmpty() && QStringLiteral("abcdefABCDEF").contains(text[0]);
    const bool startsNumber =
        !text.isEmpty() && (text[0].isDigit() || QStringLiteral("-−+.,").contains(text[0]) || (takesBytes && isHex)) &&
        !(event->modifiers() & (Qt::ControlModifier | Qt::AltModifier));
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter || event->key() == Qt::Key_F2)
        return beginEdit();
    if (event->key() == Qt::Key_Space) return m_workbench.selectStage(m_stage);
    if (startsNumber) {
        beginEdit();
        if (!m_edit) return;  // a tile that takes no entry
        m_edit->setText(text);
        m_edit->setModified(true);
        return;
    }
    QWidget::keyPressEvent(event);
}

void StageTile::focusInEvent(QFocusEvent* event) {
    QWidget::focusInEvent(event);
    update();
}

void StageTile::focusOutEvent(QFocusEvent* event) {
    QWidget::focusOutEvent(event);
    update();
}

void StageTile::placeEdit() {
    if (m_edit) m_edit->setGeometry(px(6), px(28), width() - px(12), px(28));
}

void StageTile::resizeEvent(QResizeEvent*) { placeEdit(); }

}  // namespace fg::gui
