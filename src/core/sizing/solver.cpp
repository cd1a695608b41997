#include "sizing/solver.h"

#include "sizing/solver_rows.h"

#include <algorithm>
#include <array>

namespace fg {
namespace {

/// Every input there, known, finite, and not negative: no solver here takes a negative number but a signal's voltage.
Expected<Parameters> complete(const Solver& solver, const Parameters& given) {
    Parameters inputs;
    const std::vector<ParameterSpec> specs = solver.inputs();
    std::string names;
    for (const ParameterSpec& spec : specs) {
        names += (names.empty() ? "" : ", ") + spec.id;
        const auto value = given.has(spec.id) ? given.requireNumber(spec.id)
                                              : (spec.defaultValue ? Expected<double>(*spec.defaultValue)
                                                                   : given.requireNumber(spec.id));
        if (!value) return tl::unexpected(value.error());
        const bool mayBeNegative = spec.id.starts_with("signal_");
        if (!std::isfinite(*value) || (*value < 0 && !mayBeNegative))
            return fail(ErrorCode::Range, spec.id, plainNumber(*value), spec.label + ", 0 or above");
        if (spec.id.ends_with("tolerance") && *value >= 1)
            return fail(ErrorCode::Range, spec.id, plainNumber(*value), "a relative tolerance below 1 (0.01 is 1 %)");
        if (spec.id == "bits" && (*value < 1 || *value > 32 || *value != std::floor(*value)))
            return fail(ErrorCode::Range, spec.id, plainNumber(*value), "a whole number of bits, 1 to 32");
        inputs.set(spec.id, *value);
    }
    for (const auto& [name, value] : given.all())
        if (!inputs.has(name))
            return fail(ErrorCode::Unknown, name, "an input that is not known here", "one of " + names);
    return inputs;
}

}  // namespace

std::span<const Solver> solvers() {
    using namespace solving;
    static const std::array all{kDivider,  kLoad,         kPulseLoad, kShunt,  kReference, kZener,
                                kRcFilter, kOversampling, kRcClock,   kBridge, kProtection};
    return all;
}

const Solver* findSolver(std::string_view id) {
    for (const Solver& solver : solvers())
        if (solver.id == id) return &solver;
    return nullptr;
}

Expected<std::vector<SizingOption>> solve(const Solver& solver, const Parameters& inputs, Series series,
                                          std::size_t most) {
    const auto filled = complete(solver, inputs);
    if (!filled) return tl::unexpected(filled.error());
    auto options = solver.solve(*filled, series);
    if (!options) return options;
    std::stable_sort(options->begin(), options->end(), [](const SizingOption& a, const SizingOption& b) {
        return a.fits != b.fits ? a.fits : a.merit > b.merit;
    });
    if (options->size() > most) options->resize(most);
    return options;
}

}  // namespace fg
