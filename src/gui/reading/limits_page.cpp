#include "reading/limits_page.h"
#include "path/span_table.h"
#include "path/threshold.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/selectable.h"
#include "widgets/text.h"

#include <cmath>
#include <QVBoxLayout>

namespace fg::gui {
namespace {}  // namespace

LimitsPage::LimitsPage(Workbench& workbench, QWidget* parent) : QWidget(parent), m_workbench(workbench) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, px(4), 0, 0);
    column->setSpacing(px(6));
    m_limit.setObjectName(QStringLiteral("reading.threshold"));
    m_direction.setObjectName(QStringLiteral("limits.direction"));
    m_direction.addItem(tr("rises to it"), true);
    m_direction.addItem(tr("falls to it"), false);
    m_codes.setObjectName(QStringLiteral("reading.codes"));
    m_integers.setObjectName(QStringLiteral("limits.integers"));
    m_scale.setObjectName(QStringLiteral("limits.scale"));
    for (const int scale : {1, 10, 100, 1000, 10000}) m_scale.addItem(tr("the reading × %1").arg(scale), scale);
    m_scale.setCurrentIndex(2);
    for (QLabel* label : {&m_codes, &m_integers}) {
        label->setTextFormat(Qt::RichText);
        label->setWordWrap(true);
        makeSelectable(*label);
    }
    column->addWidget(&m_limitTitle);
    m_limitForm.addRow(tr("&Limit"), &m_limit, nullptr, tr("what a program is to act on"));
    m_limitForm.addRow(tr("Reached when the reading"), &m_direction);
    column->addWidget(&m_limitForm);
    column->addWidget(&m_codes);
    column->addSpacing(px(10));
    column->addWidget(&m_integerTitle);
    m_integerForm.addRow(tr("&Result"), &m_scale);
    column->addWidget(&m_integerForm);
    column->addWidget(&m_integers);
    column->addStretch();
    m_limit.onCommit = [this](double value) -> Expected<void> {
        m_limitValue = value;
        showLimit();
        return {};
    };
    connect(&m_direction, &QComboBox::activated, this, &LimitsPage::showLimit);
    connect(&m_scale, &QComboBox::activated, this, &LimitsPage::showIntegers);
}

void LimitsPage::showSpec(const GaugeView& view) {
    m_limit.setUnit(&view.spec().readingUnit());
    if (m_gauge != view.id()) {
        m_gauge = view.id();
        const Interval span = view.spec().spanCanonical();
        m_limitValue = (span.low + span.high) / 2;
    }
    m_limit.setValue(m_limitValue);
    for (QLabel* title : {&m_limitTitle, &m_integerTitle}) dress(*title, Theme::instance().caption(), colours().ink2);
    for (QLabel* text : {&m_codes, &m_integers}) dress(*text, Theme::instance().text(13), colours().ink);
    m_limitTitle.setText(tr("Which code is a limit?"));
    m_integerTitle.setText(tr("Integers for a small program"));
    showLimit();
    showIntegers();
}

void LimitsPage::showLimit() {
    const GaugeView* view = m_workbench.current();
    if (view && view->digital())
        return m_codes.setText(
            tr("A digital part gives its value itself; the limits it watches stand in its registers, on the Converter "
               "sheet."));
    if (view && view->made() && !view->path())
        return m_codes.setText(tr("This gauge has no codes of its own: its limits are those of the Alarm page."));
    if (!view || !view->path()) return m_codes.clear();
    const AnalogPath& path = *view->path();
    const Unit& unit = view->spec().readingUnit();
    QString rows;
    for (const auto promptness : {Promptness::NeverLate, Promptness::NeverEarly}) {
        const auto threshold = thresholdFor(path, m_limitValue, m_direction.currentData().toBool(), promptness);
        if (!threshold)
            return m_codes.setText(
                tr("No code stands for that: %1.").arg(qs(threshold.error().message()).toHtmlEscaped()));
        const int decimals = decimalsFor(unit.differenceFromCanonical(std::abs(threshold->edge - m_limitValue)));
        rows += QStringLiteral(
                    "<tr><td><b>%1</b>&nbsp;&nbsp;or&nbsp;&nbsp;%2</td><td>&nbsp;&nbsp;0x%3&nbsp;&nbsp;</td><td>%4</"
                    "td></tr>")
                    .arg(qs(threshold->text()).toHtmlEscaped(), qs(threshold->strictText()).toHtmlEscaped(),
                         QString::number(path.converter().wordOfCode(threshold->code), 16).toUpper(),
                         tr("%1, switches at %2 %3")
                             .arg(promptness == Promptness::NeverLate ? tr("never late") : tr("never early"),
                                  qs(fixedDigits(unit.fromCanonical(threshold->edge), decimals)), qs(unit.symbol)));
    }
    m_codes.setText(
        tr("Exact code %1.").arg(qs(plainNumber(path.exactCode(m_limitValue), 8))) +
        QStringLiteral("<table cellspacing=4>%1</table>").arg(rows) +
        (path.isRising() ? tr("The reading rises with the code.")
                         : tr("The reading falls as the code rises: a program compares the other way round.")) +
        QStringLiteral("<br>") + tr("A &gt; and a &lt; on the same constant leave that code without either."));
}

void LimitsPage::showIntegers() {
    const GaugeView* view = m_workbench.current();
    if (!view || !view->path()) return m_integers.clear();
    const double scale = m_scale.currentData().toDouble();
    const auto constants = integerConstants(view->spec(), *view->path(), scale);
    if (!constants)
        return m_integers.setText(
            tr("This path is curved, or 32 bits do not hold it at that scale: take the table over the span and "
               "interpolate between its "
               "rows."));
    m_integers.setText(
        tr("result = (code × <b>%1</b> + <b>%2</b>) &gt;&gt; <b>%3</b><br>32-bit signed, without overflow from code %4 "
           "to %5; "
           "at most %6 %7 from the exact formula.")
            .arg(constants->multiplier)
            .arg(constants->addend)
            .arg(constants->shift)
            .arg(view->path()->converter().minCode())
            .arg(view->path()->converter().maxCode())
            .arg(qs(significantDigits(constants->worstError, 2)), qs(view->spec().readingUnit().symbol)));
}

}  // namespace fg::gui
