// Room `gauge`: one measuring chain, made once from its description: the same door for analog sensors, digital parts,
// values that follow from other gauges, and readings that the board works out itself.
#pragma once

#include "findings/finding.h"
#include "path/analog_path.h"
#include "path/derived_path.h"
#include "path/digital_path.h"
#include "path/said_path.h"
#include "uncertainty/budget.h"

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

namespace fg {

/// A gauge that can answer. `catalogue` must outlive it.
class Gauge {
  public:
    /// Errors: those of the build() of its kind of path.
    [[nodiscard]] static Expected<Gauge> make(GaugeSpec spec, const Catalogue& catalogue);

    [[nodiscard]] const GaugeSpec& spec() const { return m_spec; }
    [[nodiscard]] const Unit& unit() const { return m_spec.readingUnit(); }
    [[nodiscard]] const SignalPath& path() const;
    /// Null for gauges of another kind.
    [[nodiscard]] const AnalogPath* analog() const { return std::get_if<AnalogPath>(&m_path); }
    [[nodiscard]] const DigitalPath* digital() const { return std::get_if<DigitalPath>(&m_path); }
    [[nodiscard]] const DerivedPath* derived() const { return std::get_if<DerivedPath>(&m_path); }
    [[nodiscard]] const SaidPath* said() const { return std::get_if<SaidPath>(&m_path); }

    /// What of the gauge nobody has given yet; then it has no reading. See path/examples.h.
    [[nodiscard]] std::optional<Error> missing() const;

    /// What arrived, as text: a count, a word, two registers (see readRawWord()), or the bytes of a digital part
    /// (readDump(); of single-bus parts pulse lengths too). Errors name what does not fit; Missing where a part needs
    /// coefficients that neither gauge nor bytes bring.
    [[nodiscard]] Expected<Entry> entryOfRaw(std::string_view text) const;
    /// A value typed at a stage, in that stage's unit or the reading's.
    [[nodiscard]] Expected<Entry> entryAt(Stage stage, std::string_view text) const;
    /// What a value at that stage is.
    [[nodiscard]] Quantity quantityAt(Stage stage) const;

    [[nodiscard]] Expected<Evaluation> evaluate(const Entry& entry) const { return path().evaluate(entry); }
    /// What one raw value says and no more: a count or word, or a frame of bytes. The quick way: nothing is explained.
    /// NaN for what the converter or the part cannot have sent.
    [[nodiscard]] Reading read(double word) const;
    [[nodiscard]] Reading read(std::span<const std::uint8_t> frame) const;
    /// The same over a batch of words; as many readings as words.
    void read(std::span<const double> words, std::span<Reading> readings) const;
    /// The entry that a raw value of a board is, for evaluate(). Errors: those of codeOfWord() and blocksOfFrame().
    [[nodiscard]] Expected<Entry> entryOf(double word) const;
    [[nodiscard]] Expected<Entry> entryOf(std::span<const std::uint8_t> frame) const;
    [[nodiscard]] const Catalogue& catalogue() const { return *m_catalogue; }

    /// The steps behind an evaluation.
    [[nodiscard]] std::vector<TraceLine> trace(const Evaluation& evaluation) const { return path().trace(evaluation); }

    /// The budget behind an evaluation; nothing for a limit, for no value, or where the path has none.
    [[nodiscard]] std::optional<Budget> budgetOf(const Evaluation& evaluation) const;
    [[nodiscard]] Expected<Budget> budgetAt(double world) const;
    [[nodiscard]] std::vector<Finding> findings(const Evaluation* now, const Budget* budget,
                                                const MonteCarlo* run = nullptr) const;

  private:
    using Path = std::variant<AnalogPath, DigitalPath, DerivedPath, SaidPath>;
    Gauge(GaugeSpec spec, const Catalogue& catalogue, Path path)
        : m_spec(std::move(spec)), m_catalogue(&catalogue), m_path(std::move(path)) {}

    GaugeSpec m_spec;
    const Catalogue* m_catalogue;
    Path m_path;
};

}  // namespace fg
