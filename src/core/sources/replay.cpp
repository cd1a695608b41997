#include "sources/replay.h"

#include "bench/gauge_json.h"
#include "gauge/csv_records.h"
#include "recording/recording_csv.h"
#include "units/date.h"
#include "units/input_file.h"

#include <fmt/format.h>
#include <algorithm>
#include <charconv>
#include <cmath>
#include <deque>
#include <map>

namespace fg {
namespace {

/// A line at its time from the start of the recording.
struct TimedLine {
    double time_s = 0;
    std::string text;
};

/// Plays lines at their times, faster or slower.
class Replay : public Source {
  public:
    Replay(std::string name, double speed) : m_name(std::move(name)), m_speed(speed) {}

    std::string name() const override { return m_name; }

    Given take(double now_s) override {
        Given given;
        // What is due is taken in pieces, so that whoever asked stays awake.
        constexpr std::size_t kMostAtOnce = 4096;
        while (m_problem.empty() && given.pieces.size() < kMostAtOnce) {
            if (m_ahead.empty() && !m_isAll) fill();
            if (m_ahead.empty()) break;
            // Time that goes back is played without waiting, and without going back.
            m_at_s = std::max(m_at_s, m_ahead.front().time_s);
            if (m_at_s > now_s) break;
            given.pieces.push_back({m_at_s, std::move(m_ahead.front().text)});
            m_ahead.pop_front();
        }
        given.problem = m_problem;
        given.isAtEnd = (m_isAll && m_ahead.empty()) || !m_problem.empty();
        return given;
    }

    double speed() const override { return m_speed; }

    double quietFor_s(double now_s) const override {
        const double kMost_s = 0.1 * m_speed;
        return m_ahead.empty() ? 0 : std::clamp(m_ahead.front().time_s - now_s, 0.0, kMost_s);
    }

  protected:
    /// Puts more lines into m_ahead, or sets m_isAll or m_problem.
    virtual void fill() = 0;

    std::deque<TimedLine> m_ahead;
    bool m_isAll = false;
    std::string m_problem;

  private:
    std::string m_name;
    double m_speed;
    double m_at_s = 0;
};

class CsvReplay final : public Replay {
  public:
    CsvReplay(InputFile file, const std::string& path, double speed)
        : Replay(fmt::format("{}, {} ×", path, speed), speed),
          m_file(std::move(file)),
          m_read([this](char* bytes, std::size_t count) { return m_file.read(bytes, count); }),
          m_records(m_read) {}

    Expected<void> begin(const std::string& path) {
        if (const auto filled = m_records.fillLine(); !filled) return filled;
        m_separator = csv::separatorOf(m_records.ahead());
        std::map<std::string, std::string> channels;  // of a recording's own gauges, by name
        for (;;) {
            auto record = m_records.next(m_separator);
            if (!record) return tl::unexpected(record.error());
            if (!*record) return fail(ErrorCode::Missing, path, "no header line", "one that names the columns");
            const std::string_view text = (*record)->text;
            constexpr std::string_view kGauge = "# gauge: ";
            if (text.starts_with(kGauge)) {
                if (const auto spec = readGauge(std::string(text.substr(kGauge.size())), path))
                    channels[spec->name] = spec->channel;
                continue;
            }
            if (text.starts_with('#') || trimmed(text).empty()) continue;
            takeHeader(csv::fieldsOf(**record, m_separator), channels);
            fill();  // its first time is the clock's zero
            return {};
        }
    }

    std::optional<std::int64_t> origin_us() const override { return m_origin_us; }

  private:
    void takeHeader(const std::vector<std::string_view>& names, const std::map<std::string, std::string>& channels) {
        constexpr std::string_view kRaw = " raw";
        const bool hasRaw =
            std::any_of(names.begin(), names.end(), [&](std::string_view name) { return name.ends_with(kRaw); });
        for (std::size_t i = 0; i < names.size(); ++i) {
            std::string_view name = names[i];
            if (name == "time" || name == "t") m_timeAt = i;
            const bool isRaw = name.ends_with(kRaw);
            if (isRaw) name.remove_suffix(kRaw.size());
            const auto known = channels.find(std::string(name));
            std::string channel(known == channels.end() ? name : std::string_view(known->second));
            for (char& c : channel)
                if (!std::isalnum(static_cast<unsigned char>(c)) && c != '_' && c != '-' && c != '.') c = '_';
            m_channels.push_back(hasRaw && !isRaw ? std::string() : channel);
        }
        m_channels[m_timeAt].clear();
    }

    void fill() override {
        constexpr int kAtOnce = 1000;
        for (int i = 0; i < kAtOnce; ++i) {
            auto record = m_records.next(m_separator);
            if (!record) {
                m_problem = record.error().message();
                return;
            }
            if (!*record) {
                m_isAll = true;
                return;
            }
            if ((*record)->text.starts_with('#')) continue;
            const auto fields = csv::fieldsOf(**record, m_separator);
            if (m_timeAt >= fields.size()) continue;
            const auto time_s = secondsOf(fields[m_timeAt]);
            if (!time_s) continue;
            if (!m_origin_s) {
                m_origin_s = *time_s;
                m_origin_us = microsOfTime(trimmed(fields[m_timeAt]));
            }
            TimedLine line{*time_s - *m_origin_s, {}};
            for (std::size_t at = 0; at < std::min(fields.size(), m_channels.size()); ++at)
                if (!m_channels[at].empty() && !trimmed(fields[at]).empty())
                    line.text +=
                        fmt::format("{}{}={}", line.text.empty() ? "" : " ", m_channels[at], trimmed(fields[at]));
            line.text += '\n';
            if (line.text.size() > 1) m_ahead.push_back(std::move(line));
        }
    }

    static std::optional<double> secondsOf(std::string_view text) {
        text = trimmed(text);
        if (const auto micros = microsOfTime(text)) return static_cast<double>(*micros) / kMicrosASecond;
        double seconds = 0;
        const auto [stop, status] = std::from_chars(text.data(), text.data() + text.size(), seconds);
        const bool isWhole = status == std::errc{} && stop == text.data() + text.size() && std::isfinite(seconds);
        return isWhole ? std::optional(seconds) : std::nullopt;
    }

    InputFile m_file;
    CsvReader m_read;
    csv::Records m_records;
    char m_separator = ',';
    std::size_t m_timeAt = 0;
    std::vector<std::string> m_channels;  // by column; empty: not played
    std::optional<double> m_origin_s;
    std::optional<Micros> m_origin_us;
};

class StoreReplay final : public Replay {
  public:
    StoreReplay(const RecordingStore& store, BenchRecording recording, double speed)
        : Replay(fmt::format("“{}”, {} ×", recording.name, speed), speed),
          m_store(store),
          m_recording(std::move(recording)),
          m_next_us(m_recording.span().from_us) {}
    std::optional<std::int64_t> origin_us() const override { return m_recording.span().from_us; }

  private:
    void fill() override {
        // A piece of time that has about so many samples; more where nothing was measured.
        constexpr std::uint64_t kAtOnce = 1000;
        const TimeSpan whole = m_recording.span();
        std::uint64_t count = 0;
        for (const Track& track : m_recording.tracks) count += track.count;
        const Micros piece_us =
            std::max<Micros>(kMicrosASecond, (whole.to_us - whole.from_us) / static_cast<Micros>(count / kAtOnce + 1));
        std::map<Micros, std::string> lines;
        while (lines.empty() && m_next_us <= whole.to_us) {
            const TimeSpan piece{m_next_us, m_next_us + piece_us - 1};
            m_next_us += piece_us;
            for (const Track& track : m_recording.tracks) {
                const auto read = m_store.read(track.id, piece, [&](const SampleColumns& columns) {
                    for (std::size_t i = 0; i < columns.size(); ++i) {
                        const RecordedSample sample = columns.sample(i);
                        lines[sample.time_us] +=
                            fmt::format(" {}={}", track.gaugeAt(sample.time_us).channel, rawText(sample.raw));
                    }
                    return true;
                });
                if (!read) m_problem = read.error().message();
            }
        }
        for (auto& [time_us, text] : lines) {
            const double time_s = static_cast<double>(time_us - whole.from_us) / kMicrosASecond;
            m_ahead.push_back({time_s, text.substr(1) + "\n"});
        }
        m_isAll = m_next_us > whole.to_us;
    }

    const RecordingStore& m_store;
    BenchRecording m_recording;
    Micros m_next_us;
};

}  // namespace

Expected<std::unique_ptr<Source>> replaySource(const std::string& path, double speed) {
    auto file = InputFile::open(path, "a CSV file with a time column");
    if (!file) return tl::unexpected(file.error());
    auto source = std::make_unique<CsvReplay>(std::move(*file), path, speed);
    if (const auto begun = source->begin(path); !begun) return tl::unexpected(begun.error());
    return source;
}

std::unique_ptr<Source> replaySource(const RecordingStore& store, const BenchRecording& recording, double speed) {
    return std::make_unique<StoreReplay>(store, recording, speed);
}

}  // namespace fg
