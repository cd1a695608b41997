#include "path/digital_path.h"

#include "bytes/dump_text.h"
#include "path/reading_spec.h"
#include "path/ready_reading.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

constexpr double kNoReading = std::numeric_limits<double>::quiet_NaN();

/// Names of a gauge's sensor parameters that are no options of the device.
bool isOwn(const std::string& name) { return name == "reading" || name == "calibration" || name == "settings"; }

Expected<DeviceOptions> optionsOf(const GaugeSpec& spec, const DevicePart& part) {
    DeviceOptions options = part.options;
    for (const auto& [name, value] : spec.sensor.parameters.all()) {
        if (isOwn(name)) continue;
        if (const auto* number = std::get_if<double>(&value))
            options.set(name, shortestText(*number));
        else if (const auto* text = std::get_if<std::string>(&value))
            options.set(name, *text);
        else
            return fail(ErrorCode::Range, "sensor.parameters." + name, "a list", "a number or a text");
    }
    auto complete = options.completed(part.device->options());
    if (!complete) return tl::unexpected(complete.error().within("sensor.parameters"));
    return complete;
}

/// The reading's own quantity; "internal" and the like are temperatures.
Quantity quantityOfReading(const std::string& reading) {
    if (reading == "internal") return Quantity::Temperature;
    return quantityFromName(reading).value_or(reading == "gas"     ? Quantity::Resistance
                                              : reading == "ratio" ? Quantity::Ratio
                                                                   : Quantity::Voltage);
}

std::string hexText(const std::vector<std::uint8_t>& bytes) {
    std::string text;
    for (const std::uint8_t byte : bytes) text += fmt::format("{}{:02X}", text.empty() ? "" : " ", byte);
    return text;
}

std::string interfaceText(const std::string& interface) {
    return interface == "i2c" ? "I²C" : interface == "spi" ? "SPI" : interface;
}

/// What a part senses beside the value that is asked for, so that its bytes are those of an ordinary day.
const std::vector<WantedReading> kOrdinaryRoom{{"temperature", 20}, {"humidity", 50}, {"pressure", 101325}};

}  // namespace

Expected<std::vector<RegisterWord>> settingWordsOf(const GaugeSpec& spec, const Catalogue& catalogue) {
    const DevicePart* part = catalogue.findDevicePart(spec.sensor.part);
    const RegisterMap* map = part ? catalogue.findRegisterMap(part->id) : nullptr;
    const std::string text = spec.sensor.parameters.textOr("settings", "");
    const auto within = [](const Error& error) { return tl::unexpected(error.within("sensor.parameters.settings")); };
    if (!map)
        return text.empty() ? Expected<std::vector<RegisterWord>>(std::vector<RegisterWord>())
                            : within({ErrorCode::Unsupported, "", "“" + text + "”",
                                      "nothing: no registers of this part are known"});
    // Options of the decoder that are registers too (a resolution, a gain) say what the device is set to.
    std::vector<Setting> settings;
    for (const auto& [name, value] : spec.sensor.parameters.all()) {
        if (isOwn(name) || !map->findField(name).second) continue;
        const auto* number = std::get_if<double>(&value);
        const auto* word = std::get_if<std::string>(&value);
        const Setting one{name, number ? shortestText(*number) : word ? *word : ""};
        if (map->set(std::span(&one, 1))) settings.push_back(one);
    }
    const auto said = RegisterMap::readSettings(text);
    if (!said) return within(said.error());
    settings.insert(settings.end(), said->begin(), said->end());
    const auto words = map->set(settings);
    if (!words) return within(words.error());
    return *words;
}

Expected<std::vector<FieldValue>> settingsOf(const GaugeSpec& spec, const Catalogue& catalogue) {
    const auto words = settingWordsOf(spec, catalogue);
    if (!words) return tl::unexpected(words.error());
    if (words->empty()) return std::vector<FieldValue>();
    return catalogue.findRegisterMap(catalogue.findDevicePart(spec.sensor.part)->id)->all(*words);
}

namespace {

/// "28 FF 64 …" checked as the code of such a probe: eight bytes, their CRC, its family.
Expected<std::vector<std::uint8_t>> romOf(const std::string& text, const DigitalPath& path) {
    if (path.part().interface != "1-wire")
        return fail(ErrorCode::Unknown, "", "“" + text + "”",
                    "the code of a 1-wire probe; " + path.part().id + " has none");
    const auto raw = readDump("rom: " + text);
    if (!raw) return tl::unexpected(raw.error());
    if (const auto checked = decode(*path.part().device, *raw, path.options()); !checked)
        return tl::unexpected(checked.error());
    return raw->blocks().front().bytes;
}

}  // namespace

Expected<DigitalPath> DigitalPath::build(const GaugeSpec& spec, const Catalogue& catalogue) {
    const DevicePart* part = catalogue.findDevicePart(spec.sensor.part);
    if (!part)
        return fail(ErrorCode::Unknown, "sensor.part", "“" + spec.sensor.part + "”", "a digital part of the catalogue");
    DigitalPath path;
    path.m_part = std::make_shared<const DevicePart>(*part);
    path.m_quantity = spec.quantity;
    if (const auto good = checkReading(spec); !good) return tl::unexpected(good.error());
    path.m_reading = spec.sensor.parameters.textOr("reading", std::string(quantityName(spec.quantity)));
    const bool gives = std::find(part->readings.begin(), part->readings.end(), path.m_reading) != part->readings.end();
    if (!gives || quantityOfReading(path.m_reading) != spec.quantity) {
        std::string known;
        for (const std::string& one : part->readings) known += (known.empty() ? "" : ", ") + one;
        return fail(ErrorCode::Range, "sensor.parameters.reading", "“" + path.m_reading + "”",
                    fmt::format("a {} that {} gives: {}", quantityName(spec.quantity), part->id, known));
    }
    const auto options = optionsOf(spec, *part);
    if (!options) return tl::unexpected(options.error());
    path.m_options = *options;
    path.m_quietOptions = options->withoutLines();
    const auto frame = FrameLayout::of(*part->device, path.m_options);
    if (!frame) return tl::unexpected(frame.error());
    path.m_frame = *frame;
    if (const std::string dump = spec.sensor.parameters.textOr("calibration", ""); !dump.empty()) {
        const auto read = readDump(dump);
        const auto calibration = read ? laidOut(*part->device, path.m_options, *read) : read;
        if (!calibration) return tl::unexpected(calibration.error().within("sensor.parameters.calibration"));
        path.m_calibration = *calibration;
        path.m_hasOwnCalibration = true;
    } else if (part->device->specimen) {
        path.m_calibration = part->device->specimen();
    }
    if (const std::string text = spec.sensor.parameters.textOr("settings", ""); !text.empty()) {
        const auto words = settingsOf(spec, catalogue);
        if (!words) return tl::unexpected(words.error());
        path.m_settings = *words;
    }
    if (!part->addresses.empty()) {
        const auto address = part->addressIn(spec.wiring.parameters);
        if (!address || std::none_of(part->addresses.begin(), part->addresses.end(),
                                     [&](const BusAddress& one) { return one.address == *address; }))
            return fail(ErrorCode::Range, "wiring.address",
                        address ? fmt::format("0x{:02X}", *address)
                                : plainNumber(spec.wiring.parameters.numberOr("address", 0)),
                        fmt::format("an address {} can have, like 0x{:02X}", part->id,
                                    part->addresses.front().address));
        path.m_address = *address;
    }
    if (const std::string rom = spec.wiring.parameters.textOr("rom", ""); !rom.empty()) {
        auto read = romOf(rom, path);
        if (!read) return tl::unexpected(read.error().within("wiring.rom"));
        path.m_rom = std::move(*read);
    }
    const auto correction = Correction::make(spec.correction, spec.quantity);
    if (!correction) return tl::unexpected(correction.error());
    path.m_correction = *correction;
    return path;
}

RawData DigitalPath::withCalibration(const RawData& read) const {
    // A lone block without a name is the device's usual one: beside calibration it has to be told what it is.
    RawData raw = m_calibration;
    if (read.blocks().size() == 1 && read.blocks()[0].name.empty() && !read.blocks()[0].address &&
        !m_calibration.blocks().empty()) {
        const auto cut = blocksOf(read.blocks()[0].bytes);
        raw.add(cut ? *cut : read);
    } else {
        raw.add(read);
    }
    return raw;
}

namespace {

Clip clipOf(Bound bound) {
    if (bound == Bound::AtLeast) return Clip::AtLeast;
    return bound == Bound::AtMost ? Clip::AtMost : Clip::None;
}

}  // namespace

Reading DigitalPath::readingOf(std::span<const std::uint8_t> frame) const {
    const auto blocks = blocksOf(frame);
    if (!blocks) return {kNoReading};
    // Nothing to lay out: a frame holds no words, and the calibration was laid out when the path was built.
    const auto decoded = m_part->device->decode(withCalibration(*blocks), m_quietOptions);
    const DeviceReading* reading = decoded ? decoded->find(m_reading) : nullptr;
    if (!reading || std::isnan(reading->value)) return {kNoReading};
    return {m_correction.apply(reading->value), clipOf(reading->bound)};
}

Expected<Evaluation> DigitalPath::fromRaw(const Entry& entry, const RawData& raw) const {
    // What was read is also held against what a bus gives where nothing answers; what was worked out here is not.
    auto decoded = entry.raw ? decode(*m_part->device, raw, m_options) : m_part->device->decode(raw, m_options);
    if (!decoded) return tl::unexpected(decoded.error());
    const DeviceReading* reading = decoded->find(m_reading);
    const double sensed = reading ? reading->value : kNoReading;
    std::string problem;
    if (std::isnan(sensed)) {
        problem = reading ? "the device says that it has no value" : "these bytes hold no " + m_reading;
        for (const DeviceStatus& one : decoded->status)
            if (one.kind == StatusKind::Fault) problem = one.text;
    }
    const Clip clip = clipOf(reading ? reading->bound : Bound::None);
    Evaluation evaluation = readyEvaluation(entry, m_quantity, sensed, clip, problem, m_correction);
    StageValue &wiring = evaluation.at(Stage::Wiring), &bytes = evaluation.at(Stage::Converter);
    wiring.text = m_address ? fmt::format("0x{:02X}", *m_address) : interfaceText(m_part->interface);
    bytes.text = hexText(measuredBytes(*m_part->device, m_options, raw));
    evaluation.device = std::make_shared<const DeviceAnswer>(DeviceAnswer{raw, std::move(*decoded), m_reading});
    return evaluation;
}

Expected<Evaluation> DigitalPath::evaluate(const Entry& entry) const {
    if (entry.raw) {
        const auto laid = laidOut(*m_part->device, m_options, withCalibration(*entry.raw));
        return laid ? fromRaw(entry, *laid) : Expected<Evaluation>(tl::unexpected(laid.error()));
    }
    if (entry.stage == Stage::Converter || entry.stage == Stage::Wiring)
        return fail(ErrorCode::Unsupported, std::string(stageName(entry.stage)), "a number",
                    entry.stage == Stage::Converter ? "bytes in hexadecimal" : "nothing: the bus carries bytes");
    if (std::isnan(entry.value))
        return fail(ErrorCode::Range, std::string(stageName(entry.stage)), "no number", "a value");
    // A value after the correction comes from one before it.
    const bool isCorrected =
        entry.stage == Stage::World || entry.stage == Stage::Correction || entry.stage == Stage::Reading;
    const double sensed = isCorrected ? m_correction.undo(entry.value) : entry.value;
    std::vector<WantedReading> wanted{{m_reading, sensed}};
    for (const WantedReading& one : kOrdinaryRoom)
        if (one.id != m_reading) wanted.push_back(one);
    auto raw = encode(*m_part->device, wanted, m_options, m_calibration);
    // Where the coefficients have no bytes for both together, only what was asked for counts.
    if (!raw) raw = encode(*m_part->device, std::span(wanted).first(1), m_options, m_calibration);
    if (!raw) return tl::unexpected(raw.error());
    auto evaluation = fromRaw(entry, *raw);
    if (!evaluation) return evaluation;
    // Upstream of the bytes stands what was asked for, downstream what the part can say of it.
    evaluation->at(Stage::Sensor).exact = evaluation->at(Stage::Formula).exact = sensed;
    for (const Stage stage : {Stage::World, Stage::Correction, Stage::Reading})
        evaluation->at(stage).exact = m_correction.apply(sensed);
    evaluation->at(Stage::World).value = m_correction.apply(sensed);
    evaluation->at(Stage::Sensor).value = sensed;
    return evaluation;
}

std::vector<TraceLine> DigitalPath::trace(const Evaluation& evaluation) const {
    std::vector<TraceLine> lines;
    if (!evaluation.device) return lines;
    for (const DeviceLine& line : evaluation.device->decoded.lines) lines.push_back(line.line);
    const double sensed = evaluation.at(Stage::Formula).value;
    if (std::isnan(sensed)) return lines;
    for (TraceLine& line : m_correction.explain(sensed, m_quantity)) lines.push_back(std::move(line));
    return lines;
}

std::string DigitalPath::stageNote(Stage stage) const {
    switch (stage) {
        case Stage::Sensor:
            return m_part->id;
        case Stage::Wiring:
            return interfaceText(m_part->interface);
        case Stage::Converter:
            return "bytes as read";
        case Stage::Formula:
            return m_hasOwnCalibration || !m_part->device->specimen ? "compensated" : "example calibration";
        case Stage::Correction:
            return m_correction.note();
        default:
            return {};
    }
}

namespace {

/// What a part without a stated range can say at all: its reading at the ends of its one raw number.
std::optional<Interval> reachOf(const DevicePart& part, const std::string& reading) {
    const auto options = part.options.completed(part.device->options());
    if (!options) return std::nullopt;
    const auto variables = part.device->variables(*options);
    if (variables.size() != 1 || variables[0].reading != reading) return std::nullopt;
    const auto at = [&](std::int64_t number) {
        const RawData raw = part.device->compose(std::span(&number, 1), *options, {});
        const auto decoded = decode(*part.device, raw, *options);
        const DeviceReading* found = decoded ? decoded->find(reading) : nullptr;
        return found ? found->value : std::nan("");
    };
    const Interval reach{at(variables[0].low), at(variables[0].high)};
    return reach.low < reach.high ? std::optional(reach) : std::nullopt;
}

}  // namespace

GaugeSpec defaultDeviceGauge(const DevicePart& part, const std::string& reading) {
    GaugeSpec spec;
    spec.name = "New gauge";
    spec.quantity = quantityOfReading(reading);
    spec.sensor.part = part.id;
    if (reading != quantityName(spec.quantity)) spec.sensor.parameters.set("reading", reading);
    spec.wiring.kind = "bus";
    if (!part.addresses.empty())
        spec.wiring.parameters.set("address", static_cast<double>(part.addresses.front().address));
    spec.converter.kind = "device";
    const Unit& unit = spec.quantity == Quantity::Pressure ? *unitFromId("hPa", Quantity::Pressure).value()
                       : spec.quantity == Quantity::Ratio  ? *unitFromId("mV/V", Quantity::Ratio).value()
                                                           : canonicalUnit(spec.quantity);
    spec.reading.unit = unit.id;
    Interval usual{0, 50};
    if (spec.quantity == Quantity::RelativeHumidity) usual = {20, 80};
    if (spec.quantity == Quantity::Pressure) usual = {95000, 105000};
    if (spec.quantity == Quantity::Illuminance) usual = {10, 2000};
    if (const auto range = part.ranges.find(reading); range != part.ranges.end())
        usual = {std::max(usual.low, range->second.low), std::min(usual.high, range->second.high)};
    else if (const auto reach = reachOf(part, reading))
        usual = *reach;
    spec.reading.span = {unit.fromCanonical(usual.low), unit.fromCanonical(usual.high)};
    spec.cautions = part.cautions;
    return spec;
}

}  // namespace fg
