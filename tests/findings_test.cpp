#include "findings/finding.h"
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
    EXPECT_NE(find(check(spec), "range-used")->detail.find("6.0 %"), std::string::npos) << find(check(spec), "range-used")->detail;
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
    const auto findings = check(spec);
    ASSERT_TRUE(find(findings, "supply-low"));
    EXPECT_EQ(find(findings, "supply-low")->severity, Severity::Fault);
    spec.wiring.parameters = {{"source", std::string("rail")}, {"source_V", 5.0}};
    EXPECT_FALSE(find(check(spec), "supply-low"));
    spec.wiring.parameters.set("source_V", 40.0);
    EXPECT_TRUE(find(check(spec), "supply-high"));
}

TEST(Findings, SelfHeatingDominanceAndUnknownAccuracy) {
    EXPECT_TRUE(find(check(test::gluePot()), "self-heating"));
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

}  // namespace
}  // namespace fg
