#pragma once

#include "path/correction.h"
#include "path/signal_path.h"
#include "sensors/family.h"

namespace fg {

/// The path of a gauge that takes what the board has worked out itself: its channel brings readings, not raw values.
/// Between the word and the reading stands its unit and a correction. Immutable once built; cheap to copy.
class SaidPath final : public SignalPath {
  public:
    /// The kind of converter under which such a gauge stands in files, and the name in the place of a part.
    static constexpr std::string_view kKind = "said";
    static constexpr std::string_view kPart = "reading-of-the-board";
    [[nodiscard]] static bool applies(const GaugeSpec& spec) { return spec.converter.kind == kKind; }

    /// Errors name the field: a unit ("converter.unit") that the quantity does not have.
    [[nodiscard]] static Expected<SaidPath> build(const GaugeSpec& spec);

    /// An entry at Converter is the number as the board writes it; elsewhere a reading.
    [[nodiscard]] Expected<Evaluation> evaluate(const Entry& entry) const override;
    [[nodiscard]] std::vector<TraceLine> trace(const Evaluation& evaluation) const override;
    [[nodiscard]] std::string stageNote(Stage stage) const override;

    /// The corrected reading of a number as the board writes it: the quick way.
    [[nodiscard]] double readingOf(double word) const { return m_correction.apply(m_unit->toCanonical(word)); }
    [[nodiscard]] const Correction& correction() const { return m_correction; }
    /// In which the board writes.
    [[nodiscard]] const Unit& unit() const { return *m_unit; }

  private:
    SaidPath() = default;
    const Unit* m_unit = nullptr;
    Quantity m_quantity = Quantity::Temperature;
    Correction m_correction;
};

/// What such a gauge can say of itself: how accurate the board's reading is ("accuracy", ± canonical).
[[nodiscard]] std::vector<ParameterSpec> saidParameters(Quantity quantity);

/// A first gauge for a channel that brings readings in `unit`.
[[nodiscard]] GaugeSpec defaultSaidGauge(const std::string& channel, const Unit& unit);

}  // namespace fg
