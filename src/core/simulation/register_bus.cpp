#include "simulation/register_bus.h"

#include <fmt/format.h>
#include <charconv>
#include <cmath>
#include <sstream>

namespace fg {
namespace {

constexpr std::size_t kMostBytes = 256;

Expected<unsigned> hexNumber(const std::string& text, unsigned most, const char* what) {
    unsigned value = 0;
    const char* const first = text.data() + (text.starts_with("0x") ? 2 : 0);
    const auto [end, status] = std::from_chars(first, text.data() + text.size(), value, 16);
    if (status != std::errc{} || end != text.data() + text.size() || value > most)
        return fail(ErrorCode::Syntax, what, "“" + text + "”", fmt::format("a hexadecimal number up to {:X}", most));
    return value;
}

Expected<std::size_t> byteCount(const std::string& text) {
    std::size_t count = 0;
    const auto [end, status] = std::from_chars(text.data(), text.data() + text.size(), count);
    if (status != std::errc{} || end != text.data() + text.size() || count < 1 || count > kMostBytes)
        return fail(ErrorCode::Range, "count", "“" + text + "”", "1 to 256 bytes");
    return count;
}

std::string hexText(const std::vector<std::uint8_t>& bytes) {
    std::string text;
    for (const std::uint8_t byte : bytes) text += fmt::format("{}{:02X}", text.empty() ? "" : " ", byte);
    return text;
}

}  // namespace

RegisterBus::RegisterBus(const std::vector<VirtualDevice>& devices, const Catalogue& catalogue, std::uint32_t seed) {
    for (const VirtualDevice& device : devices)
        if (const DevicePart* part = catalogue.findDevicePart(device.part))
            m_places.push_back({device.name, device.address,
                                RegisterDevice(device, *part, catalogue.findRegisterMap(part->id), seed++)});
}

void RegisterBus::advance(double seconds) {
    m_workshop.advance(seconds);
    for (Place& place : m_places) place.device.advance(seconds, m_workshop);
}

Expected<RegisterBus::Place*> RegisterBus::at(const std::string& text) {
    const auto address = hexNumber(text, 0x7F, "address");
    if (!address) return tl::unexpected(address.error());
    for (Place& place : m_places)
        if (place.address != 0 && place.address == *address) return &place;
    return fail(ErrorCode::Missing, "address", fmt::format("0x{:02X}, which no device acknowledges", *address),
                "the address of a device on this bus");
}

Expected<RegisterBus::Place*> RegisterBus::named(const std::string& channel) {
    for (Place& place : m_places)
        if (place.channel == channel) return &place;
    return fail(ErrorCode::Unknown, "channel", "“" + channel + "”", "the channel of one of the board's digital parts");
}

Expected<std::string> RegisterBus::handle(const std::vector<std::string>& words) {
    const std::string verb = words.empty() ? "" : words[0];
    if (verb == "t" && words.size() == 2) {
        double seconds = -1;
        const auto [end, status] = std::from_chars(words[1].data(), words[1].data() + words[1].size(), seconds);
        if (status != std::errc{} || end != words[1].data() + words[1].size() || !(seconds >= 0 && seconds <= 86400))
            return fail(ErrorCode::Range, "t", "“" + words[1] + "”", "0 to 86400 seconds");
        advance(seconds);
        return std::string("ok");
    }
    if (verb == "b" && words.size() == 3) {
        const auto place = named(words[1]);
        if (!place) return tl::unexpected(place.error());
        return (*place)->device.readBlock(words[2]).map(hexText);
    }
    if (verb == "c" && words.size() == 2) {
        const auto place = named(words[1]);
        if (!place) return tl::unexpected(place.error());
        (*place)->device.command();
        return std::string("ok");
    }
    if (verb == "r" && words.size() == 3) {
        const auto place = at(words[1]);
        if (!place) return tl::unexpected(place.error());
        const auto count = byteCount(words[2]);
        if (!count) return tl::unexpected(count.error());
        return (*place)->device.answer(*count).map(hexText);
    }
    if ((verb == "w" && words.size() >= 3) || (verb == "r" && words.size() == 4)) {
        const auto place = at(words[1]);
        if (!place) return tl::unexpected(place.error());
        const auto pointer = hexNumber(words[2], words[2].size() > 2 ? 0xFFFF : 0xFF, "register");
        if (!pointer) return tl::unexpected(pointer.error());
        if (verb == "r") {
            const auto count = byteCount(words[3]);
            if (!count) return tl::unexpected(count.error());
            return (*place)->device.read(*pointer, *count).map(hexText);
        }
        std::vector<std::uint8_t> bytes;
        for (std::size_t i = 3; i < words.size(); ++i) {
            const auto byte = hexNumber(words[i], 0xFF, "byte");
            if (!byte) return tl::unexpected(byte.error());
            bytes.push_back(static_cast<std::uint8_t>(*byte));
        }
        const auto written = (*place)->device.write(*pointer, bytes);
        if (!written) return tl::unexpected(written.error());
        return std::string("ok");
    }
    return fail(
        ErrorCode::Syntax, "request", "“" + verb + "”",
        "w ADDRESS REGISTER BYTES, r ADDRESS REGISTER COUNT, r ADDRESS COUNT, b CHANNEL BLOCK, c CHANNEL or t SECONDS");
}

std::string RegisterBus::answer(std::string_view request) {
    std::istringstream text{std::string(request)};
    std::vector<std::string> words;
    for (std::string word; text >> word;) words.push_back(word);
    const auto said = handle(words);
    return said ? *said : "nak " + said.error().message();
}

}  // namespace fg
