#include "recording/track_reader.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

/// Between two samples further apart than this nothing was measured.
constexpr Micros kLeastGap_us = 5 * kMicrosASecond;
constexpr Micros kGapTimes = 10;
/// Pieces of a chunk that are kept in mind, and of how many chunks: some 1.3 KB for each.
constexpr std::size_t kPieces = 32, kMostParts = 20'000;

/// A picture being filled: where a time falls, and what falls there.
class Picture {
  public:
    Picture(TimeSpan span, std::size_t columns) : m_span(span) {
        view.columns.resize(columns, {std::nan(""), std::nan("")});
    }
    [[nodiscard]] std::size_t columnOf(Micros time_us) const {
        return fg::columnOf(time_us, m_span, view.columns.size());
    }
    /// No longer than a column: its limits may stand for its samples.
    [[nodiscard]] bool isShort(TimeSpan piece) const {
        return static_cast<double>(piece.to_us - piece.from_us) * static_cast<double>(view.columns.size()) <=
               static_cast<double>(length_us());
    }
    [[nodiscard]] bool touches(TimeSpan piece) const {
        return piece.from_us <= m_span.to_us && piece.to_us >= m_span.from_us;
    }
    void put(std::size_t column, double least, double most, std::uint32_t count, bool isAtLeast, bool isAtMost) {
        ViewColumn& into = view.columns[column];
        into.count += count;
        into.isAtLeast |= isAtLeast;
        into.isAtMost |= isAtMost;
        // Comparisons with NaN are false: the first value replaces what is none.
        if (!(into.least <= least)) into.least = std::isnan(least) ? into.least : least;
        if (!(into.most >= most)) into.most = std::isnan(most) ? into.most : most;
    }
    void put(std::span<const Micros> times, std::span<const Reading> readings) {
        for (std::size_t i = 0; i < times.size(); ++i) {
            if (!m_span.holds(times[i])) continue;
            const Reading& reading = readings[i];
            put(columnOf(times[i]), reading.value, reading.value, 1, reading.clip == Clip::AtLeast,
                reading.clip == Clip::AtMost);
        }
    }

    TrackView view;

  private:
    [[nodiscard]] Micros length_us() const { return std::max<Micros>(1, m_span.to_us - m_span.from_us); }
    TimeSpan m_span;
};

std::vector<TimeSpan> gapsBetween(std::span<const ChunkSummary> chunks, const Track& track) {
    std::vector<TimeSpan> gaps;
    const Micros usual_us = track.span && track.count > 1
                                ? (track.span->to_us - track.span->from_us) / static_cast<Micros>(track.count - 1)
                                : 0;
    for (std::size_t i = 1; i < chunks.size(); ++i) {
        const ChunkSummary& before = chunks[i - 1];
        const Micros typical_us =
            before.count > 1 ? (before.span.to_us - before.span.from_us) / (before.count - 1) : usual_us;
        const TimeSpan between{before.span.to_us, chunks[i].span.from_us};
        if (between.to_us - between.from_us > std::max(kLeastGap_us, kGapTimes * typical_us)) gaps.push_back(between);
    }
    return gaps;
}

/// Every code of a converter, or 65 536 of them where it has more; empty where words are no codes.
std::vector<double> codesOf(const Gauge& gauge) {
    if (!gauge.analog() || !gauge.analog()->converter().wordsAreCodes()) return {};
    constexpr double kMost = 65536;
    const Converter& converter = gauge.analog()->converter();
    const double least = static_cast<double>(converter.minCode()), most = static_cast<double>(converter.maxCode());
    const double step = std::max(1.0, std::ceil((most - least) / kMost));
    std::vector<double> words;
    for (double word = least; word <= most; word += step) words.push_back(word);
    return words;
}

bool goesOneWay(std::span<const Reading> readings) {
    int direction = 0;
    double before = std::nan("");
    for (const Reading& reading : readings) {
        if (std::isnan(reading.value)) continue;
        const int way = reading.value > before ? 1 : (reading.value < before ? -1 : 0);
        if (way * direction < 0) return false;
        if (way != 0) direction = way;
        before = reading.value;
    }
    return true;
}

}  // namespace

std::size_t columnOf(Micros time_us, TimeSpan span, std::size_t columns) {
    const Micros within_us = std::clamp(time_us, span.from_us, span.to_us) - span.from_us;
    const double part =
        static_cast<double>(within_us) / static_cast<double>(std::max<Micros>(1, span.to_us - span.from_us));
    return std::min(static_cast<std::size_t>(part * static_cast<double>(columns)), columns - 1);
}

Expected<TrackReader> TrackReader::make(const RecordingStore& store, const BenchRecording& recording,
                                        std::int64_t gauge, Conversion conversion, const Bench& bench,
                                        const Catalogue& catalogue) {
    const Track* track = recording.trackOf(gauge);
    if (!track)
        return fail(ErrorCode::Missing, "recording “" + recording.name + "”", fmt::format("no gauge {}", gauge),
                    "a gauge that was recorded");
    TrackReader reader(store, catalogue, *track);
    const BenchGauge* now = conversion == Conversion::AsNow ? bench.find(gauge) : nullptr;
    if (conversion == Conversion::AsNow)
        reader.m_pieces.push_back({track->descriptions.front().from_us, now ? now->spec : track->newest()});
    else
        for (const Description& one : track->descriptions) reader.m_pieces.push_back({one.from_us, one.gauge});
    for (const Track& other : recording.tracks) {
        if (other.gauge == gauge) continue;
        const BenchGauge* known = conversion == Conversion::AsNow ? bench.find(other.gauge) : nullptr;
        reader.m_linked.gauges.push_back({other.gauge, known ? known->spec : other.newest()});
        reader.m_others.push_back(other);
    }
    for (Piece& piece : reader.m_pieces) reader.prepare(piece);
    return reader;
}

void TrackReader::prepare(Piece& piece) const {
    piece.hasInputs = !piece.spec.inputs.empty();
    if (piece.hasInputs) return;
    auto made = Gauge::make(piece.spec, *m_catalogue);
    if (!made) {
        piece.problem = made.error();
        return;
    }
    if (const std::vector<double> codes = codesOf(*made); !codes.empty()) {
        piece.table.resize(codes.size());
        made->read(codes, piece.table);
        piece.isMonotone = goesOneWay(piece.table);
        piece.firstCode = codes.front();
        if (codes.size() > 1 && codes[1] != codes[0] + 1) piece.table.clear();  // of some codes only
    }
    piece.made.emplace(std::move(*made));
}

void TrackReader::readWords(const Piece& piece, std::span<const double> words, std::span<Reading> readings) {
    // Held here: what is written in the loop could be the piece's own, as far as the compiler knows.
    const std::span<const Reading> table = piece.table;
    const double first = piece.firstCode, count = static_cast<double>(table.size());
    for (std::size_t i = 0; i < words.size(); ++i) {
        const double at = words[i] - first;
        const bool isIn = at >= 0 && at < count;
        const auto index = static_cast<std::int32_t>(isIn ? at : 0);
        if (isIn && at == static_cast<double>(index))
            readings[i] = table[static_cast<std::size_t>(index)];
        else
            piece.made->read(words.subspan(i, 1), readings.subspan(i, 1));
    }
}

const TrackReader::Piece& TrackReader::pieceAt(Micros time_us) const {
    const auto after = std::upper_bound(m_pieces.begin(), m_pieces.end(), time_us,
                                        [](Micros time, const Piece& one) { return time < one.from_us; });
    return after == m_pieces.begin() ? *after : *std::prev(after);
}

const GaugeSpec& TrackReader::gaugeAt(Micros time_us) const { return pieceAt(time_us).spec; }

bool TrackReader::isOnePiece(TimeSpan span) const { return &pieceAt(span.from_us) == &pieceAt(span.to_us); }

// The engine carries the readings of other gauges over, as it did when they came.
Expected<std::vector<Reading>> TrackReader::convertLinked(const SampleColumns& samples) {
    constexpr Micros kBefore_us = 600 * kMicrosASecond;
    const Piece& piece = pieceAt(samples.times.front());
    Bench bench = m_linked;
    bench.gauges.push_back({m_track.gauge, piece.spec});
    Engine engine(*m_catalogue);
    // One channel a gauge, whatever they were bound to: two gauges on one channel have a track each.
    for (BenchGauge& gauge : bench.gauges) gauge.spec.channel = std::to_string(gauge.id);
    engine.setBench(bench);
    std::vector<std::string> names;
    for (const BenchGauge& gauge : bench.gauges) names.push_back(gauge.spec.channel);
    const auto second = [&](Micros time_us) {
        return static_cast<double>(time_us - samples.times.front()) / static_cast<double>(kMicrosASecond);
    };
    std::vector<Sample> all;
    const auto add = [&](std::uint32_t channel, const SampleColumns& columns) {
        for (std::size_t i = 0; i < columns.size(); ++i)
            all.push_back({channel, second(columns.times[i]), columns.sample(i).raw});
    };
    for (std::size_t i = 0; i < m_others.size(); ++i) {
        const TimeSpan span{samples.times.front() - kBefore_us, samples.times.back()};
        const auto got = m_store->read(m_others[i].id, span, [&](const SampleColumns& columns) {
            add(static_cast<std::uint32_t>(i), columns);
            return true;
        });
        if (!got) return tl::unexpected(got.error());
    }
    add(static_cast<std::uint32_t>(m_others.size()), samples);
    std::stable_sort(all.begin(), all.end(), [](const Sample& a, const Sample& b) { return a.time_s < b.time_s; });
    std::vector<Reading> readings;
    engine.addListener([&](const GaugeBatch& batch) {
        if (batch.gauge == m_track.gauge) readings.insert(readings.end(), batch.readings.begin(), batch.readings.end());
    });
    engine.take(all, names);
    readings.resize(samples.size(), Reading{std::nan("")});
    return readings;
}

Expected<void> TrackReader::convert(const SampleColumns& samples) {
    m_readings.resize(samples.size());
    for (std::size_t begin = 0; begin < samples.size();) {
        const Piece& piece = pieceAt(samples.times[begin]);
        std::size_t end = samples.size();
        if (&pieceAt(samples.times.back()) != &piece || m_pieces.size() > 2)
            for (end = begin + 1; end < samples.size() && &pieceAt(samples.times[end]) == &piece;) ++end;
        if (piece.problem) return tl::unexpected(piece.problem->within("“" + piece.spec.name + "”"));
        if (piece.hasInputs) {
            SampleColumns part;
            part.frameLength = samples.frameLength;
            for (std::size_t i = begin; i < end; ++i) {
                part.times.push_back(samples.times[i]);
                if (samples.frameLength == 0) {
                    part.words.push_back(samples.words[i]);
                } else {
                    const auto frame = samples.frame(i);
                    part.frames.insert(part.frames.end(), frame.begin(), frame.end());
                }
            }
            auto linked = convertLinked(part);
            if (!linked) return tl::unexpected(linked.error());
            std::copy(linked->begin(), linked->end(), m_readings.begin() + static_cast<std::ptrdiff_t>(begin));
        } else if (samples.frameLength == 0) {
            readWords(piece, std::span(samples.words).subspan(begin, end - begin),
                      std::span(m_readings).subspan(begin, end - begin));
        } else {
            for (std::size_t i = begin; i < end; ++i) m_readings[i] = piece.made->read(samples.frame(i));
        }
        begin = end;
    }
    return {};
}

Expected<void> TrackReader::read(TimeSpan span, const Take& take) {
    std::optional<Error> problem;
    const auto done = m_store->read(m_track.id, span, [&](const SampleColumns& stored) {
        // Where it is worked out the raw values are those of an input: the gauge itself has none.
        SampleColumns without;
        if (m_track.isWorkedOut) {
            without.times = stored.times;
            without.words.assign(stored.size(), std::nan(""));
        }
        const SampleColumns& samples = m_track.isWorkedOut ? without : stored;
        const auto converted = convert(samples);
        if (!converted) problem = converted.error();
        return converted && take(samples, m_readings);
    });
    if (problem) return tl::unexpected(*problem);
    return done;
}

void TrackReader::Known::take(const Reading& reading) {
    if (!(least <= reading.value) && !std::isnan(reading.value)) least = reading.value;
    if (!(most >= reading.value) && !std::isnan(reading.value)) most = reading.value;
    isAtLeast |= reading.clip == Clip::AtLeast;
    isAtMost |= reading.clip == Clip::AtMost;
}

Expected<TrackView> TrackReader::view(TimeSpan span, std::size_t columns, const Progress& goesOn) {
    const auto chunks = m_store->summaries(m_track.id, span);
    if (!chunks) return tl::unexpected(chunks.error());
    Picture picture(span, columns);
    picture.view.gaps = gapsBetween(*chunks, m_track);

    const auto putPiece = [&](TimeSpan piece, std::uint32_t count, const Known& known) {
        picture.view.isExact = false;
        const std::size_t first = picture.columnOf(piece.from_us), last = picture.columnOf(piece.to_us);
        for (const std::size_t column : {first, last})
            picture.put(column, known.least, known.most, count, known.isAtLeast, known.isAtMost);
    };
    const auto putKnown = [&](const ChunkSummary& chunk, const Known& known) {
        putPiece(chunk.span, chunk.count, known);
    };
    // A chunk that was looked at is known in pieces; a zoom or a picture that moves on is drawn from these.
    const auto putParts = [&](const ChunkSummary& chunk) {
        const auto it = m_parts.find(chunk.id);
        if (it == m_parts.end() || !std::all_of(it->second.begin(), it->second.end(),
                                                [&](const KnownPart& part) { return picture.isShort(part.span); }))
            return false;
        for (const KnownPart& part : it->second)
            if (picture.touches(part.span)) putPiece(part.span, part.count, part);
        return true;
    };
    // Where the reading goes one way, the limits of the words are those of the readings: all of them in one batch.
    std::vector<const ChunkSummary*> quick, slow;
    for (const ChunkSummary& chunk : *chunks) {
        if (!picture.isShort(chunk.span)) {
            if (!putParts(chunk)) slow.push_back(&chunk);
        } else if (const auto it = m_known.find(chunk.id); it != m_known.end()) {
            putKnown(chunk, it->second);
        } else {
            const bool isQuick = chunk.hasWords() && pieceAt(chunk.span.from_us).isMonotone && isOnePiece(chunk.span);
            (isQuick ? quick : slow).push_back(&chunk);
        }
    }
    for (std::size_t begin = 0; begin < quick.size();) {
        const Piece& piece = pieceAt(quick[begin]->span.from_us);
        std::size_t end = begin;
        std::vector<double> words;
        for (; end < quick.size() && &pieceAt(quick[end]->span.from_us) == &piece; ++end) {
            words.push_back(quick[end]->least);
            words.push_back(quick[end]->most);
        }
        std::vector<Reading> readings(words.size());
        readWords(piece, words, readings);
        for (std::size_t i = begin; i < end; ++i) {
            const Reading &a = readings[2 * (i - begin)], &b = readings[2 * (i - begin) + 1];
            const Known known{std::min(a.value, b.value), std::max(a.value, b.value),
                              a.clip == Clip::AtLeast || b.clip == Clip::AtLeast,
                              a.clip == Clip::AtMost || b.clip == Clip::AtMost};
            if (std::isnan(a.value) || std::isnan(b.value))
                slow.push_back(quick[i]);  // what has a value lies between
            else
                putKnown(*quick[i], known);
        }
        begin = end;
    }
    std::sort(slow.begin(), slow.end(),
              [](const ChunkSummary* a, const ChunkSummary* b) { return a->span.from_us < b->span.from_us; });
    constexpr std::size_t kAtOnce = 64;
    for (std::size_t begin = 0; begin < slow.size(); begin += kAtOnce) {
        if (goesOn && !goesOn(static_cast<double>(begin) / static_cast<double>(slow.size())))
            return fail(ErrorCode::Busy, "view", "a request to stop", "to go on to the end");
        const std::size_t end = std::min(begin + kAtOnce, slow.size());
        for (std::size_t i = begin; i < end; ++i) {
            const ChunkSummary& chunk = *slow[i];
            const Known nothing{std::nan(""), std::nan(""), false, false};
            Known known = nothing;
            std::vector<KnownPart> parts;
            const auto most = static_cast<std::uint32_t>(chunk.count / kPieces + 1);
            const auto done = read(chunk.span, [&](const SampleColumns& samples, std::span<const Reading> readings) {
                for (std::size_t k = 0; k < samples.size(); ++k) {
                    const Micros time_us = samples.times[k];
                    if (parts.empty() || parts.back().count == most) parts.push_back({nothing, {time_us, time_us}, 0});
                    KnownPart& part = parts.back();
                    part.take(readings[k]);
                    part.span.to_us = time_us;
                    ++part.count;
                    known.take(readings[k]);
                }
                picture.put(samples.times, readings);
                return true;
            });
            if (!done) return tl::unexpected(done.error());
            if (chunk.id == 0) continue;
            m_known[chunk.id] = known;
            if (m_parts.size() >= kMostParts) m_parts.clear();
            m_parts[chunk.id] = std::move(parts);
        }
    }
    return std::move(picture.view);
}

}  // namespace fg
