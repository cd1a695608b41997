#include "analysis/look.h"

#include "analysis/difference.h"
#include "analysis/pairing.h"

#include <algorithm>
#include <cmath>

namespace fg {
namespace {

/// The usual time between two samples; 1 s where that is not known.
Micros usualStep_us(const Track& track) {
    if (!track.span || track.count < 2) return kMicrosASecond;
    return std::max<Micros>(1, (track.span->to_us - track.span->from_us) / static_cast<Micros>(track.count - 1));
}

std::optional<Reading> nearestTo(Micros time_us, TrackReader& reader, Micros step_us) {
    const Micros reach_us = std::max<Micros>(2 * kMicrosASecond, 3 * step_us);
    std::optional<Reading> nearest;
    Micros distance_us = reach_us + 1;
    (void)reader.read({time_us - reach_us, time_us + reach_us},
                      [&](const SampleColumns& samples, std::span<const Reading> readings) {
                          for (std::size_t i = 0; i < samples.size(); ++i) {
                              const Micros away_us = std::abs(samples.times[i] - time_us);
                              if (away_us < distance_us) {
                                  distance_us = away_us;
                                  nearest = readings[i];
                              }
                          }
                          return true;
                      });
    return nearest;
}

/// At most so many of them, evenly: a curve is no better told by millions.
Selection thinned(const Selection& selection, std::size_t most) {
    const std::size_t step = selection.values.size() / most + 1;
    if (step == 1) return selection;
    Selection few;
    few.first_us = selection.first_us;
    for (std::size_t i = 0; i < selection.values.size(); i += step) {
        few.times_s.push_back(selection.times_s[i]);
        few.values.push_back(selection.values[i]);
    }
    return few;
}

/// What only a stretch that somebody chose is asked for.
void analyse(const Selection& selection, SeenTrack& seen) {
    constexpr std::size_t kMostFitted = 2000;
    const Selection few = thinned(selection, kMostFitted);
    if (const auto approach = fitApproach(few.times_s, few.values)) seen.approach = *approach;
    if (selection.times_s.size() < 2) return;
    const double interval_s = selection.times_s.back() / static_cast<double>(selection.times_s.size() - 1);
    if (auto allan = allanDeviation(selection.values, interval_s)) seen.allan = std::move(*allan);
    if (auto spectrum = noiseSpectrum(selection.values, interval_s)) seen.spectrum = std::move(*spectrum);
}

}  // namespace

std::vector<Stretch> stretchesOf(const TrackView& view, TimeSpan span) {
    std::vector<Stretch> found;
    const auto edge = [&](std::size_t column) {
        return span.from_us +
               static_cast<Micros>(static_cast<double>(span.to_us - span.from_us) * static_cast<double>(column) /
                                   static_cast<double>(view.columns.size()));
    };
    std::optional<Stretch> open;
    for (std::size_t i = 0; i < view.columns.size(); ++i) {
        const ViewColumn& column = view.columns[i];
        if (column.count == 0) continue;  // between two samples, or a gap
        std::optional<Stretch::Kind> kind;
        if (column.isAtLeast) kind = Stretch::Kind::AtLeast;
        if (column.isAtMost) kind = Stretch::Kind::AtMost;
        if (!kind && !column.hasValue()) kind = Stretch::Kind::NoValue;
        if (open && kind == open->kind) {
            open->span.to_us = edge(i + 1);
            continue;
        }
        if (open) found.push_back(*open);
        open.reset();
        if (kind)
            open = Stretch{*kind, {edge(i), edge(i + 1)}, *kind == Stretch::Kind::AtMost ? column.least : column.most};
    }
    if (open) found.push_back(*open);
    for (const TimeSpan& gap : view.gaps) found.push_back({Stretch::Kind::Missing, gap, 0});
    std::sort(found.begin(), found.end(),
              [](const Stretch& a, const Stretch& b) { return a.span.from_us < b.span.from_us; });
    return found;
}

Expected<TrackReader*> RecordingLook::readerOf(const LookWish& wish, std::int64_t gauge) {
    const Track* track = wish.recording.trackOf(gauge);
    if (!track) return fail(ErrorCode::Missing, "recording", "no such gauge", "one that was recorded");
    const BenchGauge* now = wish.bench.find(gauge);
    const auto spec = now ? std::optional(now->spec) : std::nullopt;
    const auto key = std::tuple(track->id, gauge, static_cast<int>(wish.conversion));
    const auto it = m_known.find(key);
    // A gauge with inputs reads as they do: put one right, and it follows.
    const bool isLinked = !(spec ? *spec : track->newest()).inputs.empty();
    const auto others =
        isLinked && wish.conversion == Conversion::AsNow ? wish.bench.gauges : std::vector<BenchGauge>();
    const bool isSame =
        it != m_known.end() && it->second.track.descriptions == track->descriptions &&
        (wish.conversion == Conversion::AsRecorded || (it->second.now == spec && it->second.others == others));
    if (isSame) return &it->second.reader;
    auto made = TrackReader::make(m_store, wish.recording, gauge, wish.conversion, wish.bench, m_catalogue);
    if (!made) return tl::unexpected(made.error());
    return &m_known.insert_or_assign(key, Known{std::move(*made), *track, spec, others}).first->second.reader;
}

Selection RecordingLook::lookAt(const LookWish& wish, const Track& track, TrackReader& reader, SeenTrack& seen) const {
    const Micros step_us = usualStep_us(track);
    if (wish.cursor) {
        seen.atCursor = nearestTo(*wish.cursor, reader, step_us);
        const bool isValue = seen.atCursor && !std::isnan(seen.atCursor->value) && seen.atCursor->clip == Clip::None;
        const auto gauge = isValue && seen.spec.inputs.empty() ? Gauge::make(seen.spec, m_catalogue)
                                                               : Expected<Gauge>(tl::unexpected(Error{}));
        if (gauge)
            if (const auto budget = gauge->budgetAt(seen.atCursor->value);
                budget && (gauge->analog() || budget->sensorStated))
                seen.expanded = budget->expanded;
    }
    if (wish.other) {
        seen.atOther = nearestTo(*wish.other, reader, step_us);
        const auto isValue = [](const std::optional<Reading>& one) {
            return one && !std::isnan(one->value) && one->clip == Clip::None;
        };
        if (wish.cursor && *wish.cursor != *wish.other && isValue(seen.atCursor) && isValue(seen.atOther))
            seen.sinceOther =
                CursorChange{seen.atCursor->value - seen.atOther->value,
                             static_cast<double>(*wish.cursor - *wish.other) / static_cast<double>(kMicrosASecond)};
    }
    const Micros end_us = wish.cursor.value_or(wish.span.to_us);
    // Somewhat more than so many readings at the usual distance: those that are no value are passed over.
    const auto reach_us = static_cast<Micros>(kUpToCursor + kUpToCursor / 2) * step_us;
    const TimeSpan of = wish.selection.value_or(TimeSpan{end_us - reach_us, end_us});
    auto selection = wish.selection ? selectionOf(reader, of) : selectionOf(reader, of, kUpToCursor);
    if (!selection) return {};
    if (auto statistics = statisticsOf(*selection)) seen.statistics = std::move(*statistics);
    if (wish.selection) analyse(*selection, seen);
    return std::move(*selection);
}

namespace {

/// Readings of two tracks that are further apart than this are not of the same time.
double longestBetween_s(const Track& track) {
    return 5 * static_cast<double>(usualStep_us(track)) / static_cast<double>(kMicrosASecond);
}

/// What a board says is held against the gauge that it is shown beside.
void holdBeside(const LookWish& wish, const SeenTrack& own, std::vector<SeenTrack>& all,
                const std::vector<Selection>& selections) {
    if (own.spec.beside.name.empty() || own.problem) return;
    const auto said = std::find_if(all.begin(), all.end(), [&](const SeenTrack& one) {
        return one.gauge == own.spec.beside.gauge && !one.problem && one.spec.quantity == own.spec.quantity;
    });
    if (said == all.end()) return;
    BesideDifference difference{own.gauge, own.spec.name, {}, {}, {}};
    const auto isValue = [](const std::optional<Reading>& one) {
        return one && !std::isnan(one->value) && one->clip == Clip::None;
    };
    if (isValue(said->atCursor) && isValue(own.atCursor))
        difference.atCursor = said->atCursor->value - own.atCursor->value;
    if (wish.selection) {
        const Pairs pairs = pairsOf(selections[static_cast<std::size_t>(said - all.begin())],
                                    selections[static_cast<std::size_t>(&own - all.data())],
                                    longestBetween_s(*wish.recording.trackOf(own.gauge)));
        double sum = 0;
        for (std::size_t i = 0; i < pairs.first.size(); ++i) sum += pairs.first[i] - pairs.second[i];
        if (!pairs.first.empty()) difference.mean = sum / static_cast<double>(pairs.first.size());
    }
    said->fromBeside = std::move(difference);
}

}  // namespace

Expected<std::vector<SeenTrack>> RecordingLook::look(const LookWish& wish, const TrackReader::Progress& goesOn) {
    std::vector<SeenTrack> all;
    std::vector<Selection> selections(wish.gauges.size());
    for (const std::int64_t id : wish.gauges) {
        SeenTrack& seen = all.emplace_back();
        seen.gauge = id;
        const auto reader = readerOf(wish, id);
        if (!reader) {
            seen.problem = reader.error();
            continue;
        }
        seen.spec = (*reader)->gaugeAt(wish.cursor.value_or(wish.span.to_us));
        auto view = (*reader)->view(wish.span, wish.columns, goesOn);
        if (!view && view.error().code == ErrorCode::Busy) return tl::unexpected(view.error());
        if (!view) {
            seen.problem = view.error();
            continue;
        }
        seen.view = std::move(*view);
        seen.stretches = stretchesOf(seen.view, wish.span);
        const Track& track = *wish.recording.trackOf(id);
        Selection& selection = selections[all.size() - 1];
        selection = lookAt(wish, track, **reader, seen);
        if (!wish.selection || &seen == &all.front()) continue;
        Pairs pairs = pairsOf(selections.front(), selection, longestBetween_s(track));
        // In the units that people read them in: an offset is one of these.
        for (double& value : pairs.first) value = all.front().spec.readingUnit().fromCanonical(value);
        for (double& value : pairs.second) value = seen.spec.readingUnit().fromCanonical(value);
        if (const auto pair = tracePairOf(pairs.first, pairs.second)) seen.fromFirst = *pair;
    }
    for (const SeenTrack& own : all) holdBeside(wish, own, all, selections);
    for (SeenTrack& said : all) {
        if (!said.fromBeside) continue;
        const Track& own = *wish.recording.trackOf(said.fromBeside->gauge);
        const auto a = readerOf(wish, said.gauge), b = readerOf(wish, own.gauge);
        if (!a || !b) continue;
        auto view = differenceView(**a, **b, *wish.recording.trackOf(said.gauge), wish.span, wish.columns,
                                   longestBetween_s(own), goesOn);
        if (!view && view.error().code == ErrorCode::Busy) return tl::unexpected(view.error());
        if (view) said.fromBeside->view = std::move(*view);
        said.fromBeside->view.gaps = said.view.gaps;
    }
    return all;
}

}  // namespace fg
