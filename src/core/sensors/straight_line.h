#pragma once

#include "numeric/straight_formula.h"
#include "units/error.h"

namespace fg {

// The terms of straight lines, y = offset + slope · x (numeric/straight_formula.h): what slope and offset are made of.
// Units: x in the measurand's canonical unit, y in the output's; slopes in y per x. Source: the "transfer function" or
// "output voltage scaling" table of the part's data sheet; the part file names it.

/// What the formula below knows besides numbers.
struct LinearFixed : StraightFixed {
    Symbol slope, offset;
    bool isRatiometric = false;
};

/// Slope and offset as stated; of a part that follows its supply both times actual over stated supply.
template <class N>
struct LinearTerms {
    N slopeStated{}, offsetStated{}, supply{}, statedAt{};
    LinearFixed fixed{};

    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        visit(self.fixed.slope, self.slopeStated);
        visit(self.fixed.offset, self.offsetStated);
        visit(Symbol{"source_V", "Us", "V"}, self.supply);
        visit(Symbol{"ratiometric_at_V", "Un", "V"}, self.statedAt);
    }
    [[nodiscard]] N slope() const {
        return fixed.isRatiometric ? step("s", fixed.slope.unit, kSupply, slopeStated * (supply / statedAt))
                                   : slopeStated;
    }
    [[nodiscard]] N offset() const {
        return fixed.isRatiometric ? step("y0", fixed.offset.unit, kSupply, offsetStated * (supply / statedAt))
                                   : offsetStated;
    }
    [[nodiscard]] bool hasOffset() const { return true; }
    [[nodiscard]] std::string title() const { return "Straight line"; }

  private:
    static constexpr std::string_view kSupply = "follows its supply: times actual over stated supply";
};

/// What the formula below knows besides numbers.
struct TwoPointFixed : StraightFixed {
    std::string_view x1Id, x2Id;  ///< where the ends are parameters of their own
    std::string_view slopeUnit;
    std::string_view title = "Straight line";
};

/// Through two points (x1, y1), (x2, y2).
template <class N>
struct TwoPointTerms {
    N x1{}, y1{}, x2{}, y2{};
    TwoPointFixed fixed{};

    template <class Self, class Visit>
    static void each(Self& self, Visit visit) {
        const auto& [argument, result, range, source] = static_cast<const StraightFixed&>(self.fixed);
        visit(Symbol{self.fixed.x1Id, "x1", argument.unit}, self.x1);
        visit(Symbol{"", "y1", result.unit}, self.y1);
        visit(Symbol{self.fixed.x2Id, "x2", argument.unit}, self.x2);
        visit(Symbol{"", "y2", result.unit}, self.y2);
    }
    [[nodiscard]] N slope() const {
        return step("s", fixed.slopeUnit, "slope through both points", (y2 - y1) / (x2 - x1));
    }
    [[nodiscard]] N offset() const { return aside("y0", fixed.result.unit, y1 - slope() * x1); }
    [[nodiscard]] bool hasOffset() const { return true; }
    [[nodiscard]] std::string title() const { return std::string(fixed.title); }
};

using LineThroughPoints = Straight<TwoPointTerms>::Formula<double>;

/// Two points on the straight line through several: the points themselves where there are two, else both ends of the
/// least-squares line of y. Errors: those of leastSquares(), at `field`.
[[nodiscard]] Expected<std::array<std::array<double, 2>, 2>> endsOfLine(std::span<const std::array<double, 2>> points,
                                                                        const std::string& field);

/// Errors: Range at `field` when both points have the same x or the same y.
[[nodiscard]] Expected<LineThroughPoints> lineThroughPoints(std::array<double, 2> first, std::array<double, 2> second,
                                                            Quantity measurand, Quantity output, Interval range,
                                                            const std::string& field);

/// Refuses a slope of zero and what is not finite, naming the parameters.
template <class Line>
[[nodiscard]] Expected<Line> checkedLine(Line line, const std::string& slopeField, const std::string& offsetField) {
    if (const double slope = line.slope(); !std::isfinite(slope) || slope == 0)
        return fail(ErrorCode::Range, slopeField, std::isfinite(slope) ? "0" : "a slope that is not finite",
                    "a slope that is not zero");
    if (!std::isfinite(line.offset()))
        return fail(ErrorCode::Range, offsetField, "a value that is not finite", "a finite value");
    return line;
}

}  // namespace fg
