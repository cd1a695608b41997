#include "sheets/wiring_sheet.h"
#include "gauge/gauge.h"
#include "path/default_gauge.h"
#include "path/span_curves.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/text.h"
#include "wiring/kind.h"

#include <algorithm>
#include <cmath>
#include <QHBoxLayout>

namespace fg::gui {
WiringSheet::WiringSheet(Workbench& workbench, QWidget* parent)
    : Sheet(workbench, tr("Wiring"), {}, parent),
      m_parameters(
          workbench, [](GaugeSpec& spec) -> Parameters& { return spec.wiring.parameters; }, "wiring.", page()),
      m_schematic(workbench, page()),
      m_sizing(workbench, page()) {
    setObjectName(QStringLiteral("sheet.wiring"));
    auto* row = new QHBoxLayout;
    row->setSpacing(px(14));
    row->addWidget(&m_schematic, 0, Qt::AlignTop);
    auto* right = new QVBoxLayout;
    right->setSpacing(px(2));
    right->addWidget(&m_plotTitle);
    right->addWidget(&m_plot, 1);
    right->addWidget(&m_plotNote);
    m_plot.setMinimumSize(std::min(px(240), 320), px(220));
    m_plotNote.setWordWrap(true);
    row->addLayout(right, 1);
    body().addLayout(row);
    m_side.setObjectName(QStringLiteral("wiring.side"));
    m_side.addItem(tr("sensor to ground, R1 to the source"), QStringLiteral("low"));
    m_side.addItem(tr("sensor to the source, R1 to ground"), QStringLiteral("high"));
    m_source.setObjectName(QStringLiteral("wiring.sourceKind"));
    m_source.addItem(tr("the converter's reference (cancels out)"), QStringLiteral("reference"));
    m_source.addItem(tr("a rail of its own"), QStringLiteral("rail"));
    m_tolerance.setObjectName(QStringLiteral("wiring.tolerance"));
    m_sourceTolerance.setObjectName(QStringLiteral("wiring.sourceTolerance"));
    m_tolerance.setZeroText(tr("not given"));
    m_sourceTolerance.setZeroText(tr("not given"));
    m_dividerForm.addRow(tr("&Divider"), &m_side);
    m_dividerForm.addRow(tr("R1 tole&rance ±"), &m_tolerance, nullptr,
                         tr("1 % metal film is usual; 0.1 % costs little more"));
    m_sourceForm.addRow(tr("&Fed from"), &m_source);
    m_sourceForm.addRow(tr("Rail tolerance ±"), &m_sourceTolerance, nullptr,
                        tr("counts only when the sensor has a rail of its own"));
    body().addWidget(&m_sizing);
    connect(&m_schematic, &Schematic::lockTurned, this, [this](const QString& field, bool open) {
        if (open)
            m_sizing.open(field.toStdString());
        else
            m_sizing.close();
        if (view()) showCircuit(*view());
    });
    connect(&m_schematic, &Schematic::valueFixed, this, [this](const QString& field) {
        if (m_sizing.openField() == field.toStdString()) m_sizing.close();
        if (view()) showCircuit(*view());
    });
    connect(&m_sizing, &SizingPanel::locksChanged, this, [this] {
        if (!view()) return;
        showCircuit(*view());
        showPlot(*view());
        showValues(*view());
    });
    addCaption(tr("Network"));
    m_kind.setObjectName(QStringLiteral("wiring.kind"));
    m_kindForm.addRow(tr("&Network"), &m_kind);
    body().addWidget(&m_kindForm);
    body().addWidget(&m_parameters);
    body().addWidget(&m_dividerForm);
    connect(&m_kind, &QComboBox::activated, this, [this] { chooseKind(m_kind.currentData().toString()); });
    body().addWidget(&m_sourceForm);
    body().addStretch();

    connect(&m_side, &QComboBox::activated, this, [this] {
        const std::string side = m_side.currentData().toString().toStdString();
        this->workbench().edit(tr("Wire it: %1").arg(m_side.currentText()),
                               [&](GaugeSpec& spec) { spec.wiring.parameters.set("sensor_side", side); });
    });
    connect(&m_source, &QComboBox::activated, this, [this] {
        const std::string source = m_source.currentData().toString().toStdString();
        this->workbench().edit(tr("Feed it from %1").arg(m_source.currentText()), [&](GaugeSpec& spec) {
            // A rail starts as what fed the sensor before.
            if (source == "rail" && !(spec.wiring.parameters.numberOr("source_V", 0) > 0) && view()->path())
                spec.wiring.parameters.set("source_V", view()->path()->source_V());
            spec.wiring.parameters.set("source", source);
        });
    });
    const auto setTolerance = [this](const char* id, double value) -> Expected<void> {
        if (value < 0 || value >= 1)
            return fail(ErrorCode::Range, "tolerance", plainNumber(100 * value) + " %", "0 % to below 100 %");
        this->workbench().edit(tr("Set a tolerance to %1 %").arg(100 * value),
                               [&](GaugeSpec& spec) { spec.wiring.parameters.set(id, value); });
        return {};
    };
    m_tolerance.onCommit = [setTolerance](double value) { return setTolerance("fixed_tolerance", value); };
    m_sourceTolerance.onCommit = [setTolerance](double value) { return setTolerance("source_tolerance", value); };
}

void WiringSheet::chooseKind(const QString& id) {
    const WiringKind* kind = findWiringKind(id.toStdString());
    if (!kind || !view() || view()->spec().wiring.kind == kind->id) return;
    workbench().edit(tr("Wire it: %1").arg(m_kind.currentText()), [&](GaugeSpec& spec) {
        // Source and capacitor stay; what the new network is made of starts at usual values.
        Parameters kept = startWiring(*kind);
        for (const char* name : {"source", "source_V", "source_tolerance", "capacitor_F"})
            if (const auto it = spec.wiring.parameters.all().find(name); it != spec.wiring.parameters.all().end())
                kept.set(name, it->second);
        spec.wiring = {std::string(kind->id), kept};
        std::erase_if(spec.examples, [](const std::string& field) { return field.starts_with("wiring."); });
        const Parameters start = startWiring(*kind);
        for (const auto& [name, value] : start.all()) spec.examples.insert("wiring." + name);
    });
}

void WiringSheet::showKind(const GaugeView& view) {
    const WiringKind* current = findWiringKind(view.spec().wiring.kind);
    m_kind.clear();
    for (const WiringKind& kind : wiringKinds()) {
        if (current && kind.input != current->input) continue;
        m_kind.addItem(qs(kind.title), qs(kind.id));
        if (kind.id == view.spec().wiring.kind) m_kind.setCurrentIndex(m_kind.count() - 1);
    }
    std::vector<ParameterSpec> specs;
    if (current && current->id != "divider")
        for (const ParameterSpec& spec : current->parameters())
            if (spec.id != "source_V") specs.push_back(spec);
    m_parameters.setVisible(!specs.empty());
    m_parameters.show(specs, view.spec().wiring.parameters);
}

void WiringSheet::showSpec(const GaugeView& view) {
    showKind(view);
    const bool isDivider = view.spec().wiring.kind == "divider";
    setSubtitle(view.path() ? tr("%1. A click edits a value; its lock lets the solver choose it.")
                                  .arg(qs(view.path()->wiring().title()))
                            : QString());
    m_sizing.showSpec(view);
    showCircuit(view);
    m_dividerForm.setVisible(isDivider);
    const Parameters& wiring = view.spec().wiring.parameters;
    const auto text = [&](const char* name, const char* otherwise) { return qs(wiring.textOr(name, otherwise)); };
    m_side.setCurrentIndex(m_side.findData(text("sensor_side", "low")));
    m_source.setCurrentIndex(m_source.findData(text("source", "reference")));
    m_tolerance.setValue(wiring.numberOr("fixed_tolerance", 0));
    m_sourceTolerance.setValue(wiring.numberOr("source_tolerance", 0));
    m_sourceTolerance.setEnabled(text("source", "reference") == QLatin1String("rail"));
    showPlot(view);
}

void WiringSheet::showCircuit(const GaugeView& view) {
    m_schematic.showSpec(view, m_sizing.solvable(), m_sizing.openField());
}

void WiringSheet::showPlot(const GaugeView& view) {
    const QString unit = qs(view.spec().readingUnit().symbol);
    dress(m_plotTitle, Theme::instance().caption(), colours().ink2);
    dress(m_plotNote, Theme::instance().text(13), colours().ink2);
    m_plotTitle.setText(tr("Counts per %1 over the span").arg(unit));
    m_plot.setVisible(view.path() != nullptr);
    m_plotTitle.setVisible(view.path() != nullptr);
    m_plotNote.setVisible(view.path() != nullptr);
    if (!view.path()) return;
    const SpanCurve curve = countsPerUnitOver(view.spec(), *view.path(), 121);
    const QColor colour = colours().of(view.spec().quantity).line;
    m_plot.setAxes(unit, {});
    const auto toCurve = [](const SpanCurve& one, const QString& name, const QColor& ink, bool chosen) {
        return Curve{{one.world.begin(), one.world.end()}, {one.value.begin(), one.value.end()}, name, ink, chosen};
    };
    QVector<Curve> curves{toCurve(curve, {}, colour, true)};
    if (view.spec().wiring.kind == "divider")
        for (const auto& [name, spec] : m_sizing.runnersUp(2))
            if (const auto other = Gauge::make(spec, workbench().catalogue()))
                curves.append(toCurve(countsPerUnitOver(spec, *other->analog(), 121), name, {}, false));
    m_plot.setLogarithmic(isLogarithmic(view.spec()));
    m_plot.setCurves(curves);
    const std::size_t worst = curve.worst();
    const double best = *std::max_element(curve.value.begin(), curve.value.end());
    const bool flat = best - curve.value[worst] <= 1e-6 * best;
    if (!flat) m_plot.setMarks({curve.world[worst]}, {curve.value[worst]}, colour);
    const RangeUsed used = rangeUsedBy(view.spec(), *view.path());
    const QString place =
        flat ? tr("%1 everywhere.").arg(qs(significantDigits(best, 3)))
             : tr("◎ worst: %1 at %2 %3.")
                   .arg(qs(significantDigits(curve.value[worst], 3)), qs(plainNumber(curve.world[worst], 4)), unit);
    m_plotNote.setText(place + tr(" The span uses %1 % of the codes, %2 … %3.")
                                   .arg(qs(significantDigits(100 * used.fraction, 2)),
                                        qs(fixedDigits(used.codeAtLow, 0)), qs(fixedDigits(used.codeAtHigh, 0))));
}

void WiringSheet::showValues(const GaugeView& view) {
    m_schematic.showValues(view);
    if (!view.path() || !view.evaluation()) return m_plot.setCursor({});
    const Unit& unit = view.spec().readingUnit();
    const double world = view.evaluation()->at(Stage::World).value;
    const double counts = view.path()->countsPerUnit(world) * unit.differenceToCanonical(1);
    m_plot.setCursor(unit.fromCanonical(world), counts,
                     tr("%1 at %2 %3")
                         .arg(qs(significantDigits(counts, 3)), qs(view.textAt(Stage::World).value.digits),
                              qs(unit.symbol)));
}

}  // namespace fg::gui
