#include "bench/board.h"

#include "catalogue/json_fields.h"
#include "units/number_format.h"

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
    for (const auto& entry : fields.json()["rails"]) {
        JsonFields rail(entry, "rails.");
        Rail read{rail.text("name"), rail.numberOr("voltage_V", 0), notNegative(rail, "limit_A"),
                  notNegative(rail, "capacity_Ah")};
        if (!(read.voltage_V > 0))
            rail.refuse(ErrorCode::Range, "voltage_V", plainNumber(read.voltage_V), "a voltage above 0 V");
        if (rail.error()) return fields.adopt(rail);
        board.rails.push_back(std::move(read));
    }
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
        board.places[id] = {place.textOr("line", ""), place.textOr("rail", ""), notNegative(place, "cable_m")};
        if (place.error()) return fields.adopt(place);
    }
}

}  // namespace

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
    for (const auto& [id, place] : board.places) {
        if (place.isEmpty()) continue;
        nlohmann::ordered_json& one = json["places"][std::to_string(id)];
        if (!place.line.empty()) one["line"] = place.line;
        if (!place.rail.empty()) one["rail"] = place.rail;
        if (place.cable_m > 0) one["cable_m"] = place.cable_m;
    }
    return jsonText(json);
}

Expected<Board> readBoard(const std::string& text, const std::string& file) {
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
    readPlaces(fields, board);
    if (fields.error()) return tl::unexpected(*fields.error());
    return board;
}

}  // namespace fg
