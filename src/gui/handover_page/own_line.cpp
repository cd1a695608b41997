#include "handover_page/own_line.h"

#include "handover/digit_check.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/refused.h"
#include "widgets/selectable.h"
#include "widgets/text.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

namespace fg::gui {
namespace {

QString errorSize(double value, const Unit& unit) {
    return qs(significantDigits(value, 3)) + QStringLiteral(" ") + qs(unit.symbol);
}

ErrorPicture pictureOf(const LineCheck& check, const std::vector<BetterLine>& better, const Unit& unit,
                       Quantity quantity) {
    ErrorPicture picture{check.curve, check.realCurve, {}, check.range, check.error, 0, &unit, quantity};
    if (!better.empty()) picture.better = better.front().curve;
    return picture;
}

}  // namespace

OwnLine::OwnLine(Workbench& workbench, QWidget* parent) : QWidget(parent), m_workbench(workbench) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(px(4));
    m_title.setText(tr("A line of your own"));
    m_int.setObjectName(QStringLiteral("handover.lineInt"));
    m_int.setAccessibleName(tr("What an int is there"));
    m_int.setToolTip(tr("What an int is there"));
    for (const int bits : {16, 32, 64}) m_int.addItem(tr("%1 bits").arg(bits), bits);
    m_scale.setObjectName(QStringLiteral("handover.lineScale"));
    m_scale.setAccessibleName(tr("What the line gives"));
    m_scale.setToolTip(tr("What the line gives: the reading times this"));
    for (const int scale : {1, 10, 100, 1000}) m_scale.addItem(tr("× %1").arg(scale), scale);
    auto* row = new QHBoxLayout;
    row->addWidget(&m_title, 1);
    row->addWidget(&m_int);
    row->addWidget(&m_scale);
    column->addLayout(row);
    m_line.setObjectName(QStringLiteral("handover.line"));
    m_line.setAccessibleName(tr("A line of your own program"));
    m_line.setPlaceholderText(tr("adc*61/128-40"));
    column->addWidget(&m_line);
    m_result.setObjectName(QStringLiteral("handover.lineResult"));
    m_result.setWordWrap(true);
    makeSelectable(m_result);
    column->addWidget(&m_result);
    m_take.setObjectName(QStringLiteral("handover.lineTake"));
    m_take.hide();
    auto* takeRow = new QHBoxLayout;
    takeRow->addWidget(&m_take);
    takeRow->addStretch();
    column->addLayout(takeRow);
    m_digits.setObjectName(QStringLiteral("handover.digits"));
    m_digits.setAccessibleName(tr("How your program splits the result for a display"));
    m_digits.setPlaceholderText(tr("digits: t/100, t/10%10, t%10"));
    m_digitsResult.setObjectName(QStringLiteral("handover.digitsResult"));
    m_digitsResult.setWordWrap(true);
    makeSelectable(m_digitsResult);
    column->addWidget(&m_digits);
    column->addWidget(&m_digitsResult);
    connect(&m_line, &QLineEdit::textChanged, this, &OwnLine::ask);
    connect(&m_digits, &QLineEdit::textChanged, this, &OwnLine::askDigits);
    for (QComboBox* box : {&m_int, &m_scale}) connect(box, &QComboBox::activated, this, &OwnLine::askDigits);
    connect(&m_int, &QComboBox::activated, this, &OwnLine::ask);
    connect(&m_scale, &QComboBox::activated, this, &OwnLine::ask);
    connect(&m_take, &QPushButton::clicked, this, [this] {
        m_scale.setCurrentIndex(m_scale.findData(m_betterScale));
        m_line.setText(m_better);
    });
}

void OwnLine::showSpec(const GaugeView& view) {
    m_quantity = view.spec().quantity;
    dress(m_title, Theme::instance().caption(), colours().ink2);
    m_line.setFont(Theme::instance().digits(14));
    m_digits.setFont(Theme::instance().digits(14));
    for (QLabel* label : {&m_result, &m_digitsResult}) dress(*label, Theme::instance().text(12), colours().ink2);
    ask();
    askDigits();
}

/// The splitting of the result into characters, over the gauge's span.
void OwnLine::askDigits() {
    const GaugeView* view = m_workbench.current();
    const std::string text = m_digits.text().toStdString();
    markRefused(m_digits, {});
    m_digitsResult.setVisible(!text.empty() && view);
    if (text.empty() || !view) return;
    const auto places = readDigits(text);
    const auto check = places ? checkDigits(*places, static_cast<LineInt>(m_int.currentData().toInt()),
                                            view->spec().reading.span, m_scale.currentData().toDouble())
                              : Expected<DigitCheck>(tl::unexpected(places.error()));
    if (!check) {
        markRefused(m_digits, qs(check.error().message()));
        return m_digitsResult.setText(qs(check.error().message()));
    }
    QStringList lines;
    lines << (check->isRight() ? tr("Every number from %1 to %2 is shown as it is.").arg(check->low).arg(check->high)
                               : tr("%1 of the numbers %2 to %3 are shown wrongly.")
                                     .arg(check->wrong)
                                     .arg(check->low)
                                     .arg(check->high));
    for (const DigitFault& one : check->faults) lines << QStringLiteral("• ") + qs(one.text);
    for (const std::string& one : check->notes) lines << QStringLiteral("• ") + qs(one);
    m_digitsResult.setText(lines.join(QLatin1Char('\n')));
}

void OwnLine::ask() {
    m_take.hide();
    const GaugeView* view = m_workbench.current();
    const std::string text = m_line.text().toStdString();
    markRefused(m_line, {});
    if (text.empty() || !view || !view->path()) emit pictured({});
    if (text.empty() || !view || !view->path())
        return m_result.setText(
            tr("As it stands in your program; the raw code may have any name. It is run as C counts, "
               "over every code of the span."));
    const auto line = TypedLine::read(text);
    if (!line) {
        markRefused(m_line, qs(line.error().message()));
        return m_result.setText(qs(line.error().message()));
    }
    const auto width = static_cast<LineInt>(m_int.currentData().toInt());
    const double scale = m_scale.currentData().toDouble();
    m_run.ask([this, spec = view->effective(), line = *line, width, scale,
               &catalogue = m_workbench.catalogue()]() -> LatestRun::Deliver {
        const auto gauge = Gauge::make(spec, catalogue);
        if (!gauge) return {};
        const Unit& unit = gauge->unit();
        const auto check = checkLine(*gauge, line, width, unit, scale);
        return [this, check, better = betterLines(*gauge, line, width, unit, scale), &unit] {
            answer(check, better, unit);
        };
    });
}

void OwnLine::answer(const Expected<LineCheck>& check, const std::vector<BetterLine>& better, const Unit& unit) {
    emit pictured(check ? pictureOf(*check, better, unit, m_quantity) : ErrorPicture());
    if (!check) return m_result.setText(qs(check.error().message()));
    QStringList lines;
    lines << tr("Worst %1 at code %2, mean %3.")
                 .arg(errorSize(check->error.worst, unit))
                 .arg(check->error.atCode)
                 .arg(errorSize(check->error.mean, unit));
    if (check->isOverflowing)
        lines << tr("%1 overflows %2 bits from code %3 on: at code %4 the line says %5, the gauge %6.")
                     .arg(qs(check->overflow.overflow))
                     .arg(check->overflow.overflowBits)
                     .arg(check->overflowCode)
                     .arg(check->shownCode)
                     .arg(errorSize(check->shownValue, unit), errorSize(check->shownReading, unit));
    else
        lines << tr("Its constants cost %1; whole numbers throw away up to %2.")
                     .arg(errorSize(check->exactWorst, unit), errorSize(check->cutWorst, unit));
    if (check->nones > 0) lines << tr("It divides by 0 at %1 codes.").arg(check->nones);
    if (!check->isOverflowing && !better.empty() && better.front().scale > check->scale)
        lines << tr("Times %1 first, divided last, the decimals stay:").arg(better.front().scale);
    if (better.empty() && !check->isOverflowing) lines << tr("No constants of this form come nearer.");
    m_result.setText(lines.join(QStringLiteral("\n")));
    m_take.setVisible(!better.empty());
    if (better.empty()) return;
    const BetterLine& best = better.front();
    m_better = qs(best.text);
    m_betterScale = static_cast<int>(best.scale);
    m_take.setText(tr("Take %1%2: worst %3")
                       .arg(m_better, best.scale == 1 ? QString() : tr(" (× %1)").arg(best.scale),
                            errorSize(best.error.worst, unit)));
}

}  // namespace fg::gui
