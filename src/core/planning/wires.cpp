#include "planning/wires.h"

#include "path/analog_path.h"
#include "planning/pin_drawing.h"
#include "planning/plan_items.h"
#include "planning/strip_words.h"
#include "units/number_format.h"
#include "wiring/kind.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {
namespace plan {
namespace {

constexpr std::string_view kModule = "module";

/// A wire before it is known which pin it starts at.
struct Conductor {
    std::string name;
    PinRole role = PinRole::Other;  ///< Other: an end without a name of its own, either way round
    std::string to;
};

/// Where a part hangs: its group and its place there.
struct Spot {
    const PlanGroup* group = nullptr;
    std::string label;
};

Spot spotOf(const Item& item, const std::vector<PlanGroup>& groups) {
    for (const PlanGroup& group : groups)
        for (const PlanPlace& place : group.places)
            if (std::find(place.gauges.begin(), place.gauges.end(), item.gauges.front()->id) != place.gauges.end())
                return {&group, place.label};
    return {};
}

/// "A1"; with its converter in brackets where there are several.
std::string pinText(const Spot& spot, const std::vector<PlanGroup>& groups) {
    if (!spot.group) return "the converter's pin";
    const auto converters = std::count_if(groups.begin(), groups.end(),
                                          [](const PlanGroup& group) { return group.kind == GroupKind::Converter; });
    return spot.group->kind == GroupKind::Converter && converters > 1
               ? fmt::format("{} ({})", spot.label, spot.group->title)
               : spot.label;
}

std::string railText(const Rail* rail) {
    if (!rail) return "a supply: none of the bench suits";
    const std::string volts = plainNumber(rail->voltage_V, 4) + " V";
    return rail->name == volts ? volts : fmt::format("{} ({})", rail->name, volts);
}

std::string replaced(std::string text, std::string_view what, const std::string& with) {
    for (std::size_t at = 0; (at = text.find(what, at)) != std::string::npos; at += with.size())
        text.replace(at, what.size(), with);
    return text;
}

/// A clause of a Hookup with its names put in; nothing where a value that it names is not there.
std::string clauseOf(std::string_view clause, const WiringKind& kind, const Parameters& wiring, const std::string& pin,
                     const std::string& source) {
    std::string text = replaced(replaced(std::string(clause), "{pin}", pin), "{source}", source);
    for (const ParameterSpec& spec : kind.parameters()) {
        const std::string token = "{" + spec.id + "}";
        if (text.find(token) == std::string::npos) continue;
        const double value = wiring.numberOr(spec.id, 0);
        if (!(value > 0)) return {};
        text =
            replaced(text, token, fmt::format("{} ({})", spec.label, shortEngineering(value, spec.quantity).joined()));
    }
    return text;
}

class Maker {
  public:
    Maker(const Item& item, const std::vector<PlanGroup>& groups, const Rail* rail, const Catalogue& catalogue)
        : m_item(item),
          m_rail(rail),
          m_catalogue(catalogue),
          m_spot(spotOf(item, groups)),
          m_pin(pinText(m_spot, groups)) {}

    [[nodiscard]] PinWires make(int cable) {
        m_made.gauge = m_item.gauges.front()->id;
        m_made.gauges = m_item.ids();
        m_made.who = m_item.name();
        m_made.part = m_item.spec().sensor.part;
        m_made.cable = cable;
        m_made.strip = m_item.place.strip;
        if (m_item.device)
            digitalConductors();
        else
            analogConductors();
        chooseBody();
        wire();
        describePins();
        draw();
        return std::move(m_made);
    }

  private:
    [[nodiscard]] const Parameters& wiring() const { return m_item.spec().wiring.parameters; }
    [[nodiscard]] std::string interfaceOf() const { return m_item.device ? m_item.device->interface : "analog"; }

    void add(std::string name, PinRole role, std::string to) {
        m_conductors.push_back({std::move(name), role, std::move(to)});
    }

    void digitalConductors() {
        const std::string& interface = m_item.device->interface;
        const std::string line = m_spot.group ? m_spot.group->line : "the bus";
        add("supply", PinRole::Supply, railText(m_rail));
        add("ground", PinRole::Ground, "ground");
        if (interface == "i2c") {
            add("data (SDA)", PinRole::Data, "SDA of " + line);
            add("clock (SCL)", PinRole::Clock, "SCL of " + line);
        } else if (interface == "spi") {
            add("clock", PinRole::Clock, "clock of the four-wire bus");
            add("data out", PinRole::DataOut, "data in of the board");
            add("data in", PinRole::DataIn, "data out of the board");
            add("select", PinRole::Select, m_pin);
        } else if (interface == "two-wire clocked") {
            add("data", PinRole::Data, m_pin);
            add("clock", PinRole::Clock, "another digital pin");
        } else {
            add("data", PinRole::Data, interface == "1-wire" ? line : m_pin);
        }
        pullUps();
        if (const auto address = m_item.device->addressIn(wiring()); address && m_item.device->addresses.size() > 1)
            for (const BusAddress& one : m_item.device->addresses)
                if (one.address == *address)
                    m_made.beside.push_back(fmt::format("Address 0x{:02X}: {}.", one.address, one.straps));
    }

    void pullUps() {
        if (const auto own = m_item.ownPullUp(); own && own->recommended_ohm && own->modules_ohm == 0)
            m_made.beside.push_back(
                fmt::format("{} from the data wire to the supply, once.", ohms(*own->recommended_ohm)));
        if (!m_spot.group || !m_spot.group->pullUp) return;
        if (const double ohm = pullUpToAdd_ohm(*m_spot.group); ohm > 0)
            m_made.beside.push_back(fmt::format(
                "{} from {} to {}, once for the whole line.", ohms(ohm),
                m_spot.group->kind == GroupKind::I2c ? "SDA and " + ohms(ohm) + " from SCL" : "the data wire",
                m_spot.group->supply_V > 0 ? plainNumber(m_spot.group->supply_V, 4) + " V" : "the supply"));
    }

    [[nodiscard]] static std::string ohms(double value) {
        return shortEngineering(value, Quantity::Resistance).joined();
    }

    void analogConductors() {
        const WiringKind* kind = findWiringKind(m_item.spec().wiring.kind);
        if (!kind || !kind->hookup || !m_item.path) {
            add("signal", PinRole::Signal, m_pin);
            return;
        }
        const std::string source =
            wiring().textOr("source", "reference") == "rail" || m_item.path->source_V() <= 0
                ? railText(m_rail)
                : fmt::format("the converter's reference ({} V)", plainNumber(m_item.path->source_V(), 4));
        const Hookup hookup = kind->hookup(wiring());
        const auto text = [&](std::string_view clause) { return clauseOf(clause, *kind, wiring(), m_pin, source); };
        const Part& part = m_item.path->part();
        const bool hasSupply = part.supply_V.high > 0;
        switch (m_item.path->signalQuantity()) {
            case Quantity::Resistance:
            case Quantity::Capacitance:
                add("sensor", PinRole::Other, text(hookup.first));
                add("sensor, other end", PinRole::Other, text(hookup.second));
                break;
            case Quantity::Current:
            case Quantity::Count:
                add("supply +", PinRole::Supply, source);
                add("signal", PinRole::Signal, text(hookup.first));
                break;
            default:
                if (kind->isDifferential && part.family != "thermocouple") {
                    add("excitation +", PinRole::Supply, source);
                    add("excitation −", PinRole::Ground, "ground");
                    add("signal +", PinRole::Signal, text(hookup.first));
                    add("signal −", PinRole::SignalLow, text(hookup.second));
                } else if (hasSupply) {
                    add("supply", PinRole::Supply, railText(m_rail));
                    add("ground", PinRole::Ground, "ground");
                    add("signal", PinRole::Signal, text(hookup.first));
                } else {
                    add("+", PinRole::Signal, text(hookup.first));
                    add("−", PinRole::Ground, text(hookup.second));
                }
        }
        for (const std::string_view clause : hookup.beside)
            if (const std::string one = text(clause); !one.empty()) m_made.beside.push_back(one + ".");
        if (const double farad = wiring().numberOr("capacitor_F", 0); farad > 0)
            m_made.beside.push_back(fmt::format("{} between {} and ground, close to the pin.",
                                                shortEngineering(farad, Quantity::Capacitance).joined(), m_pin));
    }

    void chooseBody() {
        const PartFacts* facts = m_item.facts();
        const auto& known = facts ? facts->pinouts : std::vector<Pinout>();
        for (const Pinout& one : known)
            if (const auto outline = m_catalogue.outlines().find(one.outline); outline != m_catalogue.outlines().end())
                m_made.bodies.push_back({one.outline, outline->second.title});
        m_made.bodies.push_back({std::string(kModule), "module: a small board with a strip of pins"});
        const std::string& said = m_item.place.body;
        const bool hasSaid = std::any_of(m_made.bodies.begin(), m_made.bodies.end(),
                                         [&](const BodyChoice& one) { return one.id == said; });
        if (!said.empty() && !hasSaid)
            m_made.problem = fmt::format("“{}” is not a body that {} has here.", said, m_made.part);
        const bool isTwoEnded = std::all_of(m_conductors.begin(), m_conductors.end(),
                                            [](const Conductor& one) { return one.role == PinRole::Other; });
        if (hasSaid)
            m_made.body = said;
        else if (!known.empty())
            m_made.body = m_made.bodies.front().id;
        else if (!isTwoEnded && !m_made.strip.empty())
            m_made.body = kModule;
        if (m_made.body == kModule) {
            for (const std::string& word : m_made.strip) m_pins.push_back({word, roleOfWord(word, interfaceOf())});
            m_outline = moduleOutline(static_cast<int>(m_pins.size()));
            if (m_pins.empty()) m_made.problem = "Type what is printed beside the module's pins, from left to right.";
            return;
        }
        for (const Pinout& one : known) {
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

    [[nodiscard]] std::string pinsWith(PinRole role) const {
        std::string text;
        for (std::size_t i = 0; i < m_pins.size(); ++i)
            if (m_pins[i].role == role) text += fmt::format("{}{} {}", text.empty() ? "" : ", ", i + 1, m_pins[i].name);
        return text;
    }

    void wire() {
        // A four-wire part that takes nothing in has no pin for it.
        if (!m_pins.empty())
            std::erase_if(m_conductors, [&](const Conductor& one) {
                return one.role == PinRole::DataIn && pinsWith(one.role).empty();
            });
        const auto& order = m_item.place.order;
        const auto rank = [&](const Conductor& one) {
            return std::find(order.begin(), order.end(), one.name) - order.begin();
        };
        std::stable_sort(m_conductors.begin(), m_conductors.end(),
                         [&](const Conductor& a, const Conductor& b) { return rank(a) < rank(b); });
        std::string missing, alike;
        for (const Conductor& one : m_conductors) {
            Wire made{one.name, one.role == PinRole::Other ? "either way round" : pinsWith(one.role), one.to, "",
                      fmt::format("{}.{}", m_made.cable, m_made.wires.size() + 1)};
            if (const auto colour = m_item.place.colours.find(one.name); colour != m_item.place.colours.end())
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
        for (const Pin& pin : m_pins) {
            DrawnPin one{pin.name, ""};
            if (pin.role == PinRole::Open) one.note = "connect nothing";
            for (std::size_t i = 0; i < m_conductors.size(); ++i)
                if (m_conductors[i].role == pin.role && pin.role != PinRole::Other)
                    one.note = fmt::format("→ {}{}", m_conductors[i].to,
                                           m_made.wires[i].colour.empty() ? "" : ", " + m_made.wires[i].colour);
            drawn.push_back(std::move(one));
        }
        m_made.drawings.push_back(
            pinDrawing(m_outline, drawn, fmt::format("{}: {}, {}", m_made.part, m_outline.title, m_outline.view)));
    }

    const Item& m_item;
    const Rail* m_rail;
    const Catalogue& m_catalogue;
    Spot m_spot;
    std::string m_pin;
    std::vector<Conductor> m_conductors;
    std::vector<Pin> m_pins;
    Outline m_outline;
    PinWires m_made;
};

}  // namespace

std::vector<PinWires> wiresOf(const std::vector<Item>& items, const std::vector<PlanGroup>& groups,
                              const std::vector<Rail>& rails, const Catalogue& catalogue) {
    std::vector<PinWires> all;
    for (const Item& item : items)
        all.push_back(Maker(item, groups, railFor(item, rails), catalogue).make(static_cast<int>(all.size()) + 1));
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
