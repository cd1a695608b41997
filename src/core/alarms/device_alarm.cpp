#include "alarms/device_alarm.h"

#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <charconv>
#include <cmath>

namespace fg {
namespace {

/// Settings tried on a part's registers.
class Fields {
  public:
    Fields(const RegisterMap& map, std::vector<Setting> own) : m_map(map), m_own(std::move(own)) {}
    [[nodiscard]] bool has(const char* id) const { return m_map.findField(id).second != nullptr; }
    void put(const char* id, double value) { chosen.push_back({id, plainNumber(value, 7)}); }
    void put(const char* id, std::string value) { chosen.push_back({id, std::move(value)}); }
    /// The first of these words that the field knows.
    bool putOne(const char* id, std::initializer_list<const char*> words) {
        for (const char* word : words) {
            const Setting one{id, word};
            if (!has(id) || !m_map.set(std::span(&one, 1))) continue;
            chosen.push_back(one);
            return true;
        }
        return false;
    }
    /// Of a field with choices that are numbers the nearest one.
    std::optional<double> putNearest(const char* id, double wanted) {
        const RegisterField* field = m_map.findField(id).second;
        std::optional<double> nearest;
        std::string text;
        for (const auto& choice : field->choices) {
            double number = 0;
            const auto [end, status] =
                std::from_chars(choice.first.data(), choice.first.data() + choice.first.size(), number);
            if (status != std::errc{} && choice.first != "none" && choice.first != "off") continue;
            if (nearest && std::abs(number - wanted) >= std::abs(*nearest - wanted)) continue;
            nearest = number;
            text = choice.first;
        }
        if (field->choices.empty()) {
            put(id, wanted);
            return wanted;
        }
        if (nearest) put(id, text);
        return nearest;
    }
    [[nodiscard]] Expected<std::vector<RegisterWord>> words() const {
        std::vector<Setting> all = m_own;
        all.insert(all.end(), chosen.begin(), chosen.end());
        return m_map.set(all);
    }
    std::vector<Setting> chosen;

  private:
    const RegisterMap& m_map;
    std::vector<Setting> m_own;
};

Expected<DeviceAlarm> refusal(const Gauge& gauge, const std::string& what) {
    return fail(ErrorCode::Unsupported, "alarm", gauge.spec().sensor.part, what);
}

}  // namespace

Expected<DeviceAlarm> deviceAlarm(const Gauge& gauge, const Catalogue& catalogue, const AlarmRule& rule) {
    if (const auto good = checkRule(rule); !good) return tl::unexpected(good.error());
    const DigitalPath* const path = gauge.digital();
    const RegisterMap* const map = path ? catalogue.findRegisterMap(path->part().id) : nullptr;
    if (!map || !alertSettingOf(map->all({})))
        return refusal(gauge, "a part with an alert of its own that is known here");
    if (path->quantity() != Quantity::Temperature)
        return refusal(gauge, "a temperature: that is what its alert watches");
    // What the gauge sets, options that are registers among it.
    std::vector<Setting> own;
    for (const RegisterWord& word : settingWordsOf(gauge.spec(), catalogue).value_or(std::vector<RegisterWord>()))
        for (const FieldValue& value : map->explain(std::span(&word, 1)))
            if (!value.field->isReadOnly && !value.isReserved) own.push_back({value.field->id, value.text});
    Fields fields(*map, std::move(own));
    DeviceAlarm alarm;
    const auto sensed = [&](double reading) { return path->correction().undo(reading); };
    const bool hasHigh = rule.high.has_value(), hasLow = rule.low.has_value();
    const double high = sensed(rule.high.value_or(0)), low = sensed(rule.low.value_or(0));
    const double highOff = sensed(rule.high.value_or(0) - rule.band), lowOff = sensed(rule.low.value_or(0) + rule.band);
    // A limit that is not set is put to the end of what the part measures.
    const auto stated = path->part().ranges.find(path->reading());
    if (stated == path->part().ranges.end() && !(hasHigh && hasLow))
        return refusal(gauge, "both limits: the end of its range, where an unset one would go, is not known here");
    const Interval reach = stated == path->part().ranges.end() ? Interval{} : stated->second;
    if (fields.has("high_set")) {
        fields.put("high_set", hasHigh ? high : reach.high);
        fields.put("high_clear", hasHigh ? highOff : reach.high);
        fields.put("low_clear", hasLow ? lowOff : reach.low);
        fields.put("low_set", hasLow ? low : reach.low);
    } else if (fields.has("hysteresis")) {
        const auto kept = fields.putNearest("hysteresis", rule.band);
        const bool isNamedUpper = fields.has("upper");
        fields.put(isNamedUpper ? "upper" : "high_limit", hasHigh ? high : reach.high);
        // Where the hysteresis is for falling temperatures alone it lies below the lower limit.
        const double below = isNamedUpper ? kept.value_or(0) : 0;
        fields.put(isNamedUpper ? "lower" : "low_limit", hasLow ? low + below : reach.low);
        fields.putOne("alert_mode", {"comparator"});
        fields.putOne("alert", {"on"});
        if (kept && *kept != rule.band)
            alarm.notes.push_back(fmt::format("The dead band is {} °C there: the register has no {}.",
                                              plainNumber(*kept, 4), plainNumber(rule.band, 4)));
    } else if (hasHigh && hasLow) {
        if (!fields.putOne("alert_mode", {"alert"}) && !fields.putOne("latch", {"on"}))
            return refusal(gauge, "one limit: its two registers are a limit and its dead band, not a window");
        fields.put("high_limit", high);
        fields.put("low_limit", low);
        alarm.notes.push_back("A window of this part has no dead band: it stays on until it is read.");
    } else {
        if (!fields.putOne("alert_mode", {"comparator", "therm"}) && !fields.putOne("latch", {"off"}))
            return refusal(gauge, "a part whose alert compares with a limit");
        fields.put("high_limit", hasHigh ? high : lowOff);
        fields.put("low_limit", hasHigh ? highOff : low);
        if (hasLow)
            alarm.notes.push_back(
                "It watches upwards: the pin is active while all is well and goes off below the low limit. Take its "
                "inactive level as the alarm.");
    }
    auto words = fields.words();
    if (!words) return tl::unexpected(words.error());
    alarm.settings = std::move(fields.chosen);
    alarm.words = std::move(*words);
    alarm.inForce = alertSettingOf(map->all(alarm.words)).value_or(AlertSetting{});
    const AlertSetting& held = alarm.inForce;
    const double onAt = hasHigh ? held.high : held.low, wantedAt = hasHigh ? high : low;
    const bool isComparator = held.mode == AlertMode::Comparator;
    if (!(hasLow && isComparator) && std::abs(onAt - wantedAt) > 1e-6)
        alarm.notes.push_back(fmt::format("In the steps of its registers it goes on at {} °C.", plainNumber(onAt, 5)));
    if (!path->correction().isNone())
        alarm.notes.push_back("The limits are those of the value before the correction: the device knows none.");
    if (rule.delay_s > 0)
        alarm.notes.push_back(
            fmt::format("The delay is not in it: the device counts results in a row ({} now).", alarm.inForce.faults));
    if (rule.isLatched && alarm.inForce.mode != AlertMode::WindowLatched)
        alarm.notes.push_back("The pin goes off by itself: a latch is up to the program that hears it.");
    return alarm;
}

std::string deviceAlarmText(const DeviceAlarm& alarm) {
    std::string text, words;
    for (const Setting& one : alarm.settings) text += (text.empty() ? "" : ", ") + one.id + "=" + one.value;
    for (const RegisterWord& one : alarm.words)
        words += (words.empty() ? "" : ", ") + one.in->name + " = " + one.text();
    text += ": " + words + ".";
    for (const std::string& note : alarm.notes) text += " " + note;
    return text;
}

}  // namespace fg
