#include "acquisition/line_reader.h"

#include "acquisition/said_line.h"
#include "json/json_text.h"
#include "units/letters.h"

#include <fmt/format.h>
#include <algorithm>
#include <charconv>
#include <cmath>
#include <nlohmann/json.hpp>

namespace fg {
namespace {

bool isNameStart(char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_'; }
bool isNameChar(char c) { return isNameStart(c) || (c >= '0' && c <= '9') || c == '-' || c == '.'; }

bool isName(std::string_view text) {
    return !text.empty() && isNameStart(text[0]) && std::all_of(text.begin(), text.end(), isNameChar);
}

std::optional<double> readNumber(std::string_view text) {
    if (text.starts_with("0x") || text.starts_with("0X")) {
        std::uint64_t value = 0;
        const auto [end, status] = std::from_chars(text.data() + 2, text.data() + text.size(), value, 16);
        const bool whole = status == std::errc{} && end == text.data() + text.size() && text.size() > 2;
        return whole ? std::optional(static_cast<double>(value)) : std::nullopt;
    }
    double value = 0;
    const auto [end, status] = std::from_chars(text.data(), text.data() + text.size(), value);
    const bool whole = status == std::errc{} && end == text.data() + text.size() && std::isfinite(value);
    return whole ? std::optional(value) : std::nullopt;
}

std::optional<std::uint8_t> readByte(std::string_view text) {
    unsigned value = 0;
    const auto [end, status] = std::from_chars(text.data(), text.data() + text.size(), value, 16);
    if (text.size() != 2 || status != std::errc{} || end != text.data() + text.size()) return std::nullopt;
    return static_cast<std::uint8_t>(value);
}

std::vector<std::string_view> split(std::string_view text, char separator) {
    std::vector<std::string_view> parts;
    for (std::size_t begin = 0;;) {
        const std::size_t end = text.find(separator, begin);
        parts.push_back(trimmed(text.substr(begin, end - begin)));
        if (end == std::string_view::npos) return parts;
        begin = end + 1;
    }
}

/// One value: a number, or two or more bytes in hex. A single pair of digits ("10") is a number: bytes come in twos or
/// more, or as 0x10.
std::optional<Raw> readRaw(std::string_view text) {
    const auto words = split(text, ' ');
    if (words.size() == 1) {
        if (const auto number = readNumber(words[0])) return Raw(*number);
        return std::nullopt;
    }
    std::vector<std::uint8_t> bytes;
    for (const std::string_view word : words) {
        const auto byte = readByte(word);
        if (!byte) return std::nullopt;
        bytes.push_back(*byte);
    }
    return Raw(std::move(bytes));
}

/// `t` is the board's time, everything else a channel. False when the value is none.
bool addValue(Frame& frame, std::string_view name, const std::optional<Raw>& raw, const std::string& unit = {}) {
    if (!raw) return false;
    if (name == "t" && unit.empty()) {
        const double* time = std::get_if<double>(&*raw);
        if (time) frame.time_s = *time;
        return time != nullptr;
    }
    frame.samples.push_back({std::string(name), *raw, unit});
    return true;
}

std::optional<Frame> parsePairs(std::string_view line) {
    Frame frame;
    std::size_t at = 0;
    while (at < line.size()) {
        const std::size_t equals = line.find('=', at);
        if (equals == std::string_view::npos) return std::nullopt;
        const std::string_view name = trimmed(line.substr(at, equals - at));
        if (!isName(name)) return std::nullopt;
        // The value reaches to the word before the next "=".
        const std::size_t nextEquals = line.find('=', equals + 1);
        std::size_t end = line.size();
        if (nextEquals != std::string_view::npos) {
            end = line.find_last_of(" \t", nextEquals);
            if (end == std::string_view::npos || end <= equals) return std::nullopt;
        }
        if (!addValue(frame, name, readRaw(trimmed(line.substr(equals + 1, end - equals - 1))))) return std::nullopt;
        at = end + (end < line.size() ? 1 : 0);
    }
    return frame;
}

std::optional<Raw> readJsonValue(const nlohmann::json& value) {
    if (value.is_number())
        return std::isfinite(value.get<double>()) ? std::optional<Raw>(value.get<double>()) : std::nullopt;
    if (value.is_string()) return readRaw(value.get<std::string>());
    if (!value.is_array() || value.empty()) return std::nullopt;
    std::vector<std::uint8_t> bytes;
    for (const auto& entry : value) {
        if (!entry.is_number_integer() || entry.get<std::int64_t>() < 0 || entry.get<std::int64_t>() > 255)
            return std::nullopt;
        bytes.push_back(entry.get<std::uint8_t>());
    }
    return Raw(std::move(bytes));
}

std::optional<Frame> parseJsonLine(std::string_view line) {
    const auto json = parseJson(line, "line");
    if (!json || !json->is_object()) return std::nullopt;
    Frame frame;
    for (const auto& [name, value] : json->items())
        if (!addValue(frame, name, readJsonValue(value))) return std::nullopt;
    return frame;
}

}  // namespace

std::optional<Frame> LineReader::parseCsv(std::string_view line) {
    if (auto header = readSaidHeader(line); !header.empty()) {
        m_header = std::move(header);
        const std::size_t other = line.find_first_of(";\t");
        m_separator = other == std::string_view::npos ? ',' : line[other];
        return Frame{};  // a header is a good line with nothing in it
    }
    if (m_header.empty()) return std::nullopt;
    const auto fields = split(line, m_separator);
    if (fields.size() != m_header.size()) return std::nullopt;
    Frame frame;
    for (std::size_t i = 0; i < fields.size(); ++i) {
        if (fields[i].empty()) continue;  // nothing new on this channel
        if (!addValue(frame, m_header[i].channel, readRaw(fields[i]), m_header[i].unit)) return std::nullopt;
    }
    return frame;
}

std::optional<Frame> LineReader::parse(std::string_view line) {
    if (line.front() == '{') return parseJsonLine(line);
    if (line.find('=') != std::string_view::npos)
        if (auto frame = parsePairs(line)) return frame;
    if (auto frame = parseCsv(line)) return frame;
    auto frame = readSaidLine(line);
    if (!frame || frame->samples.empty()) return frame;
    // A number alone may be the rest of a line whose beginning was lost, unless the board sends nothing else.
    const bool isBare = frame->samples.front().channel.starts_with("value");
    if (isBare && (m_hasNames || m_mayBeCut)) return std::nullopt;
    return frame;
}

bool LineReader::areKnown(const Frame& frame) {
    for (const RawSample& sample : frame.samples) {
        if (m_channels.contains(sample.channel)) continue;
        if (m_channels.size() >= kMostChannels) return false;
        m_channels.insert(sample.channel);
    }
    return true;
}

namespace {

/// Into a text that may be there already, of at most `most` characters.
void putShown(std::string_view line, std::size_t most, std::string& shown) {
    shown.clear();
    for (const char c : line.substr(0, most)) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte >= 0x20 && byte < 0x7F)
            shown += c;
        else
            shown += fmt::format("\\x{:02X}", byte);
    }
    if (shown.size() > most) shown.resize(most);
}

}  // namespace

void LineReader::countJunk(std::string_view line) {
    constexpr std::size_t kMost = 80;
    ++m_junk;
    ++m_recentJunk;
    putShown(line, kMost, m_lastJunk);
}

void LineReader::show(std::string_view line, SeenKind kind) {
    constexpr std::size_t kMost = 120;
    SeenLine seen;
    if (m_lastLines.size() >= kShownLines) {
        seen = std::move(m_lastLines.front());  // its room is used again
        m_lastLines.pop_front();
    }
    putShown(line, kMost, seen.text);
    seen.kind = kind;
    m_lastLines.push_back(std::move(seen));
}

std::vector<Frame> LineReader::feed(std::string_view bytes) {
    std::vector<Frame> frames;
    for (std::size_t begin = 0; begin < bytes.size();) {
        const std::size_t newline = bytes.find('\n', begin);
        const std::string_view piece = bytes.substr(begin, newline - begin);
        if (m_partial.size() + piece.size() > kLongestLine) m_overlong = true;
        if (!m_overlong) m_partial += piece;
        if (newline == std::string_view::npos) break;
        begin = newline + 1;

        const std::string_view line = trimmed(m_partial);
        const bool isComment = !m_overlong && (line.empty() || line.front() == '#');
        if (isComment) {
            if (!line.empty()) show(line, SeenKind::Comment);
        } else {
            if (++m_recentLines > 20) {
                m_recentLines /= 2;
                m_recentJunk /= 2;
            }
            auto frame = m_overlong ? std::nullopt : parse(line);
            const bool isGood = frame && areKnown(*frame);
            m_mayBeCut = false;
            if (isGood && !frame->samples.empty() && !frame->samples.front().channel.starts_with("value"))
                m_hasNames = true;
            show(line, !isGood ? SeenKind::Junk : (frame->samples.empty() ? SeenKind::Header : SeenKind::Values));
            if (!isGood) {
                countJunk(line);
            } else if (!frame->samples.empty()) {
                ++m_frames;
                frames.push_back(std::move(*frame));
            }
        }
        m_partial.clear();
        m_overlong = false;
    }
    return frames;
}

}  // namespace fg
