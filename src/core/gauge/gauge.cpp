#include "gauge/gauge.h"

#include "devices/dump_text.h"
#include "devices/pulse_text.h"
#include "path/examples.h"
#include "units/value_text.h"

#include <cmath>

namespace fg {

Expected<Gauge> Gauge::make(GaugeSpec spec, const Catalogue& catalogue) {
    Gauge gauge(std::move(spec), catalogue);
    if (DigitalPath::applies(gauge.m_spec, catalogue)) {
        auto path = DigitalPath::build(gauge.m_spec, catalogue);
        if (!path) return tl::unexpected(path.error());
        gauge.m_digital = std::move(*path);
    } else {
        auto path = AnalogPath::build(gauge.m_spec, catalogue);
        if (!path) return tl::unexpected(path.error());
        gauge.m_analog = std::move(*path);
    }
    return gauge;
}

const SignalPath& Gauge::path() const {
    if (m_digital) return *m_digital;
    return *m_analog;
}

std::optional<Error> Gauge::missing() const { return missingValues(m_spec, *m_catalogue); }

Expected<Entry> Gauge::entryOfRaw(std::string_view text) const {
    if (m_analog) {
        const auto word = readRawWord(text);
        if (!word) return tl::unexpected(word.error());
        const auto code = m_analog->converter().codeOfWord(*word);
        if (!code) return tl::unexpected(code.error());
        Entry entry{Stage::Converter, *code};
        entry.word = *word;
        return entry;
    }
    const bool isSingleBus = m_digital->part().interface == "single-bus";
    const auto read = isSingleBus ? readSingleBus(text) : readDump(text);
    if (!read) return tl::unexpected(read.error());
    const Device& device = *m_digital->part().device;
    const auto raw = laidOut(device, m_digital->options(), *read);
    if (!raw) return tl::unexpected(raw.error());
    if (device.specimen && !m_digital->hasOwnCalibration())
        for (const BlockSpec& block : device.blocks(m_digital->options())) {
            if (!block.isCalibration || block.isOptional) continue;
            const bool isThere =
                block.address ? raw->registers(*block.address, block.size).has_value() : raw->hasBlock(block.name);
            if (!isThere)
                return fail(ErrorCode::Missing, "sensor.parameters.calibration", "nothing",
                            "the coefficients of this very " + m_digital->part().id +
                                ", in the gauge or with the bytes (block " +
                                RawBlock{block.name, block.address, {}}.label() + ")");
        }
    return Entry{Stage::Converter, 0, std::make_shared<const RawData>(*raw)};
}

Expected<Entry> Gauge::entryAt(Stage stage, std::string_view text) const {
    if (stage == Stage::Converter) return entryOfRaw(text);
    const Quantity quantity = quantityAt(stage);
    const auto value = readValue(text, quantity, isMeasurand(quantity) ? &unit() : nullptr);
    if (!value) return tl::unexpected(value.error());
    return Entry{stage, value->canonical};
}

Quantity Gauge::quantityAt(Stage stage) const {
    if (stage == Stage::Converter) return Quantity::Count;
    if (m_digital) return stage == Stage::Wiring ? Quantity::Count : m_spec.quantity;
    if (stage == Stage::Sensor) return m_analog->signalQuantity();
    return stage == Stage::Wiring ? m_analog->converter().input() : m_spec.quantity;
}

std::optional<Budget> Gauge::budgetOf(const Evaluation& evaluation) const {
    const StageValue& world = evaluation.at(Stage::World);
    if (evaluation.at(Stage::Reading).clip != Clip::None || std::isnan(world.value)) return std::nullopt;
    auto budget = budgetAt(world.value);
    return budget ? std::optional(std::move(*budget)) : std::nullopt;
}

std::vector<Finding> Gauge::findings(const Evaluation* now, const Budget* budget) const {
    return m_digital ? findingsForDevice(m_spec, *m_digital, *m_catalogue, now, budget)
                     : findingsFor(m_spec, *m_analog, *m_catalogue, now, budget);
}

}  // namespace fg
