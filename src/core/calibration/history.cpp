#include "calibration/history.h"

#include "calibration/study.h"
#include "path/correction.h"
#include "units/date.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

constexpr double kDaysAYear = 365.25;
/// Calibrations of one day say nothing of a year.
constexpr double kShortest_days = 1;
/// How long before it is due the product begins to say so: a tenth of the time since the last.
constexpr double kSoon = 0.1;

/// The measuring chain but for what a calibration sets.
GaugeSpec chainOf(GaugeSpec spec) {
    spec.correction = {};
    spec.name.clear();
    spec.note.clear();
    spec.channel.clear();
    spec.reading = {};
    spec.examples.clear();
    spec.cautions.clear();
    spec.inputs.clear();
    spec.alarm.reset();
    return spec;
}

bool isSameChain(const GaugeSpec& a, const GaugeSpec& b) { return chainOf(a) == chainOf(b); }

std::string chainChanges(const GaugeSpec& before, const GaugeSpec& after) {
    return whatChanged(chainOf(before), chainOf(after));
}

struct Errors {
    double mean = 0, worst = 0;
};

Errors errorsOf(const Correction& correction, const std::vector<CalibrationPoint>& points) {
    Errors errors;
    std::size_t count = 0;
    for (const CalibrationPoint& point : points) {
        if (!point.setAside.empty()) continue;
        const double error = correction.apply(point.reading) - point.reference;
        errors.mean += error;
        ++count;
        if (std::abs(error) > std::abs(errors.worst)) errors.worst = error;
    }
    if (count > 0) errors.mean /= static_cast<double>(count);
    return errors;
}

/// Of the mean over the points: their own parts shrink with their number, the reference's shared part does not.
double uOfMean(const CorrectionSpec& correction) {
    double squares = 0;
    std::size_t count = 0;
    bool isGiven = true;
    for (const CalibrationPoint& point : correction.points) {
        if (!point.setAside.empty()) continue;
        squares += point.u * point.u;
        ++count;
        isGiven = isGiven && point.u > 0;
    }
    if (count == 0 || (!isGiven && !(correction.reference > 0))) return 0;
    return std::hypot(std::sqrt(squares) / static_cast<double>(count), correction.reference);
}

Expected<HistoryLine> workedOut(const JournalEntry& entry, const Catalogue& catalogue) {
    const GaugeSpec& found = entry.calibration->found;
    const GaugeSpec& left = entry.calibration->left;
    const auto asLeft = Correction::make(left.correction, left.quantity);
    if (!asLeft) return tl::unexpected(asLeft.error());
    HistoryLine line;
    line.entry = entry.id;
    line.time = entry.time;
    line.with = left.correction.with;
    line.fit = left.correction.kind;
    Interval between{INFINITY, -INFINITY};
    for (const CalibrationPoint& point : left.correction.points) {
        if (!point.setAside.empty()) continue;
        ++line.points;
        between = {std::min(between.low, point.reference), std::max(between.high, point.reference)};
    }
    if (line.points > 0) line.between = between;
    const Errors after = errorsOf(*asLeft, left.correction.points);
    line.leftMean = after.mean;
    line.leftWorst = after.worst;
    line.uMean = uOfMean(left.correction);
    const auto asFound = Correction::make(found.correction, found.quantity);
    if (asFound && found.sensor == left.sensor && line.points > 0) {
        const Errors before = errorsOf(*asFound, left.correction.points);
        line.foundMean = before.mean;
        line.foundWorst = before.worst;
    }
    const auto gauge = Gauge::make(left, catalogue);
    line.expanded = gauge ? 0 : std::nan("");
    for (const CalibrationPoint& point : left.correction.points) {
        if (!gauge || !point.setAside.empty()) continue;
        const auto budget = gauge->budgetAt(point.reference);
        if (budget) line.expanded = std::max(line.expanded, budget->expanded);
    }
    return line;
}

/// The weighted mean of the movements a year; where they differ by more than their uncertainties say, theirs is widened
/// (Birge ratio).
std::optional<Drift> driftOf(const CalibrationHistory& history, std::span<const Journal::Entry> kept) {
    std::vector<double> rates, standards;
    for (std::size_t i = 1; i < history.lines.size(); ++i) {
        const HistoryLine& before = history.lines[i - 1];
        const HistoryLine& now = history.lines[i];
        const double years = (history.days[i] - history.days[i - 1]) / kDaysAYear;
        if (!now.foundMean || years * kDaysAYear < kShortest_days ||
            !isSameChain(kept[i - 1]->calibration->left, kept[i]->calibration->found))
            continue;
        rates.push_back((*now.foundMean - before.leftMean) / years);
        const bool isGiven = before.uMean > 0 && now.uMean > 0;
        standards.push_back(isGiven ? std::hypot(before.uMean, now.uMean) / years : std::nan(""));
    }
    if (rates.empty()) return {};
    Drift drift;
    drift.intervals = rates.size();
    const bool isWeighted = std::none_of(standards.begin(), standards.end(), [](double u) { return std::isnan(u); });
    double weights = 0;
    for (std::size_t i = 0; i < rates.size(); ++i) {
        const double weight = isWeighted ? 1 / (standards[i] * standards[i]) : 1;
        weights += weight;
        drift.perYear += weight * rates[i];
    }
    drift.perYear /= weights;
    double squares = 0;
    for (std::size_t i = 0; i < rates.size(); ++i) {
        const double off = rates[i] - drift.perYear;
        squares += off * off * (isWeighted ? 1 / (standards[i] * standards[i]) : 1);
    }
    const double freedom = static_cast<double>(rates.size()) - 1;
    const double internal = isWeighted ? 1 / std::sqrt(weights) : std::nan("");
    if (freedom > 0 && isWeighted)
        drift.standard = internal * std::max(1.0, std::sqrt(squares / freedom));
    else if (freedom > 0)
        drift.standard = std::sqrt(squares / freedom / static_cast<double>(rates.size()));
    else
        drift.standard = internal;
    return drift;
}

/// How many decimals a number is written with.
int decimalsIn(const std::string& number) {
    const std::size_t point = number.find('.');
    return point == std::string::npos ? 0 : static_cast<int>(number.size() - point - 1);
}

class Judge {
  public:
    Judge(CalibrationHistory& history, const GaugeSpec& spec, double now_days)
        : m_history(history), m_spec(spec), m_unit(spec.readingUnit()), m_now_days(now_days) {}

    void drift() {
        const std::size_t count = m_history.lines.size();
        if (!m_history.drift) {
            m_history.driftText =
                count < 2 ? "A second calibration will tell how it drifts."
                          : "Not told: what was found and what was left before are not of the same circuit.";
            return;
        }
        const Drift& drift = *m_history.drift;
        const std::string u =
            std::isnan(drift.standard) ? "" : fmt::format(" ± {} (k = 2)", amount(2 * drift.standard));
        const double perYear = std::abs(m_unit.differenceFromCanonical(drift.perYear));
        const std::string moves = std::isnan(drift.standard)
                                      ? significantDigits(perYear, 2)
                                      : fixedDigits(perYear, decimalsIn(amount(2 * drift.standard)));
        m_history.driftText =
            fmt::format("The reading moves by {}{}{} {} a year, from {} interval{}{}.", drift.perYear < 0 ? "−" : "+",
                        moves, u, m_unit.symbol, drift.intervals, drift.intervals == 1 ? "" : "s",
                        std::isnan(drift.standard)
                            ? "; the uncertainty of the points is not given, so nothing tells how sure that is"
                        : drift.standsOut() ? ""
                                            : ": no drift that stands out");
    }

    void due() {
        if (m_history.lines.empty()) {
            m_history.dueText = "No calibration is kept.";
            return;
        }
        const double last = m_history.days.back();
        std::string why;
        if (m_spec.correction.repeat_days > 0) {
            m_history.due_days = last + m_spec.correction.repeat_days;
            why = fmt::format("every {} days, as given", plainNumber(m_spec.correction.repeat_days, 4));
        }
        const double wanted = m_unit.differenceToCanonical(m_spec.reading.wanted);
        const double expanded = m_history.lines.back().expanded;
        if (wanted > 0 && std::isfinite(expanded) && expanded >= wanted) {
            m_history.due_days = last;
            why = fmt::format(
                "U as left, ± {} {}, is not within the ± {} wanted: a better reference is needed, not a "
                "later one",
                amount(expanded), m_unit.symbol, plainNumber(m_spec.reading.wanted, 4));
        } else if (wanted > 0 && m_history.drift && std::isfinite(expanded) && !std::isnan(m_history.drift->standard)) {
            const double most = std::abs(m_history.drift->perYear) + 2 * m_history.drift->standard;
            const double until = last + (most > 0 ? (wanted - expanded) / most * kDaysAYear : INFINITY);
            if (until < m_history.due_days.value_or(INFINITY)) {
                m_history.due_days = until;
                why = fmt::format("U as left, ± {}, and a drift of at most {} {} a year reach the ± {} wanted then",
                                  amount(expanded), amount(most), m_unit.symbol, plainNumber(m_spec.reading.wanted, 4));
            }
        }
        if (!m_history.due_days) {
            m_history.dueText = wanted > 0 ? "Not known: give how often it is to be repeated, or calibrate it a second "
                                             "time to see how it drifts."
                                           : "Not known: give the accuracy wanted (World), or how often it is to be "
                                             "repeated.";
            return;
        }
        m_history.dueText = fmt::format("{}: {}.", dateOfDays(*m_history.due_days), why);
    }

    void findings(std::span<const Journal::Entry> kept) {
        const auto add = [&](Severity severity, const char* id, const std::string& title, const std::string& detail) {
            m_history.findings.push_back({severity, Stage::Correction, id, title, detail, std::nullopt});
        };
        if (m_history.due_days) {
            const double left = *m_history.due_days - m_now_days;
            const double since = *m_history.due_days - m_history.days.back();
            if (left <= 0)
                add(Severity::Doubt, "calibration-due", "Calibration is due",
                    fmt::format("Since {}", m_history.dueText));
            else if (left <= kSoon * since)
                add(Severity::Hint, "calibration-due-soon", "Calibration is due soon",
                    fmt::format("On {}", m_history.dueText));
        }
        const double wanted = m_unit.differenceToCanonical(m_spec.reading.wanted);
        if (!m_history.lines.empty()) {
            const HistoryLine& last = m_history.lines.back();
            if (wanted > 0 && m_history.lines.size() > 1 && last.foundWorst && std::abs(*last.foundWorst) > wanted)
                add(Severity::Doubt, "found-outside", "It was found outside the accuracy wanted",
                    fmt::format("{}: off by up to {} {}, ± {} wanted. Readings since the calibration before are in "
                                "doubt by as much.",
                                last.time.substr(0, 10), signedText(*last.foundWorst), m_unit.symbol,
                                plainNumber(m_spec.reading.wanted, 4)));
            if (!isSameChain(kept.back()->calibration->left, m_spec) && m_history.isKept)
                add(Severity::Doubt, "changed-since", "Changed since its calibration",
                    fmt::format("{}. What was compared then was another circuit: check at one point.",
                                chainChanges(kept.back()->calibration->left, m_spec)));
        }
        const bool hasCalibration = m_spec.correction.kind != "none" && !m_spec.correction.points.empty();
        if (hasCalibration && !m_history.isKept)
            add(Severity::Hint, "not-kept", "This calibration is not in the journal",
                "Keep it on the History page of the Correction sheet: then it can be found and put back later.");
    }

  private:
    [[nodiscard]] std::string amount(double canonical) const {
        return significantDigits(m_unit.differenceFromCanonical(canonical), 2);
    }
    [[nodiscard]] std::string signedText(double canonical) const {
        return (canonical < 0 ? "−" : "+") + amount(std::abs(canonical));
    }

    CalibrationHistory& m_history;
    const GaugeSpec& m_spec;
    const Unit& m_unit;
    double m_now_days;
};

/// Points being taken and the time to repeat belong to no calibration yet.
CorrectionSpec inForceOf(CorrectionSpec correction) {
    correction.check.clear();
    correction.repeat_days = 0;
    return correction;
}

}  // namespace

std::optional<HistoryLine> HistoryMemory::lineOf(const Journal::Entry& entry, const Catalogue& catalogue) {
    if (const auto it = m_lines.find(entry); it != m_lines.end()) return it->second;
    const auto line = workedOut(*entry, catalogue);
    return m_lines.emplace(entry, line ? std::optional(*line) : std::nullopt).first->second;
}

Expected<CalibrationHistory> historyOf(std::span<const Journal::Entry> entries, const GaugeSpec& spec,
                                       const Catalogue& catalogue, double now_days, HistoryMemory* memory) {
    HistoryMemory own;
    if (!memory) memory = &own;
    CalibrationHistory history;
    std::vector<Journal::Entry> kept;
    for (const Journal::Entry& entry : entries) {
        const auto days = entry->calibration ? daysOfTime(entry->time) : std::nullopt;
        if (!days) continue;
        const auto line = memory->lineOf(entry, catalogue);
        if (!line) continue;
        history.lines.push_back(*line);
        history.days.push_back(*days);
        kept.push_back(entry);
    }
    history.isKept =
        !kept.empty() && inForceOf(kept.back()->calibration->left.correction) == inForceOf(spec.correction);
    history.drift = driftOf(history, kept);
    Judge judge(history, spec, now_days);
    judge.drift();
    judge.due();
    judge.findings(kept);
    return history;
}

Expected<PutBack> putBack(const GaugeSpec& kept, const GaugeSpec& now, const Catalogue& catalogue) {
    if (kept.sensor.part != now.sensor.part || kept.quantity != now.quantity)
        return fail(ErrorCode::Unsupported, "correction", "one of “" + kept.sensor.part + "”",
                    "one of this gauge's part, “" + now.sensor.part + "”");
    PutBack back{now, {}};
    back.spec.correction = kept.correction;
    back.spec.correction.check.clear();
    back.spec.correction.repeat_days = now.correction.repeat_days;
    // What points gave the sensor, then and since.
    for (const auto* names : {&now.correction.parameters, &kept.correction.parameters})
        for (const std::string& name : *names)
            if (const auto value = kept.sensor.parameters.number(name)) back.spec.sensor.parameters.set(name, *value);
    if (!isSameChain(kept, back.spec)) back.warning = chainChanges(kept, back.spec);
    const auto works = Gauge::make(back.spec, catalogue);
    if (!works) return tl::unexpected(works.error());
    return back;
}

Expected<CorrectionSpec> adopted(const CorrectionSpec& correction, const std::string& kind, Quantity quantity) {
    CorrectionSpec changed = correction;
    changed.points = correction.check;
    changed.check.clear();
    // Of the next calibration nobody has said yet what it was compared with.
    changed.with.clear();
    changed.reference = 0;
    return refit(changed, kind, quantity);
}

namespace {

JournalEntry entryOf(std::int64_t id, std::int64_t gauge, const std::string& time, GaugeSpec found, GaugeSpec left) {
    const std::size_t count = left.correction.points.size();
    std::string text = "Calibrated: " + left.correction.kind;
    if (count > 0) text += fmt::format(", {} point{}", count, count == 1 ? "" : "s");
    if (!left.correction.with.empty()) text += ", with " + left.correction.with;
    const std::string name = left.name;
    return {id,
            time,
            gauge,
            name,
            EntryKind::Calibration,
            text,
            {},
            std::make_shared<const CalibrationKept>(CalibrationKept{std::move(found), std::move(left)})};
}

}  // namespace

Expected<void> keepCalibration(Bench& bench, std::int64_t gauge, const std::string& time) {
    const BenchGauge* kept = bench.find(gauge);
    if (!kept) return fail(ErrorCode::Missing, "gauge", fmt::format("{}", gauge), "a gauge of this bench");
    if (kept->spec.correction.kind == "none")
        return fail(ErrorCode::Missing, "“" + kept->spec.name + "”", "no correction", "one to keep");
    GaugeSpec left = kept->spec, found = kept->spec;
    left.correction.check.clear();
    found.correction = {};
    std::int64_t same = 0;
    for (const Journal::Entry& entry : bench.journal.calibrationsOf(gauge)) {
        const bool isSame =
            !left.correction.points.empty() && entry->calibration->left.correction.points == left.correction.points;
        if (isSame) same = entry->id;
        found = isSame ? entry->calibration->found : entry->calibration->left;
    }
    if (same > 0) bench.journal.remove(same);
    bench.journal.add(entryOf(same, gauge, time, std::move(found), std::move(left)));
    return {};
}

Expected<void> adoptCheck(Bench& bench, std::int64_t gauge, const std::string& kind, const std::string& time,
                          const Catalogue& catalogue) {
    BenchGauge* kept = bench.find(gauge);
    if (!kept) return fail(ErrorCode::Missing, "gauge", fmt::format("{}", gauge), "a gauge of this bench");
    GaugeSpec found = kept->spec, left = kept->spec;
    found.correction.check.clear();
    auto correction = adopted(left.correction, kind, left.quantity);
    if (!correction) return tl::unexpected(correction.error());
    left.correction = std::move(*correction);
    left.correction.time = time;
    const auto works = Gauge::make(left, catalogue);
    if (!works) return tl::unexpected(works.error());
    kept->spec = left;
    if (left.correction.kind == "none") return {};
    // As found is with what was in force until now, whether or not it was kept.
    bench.journal.add(entryOf(0, gauge, time, std::move(found), std::move(left)));
    return {};
}

void useLastCalibrations(Bench& bench) {
    for (const Journal::Entry& entry : bench.journal.entries())
        if (BenchGauge* gauge = entry->calibration ? bench.find(entry->gauge) : nullptr)
            gauge->spec = entry->calibration->left;
}

}  // namespace fg
