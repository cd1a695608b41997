#pragma once

#include "bench/document.h"
#include "gauge/gauge.h"

#include <map>
#include <optional>
#include <span>

namespace fg {

/// One kept calibration as a line of a history. Errors are reading less reference, canonical, over the points used.
struct HistoryLine {
    std::int64_t entry = 0;
    std::string time, with, fit;
    std::size_t points = 0;
    /// As found: with the correction that was in force. Nothing where the points gave the sensor other parameters: what
    /// it read before is not kept.
    std::optional<double> foundMean, foundWorst;
    double leftMean = 0, leftWorst = 0;  ///< as left
    double uMean = 0;     ///< standard uncertainty of the means, from the points and the reference; 0: not given
    double expanded = 0;  ///< largest U between its points as left; NaN: not known
    std::optional<Interval> between;  ///< its points, as references
};

/// How a gauge moved between its calibrations: as found less as left before it, over the time between
/// (as-found/as-left data of successive calibrations).
struct Drift {
    double perYear = 0;   ///< of the reading, canonical
    double standard = 0;  ///< its standard uncertainty; NaN: nothing tells it
    std::size_t intervals = 0;
    [[nodiscard]] bool standsOut() const { return standard > 0 && std::abs(perYear) > 2 * standard; }
};

struct CalibrationHistory {
    std::vector<HistoryLine> lines;  ///< oldest first
    std::vector<double> days;        ///< of each, since 1970
    std::optional<Drift> drift;      ///< from two calibrations on
    std::string driftText;           ///< what is known of it, one sentence
    std::optional<double> due_days;  ///< since 1970: when the next is due
    std::string dueText;             ///< when and why, one sentence
    bool isKept = false;             ///< the correction in force is the last of them
    std::vector<Finding> findings;   ///< due, found outside, not kept
};

/// What was worked out of entries before: they never change, so they need not be worked out again.
class HistoryMemory {
  public:
    /// The line of that entry; nothing where it has none.
    [[nodiscard]] std::optional<HistoryLine> lineOf(const Journal::Entry& entry, const Catalogue& catalogue);

  private:
    std::map<Journal::Entry, std::optional<HistoryLine>> m_lines;
};

/// Of the calibrations kept in a journal (entries without one are passed over). `now_days`: since 1970. The next is due
/// when U as left and the drift since, at its value and twice its standard uncertainty, reach the accuracy wanted, or
/// when the stated time to repeat it has passed, whichever comes first. `memory` saves time where
/// the same entries are asked about again. Errors: those of Gauge::make() of the gauge as it is now.
[[nodiscard]] Expected<CalibrationHistory> historyOf(std::span<const Journal::Entry> entries, const GaugeSpec& spec,
                                                     const Catalogue& catalogue, double now_days,
                                                     HistoryMemory* memory = nullptr);

/// The gauge with an earlier correction in force again, with the sensor's parameters that its points gave.
struct PutBack {
    GaugeSpec spec;
    std::string warning;  ///< what has changed since, that it does not know of; empty: nothing
};
/// `kept`: a gauge as it was found or left. Errors: Unsupported for another part; those of Gauge::make().
[[nodiscard]] Expected<PutBack> putBack(const GaugeSpec& kept, const GaugeSpec& now, const Catalogue& catalogue);

/// The correction with the comparisons taken since (`check`) in place of its points, fitted by that kind; what it
/// is compared with is not given yet. Errors: those
/// of refit().
[[nodiscard]] Expected<CorrectionSpec> adopted(const CorrectionSpec& correction, const std::string& kind,
                                               Quantity quantity);

/// Puts the calibration in force of a gauge into the bench's journal: as found is how it was left before; an entry that
/// has the same points is replaced. Errors: Missing without such a gauge, or without a calibration.
[[nodiscard]] Expected<void> keepCalibration(Bench& bench, std::int64_t gauge, const std::string& time);

/// The same for the points taken since, fitted by that kind: from then on that correction is in force. Errors: those of
/// adopted() and of Gauge::make(); the bench is as before then.
[[nodiscard]] Expected<void> adoptCheck(Bench& bench, std::int64_t gauge, const std::string& kind,
                                        const std::string& time, const Catalogue& catalogue);

/// Every gauge as its last calibration in the journal left it; those without one stay.
void useLastCalibrations(Bench& bench);

}  // namespace fg
