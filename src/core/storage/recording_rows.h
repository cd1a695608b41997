#pragma once

#include "recording/store.h"

#include <map>
#include <mutex>

namespace SQLite {
class Database;
}

namespace fg {

/// The recordings of a bench file: tables recording, track, description, mark, chunk and tail of docs/bench-file.md.
/// Internal to the room; the database is used under `guard`, which the file shares.
class RecordingRows final : public RecordingStore {
  public:
    /// What is asked before and after each change: is the file still the one that was opened?
    using Check = std::function<Expected<void>()>;
    RecordingRows(SQLite::Database& database, std::mutex& guard, std::string file, Check check)
        : m_database(database), m_guard(guard), m_file(std::move(file)), m_check(std::move(check)) {}

    /// Lays their tables out, in a bench that has none.
    static void layOut(SQLite::Database& database);
    /// Every chunk whose checksum does not fit its bytes, and every row that cannot be read.
    [[nodiscard]] std::vector<Error> problems() const;
    /// Every recording, track and chunk that can be read, into another bench; what cannot is told.
    [[nodiscard]] std::vector<Error> salvageInto(RecordingStore& into) const;

    [[nodiscard]] Expected<std::vector<BenchRecording>> recordings(std::vector<Error>* unread = nullptr) const override;
    [[nodiscard]] Expected<BenchRecording> begin(const BenchRecording& recording) override;
    [[nodiscard]] Expected<void> append(std::int64_t recording, const RecordingStep& step) override;
    [[nodiscard]] Expected<void> removeMark(std::int64_t recording, std::int64_t mark) override;
    [[nodiscard]] Expected<void> rename(std::int64_t recording, const std::string& name) override;
    [[nodiscard]] Expected<void> remove(std::int64_t recording) override;
    [[nodiscard]] Expected<std::vector<ChunkSummary>> summaries(std::int64_t track, TimeSpan span) const override;
    [[nodiscard]] Expected<void> read(std::int64_t track, TimeSpan span, const Take& take) const override;

  private:
    using Tail = std::vector<RecordedSample>;
    /// `look` under the guard; what the database throws becomes an error.
    template <class Look>
    auto guarded(const Look& look) const -> decltype(look());
    /// The same for a change, in a transaction that is taken back where it fails.
    /// `committed` is run when the change stands in the file, before anybody else gets at it.
    Expected<void> changed(const std::function<Expected<void>()>& change, const std::function<void()>& committed = {});
    /// Of a track within a span, as of one moment: the chunks, and all of what stands in none yet.
    struct Contents {
        std::vector<ChunkSummary> chunks;
        Tail tail;
    };
    [[nodiscard]] Contents contentsOf(std::int64_t track, TimeSpan span) const;
    [[nodiscard]] Tail tailOf(std::int64_t track) const;
    Expected<void> put(const BenchRecording& recording, bool isNew, std::int64_t& id);
    [[nodiscard]] std::map<std::int64_t, std::vector<Description>> descriptions(
        const std::function<void(const Error&)>& leaveOut) const;
    void salvageTrack(std::int64_t track, std::int64_t recording, std::int64_t newTrack, RecordingStore& into,
                      std::vector<Error>& problems) const;
    [[nodiscard]] Expected<BenchRecording> head(std::int64_t id) const;
    void appendSamples(const RecordingStep::OfTrack& of, bool isEnd, std::map<std::int64_t, Tail>& tails);
    void putChunk(std::int64_t track, std::span<const RecordedSample> samples);

    SQLite::Database& m_database;
    std::mutex& m_guard;
    std::string m_file;
    Check m_check;
    mutable std::map<std::int64_t, Tail> m_tails;  // as they stand in the file, of the tracks written to
};

}  // namespace fg
