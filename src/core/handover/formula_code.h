// Room `handover`: a gauge as code that runs on a microcontroller, proven over every code before it is shown.
#pragma once

#include "gauge/gauge.h"

#include <cmath>
#include <memory>
#include <optional>

namespace fg {

/// A value that is looked for between two ends: what solve() leaves to be written as an iteration.
struct SolveBracket {
    double low = 0, high = 0;
    bool isRising = true;  ///< of the function whose argument is looked for
};

/// Which raw codes are converted, and which give a status instead.
struct CodeRange {
    std::int64_t min = 0, max = 0;     ///< of the converter: either is only a limit
    std::int64_t first = 0, last = 0;  ///< beyond these the value would be outside what the code was made for
    [[nodiscard]] std::int64_t size() const { return last - first + 1; }
    /// Codes that are no limits and give a status all the same.
    [[nodiscard]] std::int64_t beyond() const { return max - min - 1 - size(); }
};

/// Where what each Solve of a formula looks for lies, from recordings of the same formula at many places.
class SolveLooks {
  public:
    /// Takes in one recording; false where the formula solves for nothing.
    bool look(const Recording& recording, std::int32_t root);
    /// Of the Solve with this number, counted in the order of the recording; nothing where its side was never taken.
    [[nodiscard]] std::optional<SolveBracket> bracket(std::size_t number) const;
    /// Of what was seen, added on both sides of a bracket: at least what lies between two looks.
    double margin = 1e-4;

  private:
    struct Solved {
        double low = HUGE_VAL, high = -HUGE_VAL;
        double lowLeft = 0, highLeft = 0;  ///< the function at either end
    };
    std::vector<Solved> m_solved;
};

/// How often an iteration halves its bracket: as far as the number type can tell.
template <class Real>
inline constexpr int kHalvings = sizeof(Real) == 4 ? 26 : 54;

/// The expression of a gauge as it was recorded, with what a writer and a runner need besides.
class FormulaCode {
  public:
    /// The reading in `unit` of an analog gauge's code, over the span and whatever more its part is specified for.
    /// Errors: Unsupported where a function is known by its values alone (a formula that somebody typed); those of
    /// codeRangeOf().
    [[nodiscard]] static Expected<FormulaCode> make(const AnalogPath& path, const GaugeSpec& spec, const Unit& unit);

    /// The expression at a node of a recording, `unit` applied: of a digital part's formula, or a law. `looks`: where
    /// what it solves for lies; null: it solves for nothing. Errors: Unsupported for what is known by its values alone,
    /// or solved without looks.
    [[nodiscard]] static Expected<FormulaCode> ofRecording(std::shared_ptr<Recording> recording, std::int32_t root,
                                                           const Unit& unit, const SolveLooks* looks = nullptr);

    /// The expression at a node of a recording as it stands there, of plain steps.
    [[nodiscard]] static FormulaCode ofExpression(std::shared_ptr<Recording> recording, std::int32_t root);

    [[nodiscard]] const Recording& recording() const { return *m_recording; }
    [[nodiscard]] std::int32_t root() const { return m_root; }
    [[nodiscard]] const Node& at(std::int32_t index) const { return m_recording->at(index); }
    [[nodiscard]] const SolveBracket& bracketOf(std::int32_t solve) const;
    /// Does a node rest on what a Solve looks for, or on the argument of a Call?
    [[nodiscard]] bool isInside(std::int32_t index) const { return m_isInside[static_cast<std::size_t>(index)]; }
    /// How often a node is an operand of those that the result rests on.
    [[nodiscard]] int usesOf(std::int32_t index) const { return m_uses[static_cast<std::size_t>(index)]; }
    [[nodiscard]] const CodeRange& range() const { return m_range; }
    /// Operations of one conversion, at most; what a Solve repeats is counted for each of its halvings.
    [[nodiscard]] int operations(int halvings = kHalvings<double>) const {
        return m_operations + halvings * m_repeated;
    }

  private:
    FormulaCode() = default;
    void look();
    void putBrackets(const SolveLooks& looks);

    std::shared_ptr<Recording> m_recording;
    std::int32_t m_root = -1;
    std::vector<std::pair<std::int32_t, SolveBracket>> m_brackets;
    std::vector<bool> m_isInside;
    std::vector<int> m_uses;
    CodeRange m_range;
    int m_operations = 0, m_repeated = 0;
};

/// The codes strictly inside the converter's range whose readings lie in `limits` (canonical). Errors: Domain where
/// there is none.
[[nodiscard]] Expected<CodeRange> codeRangeOf(const AnalogPath& path, Interval limits);

}  // namespace fg
