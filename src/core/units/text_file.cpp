#include "units/text_file.h"

#include <fmt/format.h>
#include <cerrno>
#include <cstring>
#include <fstream>

namespace fg {
namespace {

constexpr std::size_t kMostBytes = std::size_t{64} << 20;

/// Bytes of the UTF-8 character at the beginning of the text; 0 where there is none.
std::size_t characterLength(std::string_view text) {
    const auto first = static_cast<unsigned char>(text[0]);
    const std::size_t length = first < 0x80         ? 1
                               : first >> 5 == 0x6  ? 2
                               : first >> 4 == 0xE  ? 3
                               : first >> 3 == 0x1E ? 4
                                                    : 0;
    if (length > text.size()) return 0;
    for (std::size_t i = 1; i < length; ++i)
        if ((static_cast<unsigned char>(text[i]) & 0xC0) != 0x80) return 0;
    return length;
}

}  // namespace

Expected<std::string> readTextFile(const std::filesystem::path& path, std::string_view expected) {
    const std::string wanted = std::string(expected) + " that can be read";
    std::error_code error;
    if (std::filesystem::is_directory(path, error)) return fail(ErrorCode::Io, path.string(), "a folder", wanted);
    errno = 0;
    std::ifstream file(path, std::ios::binary);
    if (!file) return fail(ErrorCode::Io, path.string(), errno ? std::strerror(errno) : "no file", wanted);
    std::string text;
    for (char block[1 << 14]; file.read(block, sizeof block) || file.gcount() > 0;) {
        text.append(block, static_cast<std::size_t>(file.gcount()));
        if (text.size() > kMostBytes)
            return fail(ErrorCode::Range, path.string(), "more than 64 MiB",
                        fmt::format("{} of at most 64 MiB", expected));
    }
    return text;
}

std::string inOneLine(std::string_view text) {
    std::string line;
    while (!text.empty()) {
        const std::size_t length = characterLength(text);
        const auto first = static_cast<unsigned char>(text[0]);
        if (length == 0)
            line += '?';
        else if (first < 0x20 || first == 0x7F)
            line += ' ';
        else
            line += text.substr(0, length);
        text.remove_prefix(length == 0 ? 1 : length);
    }
    return line;
}

}  // namespace fg
