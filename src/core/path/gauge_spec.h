#pragma once

#include "numeric/transfer.h"
#include "path/alarm_rule.h"
#include "sensors/parameters.h"
#include "units/unit.h"

#include <cstdint>
#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

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

/// One comparison of a gauge with something better. Canonical units.
struct CalibrationPoint {
    double reading = 0;         ///< of the gauge without any correction
    double reference = 0;       ///< what it should have read
    double u = 0;               ///< standard uncertainty of their difference that is this point's own; 0: not given
    std::string setAside = {};  ///< why the fit leaves it out; empty: it is used
    std::string note = {};      ///< conditions: "stirred, lid on"
    std::string time = {};      ///< ISO 8601; empty: not known
    std::string stated = {};    ///< how the reference's uncertainty was given: "nearest 0.5 °C", "nobody checked it"
    bool operator==(const CalibrationPoint&) const = default;
};

/// What a calibration adds to the formula's value. x = value − centre: an offset, a line offset + slope · x, with
/// quadratic and cubic one and two powers more; or a table, straight between its points.
struct CorrectionSpec {
    std::string kind = "none";  ///< "none", "offset", "line", "quadratic", "cubic", "table"; "parameters": nothing is
                                ///< added, the points gave parameters of the sensor
    double offset = 0;          ///< canonical unit of the measurand (a difference)
    double slope = 0;           ///< 1; must stay above −1, or the corrected reading would turn round
    double uncertainty = 0;     ///< expanded (k = 2), canonical, of a correction without points; 0 when unknown
    double quadratic = 0;       ///< per canonical unit
    double cubic = 0;
    double centre = 0;     ///< canonical
    double reference = 0;  ///< standard uncertainty of the reference that all points share, canonical
    std::vector<CalibrationPoint> points = {};  ///< what it was found at; a curved one holds between them
    std::vector<std::string> parameters = {};   ///< which, of kind "parameters": "r25_ohm"
    std::string with = {};                      ///< the reference: "ice and water", "the bench thermometer"
    std::string time = {};                      ///< when, ISO 8601
    std::vector<CalibrationPoint> check = {};   ///< taken since: the correction does not use them yet
    double repeat_days = 0;                     ///< how often it is to be calibrated; 0: not given

    /// Of the power `i`: offset, slope, quadratic, cubic.
    [[nodiscard]] double coefficient(std::size_t i) const {
        return i == 0 ? offset : i == 1 ? slope : i == 2 ? quadratic : cubic;
    }
    bool operator==(const CorrectionSpec&) const = default;
};

/// How readings are smoothed for the eye and for a program's display. Recordings and alarms take them as they come.
struct FilterSpec {
    std::string kind = "none";  ///< "none", "mean", "median", "exponential", "gate"
    std::size_t count = 16;     ///< readings, of mean, median and gate
    double alpha = 0.2;         ///< weight of the newest, of the exponential; above 0, at most 1
    bool operator==(const FilterSpec&) const = default;
};

struct ReadingSpec {
    std::string unit = "degC";         ///< unit id
    Interval span{0, 100};             ///< wanted span, in `unit`
    double wanted = 0;                 ///< accuracy wanted (± , a difference in `unit`); 0 when not said
    std::optional<int> decimals = {};  ///< of the reading as shown; nothing: as many as its uncertainty deserves
    FilterSpec filter = {};
    bool operator==(const ReadingSpec& other) const {
        return unit == other.unit && span.low == other.span.low && span.high == other.span.high &&
               wanted == other.wanted && decimals == other.decimals && filter == other.filter;
    }
};

/// A field that takes the reading of another gauge of the bench.
struct LinkedInput {
    std::int64_t gauge = 0;  ///< its id on the bench; 0: not found there yet
    std::string name;        ///< as it is called there, or was when it was last found
    bool operator==(const LinkedInput&) const = default;
};

/// A cause of uncertainty that readings may have in common, and what it does to one of them.
struct SharedPart {
    std::string origin;        ///< the same text: the same cause
    std::string label;         ///< in words: "Reference ± 1 %"
    double effect = 0;         ///< standard uncertainty in that reading with the sign in which it moves, canonical
    bool isRectangle = false;  ///< of limits, anywhere between them; else normal
    bool operator==(const SharedPart&) const = default;
};

/// What a gauge lends with its reading.
struct Lent {
    std::vector<SharedPart> parts;  ///< of its uncertainty, all of them; empty: not known
    bool isStated = true;           ///< false: nobody said how accurate its sensor is
    bool operator==(const Lent&) const = default;
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
    std::map<std::string, LinkedInput> inputs = {};  ///< by field: "sensor.cold_junction_degC"
    LinkedInput beside = {};                         ///< the gauge whose reading is shown beside; no name: none
    std::string channel;                             ///< name under which a source delivers its raw values; empty: none
    std::vector<std::string> cautions;               ///< "heat", "mains", "vacuum", … beyond those of its part
    /// Fields whose value is an example and not the maker's: "sensor.r25_ohm". See path/examples.h.
    std::set<std::string> examples = {};
    std::optional<AlarmRule> alarm = {};
    /// By field of `inputs`: what withInputs() put in beside the values. Stands in no file.
    std::map<std::string, Lent> lent = {};

    /// The unit of the reading; canonical when the id is not one of the quantity.
    [[nodiscard]] const Unit& readingUnit() const;

    /// The wanted span in canonical units.
    [[nodiscard]] Interval spanCanonical() const;

    bool operator==(const GaugeSpec&) const = default;
};

}  // namespace fg
