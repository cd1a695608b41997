// Room `gauge`: one measuring chain, made once from its description: the same door for analog sensors and digital
// parts.
#pragma once

#include "findings/finding.h"
#include "path/analog_path.h"
#include "path/digital_path.h"
#include "uncertainty/budget.h"

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace fg {

/// A gauge that can answer. `catalogue` must outlive it.
class Gauge {
  public:
    /// Errors: those of AnalogPath::build() and DigitalPath::build().
    [[nodiscard]] static Expected<Gauge> make(GaugeSpec spec, const Catalogue& catalogue);

    [[nodiscard]] const GaugeSpec& spec() const { return m_spec; }
    [[nodiscard]] const Unit& unit() const { return m_spec.readingUnit(); }
    [[nodiscard]] const SignalPath& path() const;
    /// Null for the other kind.
    [[nodiscard]] const AnalogPath* analog() const { return m_analog ? &*m_analog : nullptr; }
    [[nodiscard]] const DigitalPath* digital() const { return m_digital ? &*m_digital : nullptr; }

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
    /// The same over a batch of words of an analog gauge; as many readings as words.
    void read(std::span<const double> words, std::span<Reading> readings) const;
    /// The entry that a raw value of a board is, for evaluate(). Errors: those of codeOfWord() and blocksOfFrame().
    [[nodiscard]] Expected<Entry> entryOf(double word) const;
    [[nodiscard]] Expected<Entry> entryOf(std::span<const std::uint8_t> frame) const;
    /// The steps behind an evaluation.
    [[nodiscard]] std::vector<TraceLine> trace(const Evaluation& evaluation) const { return path().trace(evaluation); }

    /// The budget behind an evaluation; nothing for a limit, for no value, or where the path has none.
    [[nodiscard]] std::optional<Budget> budgetOf(const Evaluation& evaluation) const;
    [[nodiscard]] Expected<Budget> budgetAt(double world) const;
    [[nodiscard]] std::vector<Finding> findings(const Evaluation* now, const Budget* budget) const;

  private:
    Gauge(GaugeSpec spec, const Catalogue& catalogue) : m_spec(std::move(spec)), m_catalogue(&catalogue) {}

    GaugeSpec m_spec;
    const Catalogue* m_catalogue;
    std::optional<AnalogPath> m_analog;
    std::optional<DigitalPath> m_digital;
};

}  // namespace fg
