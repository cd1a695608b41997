#pragma once

#include "catalogue/catalogue.h"
#include "choosing/need.h"
#include "path/gauge_spec.h"
#include "uncertainty/budget.h"

#include <optional>
#include <string>
#include <vector>

namespace fg {

/// How a part stands to one requirement.
enum class Verdict {
    Met,   ///< met, the text says by how much
    Open,  ///< can be met, or cannot be told: the text says what is left to do or to find out
    Ruled  ///< ruled out, the text says why
};
[[nodiscard]] std::string_view verdictName(Verdict verdict);  ///< "met", "open", "ruled out"

/// One requirement, one part.
struct Mark {
    std::string id;     ///< stable name of the rule: "accuracy"
    std::string title;  ///< the column: "Accuracy"
    Verdict verdict = Verdict::Met;
    std::string text;   ///< a clause with the numbers: "± 0.58 °C against ± 0.5 °C wanted"
    std::string brief;  ///< the same for a table's cell: "± 0.58 °C"; empty: the verdict says it all
    double margin = 0;  ///< wanted over had (or had over wanted), 1 when just met; 0 where nothing is counted
};

/// How far a first gauge of the part can be trusted over a wished span, from the same budget as every gauge.
struct Trust {
    double expanded = 0;     ///< worst U (95 %) of the span, canonical
    double at = 0;           ///< where
    double limit = 0;        ///< worst stated limit of the part alone; 0 when nobody states one
    bool isStated = false;   ///< somebody states the part's accuracy at all of the places looked at
    double step = 0;         ///< worst step of the reading
    bool isClipped = false;  ///< the converter ends before the span does
    std::string open;        ///< what the part leaves to the piece in hand: "R25, B"; empty when it fixes everything
    std::string problem;     ///< why there is no gauge to judge; empty when there is
    std::vector<double> places, expandedAt;  ///< the curve, canonical; NaN where there is no budget
};

/// A catalogue part against a need.
struct Candidate {
    std::string id;
    std::string title;
    std::string interface;  ///< "analog", "i2c", "1-wire", "single-bus", "spi"
    const Part* part = nullptr;
    const DevicePart* device = nullptr;
    std::vector<GaugeSpec> gauges;  ///< one a wish, wired and sized; empty where the part does not measure it
    std::vector<Trust> trust;       ///< one a gauge
    std::vector<Mark> marks;        ///< one a requirement that was asked, in a fixed order
    std::string why;                ///< one sentence: what puts it where it is

    [[nodiscard]] int count(Verdict verdict) const;
    [[nodiscard]] bool isRuledOut() const { return count(Verdict::Ruled) > 0; }
    [[nodiscard]] const Mark* mark(std::string_view id) const;
    /// The mark with the smallest margin; null when nothing was counted.
    [[nodiscard]] const Mark* tightest() const;
};

/// Every part of the catalogue, best first. The order: parts that are not ruled out before those that are; of these the
/// fewest open points; then the widest of the tightest margins (a margin above 3 counts as 3: more is no reason); then
/// fewest parts beside the sensor (digital before analog); then by name. Ruled-out parts: those for the quantity first,
/// then fewest reasons. Error: checkNeed().
[[nodiscard]] Expected<std::vector<Candidate>> choose(const Need& need, const Catalogue& catalogue);

/// One part against a need.
[[nodiscard]] Candidate judge(const Need& need, const Part& part, const Catalogue& catalogue);
[[nodiscard]] Candidate judge(const Need& need, const DevicePart& part, const Catalogue& catalogue);

}  // namespace fg
