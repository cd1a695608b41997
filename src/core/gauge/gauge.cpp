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
    const auto made = [&](auto path) -> Expected<Gauge> {
        if (!path) return tl::unexpected(path.error());
        return Gauge(std::move(spec), catalogue, std::move(*path));
    };
    if (DerivedPath::applies(spec)) return made(DerivedPath::build(spec));
    if (SaidPath::applies(spec)) return made(SaidPath::build(spec));
    return DigitalPath::applies(spec, catalogue) ? made(DigitalPath::build(spec, catalogue))
                                                 : made(AnalogPath::build(spec, catalogue));
}

const SignalPath& Gauge::path() const {
    return std::visit([](const auto& path) -> const SignalPath& { return path; }, m_path);
}

namespace {

Expected<Entry> notFromRaw(const std::string& found) {
    return fail(ErrorCode::Unsupported, "converter", found,
                "nothing: this gauge follows from the readings of others, given as its inputs");
}

}  // namespace

std::optional<Error> Gauge::missing() const { return missingValues(m_spec, *m_catalogue); }

Reading Gauge::read(double word) const {
    Reading reading;
    read(std::span(&word, 1), std::span(&reading, 1));
    return reading;
}

Reading Gauge::read(std::span<const std::uint8_t> frame) const {
    return digital() ? digital()->readingOf(frame) : Reading{std::nan("")};
}

void Gauge::read(std::span<const double> words, std::span<Reading> readings) const {
    const AnalogPath* const path = analog();
    if (!path) {
        for (std::size_t i = 0; i < words.size(); ++i)
            readings[i] = Reading{said() ? said()->readingOf(words[i]) : std::nan("")};
        return;
    }
    const Converter& converter = path->converter();
    const double least = static_cast<double>(converter.minCode()), most = static_cast<double>(converter.maxCode());
    const Clip atMost = path->isRising() ? Clip::AtMost : Clip::AtLeast, atLeast = flipped(atMost);
    constexpr std::size_t kBlock = 512;
    std::array<double, kBlock> codes;
    std::array<double, kBlock> values;
    for (std::size_t begin = 0; begin < words.size(); begin += kBlock) {
        const std::size_t size = std::min(kBlock, words.size() - begin);
        const auto from = words.subspan(begin, size);
        const auto to = readings.subspan(begin, size);
        // Most blocks hold nothing but codes between the ends of the range, of which each is a reading.
        const auto isBetween = [least, most](double word) { return word > least && word < most; };
        if (converter.wordsAreCodes() && std::all_of(from.begin(), from.end(), isBetween)) {
            path->readings(from, {values.data(), size});
            for (std::size_t i = 0; i < size; ++i) to[i] = {values[i], Clip::None};
            continue;
        }
        for (std::size_t i = 0; i < size; ++i)
            codes[i] = converter.wordsAreCodes() ? (converter.canGive(from[i]) ? from[i] : std::nan(""))
                                                 : converter.codeOfWord(from[i]).value_or(std::nan(""));
        path->readings({codes.data(), size}, {values.data(), size});
        for (std::size_t i = 0; i < size; ++i) {
            Reading& reading = to[i];
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
    if (said()) return Entry{Stage::Converter, word};
    if (derived()) return notFromRaw(plainNumber(word));
    if (digital())
        return fail(ErrorCode::Syntax, "converter", plainNumber(word), "the bytes of " + digital()->part().id);
    const auto code = analog()->converter().codeOfWord(word);
    if (!code) return tl::unexpected(code.error());
    Entry entry{Stage::Converter, *code};
    entry.word = word;
    return entry;
}

Expected<Entry> Gauge::entryOf(std::span<const std::uint8_t> frame) const {
    if (derived()) return notFromRaw("bytes");
    if (!digital())
        return fail(ErrorCode::Syntax, "converter", "bytes", said() ? "a number" : "a count of the converter");
    const auto blocks = digital()->blocksOf(frame);
    if (!blocks) return tl::unexpected(blocks.error().within("converter"));
    return Entry{Stage::Converter, 0, std::make_shared<const RawData>(*blocks)};
}

Expected<Entry> Gauge::entryOfRaw(std::string_view text) const {
    if (said()) {
        const auto value = readValue(text, m_spec.quantity, &said()->unit());
        return value ? Expected<Entry>(Entry{Stage::Converter, said()->unit().fromCanonical(value->canonical)})
                     : tl::unexpected(value.error());
    }
    if (!digital()) {
        const auto word = readRawWord(text);
        return word ? entryOf(*word) : tl::unexpected(word.error());
    }
    const DigitalPath& path = *digital();
    const bool isSingleBus = path.part().interface == "single-bus";
    const auto read = isSingleBus ? readSingleBus(text) : readDump(text);
    if (!read) return tl::unexpected(read.error());
    const Device& device = *path.part().device;
    const auto raw = laidOut(device, path.options(), *read);
    if (!raw) return tl::unexpected(raw.error());
    if (device.specimen && !path.hasOwnCalibration())
        for (const BlockSpec& block : device.blocks(path.options())) {
            if (!block.isCalibration || block.isOptional) continue;
            const bool isThere =
                block.address ? raw->registers(*block.address, block.size).has_value() : raw->hasBlock(block.name);
            if (!isThere)
                return fail(ErrorCode::Missing, "sensor.parameters.calibration", "nothing",
                            "the coefficients of this very " + path.part().id +
                                ", in the gauge or with the bytes (block " +
                                RawBlock{block.name, block.address, {}}.label() + ")");
        }
    return Entry{Stage::Converter, 0, std::make_shared<const RawData>(*raw)};
}

Expected<Entry> Gauge::entryAt(Stage stage, std::string_view text) const {
    if (derived()) return notFromRaw("“" + std::string(text) + "”");
    if (stage == Stage::Converter) return entryOfRaw(text);
    const Quantity quantity = quantityAt(stage);
    const auto value = readValue(text, quantity, quantity == m_spec.quantity ? &unit() : nullptr);
    if (!value) return tl::unexpected(value.error());
    return Entry{stage, value->canonical};
}

Quantity Gauge::quantityAt(Stage stage) const {
    if (stage == Stage::Converter) return Quantity::Count;
    if (stage != Stage::Sensor && stage != Stage::Wiring) return m_spec.quantity;
    if (const AnalogPath* path = analog())
        return stage == Stage::Sensor ? path->signalQuantity() : path->converter().input();
    return stage == Stage::Wiring ? Quantity::Count : m_spec.quantity;
}

std::optional<Budget> Gauge::budgetOf(const Evaluation& evaluation) const {
    const StageValue& world = evaluation.at(Stage::World);
    if (evaluation.at(Stage::Reading).clip != Clip::None || std::isnan(world.value)) return std::nullopt;
    if (digital() && evaluation.device) {
        const DeviceReading* reading = evaluation.device->decoded.find(digital()->reading());
        return fg::budgetOf(m_spec, *digital(), world.value, reading ? reading->step : 0);
    }
    auto budget =
        derived() ? fg::budgetOf(m_spec, *derived(), world.value, evaluation.entry.standard) : budgetAt(world.value);
    return budget ? std::optional(std::move(*budget)) : std::nullopt;
}

Expected<Budget> Gauge::budgetAt(double world) const {
    if (analog()) return fg::budgetOf(m_spec, *m_catalogue, *analog(), world);
    if (derived()) return fg::budgetOf(m_spec, *derived(), world);
    if (said()) return fg::budgetOf(m_spec, *said(), world);
    return fg::budgetAt(m_spec, *m_catalogue, world);
}

std::vector<Finding> Gauge::findings(const Evaluation* now, const Budget* budget, const MonteCarlo* run) const {
    if (analog()) return findingsFor(m_spec, *analog(), *m_catalogue, now, budget, run);
    if (digital()) return findingsForDevice(m_spec, *digital(), *m_catalogue, now, budget);
    return findingsWithoutSensor(m_spec, *m_catalogue, now, budget);
}

}  // namespace fg
