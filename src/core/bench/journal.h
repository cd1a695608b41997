#pragma once

#include "path/gauge_spec.h"
#include "units/error.h"

#include <cstdint>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace fg {

/// What an entry of the journal is.
enum class EntryKind {
    Note,        ///< something that a person wrote
    Piece,       ///< which piece it is: address, serial number, where it was bought
    Photograph,  ///< a file elsewhere, by its path
    Setting,     ///< a change of a gauge, kept by the product
    Calibration  ///< a calibration that was finished
};
/// "note", "piece", "photograph", "setting", "calibration".
[[nodiscard]] std::string_view entryKindName(EntryKind kind);

/// A calibration as it was finished: the gauge as it was found, and as it was left with the points in it.
struct CalibrationKept {
    GaugeSpec found, left;
    bool operator==(const CalibrationKept&) const = default;
};

/// A dated entry.
struct JournalEntry {
    std::int64_t id = 0;     ///< of the journal alone; stays the same
    std::string time;        ///< ISO 8601 with its zone, or local
    std::int64_t gauge = 0;  ///< on the bench; 0: of the bench as a whole
    std::string name;        ///< the gauge's name at that time
    EntryKind kind = EntryKind::Note;
    std::string text;
    std::string file;                                         ///< of a photograph
    std::shared_ptr<const CalibrationKept> calibration = {};  ///< of a calibration
    bool operator==(const JournalEntry& other) const;
};

/// The journal of a bench, oldest entry first. Copies share what they hold until one of them is changed: undo keeps
/// hundreds of benches, each with the same years in it.
class Journal {
  public:
    using Entry = std::shared_ptr<const JournalEntry>;

    Journal() = default;
    /// All at once, in any order; those without an id get one.
    explicit Journal(std::vector<JournalEntry> entries);

    [[nodiscard]] const std::vector<Entry>& entries() const { return *m_entries; }
    [[nodiscard]] Entry find(std::int64_t id) const;
    /// Takes it in at its time, under a new id where it has none; answers the id.
    std::int64_t add(JournalEntry entry);
    void remove(std::int64_t id);
    /// A change of a gauge as whatChanged() tells it. Changes of one field after another on one day are one entry, from
    /// the first value to the last; none where it is what it was.
    void noteSetting(std::int64_t gauge, const std::string& name, const std::string& text, const std::string& time);
    /// Whose text, name, file or time has all of the words, in any case; all without words. Newest first.
    [[nodiscard]] std::vector<Entry> search(std::string_view words, std::int64_t gauge = 0) const;
    /// The calibrations of a gauge, oldest first.
    [[nodiscard]] std::vector<Entry> calibrationsOf(std::int64_t gauge) const;

    bool operator==(const Journal& other) const;

  private:
    using Entries = std::vector<Entry>;
    std::shared_ptr<const Entries> m_entries = std::make_shared<const Entries>();
    std::int64_t m_nextId = 1;
};

/// An entry as JSON and back. Errors name `file`, the field, what was found and what was expected.
[[nodiscard]] std::string writeEntry(const JournalEntry& entry);
[[nodiscard]] Expected<JournalEntry> readEntry(const std::string& json, const std::string& file);

/// A whole journal as JSON, {"entries": [...]}, and back. Errors: those of readEntry(), with the entry's place.
[[nodiscard]] std::string writeJournal(const Journal& journal);
[[nodiscard]] Expected<Journal> readJournal(const std::string& json, const std::string& file);

/// What differs between two descriptions of a gauge, field by field: "wiring.r1_ohm 2200 → 3300; …"; at most `most`
/// fields, then how many more. Empty where nothing but the correction, a name or a confirmation differs: calibrations
/// have entries of their own.
[[nodiscard]] std::string whatChanged(const GaugeSpec& before, const GaugeSpec& after, std::size_t most = 3);

}  // namespace fg
