// Room `findings`: what the product notices. One small rule a file; a rule looks at a gauge and yields findings.
#pragma once

#include "path/analog_path.h"
#include "path/digital_path.h"
#include "uncertainty/budget.h"
#include "uncertainty/monte_carlo.h"

#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace fg {

enum class Severity {
    Fault,  ///< wrong value, or none
    Doubt,  ///< may mislead
    Hint,   ///< could be better
    Care    ///< could hurt someone
};

/// "fault", "doubt", "hint", "care".
[[nodiscard]] std::string_view severityName(Severity severity);

/// A change that a finding offers to make.
struct FindingAction {
    std::string label;   ///< on the button: "Use the 1.1 V reference"
    std::string effect;  ///< what it changes: "2 → 9 codes/°C"; may be empty
    std::function<void(GaugeSpec&)> apply;
};

struct Finding {
    Severity severity = Severity::Hint;
    Stage stage = Stage::World;
    std::string id;      ///< stable name of the rule: "clipped"
    std::string title;   ///< a few words
    std::string detail;  ///< the numbers, one or two sentences
    std::optional<FindingAction> action;
};

/// What a rule may look at. `now` is the evaluation shown at the moment, when there is one; everything else holds for
/// the whole span.
struct FindingContext {
    const GaugeSpec& spec;
    const AnalogPath& path;
    const Catalogue& catalogue;
    const Evaluation* now = nullptr;
    const Budget* budget = nullptr;
    const MonteCarlo* run = nullptr;  ///< the last one of this gauge as it is described now

    /// The converter's parameters with its part's defaults.
    Parameters converter;
    const ConverterPart* converterPart = nullptr;  ///< null when its values are the gauge's own
};

/// Runs every rule, worst first. `now`, `budget` and `run` may be null.
[[nodiscard]] std::vector<Finding> findingsFor(const GaugeSpec& spec, const AnalogPath& path,
                                               const Catalogue& catalogue, const Evaluation* now, const Budget* budget,
                                               const MonteCarlo* run = nullptr);

/// The same for the gauge of a digital part: what the device says of itself, the part's range, accuracy and place, and
/// the cautions.
[[nodiscard]] std::vector<Finding> findingsForDevice(const GaugeSpec& spec, const DigitalPath& path,
                                                     const Catalogue& catalogue, const Evaluation* now,
                                                     const Budget* budget);

/// The same for gauges without a sensor of their own: what they need of others, and how far to trust it.
[[nodiscard]] std::vector<Finding> findingsWithoutSensor(const GaugeSpec& spec, const Catalogue& catalogue,
                                                         const Evaluation* now, const Budget* budget);

/// A gauge that cannot be built is one fault at the field that stopped it.
[[nodiscard]] Finding findingFromError(const Error& error);

}  // namespace fg
