#include "planning/conductors.h"

#include "path/analog_path.h"
#include "units/number_format.h"
#include "wiring/kind.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg::plan {
namespace {

/// The names of a converter's inputs in the order of its channels: pins of that role in its usual body, which are
/// numbered by their names.
std::vector<std::string> inputsOf(const ConverterPart& converter, PinRole role) {
    std::vector<std::string> names;
    if (!converter.pinouts.empty())
        for (const Pin& pin : converter.pinouts.front().pins)
            if (pin.role == role) names.push_back(pin.name);
    std::sort(names.begin(), names.end());
    return names;
}

/// Where a part hangs: its group and its place there.
struct Spot {
    const PlanGroup* group = nullptr;
    std::string label;
    std::ptrdiff_t at = 0;  ///< of the group's places
};

Spot spotOf(const Item& item, const std::vector<PlanGroup>& groups) {
    for (const PlanGroup& group : groups)
        for (const PlanPlace& place : group.places)
            if (std::find(place.gauges.begin(), place.gauges.end(), item.gauges.front()->id) != place.gauges.end())
                return {&group, place.label, &place - group.places.data()};
    return {};
}

/// "A1"; with its converter in brackets where there are several, or its pin there where that is known.
std::string pinText(const Spot& spot, const std::vector<PlanGroup>& groups, const Catalogue& catalogue) {
    if (!spot.group) return "the converter's pin";
    if (spot.group->kind == GroupKind::Converter)
        if (const ConverterPart* converter = catalogue.findConverter(spot.group->line))
            if (const auto at = static_cast<std::size_t>(spot.at); at < inputsOf(*converter, PinRole::Signal).size())
                return fmt::format("{} ({} of {})", spot.label, inputsOf(*converter, PinRole::Signal)[at],
                                   converter->id);
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

/// Of a gauge.
class OfItem {
  public:
    OfItem(const Item& item, const std::vector<PlanGroup>& groups, const Rail* rail, const Catalogue& catalogue)
        : m_item(item), m_rail(rail), m_spot(spotOf(item, groups)), m_pin(pinText(m_spot, groups, catalogue)) {}

    [[nodiscard]] Conductors make() {
        if (m_item.device)
            digitalConductors();
        else
            analogConductors();
        return std::move(m_made);
    }

  private:
    [[nodiscard]] const Parameters& wiring() const { return m_item.spec().wiring.parameters; }

    void add(std::string name, PinRole role, std::string to) {
        m_made.wires.push_back({std::move(name), role, std::move(to)});
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

    const Item& m_item;
    const Rail* m_rail;
    Spot m_spot;
    std::string m_pin;
    Conductors m_made;
};

/// Of a stand-alone converter.
class OfConverter {
  public:
    OfConverter(const ConverterPart& converter, const PlanGroup& group, const std::vector<Item>& items,
                const std::vector<Rail>& rails)
        : m_converter(converter), m_group(group), m_items(items), m_rails(rails) {}

    [[nodiscard]] Conductors make() {
        asCounted();
        toTheBoard();
        inputs();
        return std::move(m_made);
    }

  private:
    void add(std::string name, PinRole role, std::string to, std::vector<std::string> pins = {},
             bool isOptional = false) {
        m_made.wires.push_back({std::move(name), role, std::move(to), std::move(pins), isOptional});
    }

    /// Its reference as the first gauge on it counts, which may say other than the catalogue.
    void asCounted() {
        m_reference_V = m_converter.parameters.numberOr("reference_V", 0);
        std::string kind = m_converter.parameters.textOr("reference_kind", "");
        for (const Item& item : m_items) {
            if (item.converter != &m_converter) continue;
            m_reference_V = item.spec().converter.parameters.numberOr("reference_V", m_reference_V);
            kind = item.spec().converter.parameters.textOr("reference_kind", kind);
            break;
        }
        m_isSupply = kind == "supply";
    }

    /// What it counts against is the supply: then that has this voltage.
    [[nodiscard]] std::string supply() const {
        if (m_isSupply)
            for (const Rail& rail : m_rails)
                if (rail.voltage_V == m_reference_V) return railText(&rail);
        return m_rails.size() == 1 ? railText(&m_rails.front()) : "a supply that its data sheet allows";
    }

    void toTheBoard() {
        add("supply", PinRole::Supply, supply());
        add("ground", PinRole::Ground, "ground");
        add("reference", PinRole::Reference,
            m_isSupply ? "the supply, which it counts against"
                       : fmt::format("the reference, {} V as the gauges count", plainNumber(m_reference_V, 4)),
            {}, true);
        const std::string& interface = m_converter.interface;
        if (interface == "i2c") {
            add("data (SDA)", PinRole::Data, "SDA of the two-wire bus");
            add("clock (SCL)", PinRole::Clock, "SCL of the two-wire bus");
        } else if (interface == "spi") {
            add("clock", PinRole::Clock, "clock of the four-wire bus");
            add("data out", PinRole::DataOut, "data in of the board");
            add("data in", PinRole::DataIn, "data out of the board", {}, true);
            add("select", PinRole::Select, "a digital pin of the board", {}, true);
        } else if (interface == "two-wire clocked") {
            add("data", PinRole::Data, "a digital pin of the board");
            add("clock", PinRole::Clock, "another digital pin of the board");
        }
    }

    /// The cable and the gauge on a place of the converter; empty: nobody.
    [[nodiscard]] std::string whoIs(const PlanPlace& place) const {
        std::string who;
        for (std::size_t i = 0; i < m_items.size(); ++i)
            if (std::find(place.gauges.begin(), place.gauges.end(), m_items[i].gauges.front()->id) !=
                place.gauges.end())
                who += fmt::format("{}cable {}, {}", who.empty() ? "" : " and ", i + 1, m_items[i].name());
        return who;
    }

    /// What hangs there has two signal wires.
    [[nodiscard]] bool isPairOf(const PlanPlace& place) const {
        return std::any_of(m_items.begin(), m_items.end(), [&](const Item& item) {
            const WiringKind* const kind = findWiringKind(item.spec().wiring.kind);
            return kind && kind->isDifferential &&
                   std::find(place.gauges.begin(), place.gauges.end(), item.gauges.front()->id) != place.gauges.end();
        });
    }

    /// Modules name their inputs in their own ways.
    void inputs() {
        const auto high = inputsOf(m_converter, PinRole::Signal), low = inputsOf(m_converter, PinRole::SignalLow);
        std::string spare;
        for (std::size_t i = 0; i < high.size(); ++i) {
            const char letter = static_cast<char>('A' + i);
            const std::vector<std::string> names{high[i],
                                                 fmt::format("A{}", i),
                                                 fmt::format("AIN{}", i),
                                                 fmt::format("CH{}", i),
                                                 fmt::format("IN{}", i),
                                                 fmt::format("{}+", letter)};
            m_made.inputs.insert(m_made.inputs.end(), names.begin(), names.end());
            const bool isPair = i < low.size();
            const std::string who = i < m_group.places.size() ? whoIs(m_group.places[i]) : "";
            if (who.empty()) {
                spare += fmt::format("{}{}{}", spare.empty() ? "" : ", ", high[i], isPair ? " and " + low[i] : "");
                continue;
            }
            add(fmt::format("input A{}{}", i, isPair ? " +" : ""), PinRole::Signal, who, names);
            if (isPair)
                add(fmt::format("input A{} −", i), PinRole::SignalLow,
                    isPairOf(m_group.places[i]) ? who + ": signal −" : "ground",
                    {low[i], fmt::format("{}-", letter), fmt::format("{}−", letter)});
        }
        if (!spare.empty()) m_made.beside.push_back(fmt::format("Inputs that are free: {}.", spare));
    }

    const ConverterPart& m_converter;
    const PlanGroup& m_group;
    const std::vector<Item>& m_items;
    const std::vector<Rail>& m_rails;
    double m_reference_V = 0;
    bool m_isSupply = false;
    Conductors m_made;
};

}  // namespace

Conductors conductorsOf(const Item& item, const std::vector<PlanGroup>& groups, const Rail* rail,
                        const Catalogue& catalogue) {
    return OfItem(item, groups, rail, catalogue).make();
}

Conductors conductorsOf(const ConverterPart& converter, const PlanGroup& group, const std::vector<Item>& items,
                        const std::vector<Rail>& rails) {
    return OfConverter(converter, group, items, rails).make();
}

}  // namespace fg::plan
