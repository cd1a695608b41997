#include "model/workbench.h"

#include "path/examples.h"
#include "planning/bus_findings.h"
#include "units/value_text.h"
#include "widgets/text.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <QDateTime>

namespace fg::gui {
namespace {

constexpr double kSecondsADay = 86400;

/// Whether they would look the same in a list.
bool isSame(const std::vector<Finding>& a, const std::vector<Finding>& b) {
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const Finding& one, const Finding& other) {
        return one.id == other.id && one.detail == other.detail;
    });
}

}  // namespace

/// Gauges that take no other's reading, judged on a second thread from when follow() found them until they are asked
/// for.
struct Workbench::Following {
    struct One {
        GaugeView* view;
        std::optional<LiveFeed::Latest> latest;
    };
    std::vector<One> gauges;
    std::atomic<std::size_t> next = 0;
    std::future<void> beside;  // last: it ends before what it works on goes

    void work() {
        for (std::size_t i = next++; i < gauges.size(); i = next++) gauges[i].view->follow(gauges[i].latest, false);
    }
    void giveUp() { next = gauges.size(); }
};

Workbench::~Workbench() {
    if (m_following) m_following->giveUp();
}

Workbench::Workbench(Catalogue catalogue, QObject* parent) : Workbench(std::future<Catalogue>(), parent) {
    m_catalogue = std::move(catalogue);
}

Workbench::Workbench(std::future<Catalogue> coming, QObject* parent)
    : QObject(parent), m_coming(std::move(coming)), m_feed(m_catalogue), m_alarms(m_feed), m_watches(m_feed) {
    connect(&m_bench, &BenchModel::changed, this, &Workbench::rebuild);
    connect(&m_feed, &LiveFeed::received, this, &Workbench::followLive);
    connect(&m_alarms, &LiveAlarms::changed, this, &Workbench::valuesChanged);
}

GaugeView* Workbench::viewOf(std::int64_t id) {
    const auto it =
        std::find_if(m_views.begin(), m_views.end(), [&](const GaugeView& view) { return view.id() == id; });
    return it == m_views.end() ? nullptr : &*it;
}

GaugeView* Workbench::find(std::int64_t id) {
    settle();
    return viewOf(id);
}

const std::vector<GaugeView>& Workbench::views() const {
    const_cast<Workbench*>(this)->settle();
    return m_views;
}

const GaugeView* Workbench::current() const { return const_cast<Workbench*>(this)->viewOf(m_currentId); }

void Workbench::rebuild() {
    (void)catalogue();  // the engine works with it from here on
    if (m_following) m_following->giveUp();
    m_following.reset();
    auto judging = std::async(std::launch::async | std::launch::deferred, [this] { return judgedCalibrations(); });
    m_alarms.setBench(m_bench.bench());
    m_watches.setBench(m_bench.bench());
    m_feed.engine().setBench(m_bench.bench());
    const std::vector<BenchGauge>& gauges = m_bench.bench().gauges;
    std::vector<std::optional<GaugeView>> made(gauges.size());
    for (std::size_t i = 0; i < gauges.size(); ++i)
        if (const GaugeView* known = find(gauges[i].id); !known || !(known->gauge() == gauges[i]))
            made[i].emplace(gauges[i], catalogue());
    const auto judgedBefore = std::exchange(m_calibrationFindings, judging.get());
    const auto isJudgedAlike = [&](std::int64_t id) {
        const auto of = [&](const auto& judged) {
            const auto it = judged.find(id);
            return it == judged.end() ? std::vector<Finding>() : it->second;
        };
        return isSame(of(judgedBefore), of(m_calibrationFindings));
    };
    std::vector<GaugeView> views;
    for (std::size_t i = 0; i < gauges.size(); ++i) {
        const BenchGauge& gauge = gauges[i];
        GaugeView* known = find(gauge.id);
        if (!made[i] && isJudgedAlike(gauge.id)) {
            views.push_back(*known);
            continue;
        }
        views.push_back(made[i] ? std::move(*made[i]) : GaugeView(gauge, catalogue()));
        // A value being tried stays while the circuit around it is changed: that is what it is tried for.
        const bool keepsTry = known && known->tried() && known->spec().quantity == gauge.spec.quantity;
        if (keepsTry && views.back().signalPath()) {
            if (const auto kept = views.back().tryEntry(*known->tried()); !kept) views.back().release();
        }
    }
    m_views = std::move(views);
    const std::int64_t before = m_currentId;
    if (!find(m_currentId)) m_currentId = m_views.empty() ? 0 : m_views.front().id();
    follow();
    emit gaugesChanged();
    if (before != m_currentId) emit currentChanged();
    emit valuesChanged();
}

void Workbench::reevaluate() {
    follow();
    emit valuesChanged();
}

// Every sample has its reading in the engine. Budgets, findings and steps are computed for the gauge that is looked at,
// and in turn for one of the others; the rest show the engine's reading, or what they showed.
void Workbench::followLive() {
    const std::size_t turn = m_views.empty() ? 0 : m_turn++ % m_views.size();
    for (const BenchGauge* gauge : inLinkOrder(m_bench.bench())) {
        GaugeView* view = find(gauge->id);
        if (!view) continue;
        const auto latest = m_feed.latest(*gauge);
        const bool isDue = gauge->id == m_currentId || view == &m_views[turn];
        if (view->isSettled(latest) || (!isDue && view->glance(latest))) continue;
        followOne(*view, latest);
    }
    emit valuesChanged();
}

void Workbench::followOne(GaugeView& view, const std::optional<LiveFeed::Latest>& latest) {
    if (const GaugeSpec& spec = view.spec(); !spec.inputs.empty()) {
        const auto circle = linkCircle(m_bench.bench(), view.gauge());
        const auto readingOf = [this](const LinkedInput& input) { return linkedReading(input); };
        view.useInputs(circle ? tl::unexpected(*circle) : withInputs(spec, catalogue(), readingOf), catalogue());
    }
    view.follow(latest, view.id() == m_currentId);
    addFindings(view);
}

void Workbench::addFindings(GaugeView& view) const {
    if (view.digital()) view.addFindings(busFindings(m_bench.bench(), view.gauge(), catalogue()));
    if (const auto it = m_calibrationFindings.find(view.id()); it != m_calibrationFindings.end())
        view.addFindings(it->second);
}

// Of the journal and of today: made anew when the bench changes, not with every reading.
std::map<std::int64_t, std::vector<Finding>> Workbench::judgedCalibrations() {
    std::map<std::int64_t, std::vector<Finding>> judged;
    const double now_days = static_cast<double>(QDateTime::currentSecsSinceEpoch()) / kSecondsADay;
    for (const BenchGauge& gauge : m_bench.bench().gauges) {
        const auto kept = m_bench.bench().journal.calibrationsOf(gauge.id);
        if (kept.empty() && gauge.spec.correction.points.empty()) continue;
        auto history = historyOf(kept, gauge.spec, catalogue(), now_days, &m_historyMemory);
        if (history && !history->findings.empty()) judged[gauge.id] = std::move(history->findings);
    }
    return judged;
}

std::optional<LinkedReading> Workbench::linkedReading(const LinkedInput& input) const {
    for (const GaugeView& view : m_views) {
        if (view.id() != input.gauge) continue;
        const bool isValue = view.evaluation() && view.evaluation()->at(Stage::Reading).clip == Clip::None;
        LinkedReading linked{isValue ? view.evaluation()->reading() : std::nan("")};
        if (const Budget* budget = view.budget()) {
            linked.standard = budget->standard;
            linked.lent = lentOf(*budget, view.id());
        }
        return linked;
    }
    return std::nullopt;
}

// The chosen one at once; the others that take no other's reading meanwhile on a second thread, and the rest when they
// are asked for.
void Workbench::follow() {
    settle();
    auto following = std::make_unique<Following>();
    for (GaugeView& view : m_views)
        if (view.id() != m_currentId && view.spec().inputs.empty())
            following->gauges.push_back({&view, m_feed.latest(view.gauge())});
    constexpr std::size_t kWorthAThread = 3;
    if (following->gauges.size() >= kWorthAThread)
        following->beside = std::async(std::launch::async | std::launch::deferred, &Following::work, following.get());
    m_following = std::move(following);
    GaugeView* chosen = viewOf(m_currentId);
    if (!chosen) return;
    if (!chosen->spec().inputs.empty()) return settle();
    chosen->follow(m_feed.latest(chosen->gauge()), true);
    addFindings(*chosen);
}

// What follow() began, ended; then those that take others' readings in the order of their links, so that each computes
// with what its inputs read now.
void Workbench::settle() {
    if (!m_following) return;
    const auto following = std::exchange(m_following, nullptr);
    following->work();
    if (following->beside.valid()) following->beside.get();
    for (const auto& [view, latest] : following->gauges) addFindings(*view);
    for (const BenchGauge* gauge : inLinkOrder(m_bench.bench()))
        if (GaugeView* view = viewOf(gauge->id); view && !view->spec().inputs.empty())
            followOne(*view, m_feed.latest(*gauge));
}

void Workbench::selectGauge(std::int64_t id) {
    if (id == m_currentId || !find(id)) return;
    m_currentId = id;
    follow();  // it was only glanced at so far
    emit currentChanged();
    emit valuesChanged();
}

void Workbench::selectStage(Stage stage) {
    if (stage == m_stage) return;
    m_stage = stage;
    emit stageChanged();
    emit valuesChanged();
}

Expected<void> Workbench::tryText(Stage stage, const QString& text) {
    GaugeView* view = find(m_currentId);
    if (!view) return {};
    if (view->made() && stage == Stage::Converter) {
        // As a line from a board has it: a signed or left-justified word, two registers; bytes of a digital part.
        const auto entry = view->made()->entryOfRaw(text.toStdString());
        if (!entry) return tl::unexpected(entry.error());
        return take(view->tryEntry(*entry), stage);
    }
    if (view->isDerived())
        return fail(ErrorCode::Unsupported, std::string(stageName(stage)), "a value put in",
                    "nothing: it follows from other gauges; try a value there");
    const auto value = readValue(text.toStdString(), view->quantityAt(stage), view->unitAt(stage));
    if (!value) return tl::unexpected(value.error());
    return take(view->tryEntry({stage, value->canonical}), stage);
}

Expected<void> Workbench::take(Expected<void> tried, Stage stage) {
    if (!tried) return tried;
    emit valueTried(stage);
    reevaluate();
    return {};
}

void Workbench::keepRun(std::int64_t id, const GaugeSpec& drawnFor, const MonteCarlo& run) {
    GaugeView* view = find(id);
    if (!view || !(view->spec() == drawnFor)) return;
    view->keepRun(run);
    reevaluate();
}

void Workbench::backToLive() {
    GaugeView* view = find(m_currentId);
    if (!view || !view->tried()) return;
    view->release();
    reevaluate();
}

bool Workbench::edit(const QString& label, const std::function<void(GaugeSpec&)>& change) {
    return m_bench.changeGauge(m_currentId, label, [&](GaugeSpec& spec) {
        const GaugeSpec before = spec;
        change(spec);
        settleExamples(before, spec);
    });
}

std::string Workbench::freeName(const std::string& wish) const {
    const auto isTaken = [&](const std::string& name) {
        return std::any_of(m_views.begin(), m_views.end(),
                           [&](const GaugeView& view) { return view.spec().name == name; });
    };
    std::string name = wish;
    for (int number = 2; isTaken(name); ++number) name = wish + " " + std::to_string(number);
    return name;
}

void Workbench::addGauge(const GaugeSpec& spec) {
    std::int64_t id = 0;
    const bool added =
        m_bench.change(tr("New gauge %1").arg(qs(spec.name)), [&](Bench& bench) { id = bench.add(spec); });
    if (added) selectGauge(id);
}

void Workbench::removeCurrent() {
    const GaugeView* view = current();
    if (!view) return;
    m_bench.change(tr("Remove %1").arg(qs(view->spec().name)), [id = m_currentId](Bench& bench) { bench.remove(id); });
}

}  // namespace fg::gui
