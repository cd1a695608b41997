#include "catalogue/register_file.h"

#include "catalogue/json_fields.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <charconv>

namespace fg {
namespace {

/// "0xF4" as a number; nothing for anything else.
std::optional<std::uint32_t> hexNumber(const std::string& text) {
    std::uint32_t value = 0;
    if (!text.starts_with("0x")) return std::nullopt;
    const auto [end, status] = std::from_chars(text.data() + 2, text.data() + text.size(), value, 16);
    return status == std::errc{} && end == text.data() + text.size() ? std::optional(value) : std::nullopt;
}

std::uint32_t hexIn(JsonFields& fields, const char* name, const std::string& otherwise) {
    const std::string text = fields.textOr(name, otherwise);
    const auto value = hexNumber(text);
    if (!value) fields.refuse(ErrorCode::Syntax, name, "“" + text + "”", "a hexadecimal number like 0xF4");
    return value.value_or(0);
}

bool isSet(const JsonFields& fields, const char* name) {
    return fields.has(name) && fields.at(name).is_boolean() && fields.at(name).get<bool>();
}

void readChoices(JsonFields& entry, RegisterField& field, std::uint32_t most) {
    const auto& choices = entry.at("choices");
    if (!choices.is_object() || choices.empty())
        return entry.refuse(ErrorCode::Syntax, "choices", describe(choices), "names with their codes");
    for (const auto& [name, code] : choices.items()) {
        if (!code.is_number_unsigned() || code.get<std::uint64_t>() > most)
            return entry.refuse(ErrorCode::Range, "choices." + name, describe(code),
                                fmt::format("a code up to {}", most));
        field.choices.emplace_back(name, code.get<std::uint32_t>());
    }
    // In the order of their codes, whatever the order in the file's object.
    std::stable_sort(field.choices.begin(), field.choices.end(),
                     [](const auto& a, const auto& b) { return a.second < b.second; });
    if (!entry.has("spoken")) return;
    for (const auto& [said, meant] : entry.at("spoken").items()) {
        const auto choice = std::find_if(field.choices.begin(), field.choices.end(),
                                         [&meant = meant](const auto& each) { return meant == each.first; });
        if (choice == field.choices.end())
            return entry.refuse(ErrorCode::Unknown, "spoken." + said, describe(meant), "one of the choices");
        field.spoken.emplace_back(said, choice->second);
    }
}

void readNumber(JsonFields& entry, RegisterField& field) {
    JsonFields number = entry.object("number");
    field.scale = number.numberOr("scale", 1);
    field.offset = number.numberOr("offset", 0);
    field.unit = number.textOr("unit", "");
    field.isSigned = isSet(number, "signed");
    field.exponentBits = number.wholeOr("exponent_bits", 0, 0, 8);
    field.mantissaOffset = number.numberOr("mantissa_offset", 0);
    if (field.exponentBits < 0 || field.exponentBits > 8 || field.exponentBits >= field.width()) {
        number.refuse(ErrorCode::Range, "exponent_bits", std::to_string(field.exponentBits),
                      "fewer bits than the field has, at most 8");
        field.exponentBits = 0;
    }
    if (number.has("allowed")) {
        const Interval allowed = number.interval("allowed");
        field.allowed = {allowed.low, allowed.high};
    }
    if (!(field.scale > 0)) number.refuse(ErrorCode::Range, "scale", plainNumber(field.scale), "a step above 0");
    entry.adopt(number);
}

/// "means": {"avcc": {"reference_kind": "supply"}, …}: what choices make of the converter.
void readMeanings(JsonFields& entry, RegisterField& field) {
    if (!entry.has("means")) return;
    for (const auto& [name, facts] : entry.at("means").items()) {
        const auto choice = std::find_if(field.choices.begin(), field.choices.end(),
                                         [&name = name](const auto& each) { return each.first == name; });
        if (choice == field.choices.end() || !facts.is_object())
            return entry.refuse(ErrorCode::Unknown, "means." + name, describe(facts),
                                "one of the choices, and its facts");
        for (const auto& [fact, value] : facts.items()) {
            if (!value.is_string() && !value.is_number())
                return entry.refuse(ErrorCode::Syntax, "means." + name + "." + fact, describe(value),
                                    "a word or a number");
            field.means[choice->second][fact] =
                value.is_string() ? value.get<std::string>() : plainNumber(value.get<double>(), 9);
        }
    }
}

/// [7, 5], or [[7, 7], [0, 0]] where the code is split.
std::vector<BitRun> readBits(JsonFields& entry, const Register& in) {
    const nlohmann::json& json = entry.at("bits");
    const bool isSplit = json.is_array() && !json.empty() && json[0].is_array();
    std::vector<BitRun> runs;
    for (const auto& run : isSplit ? json : nlohmann::json::array({json})) {
        const bool isPair =
            run.is_array() && run.size() == 2 && run[0].is_number_integer() && run[1].is_number_integer();
        if (isPair) runs.push_back({run[0].get<int>(), run[1].get<int>()});
        if (!isPair || runs.back().low < 0 || runs.back().high < runs.back().low ||
            runs.back().high >= static_cast<int>(8 * in.bytes)) {
            entry.refuse(ErrorCode::Range, "bits", describe(json),
                         fmt::format("highest and lowest bit, 0 to {}", 8 * in.bytes - 1));
            return {{0, 0}};
        }
    }
    return runs;
}

/// "when": {"extended": "on", "bits": [15, 3]}: other bits while another field has that choice. The choice is looked up
/// in readRegisterMap().
void readInstead(JsonFields& entry, RegisterField& field, const Register& in, std::uint32_t& taken) {
    JsonFields when = entry.object("when");
    RegisterField instead = field;
    instead.bits = readBits(when, in);
    taken |= instead.mask();
    if (when.json().is_object())
        for (const auto& [name, choice] : when.json().items())
            if (name != "bits" && choice.is_string()) field.insteadBy = name + "=" + choice.get<std::string>();
    if (field.insteadBy.empty()) when.refuse(ErrorCode::Missing, "when", "nothing", "another field and its choice");
    field.instead = std::make_shared<const RegisterField>(std::move(instead));
    entry.adopt(when);
}

RegisterField readField(JsonFields& entry, const Register& in, bool isListed, std::uint32_t& taken) {
    RegisterField field;
    field.id = entry.text("id");
    field.title = entry.text("title");
    field.aliases = entry.texts("aliases");
    field.effect = entry.textOr("effect", "");
    field.isReadOnly = isSet(entry, "read_only") || in.isReadOnly;
    if (!isListed) {
        field.bits = readBits(entry, in);
        if (taken & field.mask())
            entry.refuse(ErrorCode::Range, "bits", describe(entry.at("bits")), "bits that no other field has");
        taken |= field.mask();
    }
    if (entry.has("choices"))
        readChoices(entry, field,
                    isListed ? 0xFFFF : static_cast<std::uint32_t>((std::uint64_t{1} << field.width()) - 1));
    else
        readNumber(entry, field);
    readMeanings(entry, field);
    if (entry.has("when")) readInstead(entry, field, in, taken);
    return field;
}

/// {"0x2C06": ["once", "high"], …}: every word with the name of each field's choice, in the fields' order.
void readListedWords(JsonFields& entry, Register& in) {
    for (const auto& [text, names] : entry.at("words").items()) {
        const auto word = hexNumber(text);
        ListedWord listed{word.value_or(0), {}};
        for (std::size_t i = 0; i < in.fields.size() && names.is_array() && names.size() == in.fields.size(); ++i)
            for (const auto& [name, code] : in.fields[i].choices)
                if (names[i] == name) listed.codes.push_back(code);
        if (!word || listed.codes.size() != in.fields.size())
            return entry.refuse(ErrorCode::Syntax, "words." + text, describe(names),
                                "a hexadecimal word and one choice of each field");
        in.words.push_back(std::move(listed));
    }
    if (!in.accepts(in.reset))
        entry.refuse(ErrorCode::Range, "reset", fmt::format("0x{:X}", in.reset), "one of the words");
}

CommandAnswer readAnswer(JsonFields& entry) {
    CommandAnswer answer;
    if (!entry.has("answer")) return answer;
    JsonFields fields = entry.object("answer");
    answer.bytes = static_cast<std::size_t>(fields.wholeOr("bytes", 0, 0, 256));
    answer.block = fields.textOr("block", "");
    answer.by = fields.textOr("by", "");
    answer.from = fields.textOr("from", "");
    if (fields.has("blocks"))
        for (const auto& [text, block] : fields.at("blocks").items())
            answer.blocks[text] = block.is_string() ? block.get<std::string>() : "";
    if (answer.bytes < 1 || answer.bytes > 64)
        fields.refuse(ErrorCode::Range, "bytes", std::to_string(answer.bytes), "1 to 64 bytes");
    if (answer.by.empty() != answer.blocks.empty())
        fields.refuse(ErrorCode::Missing, "by", "nothing", "the field that chooses the block");
    entry.adopt(fields);
    return answer;
}

Expected<Register> readRegister(const nlohmann::json& json, const std::string& file) {
    JsonFields entry(json, file + ": registers.");
    Register in;
    in.name = entry.text("name");
    const std::string form = entry.textOr("form", "register");
    in.form = form == "command" ? WordForm::Command : form == "pulses" ? WordForm::Pulses : WordForm::Register;
    if (form != "register" && in.form == WordForm::Register)
        entry.refuse(ErrorCode::Unknown, "form", form, "register, command or pulses");
    if (in.form == WordForm::Register) {
        in.address = hexIn(entry, "address", "");
        in.readAddress = hexIn(entry, "read_address", fmt::format("0x{:X}", in.address));
    }
    in.writeFlags = hexIn(entry, "write_flags", "0x0");
    in.readFlags = hexIn(entry, "read_flags", "0x0");
    in.pointerBytes = static_cast<std::size_t>(entry.wholeOr("pointer_bytes", 1, 1, 2));
    in.reset = hexIn(entry, "reset", "0x00");
    in.isResetKnown = !entry.has("reset_known") || isSet(entry, "reset_known");
    in.bytes = static_cast<std::size_t>(entry.wholeOr("bytes", 1, 1, 4));
    in.order = entry.textOr("order", "high-first") == "low-first" ? ByteOrder::LowFirst : ByteOrder::HighFirst;
    in.hasCrc = isSet(entry, "crc");
    in.sendsBytesAlone = isSet(entry, "bytes_alone");
    const std::string role = entry.textOr("does", "sets");
    in.role = role == "measures" ? CommandRole::Measures
              : role == "stops"  ? CommandRole::Stops
              : role == "resets" ? CommandRole::Resets
                                 : CommandRole::Sets;
    if (role != "sets" && in.role == CommandRole::Sets)
        entry.refuse(ErrorCode::Unknown, "does", role, "sets, measures, stops or resets");
    in.isReadOnly = isSet(entry, "read_only");
    in.effect = entry.textOr("effect", "");
    in.answer = readAnswer(entry);
    std::uint32_t taken = 0;
    if (json.contains("fields"))
        for (const auto& each : json["fields"]) {
            JsonFields field(each, file + ": " + in.name + ".");
            in.fields.push_back(readField(field, in, entry.has("words"), taken));
            if (field.error()) return tl::unexpected(*field.error());
        }
    if (entry.has("words")) readListedWords(entry, in);
    if (entry.error()) return tl::unexpected(*entry.error());
    in.reserved = ~taken & static_cast<std::uint32_t>((std::uint64_t{1} << 8 * in.bytes) - 1);
    return in;
}

ConverterClock readClock(JsonFields& fields) {
    ConverterClock clock;
    if (!fields.has("clock")) return clock;
    JsonFields entry = fields.object("clock");
    clock.lowest_Hz = entry.numberOr("lowest_Hz", 0);
    clock.highest_Hz = entry.numberOr("highest_Hz", 0);
    clock.clocks = entry.numberOr("clocks", 0);
    clock.note = entry.textOr("note", "");
    fields.adopt(entry);
    return clock;
}

/// "measuring": {"once": "mode=forced", "always": "mode=normal", "burst_flag": "0x80"}.
void readMeasuring(JsonFields& fields, RegisterMap& map) {
    if (!fields.has("measuring")) return;
    JsonFields entry = fields.object("measuring");
    for (const auto& [name, settings] : {std::pair{"once", &map.measuring.once}, {"always", &map.measuring.always}}) {
        const auto read = RegisterMap::readSettings(entry.textOr(name, ""));
        const auto words = read ? map.set(*read) : tl::unexpected(read.error());
        if (!words)
            entry.refuse(ErrorCode::Unknown, name, entry.textOr(name, ""), words.error().message());
        else
            *settings = *read;
    }
    map.measuring.isAlways = entry.has("always") && map.measuring.always.empty();
    map.measuring.burstFlag = hexIn(entry, "burst_flag", "0x0");
    fields.adopt(entry);
}

}  // namespace

Expected<RegisterMap> readRegisterMap(const std::string& text, const std::string& file) {
    return guarded(file, [&]() -> Expected<RegisterMap> {
        const auto json = parseJson(text, file);
        if (!json) return tl::unexpected(json.error());
        JsonFields fields(*json, file);
        RegisterMap map;
        map.id = fields.text("id");
        map.parts = fields.texts("parts");
        map.source = fields.text("source");
        map.title = fields.textOr("title", "");
        map.converters = fields.texts("converters");
        map.clock = readClock(fields);
        if (!fields.has("registers") || !fields.at("registers").is_array())
            fields.refuse(ErrorCode::Missing, "registers", "none", "a list of registers");
        if (fields.error()) return tl::unexpected(*fields.error());
        for (const auto& one : fields.at("registers")) {
            auto in = readRegister(one, file);
            if (!in) return tl::unexpected(in.error());
            map.registers.push_back(std::move(*in));
        }
        for (Register& one : map.registers)
            for (RegisterField& field : one.fields) {
                if (!field.instead) continue;
                const std::size_t equals = field.insteadBy.find('=');
                const std::string choice = field.insteadBy.substr(equals + 1);
                field.insteadBy.resize(equals);
                const RegisterField* by = map.findField(field.insteadBy).second;
                const auto it = by ? std::find_if(by->choices.begin(), by->choices.end(),
                                                  [&](const auto& each) { return each.first == choice; })
                                   : decltype(by->choices.begin()){};
                if (!by || it == by->choices.end())
                    return fail(ErrorCode::Unknown, file + ": " + field.id + ".when",
                                "“" + field.insteadBy + "=" + choice + "”",
                                "a field of this map and one of its choices");
                field.insteadCode = it->second;
            }
        readMeasuring(fields, map);
        if (fields.error()) return tl::unexpected(*fields.error());
        return map;
    });
}

}  // namespace fg
