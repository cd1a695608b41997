#pragma once

#include "catalogue/part.h"
#include "devices/device.h"

#include <map>

namespace fg {

/// One address of a two-wire device and the straps that give it.
struct BusAddress {
    unsigned address = 0;  ///< seven bits
    std::string straps;    ///< "SDO to ground"; "fixed" when there is no choice
};

/// A register by which a device can be told from others at its address.
struct Identity {
    unsigned registerAddress = 0;
    unsigned value = 0;
};

/// An accuracy statement for one of a device's quantities.
struct DeviceAccuracy {
    Quantity quantity = Quantity::Temperature;
    AccuracyBand band;
};

/// One transfer of a measurement that does not follow from the part's registers.
struct MeasureStep {
    std::vector<std::uint8_t> out;  ///< written first
    std::size_t in = 0;             ///< bytes read after it
    std::string block;              ///< of the decoder, that they are, or that the settings are for
    std::string settings;           ///< instead of bytes: what is set in a register, "measure=pressure"; its waiting
                                    ///< time then follows from the settings
    double startLow_s = 0;          ///< single-bus: the line is held low so long to ask for the frame
    double wait_s = 0;              ///< afterwards
    bool isOnce = false;            ///< after power-on alone
    bool isUnanswered = false;      ///< a wake-up that the part does not acknowledge
    std::string why;
};

/// A digital part as the catalogue knows it: data/devices/*.json.
struct DevicePart : PartFacts {
    const Device* device = nullptr;  ///< its decoder
    DeviceOptions options;           ///< what the designation fixes
    std::vector<std::string> readings;
    std::map<std::string, Interval> ranges;  ///< by reading, canonical
    std::vector<DeviceAccuracy> accuracy;
    std::vector<BusAddress> addresses;
    std::optional<Identity> identity;
    std::string openDrain;             ///< an output that needs a pull-up: "ALERT"; empty: none
    std::vector<MeasureStep> measure;  ///< how it measures, where its registers do not say it
    std::string nothingToSet;  ///< why it has no register map: "only sends its reading"; empty for parts that have
                               ///< something to configure

    /// The address that a gauge's wiring gives it ("address"), else its first; nothing for what cannot be one, and for
    /// parts without addresses.
    [[nodiscard]] std::optional<unsigned> addressIn(const Parameters& wiring) const;

    /// The tightest limit stated for a value, or nothing when no band covers it. ± canonical.
    [[nodiscard]] std::optional<double> accuracyAt(Quantity quantity, double value) const;
};

/// A device's reading as people see it, rounded to the part's stated accuracy where there is one, else to its raw step:
/// "1006.5 hPa", "± 1.0". Pressures in hPa. "–" for a reading that is not there.
struct ReadingDisplay {
    std::string value;        ///< with its unit
    std::string uncertainty;  ///< of the stated accuracy; empty when nobody states one here
};
/// `wanted`: in this unit, where it is one of the reading's quantity.
[[nodiscard]] ReadingDisplay displayOf(const DevicePart& part, const DeviceReading& reading,
                                       const Unit* wanted = nullptr);

/// Reads one from JSON; errors name `file` and the field. Checks decoder, options, readings, addresses, ranges.
[[nodiscard]] Expected<DevicePart> readDevicePart(const std::string& json, const std::string& file);

}  // namespace fg
