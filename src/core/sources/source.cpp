#include "sources/source.h"

#include "sources/replay.h"

#include <charconv>

namespace fg {
namespace {

/// Takes "@NUMBER" off the end. A path may have an @ of its own: only what is a number counts.
std::optional<double> takeNumber(std::string& text) {
    const std::size_t at = text.rfind('@');
    if (at == std::string::npos) return std::nullopt;
    double value = 0;
    const auto [stop, status] = std::from_chars(text.data() + at + 1, text.data() + text.size(), value);
    if (status != std::errc{} || stop != text.data() + text.size()) return std::nullopt;
    text.resize(at);
    return value;
}

}  // namespace

Expected<std::unique_ptr<Source>> openSource(const std::string& text, const Catalogue& catalogue) {
    const std::size_t colon = text.find(':');
    const std::string kind = text.substr(0, std::min(colon, text.find('@')));
    std::string rest = colon == std::string::npos ? text.substr(kind.size()) : text.substr(colon + 1);
    const auto number = takeNumber(rest);
    constexpr double kMostSpeed = 1000;
    constexpr unsigned kUsualBaud = 115200;
    if (number && !(*number > 0 && (kind == "serial" || *number <= kMostSpeed)))
        return fail(ErrorCode::Range, text, std::to_string(*number),
                    kind == "serial" ? "a baud rate above 0" : "a speed above 0 and at most 1000");
    if (kind == "sim" && rest.empty()) {
        constexpr double kUsual = 10;
        const auto folders = Catalogue::standardFolders();
        if (folders.empty()) return fail(ErrorCode::Missing, "demo", "no data folder", "one with the demo in it");
        return simulatedSource((folders.front() / "demo").string(), number.value_or(kUsual), catalogue);
    }
    if (kind == "serial" && !rest.empty())
        return serialSource(rest, number ? static_cast<unsigned>(*number) : kUsualBaud);
    if (kind == "replay" && !rest.empty()) return replaySource(rest, number.value_or(1));
    if (kind == "sysfs" && !rest.empty()) return sysfsSource(rest);
    return fail(ErrorCode::Unknown, "source", "“" + text + "”",
                "sim, serial:PATH[@BAUD], replay:FILE[@SPEED] or sysfs:DIR");
}

}  // namespace fg
