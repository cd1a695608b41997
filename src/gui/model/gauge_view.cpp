#include "model/gauge_view.h"

#include <algorithm>
#include <cmath>

namespace fg::gui {

GaugeView::GaugeView(BenchGauge gauge, const Catalogue& catalogue)
    : m_gauge(std::move(gauge)), m_effective(m_gauge.spec) {
    build(catalogue);
}

void GaugeView::build(const Catalogue& catalogue) {
    m_problem.reset();
    m_made.reset();
    m_judged.invalidate();
    auto made = Gauge::make(m_effective, catalogue);
    made ? void(m_made.emplace(std::move(*made))) : void(m_problem = made.error());
    if (m_problem) m_findings = {findingFromError(*m_problem)};
}

void GaugeView::useInputs(const Expected<GaugeSpec>& filled, const Catalogue& catalogue) {
    if (!filled) {
        m_made.reset();
        m_problem = filled.error();
        return refuse(*m_problem);
    }
    if (m_made && *filled == m_effective) return;
    m_effective = *filled;
    build(catalogue);
}

void GaugeView::follow(const std::optional<LiveFeed::Latest>& latest, bool isLookedAt) {
    m_isLookedAt = isLookedAt;
    m_age_s = latest ? latest->age_s : 0;
    if (!m_made) return;
    if (m_tried) {
        m_origin = Origin::Tried;
        return evaluate(*m_tried);
    }
    m_origin = latest ? Origin::Live : Origin::Example;
    if (m_made->derived()) {
        // A running value is known to the engine alone; a law takes the inputs as they are.
        const double running = latest ? latest->reading.value : std::nan("");
        Entry entry{Stage::Reading, running};
        if (latest) entry.standard = latest->standard;
        return evaluate(entry);
    }
    const Interval span = m_gauge.spec.spanCanonical();
    if (!latest) return evaluate({Stage::World, (span.low + span.high) / 2});
    const bool isWord = !std::isnan(latest->raw);
    // What the converter cannot send is passed on as it came, for the path to refuse.
    if (isWord && !digital())
        return evaluate(m_made->entryOf(latest->raw).value_or(Entry{Stage::Converter, latest->raw}));
    const auto entry = isWord ? m_made->entryOf(latest->raw) : m_made->entryOf(latest->bytes);
    if (entry) return evaluate(*entry);
    refuse(entry.error());
}

bool GaugeView::glance(const std::optional<LiveFeed::Latest>& latest) {
    if (!latest || !m_made || m_tried || m_origin != Origin::Live || !m_evaluation) return false;
    const auto [value, clip] = latest->reading;
    const StageValue& before = m_evaluation->at(Stage::Reading);
    if (std::isnan(value) || std::isnan(before.value) || clip != before.clip || clip != Clip::None) return false;
    m_age_s = latest->age_s;
    for (const Stage stage : {Stage::World, Stage::Reading}) {
        StageValue& at = m_evaluation->at(stage);
        at.value = at.exact = value;
    }
    return true;
}

void GaugeView::refuse(const Error& error) {
    m_judged.invalidate();
    m_evaluation.reset();
    m_budget.reset();
    m_findings = {findingFromError(error)};
}

void GaugeView::evaluate(const Entry& entry) {
    auto evaluation = m_made->evaluate(entry);
    // A board that sends impossible codes is a fault to see, not a reason to keep an old value.
    if (!evaluation) return refuse(digital() ? evaluation.error().within("converter") : evaluation.error());
    take(std::move(*evaluation));
}

void GaugeView::take(Evaluation evaluation) {
    const StageValue& reading = evaluation.at(Stage::Reading);
    const bool isSameKind = m_evaluation && m_origin == Origin::Live && m_judgedOrigin == m_origin &&
                            m_evaluation->at(Stage::Reading).clip == reading.clip &&
                            std::isnan(m_evaluation->reading()) == std::isnan(reading.value);
    m_evaluation = std::move(evaluation);
    // While live values move a little, what is said of them does not: now and then is enough.
    const int every_ms = m_isLookedAt ? kJudgedEvery_ms : kOthersJudgedEvery_ms;
    if (isSameKind && m_judged.isValid() && m_judged.elapsed() < every_ms) return;
    m_judged.restart();
    m_judgedOrigin = m_origin;
    m_budget = m_made->budgetOf(*m_evaluation);
    m_findings = m_made->findings(&*m_evaluation, budget(), run());
}

void GaugeView::addFindings(std::vector<Finding> findings) {
    const auto isThere = [&](const Finding& one) {
        return std::any_of(m_findings.begin(), m_findings.end(),
                           [&](const Finding& other) { return other.id == one.id && other.detail == one.detail; });
    };
    std::erase_if(findings, isThere);  // those of a judgement that still stands
    m_findings.insert(m_findings.begin(), std::make_move_iterator(findings.begin()),
                      std::make_move_iterator(findings.end()));
    std::stable_sort(m_findings.begin(), m_findings.end(),
                     [](const Finding& a, const Finding& b) { return a.severity < b.severity; });
}

Expected<void> GaugeView::tryEntry(const Entry& entry) {
    if (!m_made) return tl::unexpected(*m_problem);
    const auto possible = m_made->evaluate(entry);
    if (!possible) return tl::unexpected(possible.error());
    m_tried = entry;
    m_origin = Origin::Tried;
    evaluate(entry);
    return {};
}

Quantity GaugeView::quantityAt(Stage stage) const {
    if (m_made && !(digital() && stage == Stage::Wiring)) return m_made->quantityAt(stage);
    if (stage == Stage::Sensor || stage == Stage::Wiring) return Quantity::Voltage;
    return stage == Stage::Converter ? Quantity::Count : m_gauge.spec.quantity;
}

const Unit* GaugeView::unitAt(Stage stage) const {
    return quantityAt(stage) == m_gauge.spec.quantity ? &m_gauge.spec.readingUnit() : &canonicalUnit(quantityAt(stage));
}

ReadingText GaugeView::textAt(Stage stage) const {
    if (!m_evaluation) return {"", {"–", ""}, ""};
    const Unit& unit = m_gauge.spec.readingUnit();
    const StageValue& value = m_evaluation->at(stage);
    // A digital part's own step says nothing about how true it is.
    const bool unstated = !path() && m_budget && !m_budget->sensorStated;
    if (!unstated || !value.text.empty() || stage == Stage::Correction)
        return stageText(value, expanded(), unit, m_gauge.spec.reading.decimals);
    if (stage == Stage::Converter || stage == Stage::Wiring) return stageText(value, expanded(), unit);
    return readingText(value, 0, unit, m_gauge.spec.reading.decimals.value_or(decimalsWhenUnstated(value.value, unit)));
}

std::optional<double> GaugeView::positionInSpan() const {
    if (!m_evaluation || std::isnan(m_evaluation->reading())) return std::nullopt;
    const Interval span = m_gauge.spec.spanCanonical();
    return span.width() > 0 ? std::optional((m_evaluation->reading() - span.low) / span.width()) : std::nullopt;
}

}  // namespace fg::gui
