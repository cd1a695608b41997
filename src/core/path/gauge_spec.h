#pragma once

#include "numeric/transfer.h"
#include "sensors/parameters.h"
#include "units/unit.h"

#include <map>
#include <optional>
#include <set>
#include <string>

namespace fg {

struct SensorSpec {
    std::string part;       ///< catalogue designation or formula family
    Parameters parameters;  ///< what the part leaves free, and tolerances
    bool operator==(const SensorSpec&) const = default;
};

struct WiringSpec {
    std::string kind = "direct";
    Parameters parameters;  ///< see wiring/kind.h
    bool operator==(const WiringSpec&) const = default;
};

struct ConverterSpec {
    std::string kind = "adc";
    std::string part;       ///< catalogue converter that `parameters` override; may be empty
    Parameters parameters;  ///< see converters/kind.h
    bool operator==(const ConverterSpec&) const = default;
};

/// What a calibration adds to the formula's value: amount = offset + slope · value, both zero for kind "none".
struct CorrectionSpec {
    std::string kind = "none";  ///< "none", "offset" or "line"
    double offset = 0;          ///< canonical unit of the measurand (a difference)
    double slope = 0;           ///< 1; must stay above −1, or the corrected reading would turn round
    double uncertainty = 0;     ///< expanded (k = 2), canonical; 0 when unknown
    bool operator==(const CorrectionSpec&) const = default;
};

struct ReadingSpec {
    std::string unit = "degC";         ///< unit id
    Interval span{0, 100};             ///< wanted span, in `unit`
    double wanted = 0;                 ///< accuracy wanted (± , a difference in `unit`); 0 when not said
    std::optional<int> decimals = {};  ///< of the reading as shown; nothing: as many as its uncertainty deserves
    bool operator==(const ReadingSpec& other) const {
        return unit == other.unit && span.low == other.span.low && span.high == other.span.high &&
               wanted == other.wanted && decimals == other.decimals;
    }
};

/// One measuring chain as the maker describes it: plain data, the same as in the gauge file
/// (data/schema/gauge.schema.json).
struct GaugeSpec {
    std::string name = "New gauge";
    std::string note;  ///< one line: what it is and where
    Quantity quantity = Quantity::Temperature;
    SensorSpec sensor;
    WiringSpec wiring;
    ConverterSpec converter;
    CorrectionSpec correction;
    ReadingSpec reading;
    std::map<std::string, std::string> inputs =
        {};                             ///< field → name of the gauge on the bench that lends its reading to it
    std::string channel;                ///< name under which a source delivers its raw values; empty: none
    std::vector<std::string> cautions;  ///< "heat", "mains", "vacuum", … beyond those of its part
    /// Fields whose value is an example and not the maker's: "sensor.r25_ohm". See path/examples.h.
    std::set<std::string> examples = {};

    /// The unit of the reading; canonical when the id is not one of the quantity.
    [[nodiscard]] const Unit& readingUnit() const;

    /// The wanted span in canonical units.
    [[nodiscard]] Interval spanCanonical() const;

    bool operator==(const GaugeSpec&) const = default;
};

}  // namespace fg
