#include "path/converter_setup.h"

#include "converters/kind.h"
#include "converters/word_format.h"
#include "path/analog_path.h"
#include "units/number_format.h"
#include "units/value_text.h"

#include <fmt/format.h>
#include <algorithm>
#include <charconv>
#include <cmath>

namespace fg {
namespace {

using Facts = std::map<std::string, std::string>;

std::optional<double> numberOf(const std::string& text) {
    double number = 0;
    const auto [end, status] = std::from_chars(text.data(), text.data() + text.size(), number);
    return status == std::errc{} && end == text.data() + text.size() ? std::optional(number) : std::nullopt;
}

/// Two facts that mean the same: words alike, numbers within what nominal values differ by.
bool agree(const std::string& one, const std::string& other) {
    constexpr double kNominal = 0.03;
    const auto a = numberOf(one), b = numberOf(other);
    return a && b ? std::abs(*a - *b) <= kNominal * std::abs(*b) : one == other;
}

/// A fact that several choices make together, as a product: what part of the reference they choose is full scale.
constexpr const char* kPart = "full_scale_part";

/// What the gauge counts with, in the words of the maps. What it does not say is not among them.
Facts factsOf(const GaugeSpec& spec, const Catalogue& catalogue) {
    const Parameters converter = effectiveConverter(spec, catalogue);
    Facts facts;
    const std::string kind = converter.textOr("reference_kind", "");
    if (!kind.empty()) facts["reference_kind"] = isReferenceSupply(converter) ? "supply" : kind;
    const double nominal = converter.numberOr("reference_V", 0), gain = converter.numberOr("gain", 1);
    if (nominal > 0) {
        // Which supply it is the words cannot say.
        if (!isReferenceSupply(converter)) facts["reference_V"] = plainNumber(nominal, 9);
        if (gain > 0)
            facts["full_scale_V"] = plainNumber(nominal * converter.numberOr("full_scale_of_reference", 1) / gain, 9);
    }
    if (converter.has("bits")) facts["bits"] = plainNumber(converter.numberOr("bits", 0));
    facts["gain"] = plainNumber(gain, 9);
    if (gain > 0) facts[kPart] = plainNumber(converter.numberOr("full_scale_of_reference", 1) / gain, 9);
    facts["polarity"] = converter.textOr("polarity", "unipolar");
    facts["runs"] = "yes";
    facts["word"] = converter.textOr("word", std::string(wordFormatName(WordFormat::RightJustified)));
    return facts;
}

/// A fact as a sentence says it.
std::string saidOf(const std::string& id, const std::string& value) {
    if (id == "reference_kind")
        return value == "supply"     ? "the supply as reference"
               : value == "internal" ? "the internal reference"
                                     : "the reference at its pin";
    if (id == "reference_V") return "a reference of " + value + " V";
    if (id == "full_scale_V") return "a full scale of " + value + " V";
    if (id == "bits") return value + " bits";
    if (id == "gain") return "a gain of " + value;
    if (id == kPart) return "a full scale of " + value + " times the reference";
    if (id == "polarity") return value == "bipolar" ? "codes with a sign" : "codes from 0 up";
    return value == wordFormatName(WordFormat::LeftJustified) ? "left-justified words" : "right-justified words";
}

const Facts* factsIn(const RegisterField& field, std::uint32_t code) {
    const auto it = field.means.find(code);
    return it == field.means.end() ? nullptr : &it->second;
}

/// What `fact` is called among the choices of a map: the number of clocks a prescaler divides by.
double numberAmong(std::span<const FieldValue> values, const char* fact, double otherwise) {
    for (const FieldValue& value : values)
        if (const Facts* facts = factsIn(*value.field, value.code))
            if (const auto it = facts->find(fact); it != facts->end()) return numberOf(it->second).value_or(otherwise);
    return otherwise;
}

bool divides(const RegisterField& field) {
    return std::any_of(field.means.begin(), field.means.end(),
                       [](const auto& one) { return one.second.contains("clock_divider"); });
}

/// The choice with which the converter runs as quickly as its document allows; empty where none does, or it says
/// nothing of it.
std::string prescalerFor(const RegisterMap& map, const RegisterField& field, double clock_Hz) {
    std::string best;
    double quickest = 0;
    for (const auto& [name, code] : field.choices) {
        const Facts* facts = factsIn(field, code);
        if (!facts || !facts->contains("clock_divider") || !(clock_Hz > 0)) continue;
        const double rate = clock_Hz / numberOf(facts->at("clock_divider")).value_or(1);
        const bool isAllowed = rate <= map.clock.highest_Hz * (1 + 1e-9) && rate >= map.clock.lowest_Hz * (1 - 1e-9);
        if (isAllowed && rate > quickest) {
            quickest = rate;
            best = name;
        }
    }
    return best;
}

/// A field whose choice makes the full scale together with that of others, and what it may be.
struct Shared {
    const RegisterField* field = nullptr;
    std::vector<std::pair<std::string, double>> choices;
};

double partOf(const Facts* facts) {
    const auto it = facts ? facts->find(kPart) : Facts::const_iterator{};
    return facts && it != facts->end() ? numberOf(it->second).value_or(1) : 1;
}

bool sharesFullScale(const RegisterField& field) {
    return std::any_of(field.means.begin(), field.means.end(),
                       [](const auto& one) { return one.second.contains(kPart); });
}

/// Parts are exact, as the nominal voltages of references are not.
bool isPart(double product, const std::string& wanted) {
    constexpr double kRounded = 1e-3;
    const double part = numberOf(wanted).value_or(0);
    return std::abs(product - part) <= kRounded * part;
}

/// The first choices whose product is wanted; nothing where there are none.
std::optional<std::vector<std::string>> together(std::span<const Shared> fields, double product,
                                                 const std::string& wanted) {
    if (fields.empty()) return isPart(product, wanted) ? std::optional(std::vector<std::string>()) : std::nullopt;
    for (const auto& [name, part] : fields.front().choices)
        if (auto rest = together(fields.subspan(1), product * part, wanted)) {
            rest->insert(rest->begin(), name);
            return rest;
        }
    return std::nullopt;
}

void chooseTogether(const std::vector<Shared>& fields, const Facts& wanted, ConverterSetup& setup) {
    if (fields.empty() || !wanted.contains(kPart)) return;
    const auto names = together(fields, 1, wanted.at(kPart));
    std::string titles;
    for (std::size_t i = 0; i < fields.size(); ++i) {
        if (names) setup.settings.push_back({fields[i].field->id, (*names)[i]});
        titles += (titles.empty() ? "“" : "” and “") + fields[i].field->title;
    }
    if (!names)
        setup.impossible.push_back(
            fmt::format("no choice of {}” together gives {}", titles, saidOf(kPart, wanted.at(kPart))));
}

std::string hertz(double value) { return shortEngineering(value, Quantity::Frequency, 4).joined(); }

}  // namespace

std::vector<const RegisterMap*> setupMaps(const Catalogue& catalogue, const GaugeSpec& spec) {
    std::vector<const RegisterMap*> maps;
    const ConverterPart* part = catalogue.findConverter(spec.converter.part);
    for (const RegisterMap& map : catalogue.registerMaps())
        if (!map.converters.empty() && spec.converter.kind == "adc" &&
            (!part || std::find(map.converters.begin(), map.converters.end(), part->id) != map.converters.end()))
            maps.push_back(&map);
    return maps;
}

const RegisterMap* setupMapOf(const Catalogue& catalogue, const GaugeSpec& spec) {
    const std::string named = spec.converter.parameters.textOr("setup_part", "");
    const RegisterMap* map = named.empty() ? nullptr : catalogue.findRegisterMap(named);
    return map && !map->converters.empty() ? map : nullptr;
}

ConverterSetup setupFor(const RegisterMap& map, const GaugeSpec& spec, const Catalogue& catalogue) {
    const Facts wanted = factsOf(spec, catalogue);
    ConverterSetup setup;
    std::vector<Shared> shared;
    for (const Register& in : map.registers)
        for (const RegisterField& field : in.fields) {
            if (field.means.empty()) continue;
            if (divides(field)) {
                const auto name = prescalerFor(map, field, spec.converter.parameters.numberOr("setup_clock_Hz", 0));
                if (!name.empty()) setup.settings.push_back({field.id, name});
                continue;
            }
            // A choice fits when every fact it states is known of the gauge, and is the gauge's.
            const auto fits = [&](std::uint32_t code) {
                const Facts* facts = factsIn(field, code);
                return facts && std::all_of(facts->begin(), facts->end(), [&](const auto& fact) {
                           const auto it = wanted.find(fact.first);
                           return fact.first == kPart || (it != wanted.end() && agree(fact.second, it->second));
                       });
            };
            const bool bears = std::any_of(field.means.begin(), field.means.end(), [&](const auto& one) {
                return std::any_of(one.second.begin(), one.second.end(),
                                   [&](const auto& fact) { return wanted.contains(fact.first); });
            });
            // Where some choices say nothing of the number (one pin or another), the maker chooses.
            const bool isOpen = std::any_of(field.choices.begin(), field.choices.end(),
                                            [&](const auto& each) { return !factsIn(field, each.second); });
            if (!bears || isOpen) continue;
            Shared with{&field, {}};
            for (const auto& [name, code] : field.choices)
                if (sharesFullScale(field) && fits(code)) with.choices.emplace_back(name, partOf(factsIn(field, code)));
            if (!with.choices.empty()) {
                shared.push_back(std::move(with));
                continue;
            }
            const auto choice = std::find_if(field.choices.begin(), field.choices.end(),
                                             [&](const auto& each) { return fits(each.second); });
            if (choice != field.choices.end()) {
                setup.settings.push_back({field.id, choice->first});
                continue;
            }
            const auto states = [&](const char* fact) {
                return std::any_of(field.means.begin(), field.means.end(),
                                   [&](const auto& one) { return one.second.contains(fact); });
            };
            if (states("reference_kind") && !wanted.contains("reference_kind")) {
                setup.impossible.push_back(
                    fmt::format("“{}” is not set: it is not given whether the gauge's reference is the supply, one "
                                "inside, or one at a pin",
                                field.title));
                continue;
            }
            std::string said;
            for (const auto& [id, value] : wanted)
                if (states(id.c_str())) said += (said.empty() ? "" : ", ") + saidOf(id, value);
            setup.impossible.push_back(fmt::format("no choice of “{}” gives {}", field.title, said));
        }
    chooseTogether(shared, wanted, setup);
    return setup;
}

std::string settingsAsCounted(const RegisterMap& map, const GaugeSpec& spec, const Catalogue& catalogue) {
    auto settings =
        RegisterMap::readSettings(spec.converter.parameters.textOr("setup", "")).value_or(std::vector<Setting>());
    for (const Setting& one : setupFor(map, spec, catalogue).settings) {
        std::erase_if(settings, [&](const Setting& other) {
            return map.findField(other.id).second == map.findField(one.id).second;
        });
        settings.push_back(one);
    }
    std::string text;
    for (const Setting& one : settings) text += (text.empty() ? "" : ",") + one.id + "=" + one.value;
    return text;
}

std::vector<SetupMismatch> checkSetup(const RegisterMap& map, std::span<const RegisterWord> words,
                                      const GaugeSpec& spec, const Catalogue& catalogue) {
    const Facts wanted = factsOf(spec, catalogue);
    std::vector<SetupMismatch> found;
    const auto values = map.all(words);
    // What only counts while another choice is taken: which internal reference, once it is the internal one.
    const auto states = [&](const char* fact) {
        for (const FieldValue& value : values)
            if (const Facts* facts = factsIn(*value.field, value.code))
                if (const auto it = facts->find(fact); it != facts->end()) return it->second;
        return std::string();
    };
    const std::string kind = states("reference_kind");
    double product = 1;
    std::string titles;
    const RegisterField* last = nullptr;
    for (const FieldValue& value : values) {
        if (!sharesFullScale(*value.field)) continue;
        product *= partOf(factsIn(*value.field, value.code));
        titles += fmt::format("{}{} = {}", last ? " and " : "", value.field->title, value.text);
        last = value.field;
    }
    if (last && wanted.contains(kPart) && !isPart(product, wanted.at(kPart)))
        found.push_back({last, kPart,
                         fmt::format("{} together make {}; the gauge counts with {}", titles,
                                     saidOf(kPart, plainNumber(product, 4)), saidOf(kPart, wanted.at(kPart)))});
    for (const FieldValue& value : values) {
        const Facts* facts = factsIn(*value.field, value.code);
        if (!facts) continue;
        for (const auto& [id, is] : *facts) {
            const auto it = wanted.find(id);
            if (id == kPart || it == wanted.end() || agree(is, it->second)) continue;
            if (id == "runs") {
                // Of a register that is not among the words nobody said that it stays as it is.
                if (std::any_of(words.begin(), words.end(),
                                [&](const RegisterWord& word) { return word.in == value.in; }))
                    found.push_back(
                        {value.field, id,
                         fmt::format("{} = {}: the converter does not run", value.field->title, value.text)});
                break;
            }
            if (id == "reference_V" && !kind.empty() && kind != "internal") continue;
            std::string counted = saidOf(id, it->second);
            if (id == "reference_kind" && wanted.contains("reference_V"))
                counted += fmt::format(", {} V", wanted.at("reference_V"));
            found.push_back({value.field, id,
                             fmt::format("{} = {} selects {}; the gauge counts with {}", value.field->title, value.text,
                                         saidOf(id, is), counted)});
            break;  // one sentence a field
        }
    }
    return found;
}

SetupTiming setupTiming(const RegisterMap& map, std::span<const RegisterWord> words, double clock_Hz) {
    SetupTiming timing;
    // Nothing is stated of a converter with a clock of its own.
    const bool isStated = map.clock.clocks > 0 || map.clock.highest_Hz > 0 ||
                          std::any_of(map.registers.begin(), map.registers.end(), [](const Register& in) {
                              return std::any_of(in.fields.begin(), in.fields.end(), divides);
                          });
    if (!(clock_Hz > 0) || !isStated) return timing;
    const auto values = map.all(words);
    const double divider = numberAmong(values, "clock_divider", 1) * numberAmong(values, "clock_factor", 1);
    const double converter_Hz = clock_Hz / divider;
    timing.consequences.push_back({"converter_clock_Hz", "The converter's clock", converter_Hz, Quantity::Frequency,
                                   fmt::format("{} / {}", hertz(clock_Hz), plainNumber(divider))});
    if (map.clock.clocks > 0) {
        const double sampling = numberAmong(values, "sample_clocks", 0);
        timing.consequences.push_back({"conversion_s", "Time of one conversion",
                                       (map.clock.clocks + sampling) / converter_Hz, Quantity::Time,
                                       fmt::format("{} clocks{}", plainNumber(map.clock.clocks + sampling, 6),
                                                   map.clock.note.empty() ? "" : "; " + map.clock.note)});
    }
    const bool isSlow = map.clock.lowest_Hz > 0 && converter_Hz < map.clock.lowest_Hz * (1 - 1e-9);
    const bool isFast = map.clock.highest_Hz > 0 && converter_Hz > map.clock.highest_Hz * (1 + 1e-9);
    if (!isSlow && !isFast) return timing;
    timing.problem = fmt::format("the converter's clock is {}: {} to {} are stated for its accuracy",
                                 hertz(converter_Hz), hertz(map.clock.lowest_Hz), hertz(map.clock.highest_Hz));
    for (const Register& in : map.registers)
        for (const RegisterField& field : in.fields)
            if (const std::string name = prescalerFor(map, field, clock_Hz); !name.empty())
                timing.advice = field.id + "=" + name;
    return timing;
}

}  // namespace fg
