#include "bench/board.h"

#include "catalogue/json_fields.h"
#include "units/letters.h"
#include "units/number_format.h"

#include "units/value_text.h"

#include <fmt/format.h>
#include <algorithm>
#include <charconv>

namespace fg {
namespace {

double notNegative(JsonFields& fields, const char* name) {
    const double value = fields.numberOr(name, 0);
    if (!(value >= 0)) fields.refuse(ErrorCode::Range, name, plainNumber(value), "0 or above");
    return value;
}

void readRails(JsonFields& fields, Board& board) {
    if (!fields.has("rails")) return;
    for (const auto& entry : fields.at("rails")) {
        JsonFields rail(entry, "rails.");
        Rail read{rail.text("name"), rail.numberOr("voltage_V", 0), notNegative(rail, "limit_A"),
                  notNegative(rail, "capacity_Ah")};
        if (!(read.voltage_V > 0))
            rail.refuse(ErrorCode::Range, "voltage_V", plainNumber(read.voltage_V), "a voltage above 0 V");
        if (rail.error()) return fields.adopt(rail);
        board.rails.push_back(std::move(read));
    }
}

GaugePlace readPlace(JsonFields& place) {
    GaugePlace read{place.textOr("line", ""), place.textOr("rail", ""), notNegative(place, "cable_m")};
    read.body = place.textOr("body", "");
    read.strip = place.texts("strip");
    read.order = place.texts("order");
    if (place.has("colours")) {
        JsonFields colours = place.object("colours");
        for (const auto& [conductor, colour] : colours.json().items())
            read.colours[conductor] = colours.text(conductor.c_str());
        place.adopt(colours);
    }
    return read;
}

void readPlaces(JsonFields& fields, Board& board) {
    if (!fields.has("places")) return;
    JsonFields places = fields.object("places");
    if (places.error()) return fields.adopt(places);
    for (const auto& [key, entry] : places.json().items()) {
        std::int64_t id = 0;
        if (std::from_chars(key.data(), key.data() + key.size(), id).ptr != key.data() + key.size())
            return fields.refuse(ErrorCode::Syntax, "places", "“" + key + "”", "the number of a gauge");
        JsonFields place = places.object(key.c_str());
        board.places[id] = readPlace(place);
        if (place.error()) return fields.adopt(place);
    }
}

void readConverters(JsonFields& fields, Board& board) {
    if (!fields.has("converters")) return;
    JsonFields converters = fields.object("converters");
    if (converters.error()) return fields.adopt(converters);
    for (const auto& [id, entry] : converters.json().items()) {
        JsonFields place = converters.object(id.c_str());
        board.converters[id] = readPlace(place);
        if (place.error()) return fields.adopt(place);
    }
}

nlohmann::ordered_json placeJson(const GaugePlace& place) {
    nlohmann::ordered_json one = nlohmann::ordered_json::object();
    if (!place.line.empty()) one["line"] = place.line;
    if (!place.rail.empty()) one["rail"] = place.rail;
    if (place.cable_m > 0) one["cable_m"] = place.cable_m;
    if (!place.body.empty()) one["body"] = place.body;
    if (!place.strip.empty()) one["strip"] = place.strip;
    if (!place.order.empty()) one["order"] = place.order;
    for (const auto& [conductor, colour] : place.colours)
        if (!colour.empty()) one["colours"][conductor] = colour;
    return one;
}

Expected<OtherDevice> readOther(std::string piece) {
    OtherDevice other;
    const auto refuse = [&](ErrorCode code, const std::string& found, const std::string& expected) {
        return fail(code, "others", "“" + found + "”", expected);
    };
    if (const std::size_t on = piece.rfind(" on "); on != std::string::npos) {
        other.line = trimmed(piece.substr(on + 4));
        if (!other.line.starts_with("bus ")) return refuse(ErrorCode::Syntax, other.line, "a bus, “bus 1”");
        piece = trimmed(piece.substr(0, on));
    }
    const std::size_t space = piece.find_last_of(" \t");
    const std::string number = space == std::string::npos ? piece : piece.substr(space + 1);
    const auto address = readValue(number, Quantity::Count);
    if (!number.starts_with("0x") || !address)
        return refuse(ErrorCode::Syntax, piece, "a name and an address in hexadecimal, “display 0x3C”");
    if (address->canonical < 0x08 || address->canonical > 0x77)
        return refuse(ErrorCode::Range, number, "a seven-bit address from 0x08 to 0x77");
    other.address = static_cast<unsigned>(address->canonical);
    other.name = space == std::string::npos ? "device at " + number : std::string(trimmed(piece.substr(0, space)));
    return other;
}

}  // namespace

Expected<std::vector<OtherDevice>> readOtherDevices(std::string_view text) {
    std::vector<OtherDevice> others;
    while (!text.empty()) {
        const std::size_t end = std::min(text.find_first_of(",;\n"), text.size());
        if (const std::string piece(trimmed(text.substr(0, end))); !piece.empty()) {
            auto other = readOther(piece);
            if (!other) return tl::unexpected(other.error());
            others.push_back(std::move(*other));
        }
        text.remove_prefix(std::min(end + 1, text.size()));
    }
    return others;
}

std::string otherDevicesText(const std::vector<OtherDevice>& others) {
    std::string text;
    for (const OtherDevice& one : others)
        text += fmt::format("{}{} 0x{:02X}{}", text.empty() ? "" : ", ", one.name, one.address,
                            one.line == "bus 1" ? "" : " on " + one.line);
    return text;
}

std::string writeBoard(const Board& board) {
    nlohmann::ordered_json json = nlohmann::ordered_json::object();
    for (const Rail& rail : board.rails) {
        nlohmann::ordered_json one{{"name", rail.name}, {"voltage_V", rail.voltage_V}};
        if (rail.limit_A > 0) one["limit_A"] = rail.limit_A;
        if (rail.capacity_Ah > 0) one["capacity_Ah"] = rail.capacity_Ah;
        json["rails"].push_back(std::move(one));
    }
    if (board.cycle_s > 0) json["cycle_s"] = board.cycle_s;
    if (board.awake_A > 0) json["awake_A"] = board.awake_A;
    if (board.asleep_A > 0) json["asleep_A"] = board.asleep_A;
    if (board.pin_V > 0) json["pin_V"] = board.pin_V;
    if (board.pinsStand_V > 0) json["pins_stand_V"] = board.pinsStand_V;
    if (!board.others.empty()) json["others"] = otherDevicesText(board.others);
    for (const auto& [id, place] : board.places)
        if (!place.isEmpty()) json["places"][std::to_string(id)] = placeJson(place);
    for (const auto& [id, place] : board.converters)
        if (!place.isEmpty()) json["converters"][id] = placeJson(place);
    return jsonText(json);
}

Expected<Board> readBoard(const std::string& text, const std::string& file) {
    return guarded(file, [&]() -> Expected<Board> {
        const auto json = parseJson(text, file);
        if (!json) return tl::unexpected(json.error());
        JsonFields fields(*json, file);
        if (fields.error()) return tl::unexpected(*fields.error());
        Board board;
        readRails(fields, board);
        board.cycle_s = notNegative(fields, "cycle_s");
        board.awake_A = notNegative(fields, "awake_A");
        board.asleep_A = notNegative(fields, "asleep_A");
        board.pin_V = notNegative(fields, "pin_V");
        board.pinsStand_V = notNegative(fields, "pins_stand_V");
        if (auto others = readOtherDevices(fields.textOr("others", "")))
            board.others = std::move(*others);
        else
            fields.refuse(others.error().code, "others", others.error().found, others.error().expected);
        readPlaces(fields, board);
        readConverters(fields, board);
        if (fields.error()) return tl::unexpected(*fields.error());
        return board;
    });
}

}  // namespace fg
