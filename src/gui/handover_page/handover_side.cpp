#include "handover_page/handover_side.h"

#include "handover/code_set.h"

#include "findings_panel/finding_item.h"
#include "handover/code_thresholds.h"
#include "paint/marks.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/clear_layout.h"
#include "widgets/selectable.h"
#include "widgets/text.h"

#include <QPainter>

namespace fg::gui {

HandoverSide::HandoverSide(QWidget* parent) : QWidget(parent), m_items(&m_list) {
    setObjectName(QStringLiteral("handover.side"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(1, 1, 1, 1);
    m_items.setContentsMargins(0, px(6), 0, px(6));
    m_items.setSpacing(px(2));
    m_scroll.setWidget(&m_list);
    m_scroll.setWidgetResizable(true);
    m_scroll.setFrameShape(QFrame::NoFrame);
    m_scroll.setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list.setAutoFillBackground(false);
    m_scroll.viewport()->setAutoFillBackground(false);
    column->addWidget(&m_scroll);
}

QLabel* HandoverSide::addCaption(const QString& text) {
    auto* label = new QLabel(text);
    label->setContentsMargins(px(14), px(10), px(14), px(2));
    dress(*label, Theme::instance().caption(), colours().ink2);
    m_items.addWidget(label);
    return label;
}

QLabel* HandoverSide::addText(const QString& text) {
    auto* label = new QLabel(text);
    label->setWordWrap(true);
    label->setContentsMargins(px(14), 0, px(14), 0);
    makeSelectable(*label);
    dress(*label, Theme::instance().text(12), colours().ink2);
    m_items.addWidget(label);
    return label;
}

void HandoverSide::setBeside(bool isBeside) {
    constexpr int kAnyWidth = 16777215;
    setMinimumWidth(isBeside ? px(320) : 0);
    setMaximumWidth(isBeside ? px(320) : kAnyWidth);
    setMinimumHeight(isBeside ? 0 : m_list.sizeHint().height() + px(8));
}

void HandoverSide::show(const Gauge* gauge, const GaugeCode* code) {
    clearLayout(m_items);
    addCaption(tr("What to know"));
    if (code)
        for (const Finding& one : code->findings) m_items.addWidget(new FindingItem(one, false));
    if (code && code->findings.empty()) addText(tr("Nothing found."));
    if (gauge && code) {
        addCaption(tr("Thresholds"));
        const auto thresholds = codeThresholds(*gauge);
        if (thresholds.empty()) addText(tr("No alarm is set: Reading, Alarm. Its comparisons then stand in the code."));
        QString rows;
        for (const CodeThreshold& one : thresholds)
            rows += QStringLiteral(
                        "<tr><td>%1</td><td align=right>&nbsp;%2 "
                        "%3</td><td>&nbsp;&nbsp;<b>%4</b></td></tr><tr><td></td><td "
                        "align=right>%5 %3</td><td>&nbsp;&nbsp;%6</td></tr>")
                        .arg(qs(one.name), qs(plainNumber(code->unit->fromCanonical(one.setAt), 5)),
                             qs(code->unit->symbol), qs(one.threshold.text()).toHtmlEscaped(),
                             qs(plainNumber(code->unit->fromCanonical(one.threshold.edge), 5)),
                             qs(one.threshold.strictText()).toHtmlEscaped());
        if (!thresholds.empty()) {
            QLabel* table = addText(QStringLiteral("<table cellspacing=2>%1</table>").arg(rows));
            table->setTextFormat(Qt::RichText);
            table->setObjectName(QStringLiteral("handover.thresholds"));
            addText(tr("Each as set, and below it where the code really switches. Equal counts as reached."));
        }
        addCaption(tr("In the folder"));
        QStringList names;
        for (const CodeFile& file : folderFiles(*gauge, *code)) names << qs(file.name);
        addText(names.join(QStringLiteral("\n")));
        addCaption(tr("Calling it"));
        addText(qs(code->signature));
        QStringList statuses;
        for (const CodeStatus& one : codeStatuses())
            statuses << QStringLiteral("%1 %2: %3").arg(one.number).arg(qs(one.name), qs(one.meaning));
        addText(statuses.join(QStringLiteral("\n")));
    }
    m_items.addStretch();
}

void HandoverSide::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), colours().sheet);
    paintFrame(painter, rect(), colours().line);
}

}  // namespace fg::gui
