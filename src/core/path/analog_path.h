#pragma once

#include "catalogue/catalogue.h"
#include "path/correction.h"
#include "path/self_heating.h"
#include "path/signal_path.h"

#include <memory>
#include <span>

namespace fg {

/// The gauge's converter parameters over those of its catalogue part; its own alone when it has none.
[[nodiscard]] Parameters effectiveConverter(const GaugeSpec& spec, const Catalogue& catalogue);

/// The signal path of an analog sensor:  measurand → signal → pin voltage → code → measurand → corrected → reading.
///
/// The correction is taken as a property of this sensor: it stands between the world and the formula in both
/// directions, so that a reading and the world value shown for it agree. Immutable once built; cheap to copy.
class AnalogPath final : public SignalPath {
  public:
    /// Builds every stage of the gauge; the first thing that does not fit is the error, with its field.
    [[nodiscard]] static Expected<AnalogPath> build(const GaugeSpec& spec, const Catalogue& catalogue);

    [[nodiscard]] Expected<Evaluation> evaluate(const Entry& entry) const override;
    [[nodiscard]] std::vector<TraceLine> trace(const Evaluation& evaluation) const override;
    [[nodiscard]] std::string stageNote(Stage stage) const override;

    /// Measurand to exact (unrounded, unlimited) code. Canonical in.
    [[nodiscard]] double exactCode(double world) const;

    /// Code (whole or a mean) to the corrected reading, canonical; NaN where the formula has none. Ignores clipping.
    [[nodiscard]] double reading(double code) const;

    /// reading() recorded, `code` its input: the expression from which code is written.
    [[nodiscard]] Recorded recordReading(Recording& in, double code) const;

    /// reading() over a batch: codes in, as many readings out. Bit-equal to reading() of each. The two may be one and
    /// the same span of doubles.
    void readings(std::span<const double> codes, std::span<double> out) const;
    void readings(std::span<const std::int32_t> codes, std::span<double> out) const;
    void readings(std::span<const std::uint16_t> codes, std::span<double> out) const;

    /// reading() of every code the converter can give, index = code − converter().minCode(). Only for converters of at
    /// most 16 bits: empty beyond.
    [[nodiscard]] std::vector<double> table() const;

    /// The whole codes just below and just above the exact code of a wanted reading, those the converter can give; for
    /// thresholds.
    [[nodiscard]] std::vector<CodeReading> neighbourCodes(double wantedReading) const;

    /// Codes per canonical unit of the measurand at `world` (absolute value): how finely the converter sees.
    [[nodiscard]] double countsPerUnit(double world) const;

    /// Does the reading rise with the code?
    [[nodiscard]] bool isRising() const { return m_wiring->isRising() == m_sensor->isRising(); }

    [[nodiscard]] const Transfer& sensor() const { return *m_sensor; }
    [[nodiscard]] const Transfer& wiring() const { return *m_wiring; }
    [[nodiscard]] const Converter& converter() const { return *m_converter; }
    /// Noise of the converter at its input, rms, in the input's unit; 0 where it is not given.
    [[nodiscard]] double converterNoise() const { return m_converterNoise; }
    [[nodiscard]] const Correction& correction() const { return m_correction; }
    /// How far the sensor's own current warms it; corrected in every reading where the dissipation constant is known.
    [[nodiscard]] const HeatModel& heat() const { return m_heat; }
    /// The signal that the sensor gives at a value of the measurand after the correction (canonical).
    [[nodiscard]] double signalAt(double world) const { return m_sensor->forward(settled(world)); }
    /// What the sensor itself comes to in `world`: before the correction, warmed by its own current.
    [[nodiscard]] double settled(double world) const { return warm(m_correction.undo(world)); }
    [[nodiscard]] const Part& part() const { return *m_part; }
    /// What feeds the sensor and its network; 0 when nobody said and it does not follow from the converter.
    [[nodiscard]] double source_V() const { return m_source_V; }
    [[nodiscard]] bool isRatiometric() const { return m_isRatiometric; }
    [[nodiscard]] Quantity quantity() const { return m_quantity; }
    [[nodiscard]] Quantity signalQuantity() const { return m_signal; }

  private:
    AnalogPath() = default;
    template <class Number>
    void run(std::span<const Number> codes, std::span<double> out) const;
    void fillUpstream(Evaluation& evaluation, double formulaValue) const;
    void fillDownstream(Evaluation& evaluation, double code, double exactCode) const;
    /// The measurand from the sensor's signal, and the signal from the measurand: the part's formula and the sensor's
    /// own warmth.
    [[nodiscard]] double measurandOf(double signal) const { return m_sensor->inverse(signal) - m_heat.rise_K(signal); }
    [[nodiscard]] double signalOf(double measurand) const { return m_sensor->forward(warm(measurand)); }
    [[nodiscard]] double warm(double measurand) const {
        return m_heat.settledAt(measurand, [this](double t) { return m_sensor->forward(t); });
    }
    [[nodiscard]] double formulaOfVoltage(double pin_V) const { return measurandOf(m_wiring->inverse(pin_V)); }

    Quantity m_quantity = Quantity::Temperature;
    Quantity m_signal = Quantity::Voltage;
    std::shared_ptr<const Part> m_part;
    std::shared_ptr<const Transfer> m_sensor;
    std::shared_ptr<const Transfer> m_wiring;
    std::optional<Converter> m_converter;
    double m_converterNoise = 0;
    Correction m_correction;
    HeatModel m_heat;
    double m_source_V = 0;
    bool m_isRatiometric = false;
    std::string m_sensorNote;
    std::string m_wiringNote;
};

}  // namespace fg
