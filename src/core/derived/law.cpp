#include "derived/law.h"

#include "derived/law_rows.h"
#include "units/number_format.h"
#include "units/unit.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {

const std::vector<const Law*>& laws() {
    static const std::vector<const Law*> all = [] {
        std::vector<const Law*> list;
        for (auto* rows : {&humidityLaws, &comfortLaws, &atmosphereLaws, &waterLaws, &saltLaws}) {
            const auto some = (*rows)();
            list.insert(list.end(), some.begin(), some.end());
        }
        return list;
    }();
    return all;
}

const Law* findLaw(std::string_view id) {
    const auto it = std::find_if(laws().begin(), laws().end(), [&](const Law* law) { return law->id() == id; });
    return it == laws().end() ? nullptr : *it;
}

Expected<Derived> derive(const Law& law, std::span<const LawValue> values,
                         const std::vector<std::vector<double>>& correlation) {
    const auto inputs = law.inputs();
    if (values.size() != inputs.size())
        return fail(ErrorCode::Missing, std::string(law.id()), fmt::format("{} values", values.size()),
                    fmt::format("{}", inputs.size()));
    std::vector<double> plain;
    for (std::size_t i = 0; i < inputs.size(); ++i) {
        const LawInput& input = inputs[i];
        const double value = values[i].value;
        if (!(value >= input.range.low && value <= input.range.high)) {
            const std::string unit(input.unit.empty() ? canonicalUnit(input.quantity).symbol : input.unit);
            return fail(ErrorCode::Range, std::string(input.name), plainNumber(value, 8) + " " + unit,
                        fmt::format("{} … {} {}, where the formula holds", plainNumber(input.range.low, 6),
                                    plainNumber(input.range.high, 6), unit));
        }
        plain.push_back(value);
    }
    Derived out;
    out.value = law.value(plain);
    if (!std::isfinite(out.value))
        return fail(ErrorCode::Domain, std::string(law.id()), "values for which the formula has no result",
                    "values that can stand together");
    for (std::size_t i = 0; i < inputs.size(); ++i) {
        std::vector<Dual> moved(plain.begin(), plain.end());
        moved[i].slope = 1;
        out.slopes.push_back(law.value(moved).slope);
    }
    double squares = std::pow(law.expanded() / 2, 2);
    for (std::size_t i = 0; i < inputs.size(); ++i)
        for (std::size_t j = 0; j < inputs.size(); ++j) {
            const double r = i == j ? 1 : correlation.empty() ? 0 : correlation[i][j];
            squares += out.slopes[i] * out.slopes[j] * values[i].u * values[j].u * r;
        }
    out.u = std::sqrt(std::max(0.0, squares));
    Recording recording;
    std::vector<Recorded> leaves;
    for (std::size_t i = 0; i < inputs.size(); ++i)
        leaves.push_back(Recorded::leaf(recording, Op::Input, inputs[i].symbol,
                                        inputs[i].unit.empty() ? canonicalUnit(inputs[i].quantity).id : inputs[i].unit,
                                        plain[i]));
    out.trace = linesOf(law.value(leaves));
    return out;
}

}  // namespace fg
