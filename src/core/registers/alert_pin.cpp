#include "registers/alert_pin.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdlib>
#include <numbers>

namespace fg {
namespace {

/// What the device remembers from result to result.
class Alert {
  public:
    explicit Alert(const AlertSetting& setting) : m_setting(setting) {}

    void take(double result) {
        const bool isAbove = result >= m_setting.high, isBelow = result < m_setting.low;
        m_above = isAbove ? m_above + 1 : 0;
        m_below = isBelow ? m_below + 1 : 0;
        const bool above = m_above >= m_setting.faults, below = m_below >= m_setting.faults;
        switch (m_setting.mode) {
            case AlertMode::Comparator:
                m_on = above || (m_on && !below);
                break;
            case AlertMode::Window:
                m_on = above || below ||
                       (m_on && (result >= m_setting.clearHigh.value_or(m_setting.high) ||
                                 result < m_setting.clearLow.value_or(m_setting.low)));
                break;
            case AlertMode::WindowLatched:
                m_on = m_on || above || below;
                break;
            case AlertMode::WindowEdges: {
                const bool isOut = above || below ||
                                   (m_isOut && (result >= m_setting.clearHigh.value_or(m_setting.high) ||
                                                result < m_setting.clearLow.value_or(m_setting.low)));
                m_on = m_on || isOut != m_isOut;
                m_isOut = isOut;
                break;
            }
            case AlertMode::Interrupt:
                // First the high limit, then, once that was read, the low one, in turn.
                if (m_waitsForLow ? below : above) {
                    m_on = true;
                    m_waitsForLow = !m_waitsForLow;
                }
                break;
        }
    }

    void read() {
        if (m_setting.mode != AlertMode::Comparator && m_setting.mode != AlertMode::Window) m_on = false;
    }

    [[nodiscard]] bool level() const { return (m_on && m_setting.isEnabled) == m_setting.activeHigh; }

  private:
    AlertSetting m_setting;
    int m_above = 0, m_below = 0;
    bool m_on = false, m_waitsForLow = false, m_isOut = false;
};

/// Windows with a hysteresis. Of one that has upper and lower (MCP9808) it applies to falling temperatures: on above
/// upper and below lower − h, off below upper − h and above lower. Of the other kind (ADT7410) it lies inside the
/// window on both sides.
void takeHysteresis(AlertSetting& setting, bool isFallingOnly, bool isInterrupt, const FieldValue* hysteresis) {
    if (!hysteresis) return;
    double number = hysteresis->number;
    if (!hysteresis->field->choices.empty()) {
        number = 0;
        std::from_chars(hysteresis->text.data(), hysteresis->text.data() + hysteresis->text.size(), number);
    }
    setting.mode =
        isInterrupt ? (isFallingOnly ? AlertMode::WindowEdges : AlertMode::WindowLatched) : AlertMode::Window;
    setting.isClearedByWrite = isFallingOnly;
    setting.clearHigh = setting.high - number;
    setting.clearLow = isFallingOnly ? setting.low : setting.low + number;
    if (isFallingOnly) setting.low -= number;
}

}  // namespace

std::vector<bool> alertLevels(std::span<const double> results, std::span<const std::size_t> reads,
                              const AlertSetting& setting) {
    Alert alert(setting);
    std::vector<bool> levels;
    for (std::size_t i = 0; i < results.size(); ++i) {
        alert.take(results[i]);
        if (std::binary_search(reads.begin(), reads.end(), i)) alert.read();
        levels.push_back(alert.level());
    }
    return levels;
}

std::optional<AlertSetting> alertSettingOf(std::span<const FieldValue> values) {
    const auto find = [&](std::initializer_list<std::string_view> ids) -> const FieldValue* {
        for (const FieldValue& value : values)
            if (std::find(ids.begin(), ids.end(), value.field->id) != ids.end()) return &value;
        return nullptr;
    };
    const FieldValue *high = find({"high_limit", "upper", "th"}), *low = find({"low_limit", "lower", "tl"}),
                     *mode = find({"alert_mode", "latch"}), *polarity = find({"polarity", "int_polarity"}),
                     *faults = find({"faults"});
    if (const FieldValue* highSet = find({"high_set"}), *highClear = find({"high_clear"}),
        *lowClear = find({"low_clear"}), *lowSet = find({"low_set"});
        highSet && highClear && lowClear && lowSet)
        return AlertSetting{AlertMode::Window, lowSet->number,   highSet->number, true, 1,
                            lowClear->number,  highClear->number};
    if (!high || !low || !mode || !high->field->choices.empty()) return std::nullopt;
    AlertSetting setting;
    setting.high = high->number;
    setting.low = low->number;
    // "alert" is the latched window, "therm" its hysteresis, as "latch" on and off are; elsewhere comparator and
    // interrupt are what they are called.
    setting.mode = mode->text == "interrupt"                     ? AlertMode::Interrupt
                   : mode->text == "alert" || mode->text == "on" ? AlertMode::WindowLatched
                                                                 : AlertMode::Comparator;
    takeHysteresis(setting, find({"upper"}) != nullptr, mode->text == "interrupt", find({"hysteresis"}));
    if (const FieldValue* enabled = find({"alert"}); enabled && !enabled->field->isReadOnly)
        setting.isEnabled = enabled->text == "on";
    setting.activeHigh = polarity && polarity->text == "high";
    if (const FieldValue* offset = find({"offset"})) setting.offset = offset->number;
    setting.faults = faults && !faults->isReserved ? std::atoi(faults->text.c_str()) : 1;
    return setting;
}

AlertPicture alertPicture(const AlertSetting& setting) {
    constexpr std::size_t kSteps = 240;
    AlertPicture picture;
    picture.low = setting.low;
    picture.high = setting.high;
    picture.clearLow = setting.clearLow;
    picture.clearHigh = setting.clearHigh;
    const double band = std::max(std::abs(setting.high - setting.low), 1.0), middle = (setting.high + setting.low) / 2;
    std::vector<std::size_t> reads;
    for (std::size_t i = 0; i < kSteps; ++i) {
        const double t = static_cast<double>(i) / (kSteps - 1);
        picture.time.push_back(t);
        picture.value.push_back(middle - 0.85 * band * std::sin(2 * std::numbers::pi * (2 * t + 0.12)));
        if (setting.offset != 0) picture.sensed.push_back(picture.value.back() - setting.offset);
        if (i % 34 == 33) {
            reads.push_back(i);
            picture.readTime.push_back(t);
            picture.readValue.push_back(picture.value.back());
        }
    }
    const double base = middle - 1.5 * band;
    for (const bool high : alertLevels(picture.value, reads, setting))
        picture.pin.push_back(base + (high ? 0.35 * band : 0));
    return picture;
}

}  // namespace fg
