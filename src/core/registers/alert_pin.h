#pragma once

#include "registers/register_map.h"

#include <optional>
#include <span>
#include <vector>

namespace fg {

/// How a thermometer's alert output behaves.
enum class AlertMode {
    Comparator,     ///< on at or above the high limit, off again below the low one (hysteresis); reading clears nothing
    Interrupt,      ///< latched when the high limit is reached, until it is read; then latched again below the low one,
                    ///< until it is read
    Window,         ///< on outside low … high, off inside the limits that clear it; reading clears nothing
    WindowLatched,  ///< latched when the value leaves low … high, until it is read
    WindowEdges     ///< latched at each crossing of the window's edges, outwards and back, until it is cleared
};

struct AlertSetting {
    AlertMode mode = AlertMode::Comparator;
    double low = 0, high = 0;  ///< same unit as the values
    bool activeHigh = false;   ///< polarity of the pin
    int faults = 1;            ///< results in a row beyond a limit before it counts
    std::optional<double> clearLow = {},
                          clearHigh = {};  ///< of a window: inside of which it goes off again; its limits when left out
    bool isEnabled = true;                 ///< false: the output stays inactive
    bool isClearedByWrite = false;         ///< what clears a latch is a write to the device, not reading it
    double offset = 0;  ///< what the device adds to each result before it holds it against the limits
};

/// The pin over a series of conversion results. `reads`: at which of them the host reads the device (or clears its
/// latch, where that takes a write), ascending indices; a read comes after the result of that index. Returns the level
/// of the pin after each result (and its read), true is high. Source: TMP102 data sheet, thermostat mode and fault
/// queue; TMP117 data sheet, alert and therm mode; MCP9808 data sheet, alert output configuration (hysteresis on
/// falling temperatures only); ADT7410 data sheet, INT in comparator mode; SHT3x alert mode application note, limits
/// that set and clear.
[[nodiscard]] std::vector<bool> alertLevels(std::span<const double> results, std::span<const std::size_t> reads,
                                            const AlertSetting& setting);

/// The alert of a device as its registers set it: fields high_limit and low_limit (or upper and lower), alert_mode or
/// latch, polarity (int_polarity), faults, hysteresis; or high_set, high_clear, low_clear and low_set; and offset where
/// there is one (TMP117 data sheet, temperature offset register: added to the result, which the limits are compared
/// with). Nothing for a device without limits.
[[nodiscard]] std::optional<AlertSetting> alertSettingOf(std::span<const FieldValue> values);

/// A made-up course of the value that passes both limits twice, the host reading now and then, and the pin over it: for
/// a picture.
struct AlertPicture {
    std::vector<double> time, value;  ///< time 0 … 1; the results, which the limits are held against
    std::vector<double> sensed;       ///< what they were before the device's offset; empty without one
    std::vector<double>
        pin;  ///< the pin's level drawn below the curve, in the value's unit: its lower line low, its upper line high
    std::vector<double> readTime, readValue;
    double low = 0, high = 0;
    std::optional<double> clearLow = {}, clearHigh = {};
};
[[nodiscard]] AlertPicture alertPicture(const AlertSetting& setting);

}  // namespace fg
