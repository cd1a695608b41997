// Room `acquisition`: where raw values come from. Whatever the transport (in-process simulation, serial line, file), it
// delivers bytes of the line protocol (docs/line-protocol.md), which LineReader turns into frames.
#pragma once

#include <cstdint>
#include <deque>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

namespace fg {

/// A raw value: a converter code or count, or the bytes of a digital part.
using Raw = std::variant<double, std::vector<std::uint8_t>>;

struct RawSample {
    std::string channel;
    Raw raw;
    std::string unit =
        {};  ///< as it was written behind a number: then it is a reading that the board worked out itself
    bool operator==(const RawSample&) const = default;
};

/// What one line said.
struct Frame {
    std::optional<double> time_s;  ///< the board's own time, when it sends one
    std::vector<RawSample> samples;
};

/// A column that a header names: its channel, and the unit written behind it.
struct SaidColumn {
    std::string channel, unit;
};

/// What became of a line.
enum class SeenKind { Values, Header, Comment, Junk };

/// A line as it came, for show: unprintable bytes as \xNN, at most 120 characters.
struct SeenLine {
    std::string text;
    SeenKind kind = SeenKind::Values;
};

/// Turns bytes, cut anywhere, into frames. Understands the three shapes of the line protocol, and what programs print
/// for people (said_line.h), and may be given a mixture. Lines that are none of them are junk: counted, never fatal.
class LineReader {
  public:
    /// Longest line taken; a longer one is junk up to its end.
    static constexpr std::size_t kLongestLine = 4096;
    /// Different channel names taken; a line with another one more is junk. Keeps a broken board from filling the
    /// memory.
    static constexpr std::size_t kMostChannels = 10000;

    /// Feeds bytes and returns the frames that they completed.
    [[nodiscard]] std::vector<Frame> feed(std::string_view bytes);

    /// The transport was interrupted: forgets the half line that stood before, which the next bytes do not go on with.
    void interrupt() {
        m_partial.clear();
        m_overlong = false;
        m_mayBeCut = true;
    }

    [[nodiscard]] std::uint64_t frameCount() const { return m_frames; }
    [[nodiscard]] std::uint64_t junkCount() const { return m_junk; }
    /// The last lines, newest last; at most kShownLines.
    static constexpr std::size_t kShownLines = 200;
    [[nodiscard]] const std::deque<SeenLine>& lastLines() const { return m_lastLines; }
    /// The last junk line, unprintable bytes shown as \xNN, at most 80 characters.
    [[nodiscard]] const std::string& lastJunk() const { return m_lastJunk; }

    /// Nine in ten of the last lines were junk: most likely the wrong speed.
    [[nodiscard]] bool looksLikeWrongSpeed() const {
        return m_recentLines >= 8 && m_recentJunk * 10 >= m_recentLines * 9;
    }

  private:
    std::optional<Frame> parse(std::string_view line);
    std::optional<Frame> parseCsv(std::string_view line);
    [[nodiscard]] bool areKnown(const Frame& frame);
    void countJunk(std::string_view line);
    void show(std::string_view line, SeenKind kind);

    std::string m_partial;
    bool m_overlong = false;
    bool m_mayBeCut = false;  // the next line began before we listened
    bool m_hasNames = false;  // lines with names came
    std::vector<SaidColumn> m_header;
    char m_separator = ',';
    std::deque<SeenLine> m_lastLines;
    std::set<std::string, std::less<>> m_channels;
    std::uint64_t m_frames = 0;
    std::uint64_t m_junk = 0;
    std::string m_lastJunk;
    unsigned m_recentLines = 0;
    unsigned m_recentJunk = 0;
};

}  // namespace fg
