#pragma once

#include "analysis/allan.h"
#include "analysis/approach.h"
#include "analysis/selection.h"
#include "analysis/spectrum.h"
#include "calibration/agreement.h"
#include "uncertainty/budget.h"

#include <map>
#include <tuple>

namespace fg {

/// What is to be seen of a recording.
struct LookWish {
    BenchRecording recording;
    Bench bench;  ///< as it is now
    Conversion conversion = Conversion::AsRecorded;
    std::vector<std::int64_t> gauges;
    TimeSpan span;
    std::size_t columns = 1000;
    std::optional<Micros> cursor = {};
    std::optional<Micros> other = {};        ///< a second cursor, from which differences are told
    std::optional<TimeSpan> selection = {};  ///< of the statistics; nothing: the readings up to the cursor
};

/// A stretch of a track in which there is no reading that could be drawn.
struct Stretch {
    enum class Kind { AtLeast, AtMost, NoValue, Missing } kind = Kind::Missing;
    TimeSpan span;
    double limit = 0;  ///< canonical, of AtLeast and AtMost
};

/// From the second cursor to the first.
struct CursorChange {
    double difference = 0;  ///< canonical
    double seconds = 0;
    [[nodiscard]] double perHour() const { return 3600 * difference / seconds; }
};

/// What a board says less what the gauge beside it reads, canonical.
struct BesideDifference {
    std::int64_t gauge = 0;          ///< that gauge
    std::string name;                ///< of it
    std::optional<double> atCursor;  ///< where both have a value there
    std::optional<double> mean;      ///< over the selection, where both have values at the same times
    TrackView view;                  ///< of the span; without columns where there is nothing
};

/// One gauge of it.
struct SeenTrack {
    std::int64_t gauge = 0;
    GaugeSpec spec;  ///< at the cursor, or at the end of the span
    TrackView view;
    std::vector<Stretch> stretches;  ///< by time
    std::optional<Reading> atCursor;
    double expanded = 0;  ///< U of that reading; 0: not known
    std::optional<Reading> atOther;
    std::optional<CursorChange> sinceOther;  ///< where both cursors stand on a reading that is no limit
    std::optional<SelectionStatistics> statistics;
    // Of a selection alone:
    std::optional<Approach> approach;  ///< a step in it, and where it heads for; nothing where it does not bend
    std::vector<AllanPoint> allan;     ///< empty for too few readings
    std::vector<SpectrumPoint> spectrum;
    std::optional<TracePair> fromFirst;  ///< how it follows from the first one, each in its unit
    std::optional<BesideDifference>
        fromBeside;                ///< of what a board says, where the gauge that it is shown beside is seen too
    std::optional<Error> problem;  ///< why there is nothing
};

/// Looks at recordings: pictures, readings at a cursor and statistics of several gauges. Keeps what it worked out. Not
/// for two threads at once; store and catalogue must outlive it.
class RecordingLook {
  public:
    RecordingLook(const RecordingStore& store, const Catalogue& catalogue) : m_store(store), m_catalogue(catalogue) {}

    /// How many readings the statistics up to a cursor take.
    static constexpr std::size_t kUpToCursor = 600;

    /// Errors: Busy where `goesOn` (as of TrackReader::view()) said no. What is wrong with one gauge is in its track.
    [[nodiscard]] Expected<std::vector<SeenTrack>> look(const LookWish& wish, const TrackReader::Progress& goesOn = {});

  private:
    struct Known {
        TrackReader reader;
        Track track;
        std::optional<GaugeSpec> now;
        std::vector<BenchGauge> others;  ///< of a gauge with inputs: the bench that they were read with
    };
    [[nodiscard]] Expected<TrackReader*> readerOf(const LookWish& wish, std::int64_t gauge);
    /// What was read over the selection, or up to the cursor.
    [[nodiscard]] Selection lookAt(const LookWish& wish, const Track& track, TrackReader& reader,
                                   SeenTrack& seen) const;

    const RecordingStore& m_store;
    const Catalogue& m_catalogue;
    std::map<std::tuple<std::int64_t, std::int64_t, int>, Known> m_known;  // by track, gauge and conversion
};

/// The stretches of a picture, from its columns and gaps.
[[nodiscard]] std::vector<Stretch> stretchesOf(const TrackView& view, TimeSpan span);

}  // namespace fg
