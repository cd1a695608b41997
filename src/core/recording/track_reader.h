#pragma once

#include "engine/engine.h"
#include "recording/store.h"

#include <map>

namespace fg {

/// What lies in one column of a picture: the readings of a piece of time.
struct ViewColumn {
    double least = 0, most = 0;  ///< canonical; NaN where no reading has a value
    std::uint32_t count = 0;     ///< samples; one chunk may count in two columns
    bool isAtLeast = false;      ///< some are only a lower limit: the raw value was at its end
    bool isAtMost = false;
    [[nodiscard]] bool hasValue() const { return least <= most; }
};

/// In which of so many columns of equal width over a span a time falls; what lies outside counts to the ends.
[[nodiscard]] std::size_t columnOf(Micros time_us, TimeSpan span, std::size_t columns);

/// A track as a picture of so many columns.
struct TrackView {
    std::vector<ViewColumn> columns;
    /// Stretches between two samples that are longer than ten times the usual distance and 5 s.
    std::vector<TimeSpan> gaps;
    bool isExact = true;  ///< false: limits of chunks stand for their samples, right to a column
};

/// Which descriptions a recording is read with.
enum class Conversion {
    AsRecorded,  ///< those that were in force at the time
    AsNow        ///< the gauge as it stands on the bench now: its new reference voltage, its new correction
};

/// Turns the raw values of one track into readings: a whole day into a picture, or one by one. Remembers what it worked
/// out of chunks that will not change. Not for two threads at once.
class TrackReader {
  public:
    /// `bench` is that of the recording; with AsNow a gauge that is not on it any more is read as it was recorded last.
    /// Store and catalogue must outlive it. Errors: Missing for a gauge that is not in the recording.
    [[nodiscard]] static Expected<TrackReader> make(const RecordingStore& store, const BenchRecording& recording,
                                                    std::int64_t gauge, Conversion conversion, const Bench& bench,
                                                    const Catalogue& catalogue);

    /// Of a span, in so many columns of equal width (1 … 100 000). `goesOn` is asked now and then with the part that is
    /// done, 0 … 1; false stops with the error Busy. Errors: those of the store; Domain where the gauge cannot be made.
    using Progress = std::function<bool(double)>;
    [[nodiscard]] Expected<TrackView> view(TimeSpan span, std::size_t columns, const Progress& goesOn = {});

    /// The samples of a span in order of time, piece by piece, with a reading for each; `take` answers false to stop.
    using Take = std::function<bool(const SampleColumns&, std::span<const Reading>)>;
    [[nodiscard]] Expected<void> read(TimeSpan span, const Take& take);

    /// The gauge that a time is read with.
    [[nodiscard]] const GaugeSpec& gaugeAt(Micros time_us) const;
    [[nodiscard]] const Unit& unit() const { return m_pieces.back().spec.readingUnit(); }

  private:
    /// A description, and what was made of it.
    struct Piece {
        Micros from_us = 0;
        GaugeSpec spec;
        std::optional<Gauge> made = {};
        std::optional<Error> problem = {};
        bool isMonotone = false;  ///< the readings of a chunk lie between those of its least and its greatest word
        bool hasInputs = false;
        std::vector<Reading> table = {};  ///< of every code from the least on, where there are at most 65 536
        double firstCode = 0;
    };
    /// The same as Gauge::read() of the words, out of the table where that has them.
    static void readWords(const Piece& piece, std::span<const double> words, std::span<Reading> readings);
    /// What lies in a chunk, or in a piece of one.
    struct Known {
        double least, most;
        bool isAtLeast, isAtMost;
        void take(const Reading& reading);
    };
    struct KnownPart : Known {
        TimeSpan span;
        std::uint32_t count;
    };
    TrackReader(const RecordingStore& store, const Catalogue& catalogue, Track track)
        : m_store(&store), m_catalogue(&catalogue), m_track(std::move(track)) {}
    void prepare(Piece& piece) const;
    [[nodiscard]] const Piece& pieceAt(Micros time_us) const;
    [[nodiscard]] bool isOnePiece(TimeSpan span) const;
    /// The reading of each sample into m_readings.
    [[nodiscard]] Expected<void> convert(const SampleColumns& samples);
    [[nodiscard]] Expected<std::vector<Reading>> convertLinked(const SampleColumns& samples);

    const RecordingStore* m_store;
    const Catalogue* m_catalogue;
    Track m_track;
    std::vector<Piece> m_pieces;                             // by time
    std::vector<Track> m_others;                             // tracks of linked gauges
    Bench m_linked;                                          // their gauges and this one
    std::vector<Reading> m_readings;                         // of the samples that are being read
    std::map<std::int64_t, Known> m_known;                   // by chunk
    std::map<std::int64_t, std::vector<KnownPart>> m_parts;  // of chunks that were looked at more closely
};

}  // namespace fg
