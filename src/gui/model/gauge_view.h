#pragma once

#include "bench/document.h"
#include "gauge/gauge.h"
#include "model/live_feed.h"
#include "path/gauge_stages.h"
#include "uncertainty/reading_text.h"

#include <optional>
#include <QElapsedTimer>

namespace fg::gui {

/// Where the value that a gauge shows comes from.
enum class Origin {
    Live,    ///< the newest raw value of its channel
    Tried,   ///< typed into a tile
    Example  ///< nothing there: the middle of its span
};

/// One gauge with everything computed for the screen. Rebuilt when its description changes, re-evaluated when its value
/// does.
class GaugeView {
  public:
    GaugeView(BenchGauge gauge, const Catalogue& catalogue);

    /// Puts in the readings of its linked inputs; an error takes the path away and says why. Before follow().
    void useInputs(const Expected<GaugeSpec>& filled, const Catalogue& catalogue);

    /// Evaluates for the live value (or the example when there is none), unless a value is being tried.
    /// `isLookedAt`: it is the current one, whose findings and uncertainty are on the screen.
    void follow(const std::optional<LiveFeed::Latest>& latest, bool isLookedAt = true);
    /// Takes over the reading that the engine made, with budget and findings as they were. False where that is not
    /// enough: another kind of value (a limit, none, the first live one), and then nothing is changed.
    [[nodiscard]] bool glance(const std::optional<LiveFeed::Latest>& latest);
    /// Does it show already what there is: a value being tried, or an example with nothing live beside it?
    [[nodiscard]] bool isSettled(const std::optional<LiveFeed::Latest>& latest) const {
        if (!m_evaluation || !m_gauge.spec.inputs.empty()) return false;
        return m_tried ? m_origin == Origin::Tried : !latest && m_origin == Origin::Example;
    }
    /// The path of a digital part; null for an analog one.
    [[nodiscard]] const DigitalPath* digital() const { return m_made ? m_made->digital() : nullptr; }
    /// Has it that stage? See hasStage().
    [[nodiscard]] bool has(Stage stage) const { return hasStage(m_gauge.spec, stage); }
    /// "Inputs" where a derived gauge has them in place of a sensor.
    [[nodiscard]] std::string_view titleOf(Stage stage) const {
        return isDerived() && stage == Stage::Sensor ? "Inputs" : stageTitle(stage);
    }
    /// Does it follow from the readings of other gauges?
    [[nodiscard]] bool isDerived() const { return DerivedPath::applies(m_gauge.spec); }
    /// Whichever path there is; null when the gauge cannot be built.
    [[nodiscard]] const SignalPath* signalPath() const { return m_made ? &m_made->path() : nullptr; }

    /// Puts a value into a stage and holds it there; the path answers to it until release().
    [[nodiscard]] Expected<void> tryEntry(const Entry& entry);
    void release() { m_tried.reset(); }
    [[nodiscard]] const std::optional<Entry>& tried() const { return m_tried; }

    /// The quantity that a stage's tile takes, and the unit it has without one being typed.
    [[nodiscard]] Quantity quantityAt(Stage stage) const;
    [[nodiscard]] const Unit* unitAt(Stage stage) const;

    [[nodiscard]] std::int64_t id() const { return m_gauge.id; }
    [[nodiscard]] const GaugeSpec& spec() const { return m_gauge.spec; }
    /// The gauge made; null when it cannot be.
    [[nodiscard]] const Gauge* made() const { return m_made ? &*m_made : nullptr; }
    /// The description with the readings of its linked inputs put in: what is computed with.
    [[nodiscard]] const GaugeSpec& effective() const { return m_effective; }
    [[nodiscard]] const BenchGauge& gauge() const { return m_gauge; }
    [[nodiscard]] const AnalogPath* path() const { return m_made ? m_made->analog() : nullptr; }
    [[nodiscard]] const std::optional<Error>& problem() const { return m_problem; }
    [[nodiscard]] const Evaluation* evaluation() const { return m_evaluation ? &*m_evaluation : nullptr; }
    [[nodiscard]] const Budget* budget() const { return m_budget ? &*m_budget : nullptr; }
    /// The last Monte Carlo run of this gauge as it is described now; null when there is none.
    [[nodiscard]] const MonteCarlo* run() const { return m_run ? &*m_run : nullptr; }
    /// What others see of it: findings about its place on the bench stand before its own of the same severity.
    void addFindings(std::vector<Finding> findings);
    void keepRun(const MonteCarlo& run) {
        m_run = run;
        m_judged.invalidate();
    }
    [[nodiscard]] const std::vector<Finding>& findings() const { return m_findings; }
    [[nodiscard]] Origin origin() const { return m_origin; }
    [[nodiscard]] bool isStale() const { return m_origin == Origin::Live && m_age_s > LiveFeed::kStaleAfter_s; }
    [[nodiscard]] double age_s() const { return m_age_s; }
    [[nodiscard]] double expanded() const { return m_budget ? m_budget->expanded : 0; }

    /// What a stage shows; "–" when there is nothing.
    [[nodiscard]] ReadingText textAt(Stage stage) const;

    /// Where the reading lies in the wanted span, 0 … 1; nothing when there is no reading.
    [[nodiscard]] std::optional<double> positionInSpan() const;

    static constexpr int kJudgedEvery_ms = 2000, kOthersJudgedEvery_ms = 10'000;

  private:
    void evaluate(const Entry& entry);
    void take(Evaluation evaluation);
    void refuse(const Error& error);

    void build(const Catalogue& catalogue);

    BenchGauge m_gauge;
    GaugeSpec m_effective;
    std::optional<Gauge> m_made;
    std::optional<Error> m_problem;
    std::optional<Evaluation> m_evaluation;
    std::optional<Budget> m_budget;
    std::optional<MonteCarlo> m_run;
    std::vector<Finding> m_findings;
    std::optional<Entry> m_tried;
    bool m_isLookedAt = true;
    Origin m_origin = Origin::Example;
    double m_age_s = 0;
    QElapsedTimer m_judged;  // since budget and findings were made; invalid: they have to be
    Origin m_judgedOrigin = Origin::Example;
};

}  // namespace fg::gui
