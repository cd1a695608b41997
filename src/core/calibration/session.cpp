#include "calibration/session.h"

#include "calibration/stated.h"
#include "catalogue/catalogue.h"
#include "catalogue/json_fields.h"
#include "units/number_format.h"
#include "units/text_file.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>

namespace fg {
namespace {

constexpr std::array kKinds{std::pair{"none", ReferenceKind::None},     std::pair{"fixed", ReferenceKind::Fixed},
                            std::pair{"law", ReferenceKind::Law},       std::pair{"typed", ReferenceKind::Typed},
                            std::pair{"sensor", ReferenceKind::Sensor}, std::pair{"wiring", ReferenceKind::Wiring}};

/// { "value": 0, "unit": "degC" }, canonical; a difference for an uncertainty.
double amountIn(JsonFields& fields, Quantity quantity, bool isDifference) {
    const std::string id = fields.text("unit");
    const auto unit = unitFromId(id, quantity);
    if (!unit) {
        fields.refuse(ErrorCode::Unknown, "unit", "“" + id + "”", "a unit of the quantity");
        return 0;
    }
    const double value = fields.numberOr("value", 0);
    return isDifference ? (*unit)->differenceToCanonical(value) : (*unit)->toCanonical(value);
}

void readReference(JsonFields& one, Session& session) {
    JsonFields reference = one.object("reference");
    const std::string kind = reference.text("kind");
    const auto known = std::find_if(kKinds.begin(), kKinds.end(), [&](const auto& each) { return each.first == kind; });
    if (known == kKinds.end())
        reference.refuse(ErrorCode::Unknown, "kind", "“" + kind + "”", "none, fixed, law, typed, sensor or wiring");
    else
        session.kind = known->second;
    if (session.kind == ReferenceKind::Fixed && !session.quantities.empty())
        session.fixed = amountIn(reference, session.quantities.front(), false);
    if (session.kind == ReferenceKind::Law)
        for (const std::string& id : reference.texts("laws")) {
            if (const Law* law = findLaw(id))
                session.laws.push_back(law);
            else
                reference.refuse(ErrorCode::Unknown, "laws", "“" + id + "”", "a law of derived/");
        }
    one.adopt(reference);
}

Session readSession(JsonFields& one) {
    Session session;
    session.id = one.text("id");
    session.title = one.text("title");
    for (const std::string& name : one.texts("quantities")) {
        const auto quantity = quantityFromName(name);
        if (!quantity || !isMeasurand(*quantity))
            one.refuse(ErrorCode::Unknown, "quantities", "“" + name + "”", "a quantity that a gauge can measure");
        else
            session.quantities.push_back(*quantity);
    }
    readReference(one, session);
    session.needs = one.textOr("needs", "");
    if (one.has("u") && !session.quantities.empty()) {
        JsonFields u = one.object("u");
        session.exampleU = amountIn(u, session.quantities.front(), true);
        session.exampleWhy = u.text("why");
        one.adopt(u);
    }
    session.steps = one.texts("steps");
    session.wait = one.text("wait");
    session.watch = one.text("watch");
    if (one.has("cautions")) session.cautions = one.texts("cautions");
    return session;
}

/// Pressures are read in Pa, hPa, mbar or bar as the instrument has it: a bare number is not guessed at.
Expected<void> hasItsUnit(const std::string& text, const std::string& name, Quantity quantity, double inPascal) {
    if (quantity != Quantity::Pressure) return {};
    const auto inHecto = readPlusMinus(text, name, quantity, *unitFromId("hPa", quantity));
    if (inHecto && inHecto->value != inPascal)
        return fail(ErrorCode::Ambiguous, name, text, fmt::format("its unit: {} hPa, or {} Pa?", text, text));
    return {};
}

}  // namespace

bool Session::suits(const Gauge& gauge) const {
    const GaugeSpec& spec = gauge.spec();
    if (std::find(quantities.begin(), quantities.end(), spec.quantity) == quantities.end()) return false;
    const AnalogPath* analog = gauge.analog();
    if (needs == "resistance") return analog && gauge.quantityAt(Stage::Sensor) == Quantity::Resistance;
    if (needs == "voltage") return analog && gauge.quantityAt(Stage::Wiring) == Quantity::Voltage;
    if (needs == "chip") return analog && analog->part().measures == "chip";
    return true;
}

Expected<std::vector<Session>> readSessions(const std::string& text, const std::string& file) {
    const auto json = parseJson(text, file);
    if (!json) return tl::unexpected(json.error());
    return guarded(file, [&]() -> Expected<std::vector<Session>> {
        JsonFields fields(*json, file);
        const auto& list = fields.at("sessions");
        if (!list.is_array()) return fail(ErrorCode::Missing, file, "no list “sessions”", "a list of sessions");
        std::vector<Session> sessions;
        for (std::size_t i = 0; i < list.size(); ++i) {
            JsonFields one(list[i], fmt::format("{}: sessions[{}]", file, i));
            sessions.push_back(readSession(one));
            if (one.error()) return tl::unexpected(*one.error());
        }
        return sessions;
    });
}

Expected<std::vector<Session>> standardSessions() {
    const std::string file = (Catalogue::standardFolders().front() / "calibrating" / "sessions.json").string();
    const auto text = readTextFile(file, "the sessions of a calibration");
    if (!text) return tl::unexpected(text.error());
    return readSessions(*text, file);
}

bool isBarometer(const GaugeSpec& spec) {
    constexpr Interval kAir_Pa{50e3, 110e3};
    if (spec.quantity != Quantity::Pressure) return false;
    const Interval span = spec.spanCanonical();
    return span.low >= kAir_Pa.low && span.high <= kAir_Pa.high;
}

Expected<ReferenceValue> referenceOf(const Law& law, const std::map<std::string, std::string>& typed) {
    std::vector<LawValue> values;
    for (const LawInput& input : law.inputs()) {
        const std::string name(input.name);
        const auto it = typed.find(name);
        if (it == typed.end() || it->second.find_first_not_of(' ') == std::string::npos) {
            if (!input.otherwise) return fail(ErrorCode::Missing, name, "nothing", std::string(input.label));
            values.push_back({*input.otherwise, 0});
            continue;
        }
        const auto value = readPlusMinus(it->second, name, input.quantity, nullptr);
        if (!value) return tl::unexpected(value.error());
        if (const auto unit = hasItsUnit(it->second, name, input.quantity, value->value); !unit)
            return tl::unexpected(unit.error());
        values.push_back({value->value, value->u});
    }
    const auto derived = derive(law, values);
    if (!derived) return tl::unexpected(derived.error());
    return ReferenceValue{derived->value, derived->u, derived->trace};
}

Expected<ReferenceValue> referenceOfSignal(const Gauge& gauge, const Catalogue& catalogue, Stage stage,
                                           std::string_view text) {
    const auto value = readPlusMinus(text, std::string(stageName(stage)), gauge.quantityAt(stage), nullptr);
    if (!value) return tl::unexpected(value.error());
    GaugeSpec bare = gauge.spec();
    bare.correction = {};
    const auto uncorrected = Gauge::make(bare, catalogue);
    if (!uncorrected) return tl::unexpected(uncorrected.error());
    const auto worldAt = [&](double signal) {
        const auto evaluation = uncorrected->evaluate({stage, signal});
        return evaluation ? evaluation->at(Stage::World).value : std::nan("");
    };
    ReferenceValue reference{worldAt(value->value), 0, {}};
    if (!std::isfinite(reference.value))
        return fail(ErrorCode::Domain, std::string(stageName(stage)), std::string(text),
                    "a signal that some " + std::string(quantityName(gauge.spec().quantity)) +
                        " gives; look at the code instead");
    if (value->u > 0) {
        const double high = worldAt(value->value + value->u), low = worldAt(value->value - value->u);
        if (std::isfinite(high) && std::isfinite(low)) reference.u = std::abs(high - low) / 2;
    }
    return reference;
}

Expected<ReferenceValue> referenceFor(const Session& session, const Law* law, const Gauge& gauge,
                                      const Catalogue& catalogue, const std::map<std::string, std::string>& typed) {
    const auto given = [&](const char* name) {
        const auto it = typed.find(name);
        return it == typed.end() ? std::string() : it->second;
    };
    switch (session.kind) {
        case ReferenceKind::Fixed:
            return ReferenceValue{session.fixed, 0, {}};
        case ReferenceKind::Sensor:
            return referenceOfSignal(gauge, catalogue, Stage::Sensor, given("signal"));
        case ReferenceKind::Wiring:
            return referenceOfSignal(gauge, catalogue, Stage::Wiring, given("signal"));
        case ReferenceKind::Typed:
            return readPlusMinus(given("reading"), "reading", gauge.spec().quantity, &gauge.unit())
                .map([](const PlusMinus& value) {
                    return ReferenceValue{value.value, value.u, {}};
                });
        case ReferenceKind::Law:
            if (!law || law->output().quantity != gauge.spec().quantity) break;
            return referenceOf(*law, typed);
        case ReferenceKind::None:
            break;
    }
    return fail(ErrorCode::Missing, session.id, "no reference", "a session that has one, for this quantity");
}

}  // namespace fg
