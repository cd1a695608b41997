#include "sheets/converter_sheet.h"
#include "converters/kind.h"
#include "path/span_curves.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/selectable.h"
#include "widgets/text.h"

#include <algorithm>
#include <cmath>
#include <QGridLayout>

namespace fg::gui {
namespace {

QString binary(std::int64_t code, int bits) {
    QString text;
    for (int bit = bits - 1; bit >= 0; --bit) {
        text += (code >> bit) & 1 ? QLatin1Char('1') : QLatin1Char('0');
        if (bit > 0 && bit % 4 == 0) text += QLatin1Char(' ');
    }
    return text;
}

QVector<double> toQt(const std::vector<double>& values) { return {values.begin(), values.end()}; }

}  // namespace

ConverterSheet::ConverterSheet(Workbench& workbench, QWidget* parent)
    : Sheet(workbench, tr("Converter"), tr("From a voltage to a code, and what one code is worth."), parent),
      m_parameters(
          workbench, [](GaugeSpec& spec) -> Parameters& { return spec.converter.parameters; }, "converter."),
      m_moreParameters(
          workbench, [](GaugeSpec& spec) -> Parameters& { return spec.converter.parameters; }, "converter."),
      m_setup(workbench) {
    setObjectName(QStringLiteral("sheet.converter"));
    m_part.setObjectName(QStringLiteral("converter.part"));
    m_reference.setObjectName(QStringLiteral("converter.reference"));
    m_reference.addItem(tr("not given"), QString());
    m_reference.addItem(tr("the supply of the board"), QStringLiteral("supply"));
    m_reference.addItem(tr("a supply without a regulator: battery, host port"), QStringLiteral("unregulated"));
    m_reference.addItem(tr("inside the converter"), QStringLiteral("internal"));
    m_reference.addItem(tr("at a pin of its own"), QStringLiteral("external"));
    m_law.setObjectName(QStringLiteral("converter.law"));
    m_law.addItem(tr("2ⁿ: one code is Vref/2ⁿ"), QStringLiteral("2^n"));
    m_law.addItem(tr("2ⁿ − 1: full scale is Vref"), QStringLiteral("2^n-1"));
    m_rounding.setObjectName(QStringLiteral("converter.rounding"));
    m_rounding.addItem(tr("to the nearest code: code k is k·LSB ± ½"), QStringLiteral("nearest"));
    m_rounding.addItem(tr("down: code k is k … k + 1, best (k + ½)·LSB"), QStringLiteral("down"));
    m_polarity.setObjectName(QStringLiteral("converter.polarity"));
    m_polarity.addItem(tr("from 0 up"), QStringLiteral("unipolar"));
    m_polarity.addItem(tr("with a sign, two's complement"), QStringLiteral("bipolar"));
    m_word.setObjectName(QStringLiteral("converter.word"));
    m_word.addItem(tr("as it is, right-justified"), QStringLiteral("right-justified"));
    m_word.addItem(tr("left-justified in its registers, zeros below"), QStringLiteral("left-justified"));
    m_word.addItem(tr("spread over 16 bits by software"), QStringLiteral("scaled-up"));
    m_code.setObjectName(QStringLiteral("converter.code"));
    m_code.setTextFormat(Qt::RichText);
    m_code.setWordWrap(true);
    makeSelectable(m_code);
    m_choices.addRow(tr("&Known converter"), &m_part);
    body().addWidget(&m_code);
    body().addWidget(&m_choices);
    body().addWidget(&m_parameters);
    m_lawRows.addRow(tr("Its reference is"), &m_reference);
    m_lawRows.addRow(tr("Code &law"), &m_law);
    m_lawRows.addRow(tr("Roun&ding"), &m_rounding);
    m_lawRows.addRow(tr("Codes"), &m_polarity);
    m_lawRows.addRow(tr("Arrives"), &m_word);
    body().addWidget(&m_lawRows);
    m_more.setObjectName(QStringLiteral("converter.more"));
    m_more.setText(tr("More of its data sheet"));
    m_more.setCheckable(true);
    m_more.setArrowType(Qt::RightArrow);
    m_more.setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    m_more.setAutoRaise(true);
    body().addWidget(&m_more);
    body().addWidget(&m_moreParameters);
    m_moreParameters.setVisible(false);
    connect(&m_more, &QToolButton::toggled, this, [this](bool open) {
        m_more.setArrowType(open ? Qt::DownArrow : Qt::RightArrow);
        m_moreParameters.setVisible(open);
    });
    m_lawNote = addText({});
    auto* plots = new QGridLayout;
    plots->setHorizontalSpacing(px(12));
    plots->addWidget(&m_stepTitle, 0, 0);
    plots->addWidget(&m_mixedTitle, 0, 1);
    plots->addWidget(&m_step, 1, 0);
    plots->addWidget(&m_mixed, 1, 1);
    for (CurvePlot* plot : {&m_step, &m_mixed}) plot->setMinimumSize(px(220), px(130));
    plots->setRowStretch(1, 1);
    body().addLayout(plots, 1);
    body().addWidget(&m_setup);
    m_sequence.setObjectName(QStringLiteral("converter.sequence"));
    m_sequence.setTextFormat(Qt::PlainText);
    m_sequence.setWordWrap(true);
    body().addWidget(&m_sequence);

    connect(&m_part, &QComboBox::activated, this, [this] { choosePart(m_part.currentData().toString()); });
    const auto choose = [this](QComboBox& box, const char* id, const QString& label) {
        connect(&box, &QComboBox::activated, this, [this, &box, id, label] {
            const std::string value = box.currentData().toString().toStdString();
            this->workbench().edit(label.arg(box.currentText()),
                                   [&](GaugeSpec& spec) { spec.converter.parameters.set(id, value); });
        });
    };
    choose(m_reference, "reference_kind", tr("Reference: %1"));
    choose(m_law, "code_law", tr("Code law %1"));
    choose(m_rounding, "rounding", tr("Rounding %1"));
    choose(m_polarity, "polarity", tr("Codes %1"));
    choose(m_word, "word", tr("Arrives %1"));
}

Parameters ConverterSheet::effective(const GaugeSpec& spec) {
    const ConverterPart* part =
        spec.converter.part.empty() ? nullptr : workbench().catalogue().findConverter(spec.converter.part);
    return part ? spec.converter.parameters.over(part->parameters) : spec.converter.parameters;
}

void ConverterSheet::choosePart(const QString& id) {
    if (!view() || id.toStdString() == view()->spec().converter.part) return;
    workbench().edit(id.isEmpty() ? tr("A converter of my own") : tr("Use %1").arg(id), [&](GaugeSpec& spec) {
        // "My own" keeps the values that were there; a known converter brings its own, a measured reference stays.
        const Parameters before = effective(spec);
        spec.converter.part = id.toStdString();
        Parameters kept = id.isEmpty() ? before : Parameters{};
        for (const char* name : {"reference_measured_V", "reference_measured_tolerance"})
            if (const auto value = spec.converter.parameters.number(name)) kept.set(name, *value);
        spec.converter.parameters = kept;
    });
}

/// How a converter is read by its pins.
void ConverterSheet::showSequence(const ConverterPart* part) {
    m_sequence.setVisible(part && !part->sequence.empty());
    if (!part || part->sequence.empty()) return;
    dress(m_sequence, Theme::instance().text(12), colours().ink2);
    QStringList lines{tr("One conversion, by its pins:")};
    for (const PinStep& step : part->sequence)
        lines << QStringLiteral("%1. %2").arg(lines.size()).arg(qs(pinStepText(step)));
    m_sequence.setText(lines.join(QLatin1Char('\n')));
}

void ConverterSheet::showSpec(const GaugeView& view) {
    const GaugeSpec& spec = view.spec();
    m_part.clear();
    m_part.addItem(tr("my own, values below"), QString());
    for (const ConverterPart& part : workbench().catalogue().converters())
        if (part.kind == spec.converter.kind) m_part.addItem(qs(part.title), qs(part.id));
    m_part.setCurrentIndex(std::max(0, m_part.findData(qs(spec.converter.part))));
    const Parameters parameters = effective(spec);
    const ConverterKind* kind = findConverterKind(spec.converter.kind);
    m_lawRows.setVisible(kind && kind->input == Quantity::Voltage);
    m_lawNote->setVisible(kind && kind->input == Quantity::Voltage);
    // What people set every time stands first; limits that only the checks use open on demand.
    std::vector<ParameterSpec> usual, rare;
    const auto isUsual = [](const ParameterSpec& one) {
        for (const char* id :
             {"bits", "reference_V", "reference_measured_V", "gain", "error_LSB", "gate_s", "clock_Hz", "periods"})
            if (one.id == id) return true;
        return false;
    };
    if (kind)
        for (const ParameterSpec& one : kind->parameters()) (isUsual(one) ? usual : rare).push_back(one);
    m_more.setVisible(!rare.empty());
    m_moreParameters.show(rare, parameters,
                          {{QStringLiteral("input_max_V"), tr("absolute maximum of its data sheet")}});
    m_parameters.show(usual, parameters,
                      {{QStringLiteral("reference_V"), tr("as its document states it")},
                       {QStringLiteral("reference_measured_V"), tr("a meter's reading takes its place")},
                       {QStringLiteral("input_max_V"), tr("absolute maximum of its data sheet")}});
    m_reference.setCurrentIndex(std::max(0, m_reference.findData(qs(parameters.textOr("reference_kind", "")))));
    m_setup.showSpec(spec);
    showSequence(workbench().catalogue().findConverter(spec.converter.part));
    if (!view.path()) return;
    m_law.setCurrentIndex(view.path()->converter().law() == CodeLaw::PowerOfTwo ? 0 : 1);
    m_rounding.setCurrentIndex(view.path()->converter().rounding() == Rounding::Nearest ? 0 : 1);
    m_polarity.setCurrentIndex(view.path()->converter().polarity() == Polarity::Unipolar ? 0 : 1);
    m_word.setCurrentIndex(static_cast<int>(view.path()->converter().word()));
    showPlots(view);
}

void ConverterSheet::showPlots(const GaugeView& view) {
    const QString unit = qs(view.spec().readingUnit().symbol);
    for (QLabel* title : {&m_stepTitle, &m_mixedTitle}) dress(*title, Theme::instance().caption(), colours().ink2);
    const QColor colour = colours().of(view.spec().quantity).line;
    const SpanCurve step = stepOver(view.spec(), *view.path(), 81);
    const SpanCurve mixed = lawDifferenceOver(view.spec(), workbench().catalogue(), *view.path(), 81);
    m_stepTitle.setText(tr("One code is worth, in %1").arg(unit));
    m_mixedTitle.setText(tr("Mixing the laws costs, in %1").arg(unit));
    for (CurvePlot* plot : {&m_step, &m_mixed}) plot->setLogarithmic(isLogarithmic(view.spec()));
    m_step.setAxes(unit, {});
    m_mixed.setAxes(unit, {});
    m_step.setCurves({{toQt(step.world), toQt(step.value), {}, colour, true}});
    m_mixed.setCurves({{toQt(mixed.world), toQt(mixed.value), {}, colour, true}});
    const auto larger = [](double a, double b) { return std::abs(a) < std::abs(b); };
    const double worst = std::abs(*std::max_element(mixed.value.begin(), mixed.value.end(), larger));
    const double worstStep = *std::max_element(step.value.begin(), step.value.end(), larger);
    m_lawNote->setText(
        tr("Both laws are in use. 2ⁿ is the default, because converters are specified by it; what counts is what this "
           "converter's data "
           "sheet says. Here mixing them would shift the reading by at most %1 %2, a %3 of one code (%4 %2 at worst).")
            .arg(qs(significantDigits(worst, 2)), unit, worst < 0.5 * worstStep ? tr("small part") : tr("good part"),
                 qs(significantDigits(worstStep, 2))));
}

void ConverterSheet::showValues(const GaugeView& view) {
    if (!view.path() || !view.evaluation()) {
        m_code.clear();
        return;
    }
    const Converter& adc = view.path()->converter();
    const StageValue& value = view.evaluation()->at(Stage::Converter);
    if (std::isnan(value.value)) return m_code.clear();
    const auto code = static_cast<std::int64_t>(std::llround(value.value));
    const NumberText lsb = engineering(adc.lsb(), adc.input(), 4);
    m_code.setFont(Theme::instance().text(13));
    const double noise = view.path()->converterNoise();
    const QString noiseFree = noise > 0 ? tr(" &nbsp;&nbsp; <b>%1</b> bits&nbsp;free&nbsp;of&nbsp;noise")
                                              .arg(qs(fixedDigits(adc.noiseFreeBits(noise), 1)))
                                        : QString();
    m_code.setText(
        tr("Code <b>%1</b> &nbsp; 0x%2 &nbsp; 0b %3 &nbsp;&nbsp; %4LSB <b>%5</b> &nbsp;&nbsp; full&nbsp;scale&nbsp;%6")
            .arg(code)
            .arg(QString::number(adc.wordOfCode(code), 16)
                     .toUpper()
                     .rightJustified((adc.bits() + 3) / 4, QLatin1Char('0')))
            .arg(binary(code, adc.bits()),
                 value.exact == value.value ? QString()
                                            : tr("exact %1 &nbsp;&nbsp; ").arg(qs(plainNumber(value.exact, 8))),
                 qs(lsb.joined()),
                 qs(engineering(adc.inputOf(static_cast<double>(adc.maxCode())), adc.input(), 5).joined())) +
        noiseFree);
}

}  // namespace fg::gui
