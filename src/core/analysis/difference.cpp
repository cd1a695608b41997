#include "analysis/difference.h"

#include "analysis/pairing.h"

#include <algorithm>
#include <cmath>

namespace fg {
namespace {

/// About how many samples of a track lie in a span.
double samplesIn(const Track& track, TimeSpan span) {
    if (!track.span || track.span->to_us <= track.span->from_us) return static_cast<double>(track.count);
    const Micros from_us = std::max(span.from_us, track.span->from_us), to_us = std::min(span.to_us, track.span->to_us);
    if (to_us <= from_us) return 0;
    return static_cast<double>(track.count) * static_cast<double>(to_us - from_us) /
           static_cast<double>(track.span->to_us - track.span->from_us);
}

}  // namespace

Expected<TrackView> differenceView(TrackReader& first, TrackReader& second, const Track& track, TimeSpan span,
                                   std::size_t columns, double longest_s, const TrackReader::Progress& goesOn) {
    constexpr double kExact = 100'000;
    constexpr std::size_t kAtOnce = 2'000'000;
    TrackView view;
    view.columns.resize(columns, {std::nan(""), std::nan("")});
    const double length_us = static_cast<double>(std::max<Micros>(1, span.to_us - span.from_us));
    const double all = samplesIn(track, span);
    view.isExact = all <= kExact;
    const std::size_t pieces = view.isExact ? 1 : columns;
    const double part = view.isExact ? 1 : kExact / all;
    const auto around_us = static_cast<Micros>(longest_s * static_cast<double>(kMicrosASecond));
    for (std::size_t i = 0; i < pieces; ++i) {
        const double done = static_cast<double>(i) / static_cast<double>(pieces);
        if (goesOn && !goesOn(done)) return fail(ErrorCode::Busy, "difference", "a request to stop", "to go on");
        const Micros from_us = span.from_us + static_cast<Micros>(length_us * done);
        const TimeSpan piece{from_us, from_us + static_cast<Micros>(length_us * part / static_cast<double>(pieces))};
        const auto a = selectionOf(first, piece, kAtOnce);
        if (!a) return tl::unexpected(a.error());
        const auto b = selectionOf(second, {piece.from_us - around_us, piece.to_us + around_us}, kAtOnce);
        if (!b) return tl::unexpected(b.error());
        const Pairs pairs = pairsOf(*a, *b, longest_s, kAtOnce);
        for (std::size_t k = 0; k < pairs.first.size(); ++k) {
            ViewColumn& into = view.columns[columnOf(a->first_us + microsOf(pairs.times_s[k]), span, columns)];
            const double difference = pairs.first[k] - pairs.second[k];
            into.least = into.count == 0 ? difference : std::min(into.least, difference);
            into.most = into.count == 0 ? difference : std::max(into.most, difference);
            ++into.count;
        }
    }
    return view;
}

}  // namespace fg
