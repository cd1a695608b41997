#include "simulation/virtual_board.h"

#include "bench/gauge_json.h"
#include "catalogue/json_fields.h"

#include <fmt/format.h>
#include <boost/random/normal_distribution.hpp>
#include <fstream>
#include <sstream>

namespace fg {

VirtualBoard::VirtualBoard(std::vector<VirtualChannel> channels, std::uint32_t seed) : m_channels(std::move(channels)), m_random(seed) {}

std::string VirtualBoard::measure(double seconds) {
    m_workshop.advance(seconds);
    m_elapsed_s += seconds;
    std::string line = fmt::format("t={:.3f}", m_elapsed_s);
    boost::random::normal_distribution<double> noise;
    for (const VirtualChannel& channel : m_channels) {
        const double pin_V = channel.hardware.wiring().forward(channel.hardware.sensor().forward(m_workshop.value(channel.world)));
        const double shaken_V = pin_V + channel.noise_LSB * noise(m_random) * channel.hardware.converter().lsb();
        const Converter& converter = channel.hardware.converter();
        line += fmt::format(" {}={}", channel.name, converter.wordOfCode(converter.quantise(shaken_V).value));
    }
    return line + "\n";
}

Expected<std::vector<VirtualChannel>> readVirtualBoard(const std::string& folder, const Catalogue& catalogue) {
    const std::string file = folder + "/board.json";
    std::ostringstream text;
    text << std::ifstream(file).rdbuf();
    const auto json = parseJson(text.str(), file);
    if (!json) return tl::unexpected(json.error());
    std::vector<VirtualChannel> channels;
    for (const auto& entry : *json) {
        JsonFields fields(entry, file);
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
        channels.push_back({spec->channel, world, std::move(*hardware), noise});
    }
    return channels;
}

}  // namespace fg
