#include "planning/plan_items.h"

#include "planning/line_findings.h"
#include "units/number_format.h"
#include "wiring/kind.h"
#include "wiring/preferred_values.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <map>

namespace fg::plan {
namespace {

/// The coarsest series that has the value: "E12"; empty when none has it.
std::string seriesOf(double value) {
    for (const auto& [series, name] : {std::pair{Series::E3, "E3"},
                                       {Series::E6, "E6"},
                                       {Series::E12, "E12"},
                                       {Series::E24, "E24"},
                                       {Series::E48, "E48"},
                                       {Series::E96, "E96"},
                                       {Series::E192, "E192"}})
        for (const double standard : preferredValues(series, {value * 0.999, value * 1.001}))
            if (std::abs(standard - value) < 1e-6 * value) return name;
    return {};
}

std::string standardNote(const char* what, double value) {
    const std::string series = seriesOf(value);
    return fmt::format("{}, {}", what, series.empty() ? "no standard value: compose or select it" : series);
}

class List {
  public:
    void add(int count, const std::string& value, const std::string& what, const std::string& tolerance,
             const std::string& where) {
        for (PartsLine& line : m_lines)
            if (line.value == value && line.what == what && line.tolerance == tolerance) {
                line.count += count;
                line.where += "; " + where;
                return;
            }
        m_lines.push_back({count, value, what, tolerance, where});
    }
    std::vector<PartsLine> take() { return std::move(m_lines); }

  private:
    std::vector<PartsLine> m_lines;
};

void addWiring(List& list, const Item& item) {
    const WiringKind* kind = findWiringKind(item.spec().wiring.kind);
    if (!kind || item.device) return;
    for (const ParameterSpec& spec : kind->parameters()) {
        const double value = item.spec().wiring.parameters.numberOr(spec.id, 0);
        const bool isResistor = spec.quantity == Quantity::Resistance,
                   isCapacitor = spec.quantity == Quantity::Capacitance;
        if (!(value > 0) || spec.id == "lead_ohm" || spec.id == "stray_F" || (!isResistor && !isCapacitor)) continue;
        const double tolerance =
            spec.toleranceId.empty() ? 0 : item.spec().wiring.parameters.numberOr(spec.toleranceId, 0);
        list.add(1, shortEngineering(value, spec.quantity).joined(),
                 standardNote(isResistor ? "resistor" : "capacitor", value),
                 tolerance > 0 ? plainNumber(100 * tolerance, 3) + " %" : "", item.spec().name + ": " + spec.label);
    }
    if (const double farad = item.spec().wiring.parameters.numberOr("capacitor_F", 0); farad > 0)
        list.add(1, shortEngineering(farad, Quantity::Capacitance).joined(), standardNote("capacitor", farad), "",
                 item.spec().name + ": filter");
}

}  // namespace

std::vector<PartsLine> partsOf(const std::vector<Item>& items, const std::vector<PlanGroup>& groups) {
    List list;
    for (const Item& item : items) {
        const std::string title = item.device ? item.device->title : item.path ? item.path->part().title : "sensor";
        list.add(1, item.spec().sensor.part, "sensor: " + title, "", item.name());
    }
    for (const PlanGroup& group : groups)
        // Converters inside a microcontroller have no designation of their own.
        if (group.kind == GroupKind::Converter && !group.gauges().empty() && !group.line.starts_with("adc-") &&
            !group.line.starts_with("converter of"))
            list.add(1, group.line, "converter: " + group.title, "", group.title);
    for (const Item& item : items) addWiring(list, item);
    for (const Item& item : items) {
        if (item.device && openDrain(*item.device, item.settings))
            list.add(1, shortEngineering(kOpenDrainPullUp_ohm, Quantity::Resistance).joined(),
                     standardNote("resistor", kOpenDrainPullUp_ohm), "5 %",
                     fmt::format("{}: pull-up of {}", item.name(), item.device->openDrain));
        if (const auto answer = item.ownPullUp(); answer && answer->recommended_ohm && answer->modules_ohm == 0)
            list.add(1, shortEngineering(*answer->recommended_ohm, Quantity::Resistance).joined(),
                     standardNote("resistor", *answer->recommended_ohm), "5 %", item.name() + ": pull-up");
    }
    for (const PlanGroup& group : groups) {
        const double own = pullUpToAdd_ohm(group);
        if (!(own > 0)) continue;
        list.add(group.kind == GroupKind::I2c ? 2 : 1, shortEngineering(own, Quantity::Resistance).joined(),
                 standardNote("resistor", own), "5 %", group.title + ": pull-up");
    }
    return list.take();
}

}  // namespace fg::plan
