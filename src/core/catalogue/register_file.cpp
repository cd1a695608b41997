#include "catalogue/register_file.h"

#include "catalogue/json_fields.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <charconv>

namespace fg {
namespace {

std::uint32_t hexIn(JsonFields& fields, const char* name, const char* otherwise) {
    const std::string text = fields.textOr(name, otherwise);
    std::uint32_t value = 0;
    const auto [end, status] = std::from_chars(text.data() + std::min<std::size_t>(2, text.size()), text.data() + text.size(), value, 16);
    if (!text.starts_with("0x") || status != std::errc{} || end != text.data() + text.size())
        fields.refuse(ErrorCode::Syntax, name, "“" + text + "”", "a hexadecimal number like 0xF4");
    return value;
}

void readMeaning(JsonFields& entry, RegisterField& field) {
    if (entry.has("choices")) {
        const auto& choices = entry.json()["choices"];
        if (!choices.is_object() || choices.empty())
            return entry.refuse(ErrorCode::Syntax, "choices", describe(choices), "names with their codes");
        for (const auto& [name, code] : choices.items()) {
            if (!code.is_number_unsigned() || code.get<std::uint64_t>() > field.mask() >> field.low)
                return entry.refuse(ErrorCode::Range, "choices." + name, describe(code),
                                    fmt::format("a code of {} bits", field.high - field.low + 1));
            field.choices.emplace_back(name, code.get<std::uint32_t>());
        }
        // In the order of their codes, whatever the order in the file's object.
        std::stable_sort(field.choices.begin(), field.choices.end(), [](const auto& a, const auto& b) { return a.second < b.second; });
        return;
    }
    JsonFields number = entry.object("number");
    field.scale = number.numberOr("scale", 1);
    field.offset = number.numberOr("offset", 0);
    field.unit = number.textOr("unit", "");
    field.isSigned = number.has("signed") && number.json()["signed"].is_boolean() && number.json()["signed"].get<bool>();
    if (!(field.scale > 0)) number.refuse(ErrorCode::Range, "scale", plainNumber(field.scale), "a step above 0");
    entry.adopt(number);
}

RegisterField readField(JsonFields& entry, const Register& in, std::uint32_t& taken) {
    RegisterField field;
    field.id = entry.text("id");
    field.title = entry.text("title");
    field.aliases = entry.texts("aliases");
    field.effect = entry.textOr("effect", "");
    field.readOnly = entry.has("read_only");
    const auto bits = entry.has("bits") ? entry.json()["bits"] : nlohmann::json();
    const bool isPair = bits.is_array() && bits.size() == 2 && bits[0].is_number_integer() && bits[1].is_number_integer();
    field.high = isPair ? bits[0].get<int>() : 0;
    field.low = isPair ? bits[1].get<int>() : 0;
    if (!isPair || field.low < 0 || field.high < field.low || field.high >= static_cast<int>(8 * in.bytes)) {
        entry.refuse(ErrorCode::Range, "bits", describe(bits), fmt::format("highest and lowest bit, 0 to {}", 8 * in.bytes - 1));
        field.high = field.low = 0;
    } else if (taken & field.mask()) {
        entry.refuse(ErrorCode::Range, "bits", describe(bits), "bits that no other field has");
    }
    taken |= field.mask();
    readMeaning(entry, field);
    return field;
}

}  // namespace

Expected<RegisterMap> readRegisterMap(const std::string& text, const std::string& file) {
    const auto json = parseJson(text, file);
    if (!json) return tl::unexpected(json.error());
    JsonFields fields(*json, file);
    RegisterMap map;
    map.id = fields.text("id");
    map.parts = fields.texts("parts");
    map.source = fields.text("source");
    if (!fields.has("registers") || !fields.json()["registers"].is_array())
        fields.refuse(ErrorCode::Missing, "registers", "none", "a list of registers");
    if (fields.error()) return tl::unexpected(*fields.error());
    for (const auto& one : fields.json()["registers"]) {
        JsonFields entry(one, file + ": registers.");
        Register in;
        in.name = entry.text("name");
        in.address = hexIn(entry, "address", "");
        in.reset = hexIn(entry, "reset", "0x00");
        in.bytes = static_cast<std::size_t>(entry.numberOr("bytes", 1));
        in.order = entry.textOr("order", "high-first") == "low-first" ? ByteOrder::LowFirst : ByteOrder::HighFirst;
        if (in.bytes < 1 || in.bytes > 4)
            entry.refuse(ErrorCode::Range, "bytes", plainNumber(static_cast<double>(in.bytes)), "1 to 4 bytes"), in.bytes = 1;
        std::uint32_t taken = 0;
        if (one.contains("fields"))
            for (const auto& each : one["fields"]) {
                JsonFields field(each, file + ": " + in.name + ".");
                in.fields.push_back(readField(field, in, taken));
                if (field.error()) return tl::unexpected(*field.error());
            }
        if (entry.error()) return tl::unexpected(*entry.error());
        in.reserved = ~taken & static_cast<std::uint32_t>((std::uint64_t{1} << 8 * in.bytes) - 1);
        map.registers.push_back(std::move(in));
    }
    return map;
}

}  // namespace fg
