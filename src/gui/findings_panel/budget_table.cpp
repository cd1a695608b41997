#include "findings_panel/budget_table.h"

#include "paint/marks.h"
#include "paint/number_painter.h"
#include "paint/text_painter.h"
#include "theme/theme.h"
#include "widgets/text.h"

#include <cmath>
#include <QPainter>

namespace fg::gui {
namespace {
constexpr double kBudgetRow = 20;
constexpr double kHead = 50;
constexpr double kFoot = 36;
}  // namespace

BudgetTable::BudgetTable(Workbench& workbench, QWidget* parent) : QWidget(parent), m_workbench(workbench) {
    setObjectName(QStringLiteral("budget"));
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    connect(&workbench, &Workbench::valuesChanged, this, [this] {
        const std::size_t rows = budget() ? budget()->contributions.size() : 0;
        if (rows != m_rows) {
            m_rows = rows;
            updateGeometry();
        }
        QString now;
        if (const Budget* shown = budget()) {
            const Unit& unit = m_workbench.current()->spec().readingUnit();
            const int decimals = decimalsFor(unit.differenceFromCanonical(shown->expanded));
            now = qs(roundedReading(shown->at, shown->expanded, unit).value.joined());
            for (const Contribution& line : shown->contributions)
                now +=
                    QStringLiteral("|%1 %2 %3")
                        .arg(qs(line.label), qs(fixedDigits(unit.differenceFromCanonical(line.standard), decimals + 1)),
                             QString::number(std::round(100 * line.share)));
        }
        if (m_shown.changesTo(now)) update();
    });
}

const Budget* BudgetTable::budget() const {
    const GaugeView* view = m_workbench.current();
    return view ? view->budget() : nullptr;
}

QSize BudgetTable::sizeHint() const {
    const std::size_t rows = budget() ? budget()->contributions.size() : 0;
    return {px(320), px(kHead + kBudgetRow * static_cast<double>(rows) + kFoot)};
}

void BudgetTable::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Palette& p = colours();
    const double left = px(14), right = width() - px(14);
    paintRule(painter, 0, width(), 0, p.rule);
    painter.setFont(Theme::instance().caption());
    painter.setPen(p.ink2);
    paintText(painter, QPointF(left, px(20)), tr("Budget"));
    const Budget* budget = this->budget();
    if (!budget) {
        painter.setFont(Theme::instance().text(12));
        painter.drawText(QRectF(left, px(28), right - left, px(40)), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
                         tr("Nothing to add up: a limit or a missing value has no uncertainty."));
        return;
    }
    const Unit& unit = m_workbench.current()->spec().readingUnit();
    const QString symbol = QString::fromUtf8(unit.symbol.data());
    const RoundedReading at = roundedReading(budget->at, budget->expanded, unit);
    painter.setFont(Theme::instance().text(12));
    paintText(painter, QRectF(left, px(6), right - left, px(18)), Qt::AlignRight | Qt::AlignVCenter,
              tr("at %1, in %2").arg(qs(at.value.joined()), symbol));

    const double shareX = right, standardX = right - px(46), limitX = right - px(98);
    const auto head = [&](double x, const QString& text, Qt::Alignment align) {
        paintText(painter, QRectF(left, px(28), x - left, px(18)), align | Qt::AlignVCenter, text);
    };
    head(right, tr("Contribution"), Qt::AlignLeft);
    head(limitX, tr("Limits"), Qt::AlignRight);
    head(standardX, QStringLiteral("u"), Qt::AlignRight);
    head(shareX, tr("Share"), Qt::AlignRight);
    paintRule(painter, left, right, px(48), p.rule);

    const int decimals = decimalsFor(unit.differenceFromCanonical(budget->expanded));
    NumberStyle style;
    style.size = 13;
    style.unitSize = 12;
    NumberStyle quiet = style;
    quiet.size = 12;
    quiet.ink = p.ink2;
    double y = px(kHead) + px(14);
    for (const Contribution& line : budget->contributions) {
        const QString limit = qs(fixedDigits(unit.differenceFromCanonical(line.limit), decimals));
        const QString limitText = QStringLiteral("± ") + limit;
        paintNumberRight(painter, {limitX, y}, limitText, {}, quiet);
        paintNumberRight(painter, {standardX, y},
                         qs(fixedDigits(unit.differenceFromCanonical(line.standard), decimals + 1)), {}, style);
        paintNumberRight(painter, {shareX, y}, QString::number(std::round(100 * line.share)), QStringLiteral("%"),
                         style);
        painter.setFont(Theme::instance().text(13));
        painter.setPen(p.ink);
        const double room = limitX - numberWidth(limitText, {}, quiet) - px(8) - left;
        paintText(painter, QPointF(left, y), fittedText(painter.font(), qs(line.label), room));
        y += px(kBudgetRow);
    }
    y -= px(14);
    paintRule(painter, left, right, y + px(2), p.ink2);
    painter.setFont(Theme::instance().text(13, true));
    painter.setPen(p.ink);
    paintText(painter, QPointF(left, y + px(22)),
              tr("Expanded to 95 %, k = %1").arg(qs(fixedDigits(budget->coverage(), 2))));
    NumberStyle strong;
    strong.size = 17;
    strong.bold = true;
    strong.unitSize = 12;
    paintNumberRight(painter, {right, y + px(22)}, QStringLiteral("± ") + qs(at.uncertainty), symbol, strong);
}

}  // namespace fg::gui
