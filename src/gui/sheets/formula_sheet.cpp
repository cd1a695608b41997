#include "sheets/formula_sheet.h"
#include "formula/text.h"
#include "paint/marks.h"
#include "paint/number_painter.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/text.h"

#include <algorithm>
#include <QClipboard>
#include <QGuiApplication>
#include <QMouseEvent>
#include <QPainter>

namespace fg::gui {
namespace {

constexpr double kNameWidth = 116;
constexpr double kSourceWidth = 190;
constexpr double kUnitWidth = 46;

NumberText shown(const TraceLine& line) { return valueText(line.value, line.unit, 8); }

struct Columns {
    double formula, resultRight, unit, source, width;
    explicit Columns(double tableWidth)
        : formula(px(kNameWidth)),
          resultRight(tableWidth - px(kSourceWidth) - px(kUnitWidth)),
          unit(resultRight + px(6)),
          source(tableWidth - px(kSourceWidth) + px(8)),
          width(tableWidth) {}
    [[nodiscard]] int formulaRoom() const { return static_cast<int>(resultRight - px(100) - formula); }
};

}  // namespace

TraceTable::TraceTable(QWidget* parent) : QWidget(parent) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setMouseTracking(true);
}

void TraceTable::mouseMoveEvent(QMouseEvent* event) {
    double y = px(26);
    int line = -1;
    for (int i = 0; i < static_cast<int>(m_lines.size()) && line < 0; ++i) {
        y += rowHeight(static_cast<std::size_t>(i));
        if (event->position().y() < y && event->position().y() >= px(26)) line = i;
    }
    if (line == m_hovered) return;
    m_hovered = line;
    const std::string symbols = line < 0 ? "" : m_lines[static_cast<std::size_t>(line)].symbols;
    setToolTip(symbols.empty() ? QString() : tr("In symbols: %1").arg(qs(symbols)));
    emit lineHovered(line);
    update();
}

void TraceTable::leaveEvent(QEvent*) {
    m_hovered = -1;
    emit lineHovered(-1);
    update();
}

void TraceTable::show(const std::vector<TraceLine>& lines) {
    m_lines = lines;
    QString spoken;
    for (const TraceLine& line : lines)
        spoken += QStringLiteral("%1 = %2 = %3 %4. ")
                      .arg(qs(line.name), qs(line.formula), qs(shown(line).digits), qs(shown(line).unit));
    setAccessibleName(tr("Trace"));
    setAccessibleDescription(spoken);
    updateGeometry();
    update();
}

/// A source stands once for the lines that share it.
bool TraceTable::repeatsSource(std::size_t line) const {
    return line > 0 && m_lines[line].source == m_lines[line - 1].source;
}

int TraceTable::rowHeight(std::size_t index) const {
    const TraceLine& line = m_lines[index];
    const QFontMetrics metrics(Theme::instance().text(13));
    const QFontMetrics sourceMetrics(Theme::instance().text(12));
    const Columns columns(width() > 100 ? width() : px(714));
    const int formula =
        metrics.boundingRect(QRect(0, 0, columns.formulaRoom(), 1000), Qt::TextWordWrap, qs(line.formula)).height();
    const int source = repeatsSource(index)
                           ? 0
                           : sourceMetrics
                                 .boundingRect(QRect(0, 0, static_cast<int>(columns.width - columns.source), 1000),
                                               Qt::TextWordWrap, qs(line.source))
                                 .height();
    return std::max(std::max(formula, source) + px(9), px(26));
}

QSize TraceTable::sizeHint() const {
    int height = px(26);
    for (std::size_t i = 0; i < m_lines.size(); ++i) height += rowHeight(i);
    return {px(600), height + px(4)};
}

QString TraceTable::asText() const {
    QString text;
    for (const TraceLine& line : m_lines)
        text +=
            QStringLiteral("%1 = %2 = %3 %4   [%5]\n")
                .arg(qs(line.name), qs(line.formula), qs(shown(line).digits), qs(shown(line).unit), qs(line.source));
    return text;
}

void TraceTable::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Palette& p = colours();
    const Columns columns(width());
    painter.setFont(Theme::instance().text(12));
    painter.setPen(p.ink2);
    const double headY = px(16);
    painter.setFont(Theme::instance().caption());
    painter.drawText(QPointF(0, headY), tr("Trace"));
    painter.setFont(Theme::instance().text(12));
    painter.drawText(QPointF(columns.formula, headY), tr("formula with numbers put in"));
    painter.drawText(QRectF(columns.resultRight - px(120), px(4), px(120), px(16)), Qt::AlignRight | Qt::AlignVCenter,
                     tr("result"));
    painter.drawText(QPointF(columns.unit, headY), tr("unit"));
    painter.drawText(QPointF(columns.source, headY), tr("source"));
    paintRule(painter, 0, width(), px(24), p.rule);
    double y = px(26);
    for (std::size_t i = 0; i < m_lines.size(); ++i) {
        const TraceLine& line = m_lines[i];
        const int height = rowHeight(i);
        const bool last = i + 1 == m_lines.size();
        if (static_cast<int>(i) == m_hovered) painter.fillRect(QRectF(0, y, width(), height - 1), p.brassWash);
        painter.setFont(Theme::instance().text(13, last));
        painter.setPen(p.ink);
        painter.drawText(QRectF(0, y + px(4), px(kNameWidth) - px(6), height), Qt::AlignLeft | Qt::AlignTop,
                         qs(line.name));
        painter.setFont(Theme::instance().text(13));
        painter.drawText(QRectF(columns.formula, y + px(4), columns.formulaRoom(), height),
                         Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, qs(line.formula));
        NumberStyle style;
        style.size = 13;
        style.bold = last;
        paintNumberRight(painter, {columns.resultRight, y + px(17)}, qs(shown(line).digits), {}, style);
        painter.setFont(Theme::instance().text(12));
        painter.setPen(p.ink2);
        painter.drawText(QPointF(columns.unit, y + px(17)), qs(shown(line).unit));
        if (!repeatsSource(i))
            painter.drawText(QRectF(columns.source, y + px(5), columns.width - columns.source, height),
                             Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, qs(line.source));
        y += height;
        paintRule(painter, 0, width(), y - 1, p.line);
    }
}

FormulaSheet::FormulaSheet(Workbench& workbench, QWidget* parent)
    : Sheet(workbench, tr("Formula"), tr("The trace: every line with its numbers."), parent),
      m_copy(tr("Copy as text")) {
    setObjectName(QStringLiteral("sheet.formula"));
    m_copy.setObjectName(QStringLiteral("formula.copy"));
    head().addWidget(&m_copy);
    m_direction = addText({});
    body().addWidget(&m_bytes);
    body().addWidget(&m_table);
    connect(&m_table, &TraceTable::lineHovered, this, [this](int line) {
        const GaugeView* shown = view();
        const auto answer = shown && shown->evaluation() ? shown->evaluation()->device : nullptr;
        const bool isOfDevice = answer && line >= 0 && static_cast<std::size_t>(line) < answer->decoded.lines.size();
        m_bytes.light(isOfDevice ? answer->decoded.lines[static_cast<std::size_t>(line)].bytes
                                 : std::vector<ByteRef>{});
    });
    body().addStretch();
    connect(&m_copy, &QPushButton::clicked, this, [this] { QGuiApplication::clipboard()->setText(m_table.asText()); });
}

void FormulaSheet::showSpec(const GaugeView& view) {
    m_bytes.setVisible(view.digital() != nullptr);
    if (view.digital())
        setSubtitle(tr("%1. Point at a line: the bytes it came from light up.").arg(qs(view.digital()->part().title)));
    if (view.path())
        setSubtitle(
            QStringLiteral("%1. %2").arg(qs(view.path()->sensor().title()), tr("Every line with its numbers.")));
}

void FormulaSheet::showValues(const GaugeView& view) {
    if (!view.signalPath() || !view.evaluation()) {
        m_table.show({});
        m_bytes.show({}, nullptr);
        m_direction->setText(view.problem() ? qs(view.problem()->message()) : tr("No value yet."));
        return;
    }
    const Stage from = view.evaluation()->entry.stage;
    m_direction->setText(
        from == Stage::Converter
            ? tr("From the code to the reading.")
            : tr("From the %1 to the code the hardware would give, and from that code back to a reading.")
                  .arg(qs(std::string(stageName(from)))));
    if (view.digital()) {
        m_bytes.show(view.evaluation()->device->raw, view.digital());
        m_direction->setText(
            from == Stage::Converter
                ? tr("From the bytes to the reading.")
                : tr("The bytes with which the part would say this value, and what a program reads from them."));
    }
    m_table.show(view.signalPath()->trace(*view.evaluation()));
}

}  // namespace fg::gui
