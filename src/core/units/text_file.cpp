#include "units/text_file.h"

#include "units/input_file.h"

#include <fmt/format.h>
#include <array>

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
    auto input = InputFile::open(path, expected);
    if (!input) return tl::unexpected(input.error());
    std::string text;
    for (std::array<char, 1 << 16> block;;) {  // not cleared: the files of a catalogue are small and many
        const auto got = input->read(block.data(), block.size());
        if (!got) return tl::unexpected(got.error());
        if (*got == 0) return text;
        text.append(block.data(), *got);
        if (text.size() > kMostBytes)
            return fail(ErrorCode::Range, path.string(), "more than 64 MiB",
                        fmt::format("{} of at most 64 MiB", expected));
    }
}

std::string inOneLine(std::string_view text) {
    std::string line;
    while (!text.empty()) {
        const std::size_t length = characterLength(text);
        const auto first = static_cast<unsigned char>(text[0]);
        if (length == 0)
            line += '?';
        else if (first < 0x20 || first == 0x7F || (first == 0xC2 && static_cast<unsigned char>(text[1]) < 0xA0))
            line += ' ';
        else
            line += text.substr(0, length);
        text.remove_prefix(length == 0 ? 1 : length);
    }
    return line;
}

}  // namespace fg
