// Alarms: when they go on and off, what they would have done, and where they really switch.

#include "alarms/device_alarm.h"
#include "alarms/reached.h"
#include "analysis/selection.h"
#include "support.h"

#include <random>

namespace fg {
namespace {

AlarmRule between(double low, double high, double band, double delay_s = 0) {
    AlarmRule rule;
    rule.low = low;
    rule.high = high;
    rule.band = band;
    rule.delay_s = delay_s;
    return rule;
}

/// The sides an alarm takes over readings at one a second.
std::string sidesOf(const AlarmRule& rule, const std::vector<Reading>& readings) {
    AlarmWatch watch(rule);
    std::string sides;
    double time_s = 0;
    for (const Reading& reading : readings) {
        watch.take(time_s++, reading);
        sides += watch.side() == AlarmWatch::Side::High ? 'h' : (watch.side() == AlarmWatch::Side::Low ? 'l' : '-');
    }
    return sides;
}

TEST(Alarm, GoesOnBeyondALimitAndOffWhenItIsBackByTheBand) {
    const AlarmRule rule = between(58, 63, 1);
    EXPECT_EQ(sidesOf(rule, {{60}, {63}, {63.1}, {62.5}, {62.1}, {62}, {62.9}, {63.2}}), "--hhh--h");
    EXPECT_EQ(sidesOf(rule, {{58}, {57.9}, {58.9}, {59}, {64}, {57}, {60}}), "-ll-hl-");
    EXPECT_EQ(sidesOf(between(58, 63, 1, 2), {{64}, {64}, {60}, {64}, {64}, {64}}), "-----h");  // two seconds beyond
}

TEST(Alarm, TakesLimitsForWhatTheySay) {
    const AlarmRule rule = between(58, 63, 1);
    // At least 70 is above 63; at most 70 says nothing; at least 50 does not say that it is back.
    EXPECT_EQ(sidesOf(rule, {{70, Clip::AtLeast}, {60, Clip::AtLeast}, {60, Clip::AtMost}}), "hh-");
    EXPECT_EQ(sidesOf(rule, {{70, Clip::AtMost}, {50, Clip::AtLeast}, {50, Clip::AtMost}}), "--l");
    AlarmWatch watch(rule);
    watch.take(0, {70});
    EXPECT_FALSE(watch.take(1, {std::nan("")}));
    EXPECT_TRUE(watch.isOn());
    EXPECT_EQ(watch.withoutValueSince_s(), 1);
}

TEST(Alarm, ThatLatchesWaitsForSomebody) {
    AlarmRule rule = between(58, 63, 1);
    rule.isLatched = true;
    AlarmWatch watch(rule);
    watch.take(0, {64});
    watch.acknowledge();  // still beyond: it stays
    EXPECT_TRUE(watch.isOn());
    watch.take(1, {60});
    EXPECT_TRUE(watch.isOn());
    EXPECT_TRUE(watch.isHeld());
    watch.acknowledge();
    EXPECT_FALSE(watch.isOn());
}

TEST(Alarm, RefusesRulesThatCannotBe) {
    EXPECT_TRUE(checkRule(between(58, 63, 1)));
    EXPECT_FALSE(checkRule({}));
    EXPECT_FALSE(checkRule(between(63, 58, 0)));
    EXPECT_FALSE(checkRule(between(58, 63, -1)));
    EXPECT_FALSE(checkRule(between(58, 63, 2.5)));  // one could not clear before the other goes on
    EXPECT_FALSE(checkRule(between(58, 63, 1, -1)));
    EXPECT_FALSE(checkRule(between(58, std::nan(""), 1)));
}

// A sine of amplitude 2 about 62, period 600 s, crosses 63 once each period: 144 times a day.
TEST(AlarmReplay, CountsWhatADeadBandAndAnIntervalDo) {
    std::vector<double> times_s;
    std::vector<Reading> calm, noisy;
    std::mt19937 random(2);
    std::normal_distribution<double> normal(0, 0.1);
    for (int i = 0; i < 86400; ++i) {
        times_s.push_back(i);
        const double value = 62 + 2 * std::sin(2 * 3.14159265358979 * i / 600.0);
        calm.push_back({value});
        noisy.push_back({value + normal(random)});
    }
    AlarmRule rule;
    rule.high = 63;
    const auto plain = replayAlarm(times_s, calm, rule).value();
    EXPECT_EQ(plain.switchings, 144u);
    EXPECT_NEAR(plain.on_s, 86400.0 / 3, 300);  // sin > ½ for a third of the period
    EXPECT_NEAR(plain.longest_s, 200, 2);
    EXPECT_NEAR(plain.peak, 64, 0.001);
    const auto chattering = replayAlarm(times_s, noisy, rule).value();
    EXPECT_GT(chattering.switchings, 2 * 144u);
    const double noise = neighbourNoise(noisy);
    EXPECT_NEAR(noise, 0.1, 0.005);
    rule.band = bandFor(noise, 0, 0.05).band;
    EXPECT_NEAR(rule.band, 0.6, 0.05);
    EXPECT_EQ(replayAlarm(times_s, noisy, rule).value().switchings, 144u);
    // Looked at once in ten minutes, always at the same place of the period, it never goes on.
    EXPECT_EQ(replayAlarm(times_s, calm, rule, 600).value().switchings, 0u);
    EXPECT_FALSE(replayAlarm({}, {}, rule));
}

// ± 1 °F about 140 °F on a part that reads in half degrees Celsius (0.9 °F) is not ± 1.
TEST(AlarmReached, TellsTheReadingsAtWhichItReallySwitches) {
    GaugeSpec spec = test::directGauge("tmp36", 10, 5);  // 4.8828 mV a code: 0.48828 °C
    const Gauge gauge = Gauge::make(spec, test::catalogue()).value();
    const auto celsius = [](double code) { return (code * 5000 / 1024 - 500) / 10; };
    AlarmRule rule;
    rule.high = (141 - 32) / 1.8;  // 60.556 °C, between the codes 226 and 227
    rule.band = 1 / 1.8;
    const auto reached = reachedReadings(gauge, rule).value();
    EXPECT_NEAR(*reached.highOn, celsius(227), 1e-9);
    EXPECT_NEAR(*reached.highOff, celsius(225), 1e-9);  // 140 °F is 60.0 °C, code 225 is 59.86 °C
    EXPECT_NEAR(reached.step, 5000.0 / 1024 / 10, 1e-9);
    EXPECT_FALSE(reached.lowOn);
    rule = {};
    rule.low = celsius(226);  // on a reading itself: below it, and off again at it
    const auto exact = reachedReadings(gauge, rule).value();
    EXPECT_NEAR(*exact.lowOn, celsius(225), 1e-9);
    EXPECT_NEAR(*exact.lowOff, celsius(226), 1e-9);
    rule = {};
    rule.high = 1000;
    EXPECT_FALSE(reachedReadings(gauge, rule));  // it cannot read that: the alarm would never go on
}

/// A course that passes both limits up and down and meets none of them.
std::vector<double> courseAbout(double low, double high) {
    std::vector<double> values;
    for (int i = 0; i < 800; ++i) values.push_back((low + high) / 2 + (high - low) * 0.9173 * std::sin(0.031 * i));
    return values;
}

// What the registers hold does what the rule does, result by result, for every thermometer with an alert.
TEST(DeviceAlarm, DoesWhatTheRuleDoes) {
    const Catalogue& catalogue = test::catalogue();
    int compared = 0;
    for (const DevicePart& part : catalogue.devices()) {
        const RegisterMap* map = catalogue.findRegisterMap(part.id);
        const bool isThermometer =
            std::find(part.readings.begin(), part.readings.end(), "temperature") != part.readings.end();
        if (!map || !isThermometer || !alertSettingOf(map->all({}))) continue;
        const auto gauge = Gauge::make(defaultDeviceGauge(part, "temperature"), catalogue).value();
        for (const bool isHigh : {true, false}) {
            AlarmRule rule;
            (isHigh ? rule.high : rule.low) = isHigh ? 30.0 : 20.0;
            rule.band = 3;
            const auto alarm = deviceAlarm(gauge, catalogue, rule);
            ASSERT_TRUE(alarm) << part.id << ": " << alarm.error().message();
            // What the registers hold, in their steps; a hysteresis that comes in four sizes is the one it came to.
            const AlertSetting& is = alarm->inForce;
            const bool isInverse = !isHigh && is.mode == AlertMode::Comparator;
            const double on = isHigh ? is.high : is.low,
                         off = isHigh ? is.clearHigh.value_or(is.low) : is.clearLow.value_or(is.high);
            EXPECT_NEAR(on, isHigh ? 30 : 20, 0.3) << part.id;
            EXPECT_NEAR(std::abs(on - off), 3, 0.5) << part.id;
            AlarmRule held = rule;
            (isHigh ? held.high : held.low) = on;
            held.band = std::abs(on - off);
            const auto course = courseAbout(17, 33);
            const auto levels = alertLevels(course, {}, alarm->inForce);
            AlarmWatch watch(held);
            int differ = 0;
            for (std::size_t i = 0; i < course.size(); ++i) {
                watch.take(static_cast<double>(i), {course[i]});
                const bool isActive = levels[i] == alarm->inForce.activeHigh;
                differ += (isInverse ? !isActive : isActive) != watch.isOn() ? 1 : 0;
            }
            EXPECT_EQ(differ, 0) << part.id << (isHigh ? " high" : " low");
            ++compared;
        }
    }
    EXPECT_GE(compared, 12);
}

// TMP102 data sheet, table 6: 25 °C is 0x1900 in the left-justified word; 0.0625 °C a count.
TEST(DeviceAlarm, IsWrittenAsTheDataSheetWritesIt) {
    const Catalogue& catalogue = test::catalogue();
    GaugeSpec spec = defaultDeviceGauge(*catalogue.findDevicePart("tmp102"), "temperature");
    AlarmRule rule;
    rule.high = 25.0;
    rule.band = 0.5;
    const auto plain = deviceAlarm(Gauge::make(spec, catalogue).value(), catalogue, rule).value();
    const auto wordOf = [](const DeviceAlarm& alarm, const char* name) -> std::string {
        for (const RegisterWord& one : alarm.words)
            if (one.in->name == name) return one.text();
        return "none";
    };
    EXPECT_EQ(wordOf(plain, "high_limit"), "0x1900");
    EXPECT_EQ(wordOf(plain, "low_limit"), "0x1880");
    EXPECT_TRUE(plain.notes.empty());
    // The gauge is corrected by −1 K: the device, which knows nothing of it, warns at its own 26 °C.
    spec.correction = {"offset", -1};
    const auto corrected = deviceAlarm(Gauge::make(spec, catalogue).value(), catalogue, rule).value();
    EXPECT_EQ(wordOf(corrected, "high_limit"), "0x1A00");
    EXPECT_EQ(corrected.notes.size(), 1u);
    rule.low = 10.0;
    EXPECT_EQ(deviceAlarm(Gauge::make(spec, catalogue).value(), catalogue, rule).error().code, ErrorCode::Unsupported);
    EXPECT_FALSE(deviceAlarm(Gauge::make(test::gluePot(), catalogue).value(), catalogue, rule));
    rule.low.reset();
    rule.high = 900.0;
    EXPECT_EQ(deviceAlarm(Gauge::make(spec, catalogue).value(), catalogue, rule).error().code, ErrorCode::Range);
}

}  // namespace
}  // namespace fg
