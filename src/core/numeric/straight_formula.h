#pragma once

#include "numeric/formula_transfer.h"

namespace fg {

/// y = offset + slope · x, where slope and offset are formulas of the part's or the network's own parameters.
///
/// `Terms<N>` has each(), fixed (with `quantity` and `output`, and `source` for the trace), slope(), offset(),
/// hasOffset(), range() and title(). Units: x in the canonical unit of `quantity`, y in that of `output`.
template <template <class> class Terms>
struct Straight {
    template <class N>
    struct Formula : Terms<N> {
        [[nodiscard]] N forward(const N& x) const {
            const auto [id, name, unit] = result();
            if (!this->hasOffset()) return step(name, unit, this->fixed.source, this->slope() * x);
            return step(name, unit, this->fixed.source, this->offset() + this->slope() * x);
        }
        [[nodiscard]] N inverse(const N& y) const {
            const auto [id, name, unit] = argument();
            if (!this->hasOffset()) return step(name, unit, this->fixed.source, y / this->slope());
            return step(name, unit, this->fixed.source, (y - this->offset()) / this->slope());
        }
        [[nodiscard]] StraightInverse straightInverse() const requires std::is_same_v<N, double> {
            return {this->hasOffset() ? this->offset() : 0, this->slope()};
        }
        [[nodiscard]] bool isRising() const { return nominal(this->slope()) > 0; }
        [[nodiscard]] Symbol argument() const { return this->fixed.argument; }
        [[nodiscard]] Symbol result() const { return this->fixed.result; }
        [[nodiscard]] Interval range() const { return this->fixed.range; }
    };
};

/// What the terms of a straight line know besides numbers.
struct StraightFixed {
    Symbol argument, result;
    Interval range;
    std::string_view source;
};

}  // namespace fg
