#include "gauge/gauge.h"

#include "bytes/dump_text.h"
#include "bytes/pulse_text.h"
#include "path/examples.h"
#include "units/number_format.h"
#include "units/value_text.h"

#include <array>
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

Reading Gauge::read(double word) const {
    Reading reading;
    read(std::span(&word, 1), std::span(&reading, 1));
    return reading;
}

Reading Gauge::read(std::span<const std::uint8_t> frame) const {
    return m_digital ? m_digital->readingOf(frame) : Reading{std::nan("")};
}

void Gauge::read(std::span<const double> words, std::span<Reading> readings) const {
    if (!m_analog) return std::fill(readings.begin(), readings.end(), Reading{std::nan("")});
    const Converter& converter = m_analog->converter();
    const double least = static_cast<double>(converter.minCode()), most = static_cast<double>(converter.maxCode());
    const Clip atMost = m_analog->isRising() ? Clip::AtMost : Clip::AtLeast, atLeast = flipped(atMost);
    constexpr std::size_t kBlock = 512;
    std::array<double, kBlock> codes;
    for (std::size_t begin = 0; begin < words.size(); begin += kBlock) {
        const std::size_t size = std::min(kBlock, words.size() - begin);
        if (converter.wordsAreCodes())
            for (std::size_t i = 0; i < size; ++i) {
                const double word = words[begin + i];
                codes[i] = converter.canGive(word) ? word : std::nan("");
            }
        else
            for (std::size_t i = 0; i < size; ++i)
                codes[i] = converter.codeOfWord(words[begin + i]).value_or(std::nan(""));
        std::array<double, kBlock> values;
        m_analog->readings({codes.data(), size}, {values.data(), size});
        for (std::size_t i = 0; i < size; ++i) {
            Reading& reading = readings[begin + i];
            reading.value = values[i];
            reading.clip = codes[i] <= least ? atMost : (codes[i] >= most ? atLeast : Clip::None);
            if (reading.clip == Clip::None || std::isfinite(reading.value)) continue;
            // At the very end of its range a divider has no finite value: what bounds the reading then is the edge of
            // the last cell.
            if (const auto whole = evaluate({Stage::Converter, codes[i]})) reading.value = whole->reading();
        }
    }
}

Expected<Entry> Gauge::entryOf(double word) const {
    if (!m_analog)
        return fail(ErrorCode::Syntax, "converter", plainNumber(word), "the bytes of " + m_digital->part().id);
    const auto code = m_analog->converter().codeOfWord(word);
    if (!code) return tl::unexpected(code.error());
    Entry entry{Stage::Converter, *code};
    entry.word = word;
    return entry;
}

Expected<Entry> Gauge::entryOf(std::span<const std::uint8_t> frame) const {
    if (!m_digital) return fail(ErrorCode::Syntax, "converter", "bytes", "a count of the converter");
    const auto blocks = m_digital->blocksOf(frame);
    if (!blocks) return tl::unexpected(blocks.error().within("converter"));
    return Entry{Stage::Converter, 0, std::make_shared<const RawData>(*blocks)};
}

Expected<Entry> Gauge::entryOfRaw(std::string_view text) const {
    if (m_analog) {
        const auto word = readRawWord(text);
        return word ? entryOf(*word) : tl::unexpected(word.error());
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
    if (m_digital && evaluation.device) {
        const DeviceReading* reading = evaluation.device->decoded.find(m_digital->reading());
        return fg::budgetOf(m_spec, *m_digital, world.value, reading ? reading->step : 0);
    }
    auto budget = budgetAt(world.value);
    return budget ? std::optional(std::move(*budget)) : std::nullopt;
}

Expected<Budget> Gauge::budgetAt(double world) const {
    return m_analog ? fg::budgetOf(m_spec, *m_catalogue, *m_analog, world) : fg::budgetAt(m_spec, *m_catalogue, world);
}

std::vector<Finding> Gauge::findings(const Evaluation* now, const Budget* budget) const {
    return m_digital ? findingsForDevice(m_spec, *m_digital, *m_catalogue, now, budget)
                     : findingsFor(m_spec, *m_analog, *m_catalogue, now, budget);
}

}  // namespace fg
