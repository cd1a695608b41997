#pragma once

#include "derived/law.h"
#include "gauge/gauge.h"

#include <map>
#include <string>
#include <vector>

namespace fg {

/// Where the reference of a session comes from.
enum class ReferenceKind {
    None,    ///< there is none: it only looks whether the sensor answers
    Fixed,   ///< a value that holds everywhere: ice
    Law,     ///< a formula of what is measured beside it: steam, salt
    Typed,   ///< what another instrument shows
    Sensor,  ///< what the gauge should read with a known signal in place of the sensor
    Wiring   ///< with a known voltage at the converter
};

/// A guided comparison with one kind of reference. Data: data/calibrating/sessions.json.
struct Session {
    std::string id, title;
    std::vector<Quantity> quantities;
    ReferenceKind kind = ReferenceKind::Typed;
    double fixed = 0;              ///< canonical, of kind Fixed
    std::vector<const Law*> laws;  ///< one of which gives the reference, of kind Law
    std::string needs;             ///< "resistance", "voltage", "chip": only for gauges like that
    double exampleU = 0;           ///< expanded, canonical: what such a reference may be good for; 0: none stated
    std::string exampleWhy;
    std::vector<std::string> steps;
    std::string wait, watch;
    std::vector<std::string> cautions;

    /// Whether it makes sense for a gauge.
    [[nodiscard]] bool suits(const Gauge& gauge) const;
};

/// Reads them all. Errors name `file`, the field, what was found and what was expected.
[[nodiscard]] Expected<std::vector<Session>> readSessions(const std::string& json, const std::string& file);

/// Those that ship with the product, from the first of the folders that has them. Errors: Missing; those of reading.
[[nodiscard]] Expected<std::vector<Session>> standardSessions();

/// A gauge of the pressure of the air: its span lies within what weather and mountains make of it.
[[nodiscard]] bool isBarometer(const GaugeSpec& spec);

/// A reference worked out, canonical.
struct ReferenceValue {
    double value = 0;
    double u = 0;                  ///< standard uncertainty from what went in and of the formula; 0: not given
    std::vector<TraceLine> trace;  ///< how it came about
};

/// The reference of a law from what was typed for its inputs ("998 hPa", "23.5 °C ± 0.5"); an input without a text
/// takes its usual value where it has one. ± is the half-width at k = 2. Errors name the input.
[[nodiscard]] Expected<ReferenceValue> referenceOf(const Law& law, const std::map<std::string, std::string>& typed);

/// What the gauge should read, uncorrected, with a known signal in place of the sensor (Stage::Sensor) or at the
/// converter (Stage::Wiring): "10k", "0 V ± 1 mV". Errors: those of reading it; Domain where no reading belongs to it.
[[nodiscard]] Expected<ReferenceValue> referenceOfSignal(const Gauge& gauge, const Catalogue& catalogue, Stage stage,
                                                         std::string_view text);

/// The reference of a session from what was typed: under the names of the law's inputs, under "reading" (another
/// instrument, "99.4 °C ± 0.2") or "signal". `law`: which of the session's, of kind Law. Errors: those above; Missing
/// of kind None, which has no reference.
[[nodiscard]] Expected<ReferenceValue> referenceFor(const Session& session, const Law* law, const Gauge& gauge,
                                                    const Catalogue& catalogue,
                                                    const std::map<std::string, std::string>& typed);

}  // namespace fg
