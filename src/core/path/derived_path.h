#pragma once

#include "derived/law.h"
#include "derived/running.h"
#include "path/correction.h"
#include "path/signal_path.h"
#include "sensors/family.h"

namespace fg {

/// The path of a gauge without a sensor of its own: its reading follows from those of other gauges, by a law of the
/// room `derived` or over the last while. The gauge file names the law where others name the part; what it takes are
/// parameters of the sensor under the names of the law's inputs, typed or linked. Immutable once built; cheap to copy.
class DerivedPath final : public SignalPath {
  public:
    /// The kind of converter under which such a gauge stands in files.
    static constexpr std::string_view kKind = "derived";
    [[nodiscard]] static bool applies(const GaugeSpec& spec) { return spec.converter.kind == kKind; }

    /// Errors name the field: an unknown law, a quantity or unit that it does not give, a window that is none.
    [[nodiscard]] static Expected<DerivedPath> build(const GaugeSpec& spec);

    /// The reading with the inputs as the gauge holds them; an entry at Reading stands for the value itself (a running
    /// value, which the engine knows). Error: Unsupported for a value put in elsewhere.
    [[nodiscard]] Expected<Evaluation> evaluate(const Entry& entry) const override;
    [[nodiscard]] std::vector<TraceLine> trace(const Evaluation& evaluation) const override;
    [[nodiscard]] std::string stageNote(Stage stage) const override;

    /// Null for a running value.
    [[nodiscard]] const Law* law() const { return m_law; }
    /// Null for a law.
    [[nodiscard]] const RunningKind* running() const { return m_running; }
    [[nodiscard]] double window_s() const { return m_window_s; }
    [[nodiscard]] const Correction& correction() const { return m_correction; }
    /// The inputs as the gauge holds them, in the order of the law; NaN where there is none.
    [[nodiscard]] const std::vector<double>& inputs() const { return m_inputs; }
    /// The corrected reading of a law's inputs: the quick way. NaN outside the law's ranges.
    [[nodiscard]] double readingOf(std::span<const double> inputs) const;
    /// That of a running value.
    [[nodiscard]] double corrected(double value) const { return m_correction.apply(value); }

  private:
    DerivedPath() = default;
    [[nodiscard]] Expected<Derived> value() const;

    const Law* m_law = nullptr;
    const RunningKind* m_running = nullptr;
    double m_window_s = 0;
    Quantity m_quantity = Quantity::Temperature;
    std::string m_shown;  // the inputs in a few words
    std::vector<double> m_inputs;
    std::vector<std::string> m_missing;
    Correction m_correction;
};

/// What a derived gauge takes: one parameter for each input of its law, by the input's name; of a running value the one
/// reading, and the window. Empty for any other gauge.
[[nodiscard]] std::vector<ParameterSpec> derivedParameters(const GaugeSpec& spec);

/// A first gauge for a law or a running kind; nothing where nobody knows it. `of`: the reading of a running value.
[[nodiscard]] std::optional<GaugeSpec> defaultDerivedGauge(std::string_view id, Quantity of = Quantity::Temperature);

}  // namespace fg
