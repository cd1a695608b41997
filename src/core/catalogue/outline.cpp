#include "catalogue/outline.h"

#include "catalogue/json_fields.h"
#include "units/number_format.h"

#include <array>

namespace fg {
namespace {

struct RoleName {
    PinRole role;
    std::string_view name;
};
constexpr std::array kRoles{RoleName{PinRole::Other, "other"},
                            RoleName{PinRole::Supply, "supply"},
                            RoleName{PinRole::Ground, "ground"},
                            RoleName{PinRole::Signal, "signal"},
                            RoleName{PinRole::SignalLow, "signal-low"},
                            RoleName{PinRole::Data, "data"},
                            RoleName{PinRole::Clock, "clock"},
                            RoleName{PinRole::DataOut, "data-out"},
                            RoleName{PinRole::DataIn, "data-in"},
                            RoleName{PinRole::Select, "select"},
                            RoleName{PinRole::Reference, "reference"},
                            RoleName{PinRole::Address, "address"},
                            RoleName{PinRole::Open, "open"}};

Pin readPin(JsonFields& fields, const nlohmann::json& entry) {
    if (!entry.is_array() || entry.size() != 2 || !entry[0].is_string() || !entry[1].is_string()) {
        fields.refuse(ErrorCode::Syntax, "pins", describe(entry), "[the pin's name, what it is for]");
        return {};
    }
    const std::string wanted = entry[1].get<std::string>();
    std::string known;
    for (const RoleName& one : kRoles) {
        if (one.name == wanted) return {entry[0].get<std::string>(), one.role};
        known += (known.empty() ? "" : ", ") + std::string(one.name);
    }
    fields.refuse(ErrorCode::Unknown, "pins", "“" + wanted + "”", "one of " + known);
    return {};
}

double length(JsonFields& fields, const char* name) {
    const double value = fields.numberOr(name, 0);
    if (!(value > 0)) fields.refuse(ErrorCode::Range, name, plainNumber(value), "a length above 0 mm");
    return value;
}

}  // namespace

Expected<Outline> readOutline(const std::string& text, const std::string& file) {
    return guarded(file, [&]() -> Expected<Outline> {
        const auto json = parseJson(text, file);
        if (!json) return tl::unexpected(json.error());
        JsonFields fields(*json, file);
        constexpr int kMost = 32;
        Outline outline;
        outline.id = fields.text("id");
        outline.title = fields.text("title");
        outline.view = fields.text("view");
        const std::string form = fields.text("form");
        if (form == "leads")
            outline.form = OutlineForm::Leads;
        else if (form != "sides")
            fields.refuse(ErrorCode::Unknown, "form", "“" + form + "”", "leads or sides");
        outline.left = fields.wholeOr("left", 0, 1, kMost);
        outline.right = fields.wholeOr("right", 0, 0, kMost);
        outline.width_mm = length(fields, "width_mm");
        outline.height_mm = length(fields, "height_mm");
        outline.pitch_mm = length(fields, "pitch_mm");
        outline.isFlatFaced = fields.flagOr("flat_face", false);
        outline.hasNotch = fields.flagOr("notch", false);
        if (fields.error()) return tl::unexpected(*fields.error());
        return outline;
    });
}

std::vector<Pinout> readPinouts(JsonFields& fields) {
    std::vector<Pinout> pinouts;
    if (!fields.has("pins")) return pinouts;
    for (const nlohmann::json& entry : fields.at("pins")) {
        JsonFields one(entry, "pins");
        Pinout pinout;
        pinout.outline = one.text("outline");
        pinout.source = one.text("source");
        if (one.has("pins"))
            for (const nlohmann::json& pin : one.at("pins")) pinout.pins.push_back(readPin(one, pin));
        if (pinout.pins.empty() && !one.error())
            one.refuse(ErrorCode::Missing, "pins", "nothing", "the pins, pin 1 first");
        fields.adopt(one);
        pinouts.push_back(std::move(pinout));
    }
    return pinouts;
}

}  // namespace fg
