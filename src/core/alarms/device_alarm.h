#pragma once

#include "alarms/alarm.h"
#include "gauge/gauge.h"
#include "registers/alert_pin.h"

namespace fg {

/// An alarm as the device itself would give it at its alert pin, without a program looking on.
struct DeviceAlarm {
    std::vector<Setting> settings;    ///< "high_limit" = "63", as fgauge registers takes them
    std::vector<RegisterWord> words;  ///< that they make, over the gauge's own settings; of the catalogue's map
    AlertSetting inForce;             ///< what the words really do: limits as the register holds them
    std::vector<std::string> notes;   ///< where that is not the rule to the letter
};

/// The rule in the registers of a digital gauge's part. The limits are those of the uncorrected value: the device knows
/// no correction. Errors: those of checkRule(); Unsupported for a part without an alert that is known here, for a
/// reading that its alert does not watch, and for a window that it cannot hold; Range for limits beyond its register.
[[nodiscard]] Expected<DeviceAlarm> deviceAlarm(const Gauge& gauge, const Catalogue& catalogue, const AlarmRule& rule);

/// In one line: "high_limit=63, low_limit=62.5: 0x03 = 0x3F00, 0x02 = 0x3E80", and the notes.
[[nodiscard]] std::string deviceAlarmText(const DeviceAlarm& alarm);

}  // namespace fg
