#pragma once

#include "path/analog_path.h"

#include <string>

namespace fg {

/// Which side of a limit a comparison in code may not be on the wrong of.
enum class Promptness {
    NeverLate,  ///< true at the latest when the value is at the limit; may be true up to one cell before
    NeverEarly  ///< true only when the value has reached the limit; may come up to one cell after
};

/// A comparison of whole codes that stands for a limit of the measurand, and where it really switches.
///
/// A code is a cell: with nearest-code rounding code k is what inputs from k − ½ to k + ½ LSB give, so a comparison
/// switches at the edge of a cell and not at its centre.
struct Threshold {
    double exact = 0;         ///< the limit in codes, not rounded
    std::int64_t code = 0;    ///< for >= and <=
    std::int64_t strict = 0;  ///< the same comparison with > and <
    double edge = 0;          ///< canonical value at which it switches; NaN where the formula has none
    bool isAtLeast = false;   ///< true for code >= `code`, code > `strict`; false for <= and <

    /// "code >= 243", and the other way to write it: "code > 242".
    [[nodiscard]] std::string text() const;
    [[nodiscard]] std::string strictText() const;
};

/// The comparison for a limit (canonical) that is reached from below (`rising`) or from above. Error: Domain when no
/// code inside the range tells it.
[[nodiscard]] Expected<Threshold> thresholdFor(const AnalogPath& path, double limit, bool rising,
                                               Promptness promptness);

/// A pair for switching with a dead band: on at the limit, off again when the value is back by `band` (canonical
/// difference, above 0).
struct ThresholdPair {
    Threshold on, off;
    std::int64_t between = 0;  ///< how many codes do neither
};

/// Neither of both comes early: each edge lies at or beyond its value. Errors: Range at "dead-band" for one not above 0
/// or narrower than the codes can tell, and those of thresholdFor().
[[nodiscard]] Expected<ThresholdPair> thresholdPair(const AnalogPath& path, double limit, double band, bool rising);

}  // namespace fg
