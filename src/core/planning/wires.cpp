#include "planning/wires.h"

#include "planning/conductors.h"
#include "planning/pin_drawing.h"
#include "planning/strip_words.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {
namespace plan {
namespace {

constexpr std::string_view kModule = "module";

/// From a part and what leads away from it to its pins.
class Maker {
  public:
    /// `pinouts`: of the part's bodies; `interface`: how modules of it name their pins.
    Maker(PinWires begun, const std::vector<Pinout>& pinouts, const GaugePlace& place, std::string interface,
          Conductors conductors, const Catalogue& catalogue)
        : m_pinouts(pinouts),
          m_place(place),
          m_interface(std::move(interface)),
          m_catalogue(catalogue),
          m_conductors(std::move(conductors.wires)),
          m_inputs(std::move(conductors.inputs)),
          m_made(std::move(begun)) {
        m_made.strip = place.strip;
        m_made.beside = std::move(conductors.beside);
    }

    [[nodiscard]] PinWires make() {
        chooseBody();
        wire();
        describePins();
        draw();
        return std::move(m_made);
    }

  private:
    void chooseBody() {
        for (const Pinout& one : m_pinouts)
            if (const auto outline = m_catalogue.outlines().find(one.outline); outline != m_catalogue.outlines().end())
                m_made.bodies.push_back({one.outline, outline->second.title});
        m_made.bodies.push_back({std::string(kModule), "module: a small board with a strip of pins"});
        const std::string& said = m_place.body;
        const bool hasSaid = std::any_of(m_made.bodies.begin(), m_made.bodies.end(),
                                         [&](const BodyChoice& one) { return one.id == said; });
        if (!said.empty() && !hasSaid)
            m_made.problem = fmt::format("“{}” is not a body that {} has here.", said, m_made.part);
        const bool isTwoEnded = std::all_of(m_conductors.begin(), m_conductors.end(),
                                            [](const Conductor& one) { return one.isEitherEnd(); });
        if (hasSaid)
            m_made.body = said;
        else if (!m_pinouts.empty())
            m_made.body = m_made.bodies.front().id;
        else if (!isTwoEnded && !m_made.strip.empty())
            m_made.body = kModule;
        if (m_made.body == kModule) {
            for (const std::string& word : m_made.strip) {
                const bool isInput = std::find(m_inputs.begin(), m_inputs.end(), word) != m_inputs.end();
                m_pins.push_back({word, isInput ? PinRole::Signal : roleOfWord(word, m_interface)});
            }
            m_outline = moduleOutline(static_cast<int>(m_pins.size()));
            if (m_pins.empty()) m_made.problem = "Type what is printed beside the module's pins, from left to right.";
            return;
        }
        for (const Pinout& one : m_pinouts) {
            if (one.outline != m_made.body) continue;
            m_pins = one.pins;
            m_outline = m_catalogue.outlines().at(one.outline);
            m_made.source = one.source;
        }
        if (m_pins.empty() && !isTwoEnded && m_made.problem.empty())
            m_made.problem = fmt::format(
                "The pins of {} are not known here: read them from its data sheet, or choose the module "
                "and type its strip.",
                m_made.part);
    }

    /// Numbers of its pins, from 0.
    [[nodiscard]] std::vector<std::size_t> pinsOf(const Conductor& wire) const {
        std::vector<std::size_t> numbers;
        if (wire.isEitherEnd()) return numbers;
        if (wire.pins.empty()) {
            for (std::size_t i = 0; i < m_pins.size(); ++i)
                if (m_pins[i].role == wire.role) numbers.push_back(i);
            return numbers;
        }
        for (const std::string& name : wire.pins)
            for (std::size_t i = 0; i < m_pins.size(); ++i)
                if (m_pins[i].name == name) return {i};
        return numbers;
    }

    [[nodiscard]] std::string textOf(const std::vector<std::size_t>& numbers) const {
        std::string text;
        for (const std::size_t i : numbers)
            text += fmt::format("{}{} {}", text.empty() ? "" : ", ", i + 1, m_pins[i].name);
        return text;
    }

    /// Those of a role that no wire leads away from.
    [[nodiscard]] std::string pinsWith(PinRole role) const {
        std::vector<std::size_t> numbers;
        for (std::size_t i = 0; i < m_pins.size(); ++i) {
            const bool isTaken = std::any_of(m_conductors.begin(), m_conductors.end(), [&](const Conductor& wire) {
                const auto of = pinsOf(wire);
                return std::find(of.begin(), of.end(), i) != of.end();
            });
            if (m_pins[i].role == role && !isTaken) numbers.push_back(i);
        }
        return textOf(numbers);
    }

    void wire() {
        // A four-wire part that takes nothing in has no pin for it, a module none for what it connects itself.
        if (!m_pins.empty())
            std::erase_if(m_conductors, [&](const Conductor& one) {
                return (one.isOptional || one.role == PinRole::DataIn) && pinsOf(one).empty();
            });
        const auto& order = m_place.order;
        const auto rank = [&](const Conductor& one) {
            return std::find(order.begin(), order.end(), one.name) - order.begin();
        };
        std::stable_sort(m_conductors.begin(), m_conductors.end(),
                         [&](const Conductor& a, const Conductor& b) { return rank(a) < rank(b); });
        std::string missing, alike;
        for (const Conductor& one : m_conductors) {
            Wire made{one.name, one.isEitherEnd() ? "either way round" : textOf(pinsOf(one)), one.to, "",
                      fmt::format("{}.{}", m_made.cable, m_made.wires.size() + 1)};
            if (const auto colour = m_place.colours.find(one.name); colour != m_place.colours.end())
                made.colour = colour->second;
            if (!m_pins.empty() && made.pin.empty()) missing += (missing.empty() ? "" : ", ") + one.name;
            for (const Wire& other : m_made.wires)
                if (!made.colour.empty() && other.colour == made.colour)
                    alike = fmt::format("{} and {} are both {}.", other.conductor, one.name, made.colour);
            m_made.wires.push_back(std::move(made));
        }
        if (!missing.empty())
            m_made.problem = fmt::format("No pin is known for: {}.{}", missing,
                                         m_made.body == kModule ? " Is the strip typed as it is printed?" : "");
        else if (!alike.empty() && m_made.problem.empty())
            m_made.problem = alike;
    }

    void describePins() {
        if (const std::string pins = pinsWith(PinRole::Address); !pins.empty())
            m_made.beside.push_back(fmt::format("The address is set by: {}.", pins));
        if (const std::string pins = pinsWith(PinRole::Open); !pins.empty())
            m_made.beside.push_back(fmt::format("Connect nothing to: {}.", pins));
        if (const std::string pins = pinsWith(PinRole::Other); !pins.empty())
            m_made.beside.push_back(fmt::format("Not in the table, see the data sheet: {}.", pins));
    }

    void draw() {
        if (m_pins.empty()) return;
        std::vector<DrawnPin> drawn;
        for (std::size_t number = 0; number < m_pins.size(); ++number) {
            DrawnPin one{m_pins[number].name, ""};
            if (m_pins[number].role == PinRole::Open) one.note = "connect nothing";
            for (std::size_t i = 0; i < m_conductors.size(); ++i)
                if (const auto of = pinsOf(m_conductors[i]); std::find(of.begin(), of.end(), number) != of.end())
                    one.note = fmt::format("→ {}{}", m_conductors[i].to,
                                           m_made.wires[i].colour.empty() ? "" : ", " + m_made.wires[i].colour);
            drawn.push_back(std::move(one));
        }
        m_made.drawings.push_back(
            pinDrawing(m_outline, drawn, fmt::format("{}: {}, {}", m_made.part, m_outline.title, m_outline.view)));
    }

    const std::vector<Pinout>& m_pinouts;
    const GaugePlace& m_place;
    std::string m_interface;
    const Catalogue& m_catalogue;
    std::vector<Conductor> m_conductors;
    std::vector<std::string> m_inputs;
    std::vector<Pin> m_pins;
    Outline m_outline;
    PinWires m_made;
};

}  // namespace

std::vector<PinWires> wiresOf(const std::vector<Item>& items, const std::vector<PlanGroup>& groups,
                              const std::vector<Rail>& rails, const std::map<std::string, GaugePlace>& converters,
                              const Catalogue& catalogue) {
    std::vector<PinWires> all;
    const std::vector<Pinout> none;
    for (const Item& item : items) {
        PinWires begun;
        begun.gauge = item.gauges.front()->id;
        begun.gauges = item.ids();
        begun.who = item.name();
        begun.part = item.spec().sensor.part;
        begun.cable = static_cast<int>(all.size()) + 1;
        const PartFacts* const facts = item.facts();
        all.push_back(Maker(std::move(begun), facts ? facts->pinouts : none, item.place,
                            item.device ? item.device->interface : "analog",
                            conductorsOf(item, groups, railFor(item, rails), catalogue), catalogue)
                          .make());
    }
    for (const PlanGroup& group : groups) {
        const ConverterPart* const converter =
            group.kind == GroupKind::Converter ? catalogue.findConverter(group.line) : nullptr;
        if (!converter || converter->pinouts.empty()) continue;
        PinWires begun;
        begun.converter = converter->id;
        begun.who = "the converter";
        begun.part = converter->id;
        begun.cable = static_cast<int>(all.size()) + 1;
        const auto place = converters.find(converter->id);
        all.push_back(Maker(std::move(begun), converter->pinouts,
                            place == converters.end() ? GaugePlace{} : place->second, converter->interface,
                            conductorsOf(*converter, group, items, rails), catalogue)
                          .make());
    }
    return all;
}

double pullUpToAdd_ohm(const PlanGroup& group) {
    if (group.own_ohm > 0) return group.own_ohm;
    const bool isWanted = group.pullUp && group.pullUp->recommended_ohm && group.pullUp->modules_ohm == 0;
    return isWanted ? *group.pullUp->recommended_ohm : 0;
}

}  // namespace plan

std::vector<std::string> readStrip(std::string_view text) {
    std::vector<std::string> words;
    constexpr std::string_view kBetween = " \t\n,;|";
    while (true) {
        const std::size_t begin = text.find_first_not_of(kBetween);
        if (begin == std::string_view::npos) return words;
        const std::size_t end = std::min(text.find_first_of(kBetween, begin), text.size());
        words.emplace_back(text.substr(begin, end - begin));
        text.remove_prefix(end);
    }
}

std::vector<std::string> movedWire(const PinWires& wires, std::size_t at, int by) {
    std::vector<std::string> order;
    for (const Wire& one : wires.wires) order.push_back(one.conductor);
    const auto other = static_cast<std::ptrdiff_t>(at) + by;
    if (at < order.size() && other >= 0 && other < static_cast<std::ptrdiff_t>(order.size()))
        std::swap(order[at], order[static_cast<std::size_t>(other)]);
    return order;
}

}  // namespace fg
