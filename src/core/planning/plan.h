#pragma once

#include "bench/document.h"
#include "findings/finding.h"
#include "planning/wires.h"
#include "planning/pull_up.h"

#include <optional>
#include <string>
#include <vector>

namespace fg {

/// What a group of places is.
enum class GroupKind {
    Converter,  ///< pins of an analog-to-digital converter or a counter
    I2c,
    OneWire,
    Digital  ///< pins that a device has for itself
};

/// A place and who hangs there; a device with several readings hangs there once with all its gauges.
struct PlanPlace {
    std::string label;                      ///< "A0", "0x76", "D2"; of a 1-wire probe its order on the line
    std::vector<std::int64_t> gauges = {};  ///< nobody: a free place
    std::string part = {};
    unsigned address = 0;    ///< of a two-wire device
    std::string rom = {};    ///< code of a 1-wire probe; empty where it is not given
    std::string other = {};  ///< name of something there that is no gauge
    bool isTwice = false;    ///< somebody else is here too
    [[nodiscard]] bool isFree() const { return gauges.empty() && other.empty(); }
};

struct PlanGroup {
    GroupKind kind = GroupKind::Converter;
    std::string line;   ///< what GaugePlace::line says for it: "bus 1", "wire 1"; the converter's id
    std::string title;  ///< "10-bit converter, supply as reference, 5 V"
    std::vector<PlanPlace> places;
    std::optional<PullUpAnswer> pullUp;  ///< of a line; nothing where it cannot be worked out
    bool isPullUpGiven = false;          ///< some gauge on it says what pulls it up
    double cable_m = 0;                  ///< of the whole line
    double own_ohm = 0;                  ///< the pull-up that is said beside the modules'; 0 for none
    double supply_V = 0;                 ///< to which its pull-ups go; 0 for converters
    std::string otherLevels = {};        ///< what on it is fed with another voltage, a list; empty: nothing
    std::vector<std::int64_t> gauges() const;
};

/// What one thing on the bench takes from a rail.
struct PlanLoad {
    std::string who;  ///< the gauge's name, or the converter's title
    std::string part;
    double measuring_A = 0;  ///< peak; 0 and not known, or nothing
    double resting_A = 0;
    double busy_s = 0;  ///< how long it takes `measuring_A` each round; 0: all the time
    bool isKnown = true;
    bool isTypical = false;  ///< `measuring_A` is a typical figure, not the most
    std::int64_t gauge = 0;  ///< 0 for a converter
};

struct PlanRail {
    Rail rail;
    bool isSaid = true;  ///< false: taken from the gauges
    std::vector<PlanLoad> loads;
    double peak_A = 0;      ///< everything at once
    double average_A = 0;   ///< over a round, what can rest resting
    double constant_A = 0;  ///< the same with nothing ever resting
    int typical = 0;        ///< how many loads are in it with a typical figure
    int unknown = 0;        ///< how many loads are not in it
    double life_h = 0;      ///< of its cells at average_A; 0 where there are none
    double constantLife_h = 0;
};

/// A stretch of a timeline.
struct PlanSegment {
    enum class Kind { Command, Convert, Read } kind = Kind::Convert;
    double from_s = 0, to_s = 0;
};
struct PlanRow {
    std::string who;
    std::string line;
    std::vector<PlanSegment> segments;
    double least_s = 0;  ///< shortest time between two of its readings
    double bus_s = 0;    ///< of which on its line
    std::vector<std::int64_t> gauges;
};

/// One round: everything told to convert, then read as it gets ready; a line carries one thing at a time.
struct PlanSchedule {
    std::vector<PlanRow> rows;
    double busy_s = 0;     ///< from the first command to the last byte
    double fastest_s = 0;  ///< shortest time between two rounds
    std::string slowest;   ///< who sets it
    double wanted_s = 0;   ///< the board's cycle; fastest_s when none is said
    bool fits = true;
};

struct CableRun {
    std::string who;
    std::vector<std::string> conductors;  ///< in the order of the connector: "supply", "ground", "signal"
    double length_m = 0;                  ///< 0: not said
    double drop_V = 0;                    ///< on the ground and supply conductors together, at the peak current
    double capacitance_F = 0;             ///< of signal against ground
    std::string marks;                    ///< "1 supply, 2 ground, 3 signal"
    std::int64_t gauge = 0;
};

/// One line of the parts list.
struct PartsLine {
    int count = 1;
    std::string value;      ///< "2.2 kΩ", "bmp280"
    std::string what;       ///< "resistor, E12", "sensor"
    std::string tolerance;  ///< "1 %"; empty
    std::string where;      ///< "Glue pot: R1"
};

/// The whole bench laid out.
struct BenchPlan {
    std::vector<PlanGroup> groups;
    std::vector<PlanRail> rails;
    PlanSchedule schedule;
    std::vector<CableRun> cables;
    std::vector<PinWires> wires;  ///< pin by pin, one for each of `cables`, then of converters
    double oneWire_m = 0;  ///< all 1-wire runs together
    std::vector<PartsLine> parts;
    std::vector<Finding> findings;  ///< of the bench as a whole, worst first
    std::vector<Finding> cautions;  ///< each once, with the gauges it is for
};

/// Lays a bench out. Gauges without a said place take the first free one of their kind; nothing said is changed.
/// Sources of the times and currents stand with each part's data; those not known are counted, not guessed.
[[nodiscard]] BenchPlan planOf(const Bench& bench, const Catalogue& catalogue);

/// The bus or wire that a digital gauge hangs on, sized as in the plan; nothing for a gauge without one.
[[nodiscard]] std::optional<PlanGroup> lineOf(const Bench& bench, std::int64_t gauge, const Catalogue& catalogue);

/// The places a gauge could be moved to: the lines of its kind, one more bus or wire, and free pins. Empty where it is
/// not movable.
[[nodiscard]] std::vector<std::string> placesFor(const Bench& bench, const BenchPlan& plan, std::int64_t gauge,
                                                 const Catalogue& catalogue);

/// How long cells last, as people say it: "11 h", "38 days", "2.3 years".
[[nodiscard]] std::string lifeText(double hours);

/// The parts list as CSV (RFC 4180): count, value, what, tolerance, where.
[[nodiscard]] std::string partsCsv(const std::vector<PartsLine>& parts);

/// Every wire as CSV: mark, gauge, part, conductor, pin, to, colour.
[[nodiscard]] std::string wiresCsv(const std::vector<PinWires>& wires);

}  // namespace fg
