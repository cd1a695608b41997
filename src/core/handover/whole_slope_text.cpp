#include "handover/whole_slope_text.h"

#include <fmt/format.h>

namespace fg {
namespace {

/// " << 3", " >> 2" or nothing.
std::string shifted(int by) { return by == 0 ? "" : fmt::format(" {} {}", by > 0 ? "<<" : ">>", by > 0 ? by : -by); }

std::string tickText(int shift) {
    if (shift == 0) return "in milliseconds";
    return shift > 0 ? fmt::format("in ticks, {} a millisecond", 1 << shift)
                     : fmt::format("in ticks of {} ms", std::int64_t{1} << -shift);
}

constexpr const char* kLine =
    "A line through the means of the pieces, each with the weight of its readings, and what is within them.";

}  // namespace

WholeSlopeText wholeSlopeC(const WholeSlope& slope, const WindowNames& names, const std::string& type) {
    WholeSlopeText text;
    const std::string shift = shifted(slope.tickShift()), tick = tickText(slope.tickShift());
    text.members =
        "    int32_t first, count; /* its own first reading, from which on the others count */\n"
        "    int64_t times, squares, sum, products;\n";
    text.fresh = ", reading, 0, 0, 0, 0, 0";
    text.functions = fmt::format(
        "/* Mean time of a piece since the window's first reading, {0}. */\n"
        "static int64_t {1}(const struct {2} *piece)\n{{\n"
        "    const int64_t first_ms = (uint32_t)(piece->first_ms - {3}[{4}].first_ms);\n"
        "    return (first_ms{5}) + piece->times / piece->count;\n}}\n\n"
        "/* Mean reading of a piece less its first one, rounded. */\n"
        "static int64_t {6}(const struct {2} *piece)\n{{\n    const int64_t count = piece->count;\n"
        "    return (piece->sum + count * {7} + count / 2) / count - {7};\n}}\n\n",
        tick, names.timeOf, names.piece, names.pieces, names.oldest, shift, names.meanOf, WholeSlope::kBelow);
    text.keep = fmt::format(
        "    if (piece->count >= {}) return; /* more would not fit the sums */\n"
        "    const int64_t passed_ms = (uint32_t)(now_ms - piece->first_ms), passed = passed_ms{};\n"
        "    const int64_t apart = (int64_t)reading - piece->first;\n    ++piece->count;\n"
        "    piece->times += passed;\n    piece->squares += passed * passed;\n"
        "    piece->sum += apart;\n    piece->products += passed * apart;\n",
        WholeSlope::kMostCount, shift);
    const auto loop = [&](const std::string& inside) {
        return fmt::format(
            "    for (uint32_t i = 0; i < {0}; ++i) {{\n        const struct {1} *piece = &{2}[({3} + i) % {4}];\n"
            "{5}    }}\n",
            names.held, names.piece, names.pieces, names.oldest, names.count, inside);
    };
    const std::string each = fmt::format(
        "        const int64_t weight = piece->count >> halvings > 0 ? piece->count >> halvings : 1;\n"
        "        const int64_t level = piece->first + {} + {}(piece); /* above the lowest that is taken */\n",
        WholeSlope::kMostReading, names.meanOf);
    const int by = slope.factorShift();
    text.value =
        fmt::format(
            "    /* no slope before a tenth of the window has passed */\n"
            "    if ({0}(&{1}[({2} + {3} - 1) % {4}]) - {0}(&{1}[{2}]) < {5}) return 0;\n"
            "    /* {6}\n       Readings below 2^30, times below 2^16 ticks, weights together below 2^15: no "
            "sum leaves 64 bits. */\n    int64_t count = 0;\n",
            names.timeOf, names.pieces, names.oldest, names.held, names.count, slope.leastTicks(), kLine) +
        loop("        count += piece->count;\n") +
        fmt::format(
            "    int halvings = 0;\n    while (count >> halvings > {}) ++halvings;\n"
            "    int64_t weights = 0, middle = 0, mean = 0;\n",
            WholeSlope::kMostWeights) +
        loop(each + fmt::format("        weights += weight;\n        middle += weight * {}(piece);\n"
                                "        mean += weight * level;\n",
                                names.timeOf)) +
        "    middle /= weights;\n    mean /= weights;\n    int64_t products = 0, squares = 0;\n" +
        loop(each + fmt::format("        const int64_t apart = {}(piece) - middle;\n"
                                "        products += weight * apart * (level - mean);\n"
                                "        squares += weight * apart * apart;\n"
                                "        products += (piece->products - piece->times * {}(piece)) / ((int64_t)1 << "
                                "halvings);\n"
                                "        squares += (piece->squares - piece->times * piece->times / piece->count) >> "
                                "halvings;\n",
                                names.timeOf, names.meanOf)) +
        fmt::format(
            "    uint64_t rise = (uint64_t)(products < 0 ? -products : products), run = (uint64_t)squares;\n"
            "    while (run >> 32 != 0) {{\n        rise >>= 1;\n        run >>= 1;\n    }}\n"
            "    /* steps a tick, times {0} / 2^{1}: steps of the result, an hour */\n"
            "    uint64_t size = (rise / run * {0}u + rise % run * {0}u / run{2}){3};\n"
            "    if (size > {4}) size = {4}; /* beyond the span */\n"
            "    *value = ({5})(products < 0 ? -(int64_t)size : (int64_t)size);\n",
            slope.factor(), by, by > 0 ? fmt::format(" + ((uint64_t)1 << {})", by - 1) : "", shifted(-by),
            WholeSlope::kMostValue, type);
    return text;
}

WholeSlopeText wholeSlopePython(const WholeSlope& slope, const WindowNames& names) {
    WholeSlopeText text;
    const std::string shift = shifted(slope.tickShift());
    text.members =
        "        self.first = first  # its own first reading, from which on the others count\n"
        "        self.count = self.times = self.squares = self.sum = self.products = 0\n";
    text.fresh = ", reading";
    text.functions = fmt::format(
        "def {0}(piece):\n    # Mean time since the window's first reading, {1}.\n"
        "    first_ms = (piece.first_ms - {2}[0].first_ms) & 0x3FFFFFFF\n"
        "    return (first_ms{3}) + piece.times // piece.count\n\n"
        "def {4}(piece):\n    # Mean reading less the first one, rounded.\n"
        "    return (piece.sum + piece.count // 2) // piece.count\n\n",
        names.timeOf, tickText(slope.tickShift()), names.pieces, shift, names.meanOf);
    text.keep = fmt::format(
        "    if piece.count >= {}: return  # as many as the sums hold in C\n"
        "    passed, apart = ((now_ms - piece.first_ms) & 0x3FFFFFFF){}, reading - piece.first\n"
        "    piece.count += 1\n    piece.times += passed\n    piece.squares += passed * passed\n"
        "    piece.sum += apart\n    piece.products += passed * apart\n",
        WholeSlope::kMostCount, shift);
    const std::string each =
        fmt::format("    for piece in {}:\n        weight = max(1, piece.count >> halvings)\n", names.pieces);
    const int by = slope.factorShift();
    text.value = fmt::format(
                     "    # no slope before a tenth of the window has passed\n"
                     "    if {0}({1}[-1]) - {0}({1}[0]) < {2}: return None\n    # {3}\n"
                     "    count = halvings = weights = middle = mean = products = squares = 0\n"
                     "    for piece in {1}: count += piece.count\n    while count >> halvings > {4}: halvings += 1\n",
                     names.timeOf, names.pieces, slope.leastTicks(), kLine, WholeSlope::kMostWeights) +
                 each +
                 fmt::format(
                     "        weights += weight\n        middle += weight * {}(piece)\n"
                     "        mean += weight * (piece.first + {}(piece))\n"
                     "    middle, mean = middle // weights, mean // weights\n",
                     names.timeOf, names.meanOf) +
                 each +
                 fmt::format(
                     "        apart, about = {}(piece) - middle, piece.products - piece.times * {}(piece)\n"
                     "        products += weight * apart * (piece.first + {}(piece) - mean)\n"
                     "        squares += weight * apart * apart\n"
                     "        products += about >> halvings if about >= 0 else -(-about >> halvings)\n"
                     "        squares += (piece.squares - piece.times * piece.times // piece.count) >> "
                     "halvings\n",
                     names.timeOf, names.meanOf, names.meanOf) +
                 fmt::format(
                     "    rise, run = abs(products), squares\n"
                     "    while run >> 32: rise, run = rise >> 1, run >> 1\n"
                     "    # steps a tick, times {0} / 2^{1}: steps of the result, an hour\n"
                     "    size = (rise // run * {0} + rise % run * {0} // run{2}){3}\n"
                     "    size = min(size, {4})  # more is beyond the span\n"
                     "    return -size if products < 0 else size\n",
                     slope.factor(), by, by > 0 ? fmt::format(" + (1 << {})", by - 1) : "", shifted(-by),
                     WholeSlope::kMostValue);
    return text;
}

}  // namespace fg
