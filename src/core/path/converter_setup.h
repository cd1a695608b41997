#pragma once

#include "catalogue/catalogue.h"
#include "path/gauge_spec.h"
#include "timing/consequences.h"

namespace fg {

/// A choice of a set-up word that makes of the converter something else than what the gauge counts with.
struct SetupMismatch {
    const RegisterField* field = nullptr;
    std::string id;  ///< the fact: "reference_kind", "reference_V", "full_scale_V", "full_scale_part", "bits", "gain",
                     ///< "polarity", "word"
    std::string text;  ///< "Reference is avcc: it selects the supply as reference; the gauge counts with 1.1 V inside"
};

/// The settings with which a converter counts as the gauge does.
struct ConverterSetup {
    std::vector<Setting> settings;
    std::vector<std::string> impossible;  ///< what no choice gives: "no choice of Reference gives 2.5 V"
};

/// Maps whose words set up this gauge's converter: those of its own designation, or of the controllers it is part of.
[[nodiscard]] std::vector<const RegisterMap*> setupMaps(const Catalogue& catalogue, const GaugeSpec& spec);

/// The map that the gauge names (converter.setup_part); null when it names none that fits.
[[nodiscard]] const RegisterMap* setupMapOf(const Catalogue& catalogue, const GaugeSpec& spec);

/// What a map's choices must be for this gauge: its reference, full scale, bits, gain, polarity, justification, and
/// with the controller's clock (converter.setup_clock_Hz) the prescaler. Facts that the map does not choose are left
/// alone, as are fields that do not bear on the number, like the channel.
[[nodiscard]] ConverterSetup setupFor(const RegisterMap& map, const GaugeSpec& spec, const Catalogue& catalogue);

/// The gauge's settings with those of setupFor() put in, as one text: "reference=avcc,prescaler=128".
[[nodiscard]] std::string settingsAsCounted(const RegisterMap& map, const GaugeSpec& spec, const Catalogue& catalogue);

/// Where the words make of the converter something else than what the gauge counts with. Registers that are not among
/// them are as after power-on. Numbers agree within 3 %: a reference is named by its nominal value.
[[nodiscard]] std::vector<SetupMismatch> checkSetup(const RegisterMap& map, std::span<const RegisterWord> words,
                                                    const GaugeSpec& spec, const Catalogue& catalogue);

/// What follows from the words and the controller's clock: the converter's clock, the time of one conversion.
struct SetupTiming {
    std::vector<Consequence> consequences;
    std::string problem;  ///< "the converter's clock is 1 MHz: 50 kHz to 200 kHz are stated for its accuracy"
    std::string advice;   ///< the setting that puts it right: "prescaler=128"; empty where there is none
};
/// `clock_Hz` of the controller; 0: not given, and nothing follows.
[[nodiscard]] SetupTiming setupTiming(const RegisterMap& map, std::span<const RegisterWord> words, double clock_Hz);

}  // namespace fg
