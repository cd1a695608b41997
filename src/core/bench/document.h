#pragma once

#include "bench/board.h"
#include "bench/journal.h"
#include "path/gauge_spec.h"
#include "units/error.h"

#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <vector>

namespace fg {

/// A gauge on a bench; its id stays the same for the life of the bench file.
struct BenchGauge {
    std::int64_t id = 0;
    GaugeSpec spec;
    bool operator==(const BenchGauge&) const = default;
};

/// Everything of one project of the maker. Plain data, small: a bench has tens of gauges.
struct Bench {
    std::vector<BenchGauge> gauges;  ///< in rack order
    std::int64_t nextId = 1;
    Board board = {};      ///< what they hang on
    Journal journal = {};  ///< calibrations, notes, changes

    [[nodiscard]] const BenchGauge* find(std::int64_t id) const;
    [[nodiscard]] BenchGauge* find(std::int64_t id);
    /// Appends a gauge under a new id, which it returns. Linked inputs of another bench are found by name.
    std::int64_t add(GaugeSpec spec);
    void remove(std::int64_t id);
    bool operator==(const Bench&) const = default;
};

/// Writes into the journal of `after` what was changed since `before`: fields of a gauge one by one, gauges added or
/// removed and the board under `label`. Calibrations have entries of their own.
void noteChanges(const Bench& before, Bench& after, const std::string& label, const std::string& time);

/// Where a document is kept. write() stores the step from `before` to `after` completely or not at all; when it returns
/// without error the step survives the death of the process.
class BenchSink {
  public:
    virtual ~BenchSink() = default;
    [[nodiscard]] virtual Expected<void> write(const Bench& before, const Bench& after) = 0;
};

/// A bench being worked on: every change is stored as it is made and can be undone.
///
/// Undo keeps whole benches, which are small; so an undo can never differ from what was there. An undo is stored like
/// any other change.
class Document {
  public:
    /// `sink` may be null: a bench in memory only.
    explicit Document(Bench bench = {}, std::shared_ptr<BenchSink> sink = nullptr);

    [[nodiscard]] const Bench& bench() const { return m_bench; }

    /// From now on kept there, or nowhere (null); the steps stay. The place must hold this bench already.
    void keepIn(std::shared_ptr<BenchSink> sink) { m_sink = std::move(sink); }

    /// Applies `edit`, stores it, and remembers the step under `label` ("Set R1 to 3.3 kΩ"). An edit that changes
    /// nothing leaves no step. When storing fails the bench is as before and the error says why.
    [[nodiscard]] Expected<void> change(const std::string& label, const std::function<void(Bench&)>& edit);

    [[nodiscard]] bool canUndo() const { return m_done > 0; }
    [[nodiscard]] bool canRedo() const { return m_done < m_steps.size(); }
    /// What the next undo or redo would take back or do again; empty when there is none.
    [[nodiscard]] std::string undoLabel() const { return canUndo() ? m_steps[m_done - 1].label : ""; }
    [[nodiscard]] std::string redoLabel() const { return canRedo() ? m_steps[m_done].label : ""; }
    [[nodiscard]] Expected<void> undo();
    [[nodiscard]] Expected<void> redo();

  private:
    struct Step {
        std::string label;
        Bench before;
        Bench after;
    };
    [[nodiscard]] Expected<void> moveTo(const Bench& target);

    Bench m_bench;
    std::shared_ptr<BenchSink> m_sink;
    std::vector<Step> m_steps;
    std::size_t m_done = 0;
};

}  // namespace fg
