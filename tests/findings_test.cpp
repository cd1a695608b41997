#include "findings/finding.h"
#include "path/default_gauge.h"
#include "support.h"

#include <algorithm>

namespace fg {
namespace {

std::vector<Finding> check(const GaugeSpec& spec, std::optional<Entry> entry = {}) {
    const AnalogPath path = test::pathOf(spec);
    const auto now = entry ? std::optional(path.evaluate(*entry).value()) : std::nullopt;
    const Interval span = spec.spanCanonical();
    const auto budget = budgetAt(spec, test::catalogue(), (span.low + span.high) / 2);
    return findingsFor(spec, path, test::catalogue(), now ? &*now : nullptr, budget ? &*budget : nullptr);
}

const Finding* find(const std::vector<Finding>& findings, const std::string& id) {
    const auto it = std::find_if(findings.begin(), findings.end(), [&](const Finding& f) { return f.id == id; });
    return it == findings.end() ? nullptr : &*it;
}

/// A gauge that no rule but the cautions has anything against.
GaugeSpec blameless() {
    GaugeSpec spec = test::gluePot();
    spec.sensor.parameters.set("dissipation_W_per_K", 1.0);
    spec.sensor.parameters.set("beta_tolerance", 0.007);
    return spec;
}

TEST(Findings, ABlamelessGaugeHasOnlyItsCautions) {
    const auto findings = check(blameless(), Entry{Stage::World, 60});
    ASSERT_EQ(findings.size(), 1u);
    EXPECT_EQ(findings[0].id, "care-heat");
    EXPECT_EQ(findings[0].severity, Severity::Care);
}

TEST(Findings, ClippedCodeIsAFault) {
    const auto findings = check(blameless(), Entry{Stage::Converter, 0});
    const Finding* clipped = find(findings, "clipped");
    ASSERT_TRUE(clipped);
    EXPECT_EQ(clipped->severity, Severity::Fault);
    EXPECT_NE(clipped->detail.find("at least"), std::string::npos) << clipped->detail;
    EXPECT_EQ(&findings.front(), clipped);  // worst first
    EXPECT_FALSE(find(check(blameless(), Entry{Stage::Converter, 1}), "clipped"));
}

// ESP32 data sheet: 150 to 2450 mV with the attenuator at 11 dB. TMP36: 0.5 V at 0 °C, 10 mV a degree.
TEST(Findings, WhatMisleadsWithAConverter) {
    GaugeSpec spec = test::directGauge("tmp36", 12, 4.096);
    spec.converter = {"adc", "esp32", {}};
    spec.reading.span = {0, 50};
    EXPECT_FALSE(find(check(spec), "converter-zone"));
    EXPECT_TRUE(find(check(spec), "converter-trap"));
    spec.reading.span = {-40, 50};
    ASSERT_TRUE(find(check(spec), "converter-zone"));
    EXPECT_NE(find(check(spec), "converter-zone")->detail.find("dead zone"), std::string::npos);
    EXPECT_NEAR(test::pathOf(spec).reading(750), 25, 1e-9);  // a code is a millivolt
}

// ADS1115 data sheet, absolute maximum ratings: inputs up to the supply + 0.3 V.
TEST(Findings, InputsThatHangOnTheConvertersSupply) {
    GaugeSpec spec = test::directGauge("lm35", 16, 6.144);
    spec.converter = {"adc", "ads1115", {{"gain", 1.0 / 3}}};
    spec.wiring.parameters.set("source_V", 5.0);
    spec.reading.span = {0, 150};
    EXPECT_FALSE(find(check(spec), "converter-supply-not-given"));  // 1.5 V are within 2 V + 0.3 V
    GaugeSpec steep = test::directGauge("tmp37", 16, 6.144);
    steep.converter = spec.converter;
    steep.reading.span = {5, 190};  // 3.8 V
    EXPECT_TRUE(find(check(steep), "converter-supply-not-given"));
    steep.converter.parameters.set("supply_V", 3.3);
    ASSERT_TRUE(find(check(steep), "pin-overvoltage"));
    EXPECT_NE(find(check(steep), "pin-overvoltage")->detail.find("3.60 V"), std::string::npos);
    steep.converter.parameters.set("supply_V", 5.0);
    EXPECT_FALSE(find(check(steep), "pin-overvoltage"));
}

TEST(Findings, SpanThatRunsOutOfTheConverter) {
    GaugeSpec spec = test::directGauge("lm35", 10, 0.5);
    spec.reading.span = {10, 80};  // 0.8 V against 0.5 V
    const auto findings = check(spec);
    ASSERT_TRUE(find(findings, "span-clipped"));
    EXPECT_NE(find(findings, "span-clipped")->detail.find("800"), std::string::npos);
    spec.reading.span = {10, 40};
    EXPECT_FALSE(find(check(spec), "span-clipped"));
}

TEST(Findings, SourceAboveTheConvertersLimit) {
    GaugeSpec spec = blameless();
    spec.wiring.parameters.set("source", std::string("rail"));
    spec.wiring.parameters.set("source_V", 5.0);
    spec.reading.span = {60, 90};  // stays below 3.3 V in normal use
    const auto findings = check(spec);
    const Finding* source = find(findings, "source-above-limit");
    ASSERT_TRUE(source);
    EXPECT_EQ(source->severity, Severity::Fault);
    ASSERT_TRUE(source->action);
    source->action->apply(spec);  // "feed it from the reference"
    EXPECT_FALSE(find(check(spec), "source-above-limit"));
}

TEST(Findings, PinOvervoltageInsideTheSpan) {
    GaugeSpec spec = blameless();
    spec.wiring.parameters.set("source", std::string("rail"));
    spec.wiring.parameters.set("source_V", 5.0);
    spec.reading.span = {0, 90};  // at 0 °C the tap is near 4.7 V
    const auto findings = check(spec);
    ASSERT_TRUE(find(findings, "pin-overvoltage"));
    EXPECT_EQ(find(findings, "pin-overvoltage")->severity, Severity::Fault);
    EXPECT_FALSE(find(check(blameless()), "pin-overvoltage"));
}

TEST(Findings, LessThanATenthOfTheRange) {
    GaugeSpec spec = test::directGauge("lm35", 10, 5.0);
    spec.wiring.parameters = {{"source", std::string("rail")}, {"source_V", 5.0}};
    spec.reading.span = {10, 40};  // 0.3 V of 5 V
    ASSERT_TRUE(find(check(spec), "range-used"));
    EXPECT_NE(find(check(spec), "range-used")->detail.find("6.0 %"), std::string::npos)
        << find(check(spec), "range-used")->detail;
    spec.converter.parameters.set("reference_V", 1.1);
    EXPECT_FALSE(find(check(spec), "range-used"));
}

TEST(Findings, WrongLookingReference) {
    GaugeSpec spec = test::directGauge("tmp36", 10, 5.0);
    spec.wiring.parameters = {{"source", std::string("rail")}, {"source_V", 5.0}};
    spec.converter.parameters.set("reference_measured_V", 4.6);
    ASSERT_TRUE(find(check(spec), "reference-off"));
    spec.converter.parameters.set("reference_measured_V", 4.9);
    EXPECT_FALSE(find(check(spec), "reference-off"));
    spec.converter.parameters.set("reference_measured_V", 0.0);
    spec.converter.parameters.set("reference_tolerance", 0.05);
    EXPECT_TRUE(find(check(spec), "reference-nominal"));
    spec.converter.parameters.set("reference_V", 33.0);
    EXPECT_TRUE(find(check(spec), "reference-unusual"));
}

TEST(Findings, OutsideTheSensorsRange) {
    GaugeSpec spec = blameless();
    EXPECT_TRUE(find(check(spec, Entry{Stage::World, -70}), "outside-range"));
    EXPECT_FALSE(find(check(spec, Entry{Stage::World, 20}), "outside-range"));
    spec.reading.span = {20, 200};
    const auto findings = check(spec);
    const Finding* span = find(findings, "span-beyond-sensor");
    ASSERT_TRUE(span && span->action);
    span->action->apply(spec);
    EXPECT_EQ(spec.reading.span.high, 155);
    EXPECT_FALSE(find(check(spec), "span-beyond-sensor"));
}

TEST(Findings, SupplyBelowWhatThePartNeeds) {
    GaugeSpec spec = test::directGauge("lm35", 10, 3.3);  // needs 4 V
    // A reference alone says nothing of what feeds the sensor.
    EXPECT_FALSE(find(check(spec), "supply-low"));
    EXPECT_TRUE(find(check(spec), "supply-not-given"));
    spec.converter.parameters.set("reference_kind", std::string("supply"));
    EXPECT_FALSE(find(check(spec), "supply-not-given"));
    const auto findings = check(spec);
    ASSERT_TRUE(find(findings, "supply-low"));
    EXPECT_EQ(find(findings, "supply-low")->severity, Severity::Fault);
    spec.wiring.parameters = {{"source", std::string("rail")}, {"source_V", 5.0}};
    EXPECT_FALSE(find(check(spec), "supply-low"));
    spec.wiring.parameters.set("source_V", 40.0);
    EXPECT_TRUE(find(check(spec), "supply-high"));
}

TEST(Findings, SelfHeatingDominanceAndUnknownAccuracy) {
    EXPECT_TRUE(find(check(test::warmPot()), "self-heating"));
    EXPECT_FALSE(find(check(blameless()), "self-heating"));
    GaugeSpec spec = blameless();
    spec.sensor.parameters.set("beta_tolerance", 0.05);
    EXPECT_TRUE(find(check(spec), "dominates"));
    EXPECT_FALSE(find(check(blameless()), "dominates"));
    spec.reading.wanted = 0.1;
    EXPECT_TRUE(find(check(spec), "accuracy-wanted"));
    spec.reading.wanted = 50;
    EXPECT_FALSE(find(check(spec), "accuracy-wanted"));
    spec.sensor.parameters.remove("beta_tolerance");
    spec.sensor.parameters.remove("r25_tolerance");
    EXPECT_TRUE(find(check(spec), "accuracy-unknown"));
}

TEST(Findings, AnErrorBecomesAFaultAtItsStage) {
    const Finding finding = findingFromError({ErrorCode::Range, "wiring.fixed_ohm", "-1", "a resistance above 0 Ω"});
    EXPECT_EQ(finding.stage, Stage::Wiring);
    EXPECT_EQ(finding.severity, Severity::Fault);
    EXPECT_NE(finding.detail.find("-1"), std::string::npos);
}

TEST(Findings, OneCodeIsMoreThanTheAccuracyWanted) {
    GaugeSpec spec = test::directGauge("tmp36", 10, 5.0);  // 0.488 °C a code
    spec.reading.wanted = 0.4;
    ASSERT_TRUE(find(check(spec), "resolution"));
    EXPECT_NE(find(check(spec), "resolution")->detail.find("0.49"), std::string::npos);
    spec.reading.wanted = 0.6;
    EXPECT_FALSE(find(check(spec), "resolution"));
}

TEST(Findings, SourceTooWeakForTheConverter) {
    GaugeSpec spec = blameless();
    spec.wiring.parameters.remove("capacitor_F");
    spec.converter.parameters.set("source_impedance_max_ohm", 1000.0);  // 10 kΩ ∥ 2.2 kΩ at the cold end is above
    const Finding weak = *find(check(spec), "source-impedance");
    weak.action->apply(spec);
    // 12 bits and a usual 14 pF: 14 pF · 2^13 = 115 nF, the next of E6 is 150 nF.
    EXPECT_NEAR(spec.wiring.parameters.number("capacitor_F").value(), 150e-9, 1e-12);
    EXPECT_FALSE(find(check(spec), "source-impedance"));
    spec.wiring.parameters.set("capacitor_F", 1e-9);  // far too small to feed it
    EXPECT_TRUE(find(check(spec), "source-impedance"));
    spec.wiring.parameters.remove("capacitor_F");
    spec.converter.parameters.set("source_impedance_max_ohm", 5000.0);
    EXPECT_FALSE(find(check(spec), "source-impedance"));
}

// AD590: 298 µA at 25 °C, 1 µA/K, and 4 V across itself. Over 10 kΩ at 80 °C 3.53 V drop: of 5 V only 1.47 V are left.
TEST(Findings, ACurrentSensorNeedsItsVoltage) {
    GaugeSpec spec = defaultGauge(*test::catalogue().findPart("ad590"));
    spec.reading.span = {0, 80};
    spec.wiring.parameters = {{"load_ohm", 10000.0}, {"source", std::string("rail")}, {"source_V", 5.0}};
    ASSERT_TRUE(find(check(spec), "across-sensor-low"));
    EXPECT_NE(find(check(spec), "across-sensor-low")->detail.find("1.47 V"), std::string::npos);
    spec.wiring.parameters.set("source_V", 12.0);
    EXPECT_FALSE(find(check(spec), "across-sensor-low"));
}

TEST(Findings, ExamplesRemarksAndATableThatEnds) {
    GaugeSpec fresh = defaultGauge(*test::catalogue().findPart("ntc"));
    ASSERT_TRUE(find(check(fresh), "example-values"));
    EXPECT_EQ(find(check(fresh), "example-values")->severity, Severity::Fault);
    find(check(fresh), "example-values")->action->apply(fresh);
    EXPECT_FALSE(find(check(fresh), "example-values"));
    // IEC 60751: class A of a film element ends at 300 °C.
    GaugeSpec film = defaultGauge(*test::catalogue().findPart("pt1000-a"));
    film.reading.span = {0, 250};
    EXPECT_FALSE(find(check(film), "part-remark"));
    film.reading.span = {0, 400};
    EXPECT_TRUE(find(check(film), "part-remark"));
    GaugeSpec table = defaultGauge(*test::catalogue().findPart("own-table"));
    table.sensor.parameters.set("table_V", std::vector<Point>{{0, 0.5}, {50, 2.5}});
    table.reading.span = {0, 50};
    EXPECT_FALSE(find(check(table), "span-beyond-sensor"));
    table.reading.span = {0, 60};
    EXPECT_TRUE(find(check(table), "span-beyond-sensor"));
}

GaugeSpec pressureGauge(const std::string& part, Interval span_kPa) {
    GaugeSpec spec = test::directGauge(part, 10, 5.0);
    spec.quantity = Quantity::Pressure;
    spec.reading.unit = "kPa";
    spec.reading.span = span_kPa;
    spec.converter.parameters.set("reference_kind", std::string("supply"));
    return spec;
}

TEST(Findings, AbsoluteAndGaugePressureAreToldApart) {
    EXPECT_TRUE(find(check(pressureGauge("mpx4250a", {0, 40})), "absolute-as-gauge"));
    EXPECT_FALSE(find(check(pressureGauge("mpx4250a", {80, 110})), "absolute-as-gauge"));
    EXPECT_TRUE(find(check(pressureGauge("mpx5100", {80, 100})), "gauge-as-absolute"));
    EXPECT_FALSE(find(check(pressureGauge("mpx5100", {0, 90})), "gauge-as-absolute"));
}

TEST(Findings, PercentageIsSaidInTheReadingsUnit) {
    // 5 % of 10 kPa is 500 Pa; in the middle of 0 … 2 kPa that is half of the reading.
    const auto findings = check(pressureGauge("mpx5010", {0, 2}));
    ASSERT_TRUE(find(findings, "percent-of-what"));
    EXPECT_NE(find(findings, "percent-of-what")->detail.find("50 %"), std::string::npos)
        << find(findings, "percent-of-what")->detail;
    EXPECT_FALSE(find(check(pressureGauge("mpx4115a", {80, 110})), "percent-of-what"));
}

TEST(Findings, ChipSensorMeasuresTheChip) {
    const Part& chip = *test::catalogue().findPart("chip-one-point");
    EXPECT_TRUE(find(check(defaultGauge(chip)), "chip-sensor"));
    EXPECT_FALSE(find(check(defaultGauge(*test::catalogue().findPart("diode"))), "chip-sensor"));
}

TEST(Findings, CableOfAResistorAndOfAThermocouple) {
    // Pt100, 2 Ω of cable: 2/0.385 is some 5 °C; 20 K of copper 7.8 % of that.
    GaugeSpec pt = defaultGauge(*test::catalogue().findPart("pt100"));
    EXPECT_FALSE(find(check(pt), "cable-resistance"));
    pt.wiring.parameters.set("lead_ohm", 2.0);
    ASSERT_TRUE(find(check(pt), "cable-resistance"));
    EXPECT_NE(find(check(pt), "cable-resistance")->detail.find("5.2 °C"), std::string::npos)
        << find(check(pt), "cable-resistance")->detail;
    GaugeSpec couple = defaultGauge(*test::catalogue().findPart("thermocouple-k"));
    EXPECT_FALSE(find(check(couple), "thermocouple-polarity"));
    EXPECT_FALSE(find(check(couple), "thermocouple-cable"));
    couple.wiring.parameters.set("polarity", std::string("reversed"));
    couple.wiring.parameters.set("cable", std::string("copper"));
    EXPECT_EQ(find(check(couple), "thermocouple-polarity")->severity, Severity::Fault);
    EXPECT_TRUE(find(check(couple), "thermocouple-cable"));
    couple.wiring.parameters.set("cable", std::string("K"));
    EXPECT_FALSE(find(check(couple), "thermocouple-cable"));
    GaugeSpec lm = test::directGauge("mpx5010", 10, 5.0);
    lm.quantity = Quantity::Pressure;
    lm.reading = {"kPa", {0, 10}, 0};
    lm.wiring.parameters.set("source", std::string("reference"));
    lm.wiring.parameters.set("lead_ohm", 20.0);  // 7 mA · 10 Ω = 70 mV, 0.16 kPa
    EXPECT_TRUE(find(check(lm), "cable-drop"));
    lm.wiring.parameters.set("lead_ohm", 0.5);
    EXPECT_FALSE(find(check(lm), "cable-drop"));
}

TEST(Findings, CodeLawOfAnotherConverter) {
    GaugeSpec spec = defaultGauge(*test::catalogue().findPart("tmp36"));
    EXPECT_FALSE(find(check(spec), "law-mixed"));
    spec.converter.parameters.set("code_law", std::string("2^n-1"));
    const Finding mixed = *find(check(spec), "law-mixed");
    mixed.action->apply(spec);
    EXPECT_FALSE(find(check(spec), "law-mixed"));
}

TEST(Findings, ASupplyThatMovesIsAReferenceThatMoves) {
    GaugeSpec spec = defaultGauge(*test::catalogue().findPart("tmp36"));
    spec.reading.span = {0, 40};
    spec.converter.parameters.set("reference_V", 5.0);
    spec.converter.parameters.set("reference_kind", std::string("unregulated"));
    spec.converter.parameters.set("reference_tolerance", 0.06);
    // 40 °C is 0.9 V; with 6 % less supply the code is 1/0.94 of it, which reads 0.95745 V: 45.74 °C.
    const auto said = check(spec);
    const Finding* moving = find(said, "supply-unregulated");
    ASSERT_TRUE(moving);
    EXPECT_EQ(moving->severity, Severity::Doubt);
    EXPECT_NE(moving->detail.find("45.74 °C for 40 °C"), std::string::npos) << moving->detail;
    spec.converter.parameters.set("reference_kind", std::string("supply"));
    EXPECT_TRUE(find(check(spec), "supply-reference"));
    spec.converter.parameters.set("reference_measured_V", 4.94);
    EXPECT_FALSE(find(check(spec), "supply-reference"));
    spec.converter.parameters.set("reference_measured_V", 0.0);
    spec.converter.parameters.set("reference_kind", std::string("internal"));
    EXPECT_FALSE(find(check(spec), "supply-reference"));
    GaugeSpec cancels = blameless();
    cancels.converter.parameters.set("reference_kind", std::string("unregulated"));
    EXPECT_FALSE(find(check(cancels), "supply-unregulated"));
}

TEST(Findings, MoreDecimalsThanTheUncertaintyDeserves) {
    GaugeSpec spec = blameless();  // ± 0.6 °C: two decimals
    spec.reading.decimals = 2;
    EXPECT_FALSE(find(check(spec), "decimals"));
    spec.reading.decimals = 6;
    const auto findings = check(spec);
    const Finding* many = find(findings, "decimals");
    ASSERT_TRUE(many && many->action);
    many->action->apply(spec);
    EXPECT_FALSE(spec.reading.decimals.has_value());
}

TEST(Findings, BudgetAndMonteCarloThatDiffer) {
    const GaugeSpec straight = blameless();
    const auto fine = monteCarlo(straight, test::catalogue(), 55, 20000).value();
    const AnalogPath path = test::pathOf(straight);
    const auto budget = budgetAt(straight, test::catalogue(), 55).value();
    EXPECT_FALSE(find(findingsFor(straight, path, test::catalogue(), nullptr, &budget, &fine), "monte-carlo"));
    // A photoresistor known to ± 30 % and ± 0.1 of γ: a power law is far from straight over that.
    const GaugeSpec curved = readGaugeFile((test::dataFolder() / "demo/window-light.json").string()).value();
    const auto run = monteCarlo(curved, test::catalogue(), 2000, 20000).value();
    const auto findings = findingsFor(curved, test::pathOf(curved), test::catalogue(), nullptr, nullptr, &run);
    ASSERT_TRUE(find(findings, "monte-carlo"));
    EXPECT_EQ(find(findings, "monte-carlo")->severity, Severity::Doubt);
}

}  // namespace
}  // namespace fg
