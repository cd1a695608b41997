#include "model/gauge_view.h"

#include <algorithm>
#include <cmath>

namespace fg::gui {

GaugeView::GaugeView(BenchGauge gauge, const Catalogue& catalogue)
    : m_gauge(std::move(gauge)), m_effective(m_gauge.spec) {
    build(catalogue);
}

void GaugeView::build(const Catalogue& catalogue) {
    m_path.reset();
    m_digital.reset();
    m_problem.reset();
    if (DigitalPath::applies(m_effective, catalogue)) {
        auto path = DigitalPath::build(m_effective, catalogue);
        path ? void(m_digital = std::move(*path)) : void(m_problem = path.error());
    } else {
        auto path = AnalogPath::build(m_effective, catalogue);
        path ? void(m_path = std::move(*path)) : void(m_problem = path.error());
    }
    if (m_problem) m_findings = {findingFromError(*m_problem)};
}

void GaugeView::borrow(const Expected<GaugeSpec>& filled, const Catalogue& catalogue) {
    if (!filled) {
        m_path.reset();
        m_digital.reset();
        m_evaluation.reset();
        m_budget.reset();
        m_problem = filled.error();
        m_findings = {findingFromError(*m_problem)};
        return;
    }
    if (signalPath() && *filled == m_effective) return;
    m_effective = *filled;
    build(catalogue);
}

void GaugeView::follow(const std::optional<LiveFeed::Latest>& latest, const Catalogue& catalogue) {
    m_age_s = latest ? latest->age_s : 0;
    if (!signalPath()) return;
    if (m_tried) {
        m_origin = Origin::Tried;
        evaluate(*m_tried, catalogue);
        return;
    }
    m_origin = latest ? Origin::Live : Origin::Example;
    if (m_digital) return followDevice(latest, catalogue);
    const Interval span = m_gauge.spec.spanCanonical();
    if (!latest) return evaluate({Stage::World, (span.low + span.high) / 2}, catalogue);
    const auto code = m_path->converter().codeOfWord(latest->raw);
    // What the converter cannot send is passed on as it came, for the path to refuse.
    evaluate({Stage::Converter, code.value_or(latest->raw)}, catalogue);
}

void GaugeView::followDevice(const std::optional<LiveFeed::Latest>& latest, const Catalogue& catalogue) {
    const Interval span = m_gauge.spec.spanCanonical();
    if (!latest) return evaluate({Stage::World, (span.low + span.high) / 2}, catalogue);
    const auto blocks = m_digital->blocksOf(latest->bytes);
    if (blocks) return evaluate({Stage::Converter, 0, std::make_shared<const RawData>(*blocks)}, catalogue);
    m_evaluation.reset();
    m_budget.reset();
    m_findings = {findingFromError(blocks.error().within("converter"))};
}

void GaugeView::evaluate(const Entry& entry, const Catalogue& catalogue) {
    auto evaluation = signalPath()->evaluate(entry);
    m_budget.reset();
    if (!evaluation) {
        // A board that sends impossible codes is a fault to see, not a reason to keep an old value.
        m_evaluation.reset();
        m_findings = {findingFromError(m_digital ? evaluation.error().within("converter") : evaluation.error())};
        return;
    }
    take(std::move(*evaluation), catalogue);
}

void GaugeView::take(Evaluation evaluation, const Catalogue& catalogue) {
    m_evaluation = std::move(evaluation);
    // A limit has no uncertainty: budget and findings about accuracy would describe a value that is not there.
    const StageValue& world = m_evaluation->at(Stage::World);
    if (world.clip == Clip::None && !std::isnan(world.value))
        if (auto budget = budgetAt(m_effective, catalogue, world.value)) m_budget = std::move(*budget);
    m_findings = m_digital ? findingsForDevice(m_effective, *m_digital, catalogue, &*m_evaluation, budget())
                           : findingsFor(m_effective, *m_path, catalogue, &*m_evaluation, budget(), run());
}

void GaugeView::addFindings(std::vector<Finding> findings) {
    m_findings.insert(m_findings.begin(), std::make_move_iterator(findings.begin()),
                      std::make_move_iterator(findings.end()));
    std::stable_sort(m_findings.begin(), m_findings.end(),
                     [](const Finding& a, const Finding& b) { return a.severity < b.severity; });
}

Expected<void> GaugeView::tryEntry(const Entry& entry, const Catalogue& catalogue) {
    if (!signalPath()) return tl::unexpected(*m_problem);
    const auto possible = signalPath()->evaluate(entry);
    if (!possible) return tl::unexpected(possible.error());
    m_tried = entry;
    m_origin = Origin::Tried;
    evaluate(entry, catalogue);
    return {};
}

Quantity GaugeView::quantityAt(Stage stage) const {
    if (m_digital && stage == Stage::Sensor) return m_gauge.spec.quantity;
    if (stage == Stage::Sensor) return m_path ? m_path->signalQuantity() : Quantity::Voltage;
    if (stage == Stage::Wiring) return m_path ? m_path->converter().input() : Quantity::Voltage;
    return stage == Stage::Converter ? Quantity::Count : m_gauge.spec.quantity;
}

const Unit* GaugeView::unitAt(Stage stage) const {
    return isMeasurand(quantityAt(stage)) ? &m_gauge.spec.readingUnit() : &canonicalUnit(quantityAt(stage));
}

ReadingText GaugeView::textAt(Stage stage) const {
    if (!m_evaluation) return {"", {"–", ""}, ""};
    const Unit& unit = m_gauge.spec.readingUnit();
    const StageValue& value = m_evaluation->at(stage);
    // A digital part's own step says nothing about how true it is.
    const bool unstated = m_digital && m_budget && !m_budget->sensorStated;
    if (!unstated || !value.text.empty() || stage == Stage::Correction)
        return stageText(value, expanded(), unit, m_gauge.spec.reading.decimals);
    return readingText(value, 0, unit, m_gauge.spec.reading.decimals.value_or(decimalsWhenUnstated(value.value, unit)));
}

std::optional<double> GaugeView::positionInSpan() const {
    if (!m_evaluation || std::isnan(m_evaluation->reading())) return std::nullopt;
    const Interval span = m_gauge.spec.spanCanonical();
    return span.width() > 0 ? std::optional((m_evaluation->reading() - span.low) / span.width()) : std::nullopt;
}

}  // namespace fg::gui
