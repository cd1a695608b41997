#pragma once

#include "catalogue/catalogue.h"
#include "devices/frame_layout.h"
#include "path/correction.h"
#include "path/signal_path.h"

namespace fg {

/// Everything the device said behind an evaluation.
struct DeviceAnswer {
    RawData raw;
    Decoded decoded;
    std::string reading;  ///< which of the readings the gauge takes
};

/// What the registers of a digital gauge's part are set to, field by field: its parameter "settings"
/// ("osrs_t=x2,mode=normal") and those options that are registers too, over the values after power-on. Empty where the
/// gauge says nothing of them. Errors name sensor.parameters.settings. The fields belong to the catalogue.
[[nodiscard]] Expected<std::vector<FieldValue>> settingsOf(const GaugeSpec& spec, const Catalogue& catalogue);

/// The same as the words that are written, of those registers alone that the gauge says something of.
[[nodiscard]] Expected<std::vector<RegisterWord>> settingWordsOf(const GaugeSpec& spec, const Catalogue& catalogue);

/// The signal path of a digital part: world → what the part senses → bus → bytes → compensated → corrected → reading.
///
/// The Converter stage holds bytes (StageValue::text; Entry::raw); a value put in elsewhere is turned into the bytes
/// with which the part would say it (encode()), and from those back into what a program reads. Calibration blocks come
/// with the gauge ("calibration" of its sensor, a dump), with the bytes themselves, or are those of the decoder's
/// specimen. Immutable once built; cheap to copy.
class DigitalPath final : public SignalPath {
  public:
    /// Is this gauge's part a digital one?
    [[nodiscard]] static bool applies(const GaugeSpec& spec, const Catalogue& catalogue) {
        return catalogue.findDevicePart(spec.sensor.part) != nullptr;
    }

    /// Errors name the field: an unknown option, a reading the part does not give, a calibration that cannot be read,
    /// an address it cannot have.
    [[nodiscard]] static Expected<DigitalPath> build(const GaugeSpec& spec, const Catalogue& catalogue);

    [[nodiscard]] Expected<Evaluation> evaluate(const Entry& entry) const override;
    [[nodiscard]] std::vector<TraceLine> trace(const Evaluation& evaluation) const override;
    [[nodiscard]] std::string stageNote(Stage stage) const override;

    /// The reading of a live frame, without lines and stages: the quick way of evaluate(). NaN for bytes that the part
    /// cannot have sent.
    [[nodiscard]] Reading readingOf(std::span<const std::uint8_t> frame) const;

    /// The gauge's calibration blocks under freshly read ones.
    [[nodiscard]] RawData withCalibration(const RawData& read) const;
    /// A live frame cut into blocks; see FrameLayout.
    [[nodiscard]] Expected<RawData> blocksOf(std::span<const std::uint8_t> frame) const { return m_frame.cut(frame); }

    [[nodiscard]] const DevicePart& part() const { return *m_part; }
    [[nodiscard]] const DeviceOptions& options() const { return m_options; }
    [[nodiscard]] const std::string& reading() const { return m_reading; }
    [[nodiscard]] std::optional<unsigned> address() const { return m_address; }
    /// The eight-byte code of the gauge's own probe on a 1-wire line ("wiring.rom"); empty where it is not given.
    [[nodiscard]] const std::vector<std::uint8_t>& rom() const { return m_rom; }
    /// Does the gauge bring the calibration of its own specimen?
    [[nodiscard]] bool hasOwnCalibration() const { return m_hasOwnCalibration; }
    [[nodiscard]] const Correction& correction() const { return m_correction; }
    [[nodiscard]] Quantity quantity() const { return m_quantity; }
    /// As settingsOf() has them; empty where the gauge says nothing.
    [[nodiscard]] const std::vector<FieldValue>& settings() const { return m_settings; }

  private:
    DigitalPath() = default;
    [[nodiscard]] Expected<Evaluation> fromRaw(const Entry& entry, const RawData& raw) const;

    std::shared_ptr<const DevicePart> m_part;
    DeviceOptions m_options, m_quietOptions;
    std::string m_reading;
    Quantity m_quantity = Quantity::Temperature;
    RawData m_calibration;
    FrameLayout m_frame;
    bool m_hasOwnCalibration = false;
    std::vector<FieldValue> m_settings;
    std::optional<unsigned> m_address;
    std::vector<std::uint8_t> m_rom;
    Correction m_correction;
};

/// A sensible first gauge for one reading of a digital part.
[[nodiscard]] GaugeSpec defaultDeviceGauge(const DevicePart& part, const std::string& reading);

}  // namespace fg
