#include "simulation/virtual_board.h"
#include "units/text_file.h"

#include "simulation/register_device.h"

#include "bench/gauge_json.h"
#include "bytes/dump_text.h"
#include "catalogue/json_fields.h"

#include <fmt/format.h>
#include <boost/random/normal_distribution.hpp>

namespace fg {

VirtualBoard::VirtualBoard(VirtualParts parts, const Catalogue& catalogue, std::uint32_t seed)
    : m_parts(std::move(parts)), m_random(seed) {
    for (const VirtualDevice& device : m_parts.devices) {
        const RegisterMap* map = catalogue.findRegisterMap(device.part);
        m_devices.emplace_back(device, *catalogue.findDevicePart(device.part), map, ++seed);
        if (!map) continue;
        const auto words = map->set(device.setup);
        if (words)
            for (const RegisterWord& word : *words) m_devices.back().take(word);
    }
}

VirtualBoard::~VirtualBoard() = default;
VirtualBoard::VirtualBoard(VirtualBoard&&) noexcept = default;

std::vector<std::uint8_t> measuredFrame(const VirtualDevice& device, const Workshop& workshop,
                                        boost::random::mt19937& random) {
    boost::random::normal_distribution<double> noise;
    std::vector<WantedReading> wanted;
    for (const VirtualDevice::Sense& sense : device.senses)
        wanted.push_back({sense.reading, workshop.value(sense.world) + sense.noise * noise(random)});
    auto raw = encode(*device.device, wanted, device.options, device.calibration);
    const DeviceOptions options = device.options.completed(device.device->options()).value();
    if (!raw) {
        std::vector<std::int64_t> full;
        for (const RawVariable& variable : device.device->variables(options)) full.push_back(variable.high + 1);
        raw = device.device->compose(full, options, device.calibration);
    }
    std::vector<std::uint8_t> frame;
    for (const BlockSpec& block : device.device->blocks(options)) {
        if (block.isCalibration || block.isOptional) continue;
        const auto bytes =
            block.address ? raw->registers(*block.address, block.size) : raw->block(block.name, block.size);
        if (bytes) frame.insert(frame.end(), bytes->data().begin(), bytes->data().end());
    }
    return frame;
}

std::string VirtualBoard::measure(double seconds) {
    m_workshop.advance(seconds);
    m_elapsed_s += seconds;
    std::string line = fmt::format("t={:.3f}", m_elapsed_s);
    boost::random::normal_distribution<double> noise;
    for (const VirtualChannel& channel : m_parts.channels) {
        const Transfer& sensor = channel.hardware.sensor();
        const double warm = channel.hardware.heat().settledAt(m_workshop.value(channel.world),
                                                              [&](double t) { return sensor.forward(t); });
        const double pin_V = channel.hardware.wiring().forward(sensor.forward(warm));
        const double shaken_V = pin_V + channel.noise_LSB * noise(m_random) * channel.hardware.converter().lsb();
        const Converter& converter = channel.hardware.converter();
        line += fmt::format(" {}={}", channel.name, converter.wordOfCode(converter.quantise(shaken_V).value));
    }
    for (std::size_t i = 0; i < m_devices.size(); ++i) {
        m_devices[i].advance(seconds, m_workshop);
        const auto frame = m_devices[i].frame();
        if (!m_devices[i].isConverting()) m_devices[i].command();
        if (!frame) continue;
        line += " " + m_parts.devices[i].name + "=";
        for (std::size_t byte = 0; byte < frame->size(); ++byte)
            line += fmt::format("{}{:02X}", byte == 0 ? "" : " ", (*frame)[byte]);
    }
    return line + "\n";
}

namespace {

Expected<VirtualDevice> readDevice(JsonFields& fields, const Catalogue& catalogue) {
    VirtualDevice device;
    const std::string id = fields.text("device");
    device.name = fields.text("channel");
    const DevicePart* part = catalogue.findDevicePart(id);
    if (!part) return fail(ErrorCode::Unknown, "device", "“" + id + "”", "a digital part of the catalogue");
    device.device = part->device;
    device.options = part->options;
    device.part = part->id;
    device.address = static_cast<unsigned>(
        fields.numberOr("address", part->addresses.empty() ? 0 : part->addresses.front().address));
    if (fields.has("options"))
        for (const auto& [name, value] : fields.at("options").items())
            device.options.set(name, value.is_string() ? value.get<std::string>() : jsonText(value));
    if (const std::string dump = fields.textOr("calibration", ""); !dump.empty()) {
        const auto calibration = readDump(dump);
        if (!calibration) return tl::unexpected(calibration.error().within("calibration"));
        device.calibration = *calibration;
    } else if (part->device->specimen) {
        device.calibration = part->device->specimen();
    }
    if (const std::string setup = fields.textOr("setup", ""); !setup.empty()) {
        const auto settings = RegisterMap::readSettings(setup);
        const RegisterMap* map = catalogue.findRegisterMap(part->id);
        if (!settings) return tl::unexpected(settings.error().within("setup"));
        if (!map) return fail(ErrorCode::Unsupported, "setup", "“" + setup + "”", "a part whose registers are known");
        if (const auto words = map->set(*settings); !words) return tl::unexpected(words.error().within("setup"));
        device.setup = *settings;
    }
    if (!fields.has("senses") || !fields.at("senses").is_array())
        return fail(ErrorCode::Missing, "senses", "nothing", "what the device measures");
    for (const auto& entry : fields.at("senses")) {
        JsonFields sense(entry, "senses.");
        device.senses.push_back({sense.text("reading"), sense.text("world"), sense.numberOr("noise", 0)});
        if (sense.error()) return tl::unexpected(*sense.error());
        if (std::isnan(Workshop().value(device.senses.back().world)))
            return fail(ErrorCode::Unknown, "senses.world", "“" + device.senses.back().world + "”",
                        "a value of the simulated workshop");
    }
    if (fields.error()) return tl::unexpected(*fields.error());
    return device;
}

}  // namespace

Expected<VirtualParts> readVirtualBoard(const std::string& folder, const Catalogue& catalogue) {
    const std::string file = folder + "/board.json";
    return guarded(file, [&]() -> Expected<VirtualParts> {
        const auto text = readTextFile(file, "a simulated board");
        if (!text) return tl::unexpected(text.error());
        const auto json = parseJson(*text, file);
        if (!json) return tl::unexpected(json.error());
        VirtualParts parts;
        for (const auto& entry : *json) {
            JsonFields fields(entry, file);
            if (fields.has("device")) {
                auto device = readDevice(fields, catalogue);
                if (!device) return tl::unexpected(device.error().within(file));
                parts.devices.push_back(std::move(*device));
                continue;
            }
            const std::string gaugeFile = fields.text("gauge");
            const std::string world = fields.text("world");
            const double noise = fields.numberOr("noise_LSB", 0);
            const Parameters sensor = fields.parametersIn("sensor"), wiring = fields.parametersIn("wiring"),
                             converter = fields.parametersIn("converter");
            if (std::isnan(Workshop().value(world)))
                fields.refuse(ErrorCode::Unknown, "world", "“" + world + "”", "a value of the simulated workshop");
            if (fields.error()) return tl::unexpected(*fields.error());
            auto spec = readGaugeFile(folder + "/" + gaugeFile);
            if (!spec) return tl::unexpected(spec.error());
            spec->sensor.parameters = sensor.over(spec->sensor.parameters);
            spec->wiring.parameters = wiring.over(spec->wiring.parameters);
            spec->converter.parameters = converter.over(spec->converter.parameters);
            auto hardware = AnalogPath::build(*spec, catalogue);
            if (!hardware) return tl::unexpected(hardware.error().within(gaugeFile));
            parts.channels.push_back({spec->channel, world, std::move(*hardware), noise});
        }
        return parts;
    });
}

}  // namespace fg
