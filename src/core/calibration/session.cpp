#include "calibration/session.h"

#include "catalogue/catalogue.h"
#include "catalogue/json_fields.h"
#include "units/number_format.h"
#include "units/text_file.h"
#include "units/value_text.h"

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

/// "998 hPa ± 1": a value, and behind ± half the width of its interval (k = 2).
Expected<LawValue> readInput(std::string_view text, const std::string& name, Quantity quantity, const Unit* unit) {
    constexpr std::string_view kPlusMinus = "±";
    const std::size_t at = text.find(kPlusMinus);
    const auto value = readValue(text.substr(0, at), quantity, unit);
    if (!value) return tl::unexpected(value.error().within(name));
    LawValue read{value->canonical, 0};
    if (at == std::string_view::npos) return read;
    const auto u = readDifference(text.substr(at + kPlusMinus.size()), quantity, value->unit ? value->unit : unit);
    if (!u) return tl::unexpected(u.error().within(name + " ±"));
    if (*u < 0) return fail(ErrorCode::Range, name + " ±", plainNumber(*u), "0 or more");
    read.u = *u / 2;
    return read;
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
        const auto value = readInput(it->second, name, input.quantity, nullptr);
        if (!value) return tl::unexpected(value.error());
        values.push_back(*value);
    }
    const auto derived = derive(law, values);
    if (!derived) return tl::unexpected(derived.error());
    return ReferenceValue{derived->value, derived->u, derived->trace};
}

Expected<ReferenceValue> referenceOfSignal(const Gauge& gauge, const Catalogue& catalogue, Stage stage,
                                           std::string_view text) {
    const auto value = readInput(text, std::string(stageName(stage)), gauge.quantityAt(stage), nullptr);
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

double standardOf(StatedAs as, double amount) {
    switch (as) {
        case StatedAs::Expanded:
            return amount / 2;
        case StatedAs::Limits:
            return amount / std::sqrt(3.0);
        case StatedAs::Nearest:
            return amount / (2 * std::sqrt(3.0));
        case StatedAs::Unchecked:
            return 0;
    }
    return 0;
}

std::string statedText(StatedAs as, double amount, const Unit& unit) {
    if (as == StatedAs::Unchecked) return "nobody has checked it";
    if (!(amount > 0)) return {};
    const std::string number = plainNumber(unit.differenceFromCanonical(amount), 4) + " " + std::string(unit.symbol);
    switch (as) {
        case StatedAs::Expanded:
            return "± " + number + " (k = 2)";
        case StatedAs::Limits:
            return "within ± " + number;
        default:
            return "shown to the nearest " + number;
    }
}

}  // namespace fg
