// Room `catalogue`: the parts and converters that are known, read from data files and checked.
#pragma once

#include "catalogue/outline.h"
#include "numeric/transfer.h"
#include "sensors/parameters.h"
#include "units/quantity.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace fg {

/// An accuracy statement: within `span` (canonical units of the measurand) the part is off by at most ± `limit` (same
/// unit, a difference).
struct AccuracyBand {
    Interval span;
    double limit = 0;
    double perUnit = 0;      ///< added per unit of |value|: IEC 60751's ±(0.3 + 0.005·|t|)
    std::string statement;   ///< as its document says it, where that is a percentage: "±5 % of full span"
    double perUnitFrom = 0;  ///< per unit of |value| above this
    [[nodiscard]] double limitAt(double measurand) const {
        return limit + perUnit * ((measurand < 0 ? -measurand : measurand) - perUnitFrom);
    }
};

/// What holds for a part only with a condition that a gauge cannot show.
struct PartRemark {
    std::string text;  ///< one or two sentences
    std::optional<Interval>
        outside;  ///< it concerns gauges whose span goes beyond this, canonical; nothing: every gauge
};

/// What a document states of any part, analog or digital.
struct PartFacts {
    std::string id;  ///< designation as printed on the component, lower case: "tmp36"
    std::string title;
    std::vector<std::string> aliases;  ///< other words makers search by
    Interval supply_V;                 ///< 0 … 0: needs none of its own, or not stated
    double supply_A = 0;               ///< while it measures; 0 when it has none or nobody states one
    bool supplyIsTypical = false;      ///< supply_A is a typical figure; else the most its document states
    double standby_A = 0;              ///< at rest; 0 when not known
    double average_A =
        0;  ///< where its document states only an average: over `average_Hz` results a second; 0 when it states none
    double average_Hz = 0;
    std::string interface;         ///< "analog", "i2c", "1-wire", "single-bus", "spi", "two-wire clocked"
    std::string body;              ///< what it can be put into: body.h; empty when not said
    double cableMax_m = 0;         ///< longest cable its document allows; 0: none stated
    double minimumInterval_s = 0;  ///< shortest sensible time between readings
    std::vector<std::string> cautions;
    std::string measures;      ///< "chip" for the sensor inside a chip; empty: what it is put into
    std::string pressureKind;  ///< "absolute", "gauge" or "differential"; empty when not a pressure or not stated
    std::vector<PartRemark> remarks;
    std::vector<Pinout> pinouts;  ///< of each body whose pins are known, the usual one first; empty: none is
    std::string source;           ///< document title and section
    std::string file;             ///< where it was read from
};

class JsonFields;
/// Reads them; errors name the field.
[[nodiscard]] PartFacts readFacts(JsonFields& fields, const std::string& file);

/// A sensor as the catalogue knows it. Everything comes from a data file.
struct Part : PartFacts {
    Quantity quantity = Quantity::Temperature;
    std::string family;     ///< formula family in `sensors`
    Parameters parameters;  ///< what the part fixes; a free part leaves them to the gauge
    Interval range;         ///< where the part is stated to work, canonical units
    std::vector<AccuracyBand> accuracy;

    /// The tightest limit stated for a value, or nothing when no band covers it.
    [[nodiscard]] std::optional<double> accuracyAt(double measurand) const;
};

/// Noise of a converter at its input, as its document states it for one gain and one rate.
struct ConverterNoise {
    double gain = 1;
    double rate_Hz = 0;  ///< conversions a second; 0: at any
    double rms_V = 0;
};

/// What is known to mislead with a converter.
struct ConverterTrap {
    std::string text;                 ///< one or two sentences: what happens, what to do
    std::optional<Interval> input_V;  ///< it concerns gauges whose pin goes there; nothing: every gauge
};

/// One step of reading a converter by its pins: levels put on pins, a level waited for, or pins read.
struct PinStep {
    std::vector<std::pair<std::string, bool>> put = {};  ///< pins and their levels, in this order; true: high
    std::optional<std::pair<std::string, bool>> wait = {};
    std::vector<std::string> read = {};  ///< lowest bit first
    double time_s = 0;                   ///< at least so long after `put`; at most so long for `wait`; 0: not stated
    std::string why;
};

/// A converter as the catalogue knows it.
struct ConverterPart {
    std::string id;
    std::string title;
    std::vector<std::string> aliases;
    std::string kind;                        ///< "adc", "counter", …: converters/kind.h
    int channels = 1;                        ///< pins it can be switched to
    std::map<double, int> inputOfGain = {};  ///< the one input that a gain is to be had on, from 0; empty: every one
    double conversion_s = 0;                 ///< how long one conversion takes; 0 when not stated
    Parameters parameters;
    std::vector<ConverterNoise> noise;
    std::vector<ConverterTrap> traps;
    std::vector<PinStep> sequence;  ///< how it is read by its pins; empty: by a bus, or inside a controller
    std::string interface;        ///< of a stand-alone one, as DevicePart::interface, or "parallel"; empty: inside one
    std::vector<Pinout> pinouts;  ///< of a stand-alone one; its inputs are signals, in the order of their names
    std::string source;
    std::string file;

    /// rms at its input, in V; nothing where its document does not state that gain and rate.
    [[nodiscard]] std::optional<double> noiseAt(double gain, double rate_Hz) const;
};

/// The step in words: "CS low, WR low, at least 100 ns: starts a conversion".
[[nodiscard]] std::string pinStepText(const PinStep& step);

}  // namespace fg
