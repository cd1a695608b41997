// Room `sizing`: the solvers. Each takes the constraint in the maker's words, works in the worst case of tolerances,
// and returns standard values ranked, with what each costs.
#pragma once

#include "sensors/family.h"
#include "wiring/preferred_values.h"

#include <span>
#include <string>
#include <utility>
#include <vector>

namespace fg {

/// Named numbers in a fixed order; names end in their unit ("load_ohm").
using NamedValues = std::vector<std::pair<std::string, double>>;

/// One way to do it.
struct SizingOption {
    NamedValues values;   ///< what to take: standard values
    NamedValues nominal;  ///< what it gives with everything nominal
    NamedValues worst;    ///< the same at the unfavourable end of every tolerance
    std::string why;      ///< the reasons and what it costs, one sentence
    bool fits = true;     ///< false: breaks a wish that was not a must; ranked after all that fit
    double merit = 0;     ///< larger is better; for ranking only
};

/// A solver that works from plain numbers (the divider of a resistive sensor works from a gauge: sensor_divider.h).
struct Solver {
    std::string_view id;                     ///< "divider", as in `fgauge size divider`
    std::string_view title;                  ///< on screen
    std::string_view purpose;                ///< one sentence in the maker's words
    std::vector<ParameterSpec> (*inputs)();  ///< what it asks; those with a default may be left out
    Expected<std::vector<SizingOption>> (*solve)(const Parameters& inputs, Series series);
};

[[nodiscard]] std::span<const Solver> solvers();
[[nodiscard]] const Solver* findSolver(std::string_view id);

/// Runs a solver: fills in defaults, refuses missing, unknown and impossible inputs (naming them), ranks (those that
/// fit first, then by merit) and keeps the first `most`. No option at all is an Unsolvable error that says which
/// constraint excludes them.
[[nodiscard]] Expected<std::vector<SizingOption>> solve(const Solver& solver, const Parameters& inputs, Series series,
                                                        std::size_t most);

}  // namespace fg
