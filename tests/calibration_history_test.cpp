// Calibrations over time, several gauges side by side, references, and the first of all checks.

#include "bench/journal.h"
#include "calibration/agreement.h"
#include "calibration/apply.h"
#include "calibration/electronics.h"
#include "calibration/finger.h"
#include "calibration/history.h"
#include "calibration/record.h"
#include "calibration/session.h"
#include "calibration/stated.h"
#include "calibration/study.h"
#include "calibration/warm_up.h"
#include "support.h"

#include <cmath>
#include <random>

namespace fg {
namespace {

const Unit& kCelsius = canonicalUnit(Quantity::Temperature);

/// A gauge compared at readings of 40 and 80 °C that were low by `low`, and set right by an offset.
GaugeSpec calibratedPot(double low, const std::string& time) {
    GaugeSpec spec = test::gluePot();
    spec.correction = {};
    spec.correction.points = {{40, 40 + low, 0.1}, {80, 80 + low, 0.1}};
    spec.correction.with = "the bench thermometer";
    spec.correction.time = time;
    spec.correction = refit(spec.correction, "offset", spec.quantity).value();
    return spec;
}

JournalEntry calibration(const std::string& time, const GaugeSpec& found, const GaugeSpec& left) {
    return {0,
            time,
            1,
            "Glue pot",
            EntryKind::Calibration,
            "calibrated",
            {},
            std::make_shared<const CalibrationKept>(CalibrationKept{found, left})};
}

TEST(History, FoundLeftDriftAndWhenTheNextIsDue) {
    GaugeSpec bare = test::gluePot();
    bare.correction = {};
    bare.reading.wanted = 2;
    const GaugeSpec first = calibratedPot(0.5, "2025-01-01"), second = calibratedPot(0.9, "2026-01-01");
    Journal journal;
    journal.add(calibration("2026-01-01", first, second));  // in any order
    journal.add(calibration("2025-01-01", bare, first));
    GaugeSpec now = second;
    now.reading.wanted = 2;
    const double kMarch = 20513;  // 2026-03-01
    const auto history = historyOf(journal.calibrationsOf(1), now, test::catalogue(), kMarch).value();
    ASSERT_EQ(history.lines.size(), 2u);
    EXPECT_NEAR(*history.lines[0].foundMean, -0.5, 1e-12);
    EXPECT_NEAR(*history.lines[1].foundMean, -0.4, 1e-12);
    EXPECT_NEAR(history.lines[1].leftMean, 0, 1e-12);
    EXPECT_NEAR(history.lines[1].uMean, 0.1 / std::sqrt(2.0), 1e-12);
    EXPECT_TRUE(history.isKept);
    // −0.4 in 365 days; two means of ± 0.0707 each.
    ASSERT_TRUE(history.drift);
    EXPECT_NEAR(history.drift->perYear, -0.4 * 365.25 / 365, 1e-12);
    EXPECT_NEAR(history.drift->standard, 0.1 * 365.25 / 365, 1e-12);
    EXPECT_TRUE(history.drift->standsOut());
    const double left = (2 - history.lines[1].expanded) / (0.6 * 365.25 / 365) * 365.25;
    ASSERT_TRUE(history.due_days);
    EXPECT_NEAR(*history.due_days, 20454 + left, 1e-6);  // 2026-01-01 is day 20454
    EXPECT_TRUE(history.findings.empty());
    // Due by the time given, which comes first; and kept apart from a circuit that was changed since.
    now.correction.repeat_days = 30;
    now.wiring.parameters.set("fixed_ohm", 3300.0);
    now.alarm.emplace().high = 63;  // what warns is no part of the circuit
    const auto due = historyOf(journal.calibrationsOf(1), now, test::catalogue(), kMarch).value();
    ASSERT_EQ(due.findings.size(), 2u);
    EXPECT_EQ(due.findings[0].id, "calibration-due");
    EXPECT_EQ(due.findings[0].detail, "Since 2026-01-31: every 30 days, as given.");
    EXPECT_EQ(due.findings[1].id, "changed-since");
    EXPECT_NE(due.findings[1].detail.find("fixed_ohm 2200 → 3300"), std::string::npos) << due.findings[1].detail;
    EXPECT_EQ(due.findings[1].detail.find("alarm"), std::string::npos) << due.findings[1].detail;
}

TEST(History, OfOneOrOfOtherCircuitsTellsNoDrift) {
    GaugeSpec bare = test::gluePot();
    bare.correction = {};
    const GaugeSpec first = calibratedPot(0.5, "2025-01-01");
    Journal journal;
    journal.add(calibration("2025-01-01", bare, first));
    const auto one = historyOf(journal.calibrationsOf(1), first, test::catalogue(), 20513).value();
    EXPECT_FALSE(one.drift);
    EXPECT_FALSE(one.due_days);
    EXPECT_EQ(one.driftText, "A second calibration will tell how it drifts.");
    GaugeSpec rewired = first, again = calibratedPot(0.9, "2026-01-01");
    rewired.wiring.parameters.set("fixed_ohm", 3300.0);
    again.wiring.parameters.set("fixed_ohm", 3300.0);
    journal.add(calibration("2026-01-01", rewired, again));
    EXPECT_FALSE(historyOf(journal.calibrationsOf(1), again, test::catalogue(), 20513)->drift);
    GaugeSpec unkept = calibratedPot(0.7, "2026-02-01");
    EXPECT_EQ(historyOf({}, unkept, test::catalogue(), 20513)->findings.at(0).id, "not-kept");
}

TEST(History, AnyCorrectionIsPutBackAndPointsTakenSinceWait) {
    const GaugeSpec first = calibratedPot(0.5, "2025-01-01");
    GaugeSpec now = calibratedPot(0.9, "2026-01-01");
    now.correction.repeat_days = 90;
    const auto back = putBack(first, now, test::catalogue()).value();
    EXPECT_NEAR(back.spec.correction.offset, 0.5, 1e-12);
    EXPECT_EQ(back.spec.correction.repeat_days, 90);
    EXPECT_EQ(back.warning, "");
    now.wiring.parameters.set("fixed_ohm", 3300.0);
    EXPECT_EQ(putBack(first, now, test::catalogue())->warning, "wiring.fixed_ohm 2200 → 3300");
    now.sensor.part = "ntc-10k-3950";
    EXPECT_FALSE(putBack(first, now, test::catalogue()));
    // Points taken since change nothing until a fit through them is chosen.
    GaugeSpec checked = first;
    checked.correction.check = {{40, 40.8, 0.1}, {80, 81.2, 0.1}};
    const auto study = studyOf(checked, test::catalogue()).value();
    EXPECT_TRUE(study.isCheck);
    EXPECT_NEAR(study.points[1].left, 81.2 - 80.5, 1e-12);  // as found, with the offset in force
    const auto line = adopted(checked.correction, "line", Quantity::Temperature).value();
    EXPECT_TRUE(line.check.empty());
    EXPECT_NEAR(line.offset + line.slope * (60 - line.centre), 1.0, 1e-9);
    EXPECT_NEAR(line.slope, 0.01, 1e-12);
}

TEST(Journal, IsSearchedAndNotesWhatChanged) {
    Journal journal;
    journal.add({0, "2026-05-02", 1, "Glue pot", EntryKind::Note, "Lid replaced", {}, {}});
    journal.add({0, "2026-05-01", 2, "Barometer", EntryKind::Piece, "address 0x76", {}, {}});
    GaugeSpec before = test::gluePot(), after = before;
    after.wiring.parameters.set("fixed_ohm", 3300.0);
    EXPECT_EQ(whatChanged(before, after), "wiring.fixed_ohm 2200 → 3300");
    after.correction = {};
    after.wiring = before.wiring;
    after.name = "Pot";
    EXPECT_EQ(whatChanged(before, after), "");
    for (const char* text : {"wiring.fixed_ohm 2200 → 3300", "wiring.fixed_ohm 3300 → 4700"})
        journal.noteSetting(1, "Glue pot", text, "2026-05-03T10:00:00Z");
    ASSERT_EQ(journal.entries().size(), 3u);  // one entry, from the first value to the last
    EXPECT_EQ(journal.entries().front()->name, "Barometer");
    ASSERT_EQ(journal.search("POT lid").size(), 1u);
    EXPECT_EQ(journal.search("").front()->text, "wiring.fixed_ohm 2200 → 4700");
    journal.noteSetting(1, "Glue pot", "wiring.fixed_ohm 4700 → 2200", "2026-05-03T11:00:00Z");
    EXPECT_EQ(journal.entries().size(), 2u);  // as it was
    EXPECT_EQ(journal.search("", 2).size(), 1u);
    EXPECT_TRUE(journal.search("lid 0x76").empty());
    for (const Journal::Entry& entry : journal.entries()) {
        auto read = readEntry(writeEntry(*entry), "x").value();
        read.id = entry->id;
        EXPECT_EQ(read, *entry);
    }
    EXPECT_EQ(readEntry(R"({"time": "2026", "kind": "poem"})", "x").error().message(),
              "x: kind: found “poem”, expected “note”, “piece”, “photograph”, “setting” or “calibration”");
    EXPECT_FALSE(readEntry(R"({"time": "2026", "kind": "note", "mood": "good"})", "x"));
}

// E_n = (a − b)/√(U_a² + U_b²), worked by hand.
TEST(Agreement, OfTwoAndOfThree) {
    const std::vector<SideReading> two{{"old", 20.0, 0.3}, {"new", 20.6, 0.4}};
    const auto pair = agreementOf(two, kCelsius).value();
    EXPECT_NEAR(*pair.pairs[0].error, -0.6 / 0.5, 1e-12);
    EXPECT_FALSE(pair.odd);
    EXPECT_NE(pair.verdict.find("cannot be told"), std::string::npos);
    EXPECT_NEAR(pair.mean, (20.0 / 0.09 + 20.6 / 0.16) / (1 / 0.09 + 1 / 0.16), 1e-12);
    std::vector<SideReading> three = two;
    three.push_back({"third", 20.1, 0.3});
    const auto known = agreementOf(three, kCelsius).value();
    EXPECT_FALSE(known.odd);  // without either of the first two the rest agrees: 0.5 apart, ± 0.5
    three[2] = {"third", 20.0, 0.2};
    EXPECT_EQ(agreementOf(three, kCelsius)->odd, 1u);
    three[2].expanded = 0;
    EXPECT_NE(agreementOf(three, kCelsius)->verdict.find("not given"), std::string::npos);
    EXPECT_FALSE(agreementOf(std::vector<SideReading>{two[0]}, kCelsius));
}

TEST(Traces, FactorOffsetAndWhatItShouldBe) {
    std::mt19937 random(7);
    std::normal_distribution<double> noise(0, 1);
    std::vector<double> first, second;
    for (int i = 0; i < 400; ++i) {
        const double truth = 1000 + 40 * std::sin(i / 30.0);
        first.push_back(truth + noise(random));
        second.push_back(12 + 4 * truth + noise(random));
    }
    second[7] = std::nan("");
    const auto pair = tracePairOf(first, second, 1).value();
    EXPECT_EQ(pair.count, 399u);
    EXPECT_NEAR(pair.factor, 4, 3 * pair.factorStandard);
    EXPECT_LT(pair.factorStandard, 0.02);
    EXPECT_NEAR(pair.offset, 12, 3 * pair.offsetStandard);
    // Both are noisy: seen the other way round it is the same line.
    EXPECT_NEAR(tracePairOf(second, first, 1)->factor, 1 / pair.factor, 1e-9);
    EXPECT_FALSE(tracePairOf(std::vector<double>(5, 1.0), std::vector<double>{1, 2, 3, 4, 5}));
    // The same divider on 10 and on 12 bits of one supply: four codes for one.
    GaugeSpec fine = test::gluePot(), coarse = fine;
    coarse.converter.parameters.set("bits", 10.0);
    const auto a = Gauge::make(coarse, test::catalogue()).value(), b = Gauge::make(fine, test::catalogue()).value();
    EXPECT_NEAR(factorByFormulas(a, b, 60).value(), 4, 1e-6);
}

std::vector<TimedReading> run(double from, double to, double back, double tau_s) {
    std::vector<TimedReading> readings;
    for (int i = 0; i < 240; ++i) {
        const double t = i / 4.0;
        const double held = to + (from - to) * std::exp(-std::max(0.0, t - 10) / tau_s);
        const double atRelease = to + (from - to) * std::exp(-20 / tau_s);
        const double value = t < 10 ? from : t < 30 ? held : back + (atRelease - back) * std::exp(-(t - 30) / tau_s);
        readings.push_back({t, value + 0.01 * ((i * 7) % 5 - 2)});
    }
    return readings;
}

TEST(Finger, NamesWhatIsWrong) {
    using Verdict = FingerResult::Verdict;
    const auto judge = [](const std::vector<TimedReading>& readings, Quantity quantity = Quantity::Temperature,
                          std::vector<Bystander> others = {}) {
        return judgeFinger(readings, 10, 30, quantity, canonicalUnit(quantity), others);
    };
    const auto good = judge(run(20, 31, 20, 4));
    EXPECT_EQ(good.verdict, Verdict::Answers) << good.text;
    // 63 % of the way to the farthest reading; that is 99 % of the way to the end, so a little early.
    EXPECT_NEAR(*good.timeConstant_s, 4, 0.3);
    EXPECT_GT(*good.returned, 0.95);
    EXPECT_EQ(judge(run(20, 20, 20, 4)).verdict, Verdict::Stuck);
    EXPECT_EQ(judge(run(20, 11, 20, 4)).verdict, Verdict::UpsideDown);
    EXPECT_EQ(judge(run(45, 36, 45, 4)).verdict, Verdict::Answers);  // a hand cools it
    EXPECT_EQ(judge(run(31, 31, 31, 4)).verdict, Verdict::TooNear);
    EXPECT_EQ(judge(run(400, 20, 400, 1), Quantity::Illuminance).verdict, Verdict::Answers);
    EXPECT_LT(*judge(run(20, 31, 30.9, 4)).returned, 0.5);
    const auto swapped = judge(run(20, 20, 20, 4), Quantity::Temperature, {{"Store", run(20, 31, 20, 4)}});
    EXPECT_EQ(swapped.verdict, Verdict::Swapped);
    EXPECT_EQ(swapped.other, "Store");
    EXPECT_EQ(judge({}).verdict, Verdict::TooShort);
}

// A chip that settles 4 K above the air with 30 s.
TEST(WarmUp, SaysHowFarTheChipIsAboveTheAir) {
    WarmUp warm;
    EXPECT_FALSE(warm.state());
    for (int i = 1; i <= 400; ++i) warm.take(i, 24 - 4 * std::exp(-i / 30.0) + 0.01 * (i * 7 % 5 - 2));
    ASSERT_TRUE(warm.state()->isSteady);
    EXPECT_NEAR(warm.state()->rise, 4 * std::exp(-1 / 30.0), 0.03);
    EXPECT_NE(warm.text(kCelsius).find("3.9 °C above"), std::string::npos) << warm.text(kCelsius);
    WarmUp early;
    for (int i = 1; i <= 20; ++i) early.take(i, 24 - 4 * std::exp(-i / 30.0));
    EXPECT_FALSE(early.state()->isSteady);
}

TEST(Sessions, GiveTheReferenceOfWhatIsAtHand) {
    const auto sessions = readSessions(test::readText(test::dataFolder() / "calibrating/sessions.json"), "x");
    ASSERT_TRUE(sessions) << sessions.error().message();
    const auto pot = Gauge::make(test::gluePot(), test::catalogue()).value();
    const auto named = [&](const char* id) {
        return *std::find_if(sessions->begin(), sessions->end(), [&](const Session& one) { return one.id == id; });
    };
    EXPECT_TRUE(named("ice-bath").suits(pot));
    EXPECT_TRUE(named("known-resistor").suits(pot));
    EXPECT_FALSE(named("salt").suits(pot));
    EXPECT_FALSE(named("cold-start").suits(pot));
    EXPECT_EQ(named("ice-bath").fixed, 0);
    EXPECT_FALSE(named("steam").cautions.empty());
    // Steam at 998 ± 2 hPa: 99.55 °C; 0.277 K/kPa at the boiling point, u = 1 hPa.
    const auto steam = referenceOf(*named("steam").laws.at(0), {{"pressure", "998 hPa ± 2 hPa"}}).value();
    EXPECT_NEAR(steam.value, 99.55, 0.01);
    EXPECT_NEAR(steam.u, 0.0279, 0.0002);
    EXPECT_EQ(referenceOf(*named("steam").laws.at(0), {}).error().message(),
              "pressure: found nothing, expected Pressure of the air there");
    EXPECT_EQ(referenceOf(*named("steam").laws.at(0), {{"pressure", "1013.25"}}).error().message(),
              "pressure: found 1013.25, expected its unit: 1013.25 hPa, or 1013.25 Pa?");
    // 10 kΩ is the thermistor's 25 °C, whatever correction is in force.
    GaugeSpec spec = test::gluePot();
    spec.correction.kind = "offset";
    spec.correction.offset = 1;
    const auto corrected = Gauge::make(spec, test::catalogue()).value();
    EXPECT_NEAR(referenceOfSignal(corrected, test::catalogue(), Stage::Sensor, "10k ± 10")->value, 25, 1e-9);
    EXPECT_NEAR(referenceOfSignal(corrected, test::catalogue(), Stage::Sensor, "10k ± 10")->u, 5 / 444.3, 1e-4);
    EXPECT_FALSE(referenceOfSignal(corrected, test::catalogue(), Stage::Wiring, "0 V"));
    EXPECT_NEAR(standardOf(StatedAs::Nearest, 0.5), 0.14434, 1e-5);  // JCGM 100, F.2.2.1: 0.29 of the step
    EXPECT_NEAR(standardOf(StatedAs::Limits, 0.3), 0.17321, 1e-5);
    EXPECT_EQ(statedText(StatedAs::Nearest, 0.5, kCelsius), "shown to the nearest 0.5 °C");
    EXPECT_FALSE(readSessions(R"({"sessions": [{"id": "x"}]})", "x"));
}

// A tmp36 (500 mV + 10 mV/°C) whose converter really has 3.2 V, and one whose codes are 1.01·ideal + 6.
TEST(Electronics, ReferenceOffsetAndGainFromPoints) {
    GaugeSpec spec = test::directGauge("tmp36", 12, 3.3);
    std::vector<CalibrationPoint> points;
    const auto readingOf = [](double code) { return 100 * (code * 3.3 / 4096 - 0.5); };
    for (const double t : {10.0, 40.0, 70.0}) points.push_back({readingOf((0.5 + t / 100) / 3.2 * 4096), t, 0.05});
    const auto vref = refitReference(spec, test::catalogue(), points).value();
    EXPECT_NEAR(vref.coefficients[0].value, 3.2, 1e-9);
    // ∂t/∂V = 100·code/4096: u² = 1/Σ(s/0.05)².
    double information = 0;
    for (const double t : {10.0, 40.0, 70.0}) information += std::pow(100 * (0.5 + t / 100) / 3.2 / 0.05, 2);
    EXPECT_NEAR(vref.coefficients[0].standard, 1 / std::sqrt(information), 1e-8);
    EXPECT_NEAR(vref.after, 0, 1e-6);
    EXPECT_NEAR(vref.spec.correction.points[2].reading, 70, 1e-6);
    std::vector<CalibrationPoint> bent;
    for (const double t : {10.0, 40.0, 70.0})
        bent.push_back({readingOf(1.01 * (0.5 + t / 100) / 3.3 * 4096 + 6), t, 0});
    const auto codes = refitCodes(spec, test::catalogue(), bent).value();
    EXPECT_NEAR(codes.coefficients[0].value, 6, 1e-6);
    EXPECT_NEAR(codes.coefficients[1].value, 1.01, 1e-9);
    EXPECT_NEAR(codes.after, 0, 1e-6);
    // A divider of the supply does not see its reference.
    const auto cancels = refitReference(test::gluePot(), test::catalogue(), {{40, 41, 0.1}});
    ASSERT_FALSE(cancels);
    EXPECT_NE(cancels.error().message().find("cancels"), std::string::npos);
    EXPECT_FALSE(refitReference(spec, test::catalogue(), {}));
}

// A thermistor of 9800 Ω and B 4000 K, read by a formula of 10 kΩ and 3950 K: its constants come back.
TEST(Electronics, ConstantsOfTheSensorFromReadings) {
    GaugeSpec spec = test::gluePot();
    const auto ohm = [](double t, double r25, double beta) {
        return r25 * std::exp(beta * (1 / (t + 273.15) - 1 / 298.15));
    };
    std::vector<CalibrationPoint> points;
    for (const double t : {20.0, 50.0, 85.0}) {
        const double read = 1 / (1 / 298.15 + std::log(ohm(t, 9800, 4000) / 10000) / 3950) - 273.15;
        points.push_back({read, t, 0.05});
    }
    const auto changed = refitSensor(spec, test::catalogue(), points, {0, "a bath", "2026-01-01"}).value();
    EXPECT_NEAR(changed.sensor.parameters.numberOr("r25_ohm", 0), 9800, 0.1);
    EXPECT_NEAR(changed.sensor.parameters.numberOr("beta_K", 0), 4000, 0.05);
    EXPECT_EQ(changed.correction.kind, "parameters");
    EXPECT_FALSE(refitSensor(test::directGauge("tmp36", 10, 5), test::catalogue(), points, {}));
    // Readings in °F taken for °C cannot be of this gauge.
    spec.correction.points = {{68, 20, 0.1}, {122, 50, 0.1}, {185, 85, 0.1}};
    const auto study = studyOf(spec, test::catalogue()).value();
    EXPECT_TRUE(std::any_of(study.findings.begin(), study.findings.end(),
                            [](const Finding& one) { return one.id == "points-foreign"; }));
}

// Four points that agree by luck to a hundredth of what their reference may be off: none of them stands out.
TEST(Advice, NothingStandsOutThatItsUncertaintyExplains) {
    std::vector<Comparison> points{
        {20, 19.77, 0.1}, {45, 45.21, 0.1}, {70, 70.67, 0.1}, {87, 88.09, 0.1}, {95, 96.25, 0.1}};
    const auto named = [&] {
        const auto fit = fitCurve(FitKind::Line, points, 0, true, kCelsius).value();
        const auto findings = calibrationFindings(points, fit, {{}, {}, {}, &kCelsius});
        return std::any_of(findings.begin(), findings.end(), [](const Finding& one) { return one.id == "outlier"; });
    };
    EXPECT_FALSE(named());
    points[2].reference += 2;
    EXPECT_TRUE(named());
}

TEST(Study, ATableWithoutUncertaintiesSaysSo) {
    GaugeSpec spec = test::gluePot();
    spec.correction.points = {{40, 40.5, 0}, {80, 80.9, 0}};
    spec.correction = refit(spec.correction, "table", spec.quantity).value();
    const auto named = [&] {
        const auto study = studyOf(spec, test::catalogue()).value();
        return std::any_of(study.findings.begin(), study.findings.end(),
                           [](const Finding& one) { return one.id == "reference-not-given"; });
    };
    EXPECT_TRUE(named());
    for (CalibrationPoint& point : spec.correction.points) point.u = 0.1;
    EXPECT_FALSE(named());
}

TEST(Record, HasItsPlots) {
    const std::string html = htmlOf(calibrationRecord(calibratedPot(0.5, "2026-01-01"), test::catalogue()).value());
    EXPECT_NE(html.find("data:image/svg+xml,"), std::string::npos);
    PaperFigure figure{"a <b>", "x", "y", {{FigureSeries::Style::Line, "end", {0, 10, 20}, {1, NAN, 3}, {}}}};
    const std::string svg = svgOf(figure);
    EXPECT_TRUE(svg.starts_with("<svg")) << svg;
    EXPECT_EQ(svg.find("nan"), std::string::npos);
    EXPECT_NE(svg.find(">end</text>"), std::string::npos);
}

}  // namespace
}  // namespace fg
