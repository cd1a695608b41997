#include "bench/document.h"

#include "bench/linked_inputs.h"

#include <algorithm>

namespace fg {
namespace {
constexpr std::size_t kMostSteps = 500;
}

const BenchGauge* Bench::find(std::int64_t id) const {
    const auto it = std::find_if(gauges.begin(), gauges.end(), [&](const BenchGauge& gauge) { return gauge.id == id; });
    return it == gauges.end() ? nullptr : &*it;
}

BenchGauge* Bench::find(std::int64_t id) { return const_cast<BenchGauge*>(std::as_const(*this).find(id)); }

std::int64_t Bench::add(GaugeSpec spec) {
    // An id of another bench says nothing here; the name may.
    for (auto& [field, input] : spec.inputs)
        if (const BenchGauge* linked = find(input.gauge); linked && linked->spec.name != input.name) input.gauge = 0;
    const std::int64_t id = nextId++;
    gauges.push_back({id, std::move(spec)});
    settleInputs(*this);
    return id;
}

void Bench::remove(std::int64_t id) {
    std::erase_if(gauges, [&](const BenchGauge& gauge) { return gauge.id == id; });
    board.places.erase(id);
}

void noteChanges(const Bench& before, Bench& after, const std::string& label, const std::string& time) {
    for (const BenchGauge& gauge : after.gauges) {
        const BenchGauge* old = before.find(gauge.id);
        if (!old) {
            after.journal.noteSetting(gauge.id, gauge.spec.name, "On the bench, a " + gauge.spec.sensor.part, time);
            continue;
        }
        const std::string changes = whatChanged(old->spec, gauge.spec);
        if (!changes.empty()) after.journal.noteSetting(gauge.id, gauge.spec.name, changes, time);
    }
    for (const BenchGauge& gauge : before.gauges)
        if (!after.find(gauge.id)) after.journal.noteSetting(gauge.id, gauge.spec.name, "Taken off the bench", time);
    if (!(before.board == after.board) && before.gauges.size() == after.gauges.size())
        after.journal.noteSetting(0, "", label, time);
}

Document::Document(Bench bench, std::shared_ptr<BenchSink> sink) : m_bench(std::move(bench)), m_sink(std::move(sink)) {}

Expected<void> Document::moveTo(const Bench& target) {
    if (m_sink)
        if (auto written = m_sink->write(m_bench, target); !written) return written;
    m_bench = target;
    return {};
}

Expected<void> Document::change(const std::string& label, const std::function<void(Bench&)>& edit) {
    Bench after = m_bench;
    edit(after);
    settleInputs(after);
    if (after == m_bench) return {};
    Step step{label, m_bench, std::move(after)};
    if (auto moved = moveTo(step.after); !moved) return moved;
    m_steps.resize(m_done);
    m_steps.push_back(std::move(step));
    if (m_steps.size() > kMostSteps) m_steps.erase(m_steps.begin());
    m_done = m_steps.size();
    return {};
}

Expected<void> Document::undo() {
    if (!canUndo()) return {};
    return moveTo(m_steps[m_done - 1].before).map([this] { --m_done; });
}

Expected<void> Document::redo() {
    if (!canRedo()) return {};
    return moveTo(m_steps[m_done].after).map([this] { ++m_done; });
}

}  // namespace fg
