#include "path/threshold.h"

#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {

std::string Threshold::text() const { return fmt::format("code {} {}", isAtLeast ? ">=" : "<=", code); }
std::string Threshold::strictText() const { return fmt::format("code {} {}", isAtLeast ? ">" : "<", strict); }

Expected<Threshold> thresholdFor(const AnalogPath& path, double limit, bool rising, Promptness promptness) {
    Threshold threshold;
    threshold.exact = path.exactCode(limit);
    threshold.isAtLeast = rising == path.isRising();
    const bool isEarlyAllowed = promptness == Promptness::NeverLate;
    // At the limit itself the converter gives floor(exact + ½). From there the lower edge of k is k − ½, the upper one
    // k + ½.
    const double code = threshold.isAtLeast
                            ? (isEarlyAllowed ? std::floor(threshold.exact + 0.5) : std::ceil(threshold.exact + 0.5))
                            : (isEarlyAllowed ? std::ceil(threshold.exact - 0.5) : std::floor(threshold.exact - 0.5));
    if (!std::isfinite(threshold.exact) || !path.converter().canGive(code) ||
        path.converter().clipOf(code) != Clip::None)
        return fail(ErrorCode::Domain, "threshold", plainNumber(limit, 7),
                    "a limit inside what the converter can tell");
    threshold.code = static_cast<std::int64_t>(code);
    threshold.strict = threshold.code + (threshold.isAtLeast ? -1 : 1);
    threshold.edge = path.reading(code + (threshold.isAtLeast ? -0.5 : 0.5));
    return threshold;
}

Expected<ThresholdPair> thresholdPair(const AnalogPath& path, double limit, double band, bool rising) {
    if (!(band > 0)) return fail(ErrorCode::Range, "dead-band", plainNumber(band, 7), "a width above 0");
    const auto on = thresholdFor(path, limit, rising, Promptness::NeverEarly);
    if (!on) return tl::unexpected(on.error());
    const auto off = thresholdFor(path, rising ? limit - band : limit + band, !rising, Promptness::NeverEarly);
    if (!off) return tl::unexpected(off.error());
    ThresholdPair pair{*on, *off, 0};
    // The codes strictly between both switch nothing.
    pair.between = std::abs(on->code - off->code) - 1;
    const bool areApart = on->isAtLeast ? off->code < on->code : off->code > on->code;
    if (!areApart) return fail(ErrorCode::Range, "dead-band", plainNumber(band, 7), "a dead band of at least one code");
    return pair;
}

}  // namespace fg
