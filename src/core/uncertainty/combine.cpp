#include "uncertainty/combine.h"

#include "uncertainty/coverage.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <map>

namespace fg {
namespace {

/// One cause of uncertainty, and what it does in each line that has it.
struct Component {
    std::string label;
    bool isRectangle = false;
    std::map<std::size_t, double> effects = {};
    [[nodiscard]] double sum() const {
        double all = 0;
        for (const auto& [line, effect] : effects) all += effect;
        return all;
    }
};

/// The causes behind these lines, each once.
std::vector<Component> componentsOf(const std::vector<Contribution>& lines, std::size_t leftOut) {
    std::vector<Component> components;
    std::map<std::string, std::size_t> places;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const Contribution& line = lines[i];
        if (i == leftOut) continue;
        if (line.parts.empty())
            components.push_back({line.label, line.distribution == Distribution::Rectangular, {{i, line.standard}}});
        for (const SharedPart& part : line.parts) {
            const auto [it, isNew] = places.emplace(part.origin, components.size());
            if (isNew) components.push_back({part.label, part.isRectangle});
            Component& component = components[it->second];
            // A gauge's own line says it best.
            if (line.parts.size() == 1) component.label = part.label;
            component.effects[i] += part.effect;
        }
    }
    return components;
}

}  // namespace

double expandedOf(const std::vector<Contribution>& contributions, std::size_t leftOut) {
    std::vector<double> rectangles;
    double normal = 0;
    for (const Component& one : componentsOf(contributions, leftOut)) {
        const double standard = std::abs(one.sum());
        if (one.isRectangle)
            rectangles.push_back(std::sqrt(3.0) * standard);
        else
            normal += standard * standard;
    }
    return coverageHalfWidth(rectangles, std::sqrt(normal));
}

void combine(Budget& budget) {
    std::vector<double> variances(budget.contributions.size());  // of each line with its part of what is common
    double variance = 0;
    budget.common.clear();
    for (const Component& one : componentsOf(budget.contributions, budget.contributions.size())) {
        const double sum = one.sum();
        double squares = 0;
        for (const auto& [line, effect] : one.effects) {
            squares += effect * effect;
            variances[line] += effect * sum;
        }
        variance += sum * sum;
        if (one.effects.size() > 1) budget.common.push_back({one.label, one.effects.size(), sum * sum - squares});
    }
    for (std::size_t i = 0; i < variances.size(); ++i)
        budget.contributions[i].share = variance > 0 ? variances[i] / variance : 0;
    budget.standard = std::sqrt(variance);
    budget.expanded = expandedOf(budget.contributions, budget.contributions.size());
}

std::string originOf(const GaugeSpec& spec, const Influence& influence) {
    if (influence.stage != Stage::Converter || spec.converter.part.empty()) return {};
    return fmt::format("converter {}: {} = {} ± {}", spec.converter.part, influence.spec.id,
                       plainNumber(influence.value, 9), plainNumber(influence.limit, 9));
}

void takeOver(Contribution& line, const Lent& lent, double slope) {
    if (lent.parts.empty()) return;
    line.parts.clear();
    std::vector<double> rectangles;
    double variance = 0, normal = 0;
    for (const SharedPart& part : lent.parts) {
        const double effect = slope * part.effect;
        line.parts.push_back({part.origin, part.label, effect, part.isRectangle});
        variance += effect * effect;
        if (part.isRectangle)
            rectangles.push_back(std::sqrt(3.0) * std::abs(effect));
        else
            normal += effect * effect;
    }
    line.distribution = Distribution::Normal;  // of many; its shape is that of its parts
    line.standard = std::sqrt(variance);
    line.limit = coverageHalfWidth(rectangles, std::sqrt(normal));
}

Lent lentOf(const Budget& budget, std::int64_t lender) {
    Lent lent;
    lent.isStated = budget.sensorStated;
    std::map<std::string, std::size_t> places;
    const auto add = [&](SharedPart part) {
        const auto [it, isNew] = places.emplace(part.origin, lent.parts.size());
        if (isNew)
            lent.parts.push_back(std::move(part));
        else
            lent.parts[it->second].effect += part.effect;
    };
    for (const Contribution& line : budget.contributions) {
        if (!(line.standard > 0)) continue;
        if (line.parts.empty())
            add({fmt::format("gauge {}: {} {}", lender, line.parameter, static_cast<int>(line.cause)), line.label,
                 line.effect != 0 ? line.effect : line.standard, line.distribution == Distribution::Rectangular});
        for (const SharedPart& part : line.parts) add(part);
    }
    return lent;
}

}  // namespace fg
