#include "devices/register_map.h"

#include "devices/tracer.h"
#include "units/value_text.h"

#include <algorithm>
#include <cmath>

namespace fg {
namespace {

std::string trimmed(std::string_view text) {
    while (!text.empty() && (text.front() == ' ' || text.front() == '\t')) text.remove_prefix(1);
    while (!text.empty() && (text.back() == ' ' || text.back() == '\t')) text.remove_suffix(1);
    return std::string(text);
}

const Unit* unitNamed(const std::string& id) {
    for (const Unit& unit : allUnits())
        if (unit.id == id) return &unit;
    return nullptr;
}

FieldValue valueOf(const Register& in, const RegisterField& field, std::uint32_t word) {
    FieldValue value{&in, &field, (word & field.mask()) >> field.low, kNoValue, "", false};
    if (field.choices.empty()) {
        const int bits = field.high - field.low + 1;
        const double code = field.isSigned ? signExtend(value.code, bits) : static_cast<double>(value.code);
        value.number = code * field.scale + field.offset;
        const Unit* unit = unitNamed(field.unit);
        value.text = plainNumber(value.number, 9) + (unit ? " " + std::string(unit->symbol) : field.unit.empty() ? "" : " " + field.unit);
        return value;
    }
    for (const auto& [name, code] : field.choices)
        if (code == value.code) return value.text = name, value;
    value.isReserved = true;
    value.text = fmt::format("code {} (reserved)", value.code);
    return value;
}

/// The number at the start of a choice: 1000 of "1000ms", 16 of "x16"; nothing where there is none.
std::optional<double> numberIn(const std::string& name) {
    const std::size_t first = name.find_first_of("0123456789");
    if (first == std::string::npos || first > 1) return std::nullopt;
    return std::stod(name.substr(first, 15));
}

std::string lower(std::string text) {
    std::transform(text.begin(), text.end(), text.begin(), [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return text;
}

}  // namespace

std::vector<std::uint8_t> RegisterWord::bytes() const {
    return in->order == ByteOrder::HighFirst ? bytesBe(word, in->bytes) : bytesLe(word, in->bytes);
}

const Register* RegisterMap::findRegister(unsigned address) const {
    for (const Register& one : registers)
        if (one.address == address) return &one;
    return nullptr;
}

std::pair<const Register*, const RegisterField*> RegisterMap::findField(std::string_view name) const {
    const std::string wanted = lower(std::string(name));
    for (const Register& one : registers)
        for (const RegisterField& field : one.fields)
            if (field.id == wanted || std::find(field.aliases.begin(), field.aliases.end(), wanted) != field.aliases.end())
                return {&one, &field};
    return {nullptr, nullptr};
}

Expected<std::vector<Setting>> RegisterMap::readSettings(std::string_view text) {
    std::vector<Setting> settings;
    while (!text.empty()) {
        const std::size_t end = std::min(text.find(','), text.size());
        const std::string_view part = text.substr(0, end);
        text.remove_prefix(std::min(end + 1, text.size()));
        if (trimmed(part).empty()) continue;
        const std::size_t equals = part.find('=');
        if (equals == std::string_view::npos) return fail(ErrorCode::Syntax, "setting", "“" + trimmed(part) + "”", "field=value");
        settings.push_back({trimmed(part.substr(0, equals)), trimmed(part.substr(equals + 1))});
    }
    return settings;
}

Expected<std::uint32_t> RegisterMap::codeOf(const RegisterField& field, const std::string& value) const {
    const std::uint32_t most = field.mask() >> field.low;
    if (!field.choices.empty()) {
        std::string names;
        for (const auto& [name, code] : field.choices) {
            if (lower(name) == lower(value)) return code;
            names += (names.empty() ? "" : ", ") + name;
        }
        return fail(ErrorCode::Range, field.id, "“" + value + "”", names);
    }
    const Unit* unit = unitNamed(field.unit);
    double number = 0;
    if (unit) {
        const auto read = readValue(value, unit->quantity, unit);
        if (!read) return tl::unexpected(read.error().within(field.id));
        number = unit->fromCanonical(read->canonical);
    } else {
        const bool hasSuffix = !field.unit.empty() && value.ends_with(field.unit);
        const auto read =
            readValue(trimmed(std::string_view(value).substr(0, value.size() - (hasSuffix ? field.unit.size() : 0))), Quantity::Ratio);
        if (!read) return tl::unexpected(read.error().within(field.id));
        number = read->canonical;
    }
    const double code = std::round((number - field.offset) / field.scale);
    const double low = field.isSigned ? -std::ldexp(1, field.high - field.low) : 0, high = field.isSigned ? -low - 1 : most;
    if (!(code >= low && code <= high))
        return fail(ErrorCode::Range, field.id, "“" + value + "”",
                    plainNumber(low * field.scale + field.offset, 9) + " to " + plainNumber(high * field.scale + field.offset, 9) +
                        (unit ? " " + std::string(unit->symbol) : ""));
    return static_cast<std::uint32_t>(static_cast<std::int64_t>(code)) & most;
}

Expected<std::vector<RegisterWord>> RegisterMap::set(std::span<const Setting> settings, std::span<const RegisterWord> base) const {
    std::vector<RegisterWord> result(base.begin(), base.end());
    for (const Setting& setting : settings) {
        const auto [in, field] = findField(setting.id);
        if (!field) {
            std::string known;
            for (const Register& one : registers)
                for (const RegisterField& each : one.fields)
                    if (!each.readOnly) known += (known.empty() ? "" : ", ") + each.id;
            return fail(ErrorCode::Unknown, setting.id, "a field this device does not have", "one of " + known);
        }
        if (field->readOnly) return fail(ErrorCode::ReadOnly, field->id, "a value", "nothing: this field is only read");
        const auto code = codeOf(*field, setting.value);
        if (!code) return tl::unexpected(code.error());
        auto it = std::find_if(result.begin(), result.end(), [&, where = in](const RegisterWord& word) { return word.in == where; });
        if (it == result.end()) it = result.insert(result.end(), RegisterWord{in, in->reset});
        it->word = (it->word & ~field->mask()) | *code << field->low;
    }
    return result;
}

Expected<std::vector<RegisterWord>> RegisterMap::words(const RawData& raw) const {
    std::vector<RegisterWord> result;
    for (const RawBlock& block : raw.blocks()) {
        if (!block.address) return fail(ErrorCode::Missing, block.label(), "no address", "register addresses, like F4=27");
        for (std::size_t at = 0; at < block.bytes.size();) {
            const Register* one = findRegister(*block.address + static_cast<unsigned>(at));
            const std::string where = fmt::format("register 0x{:02X}", *block.address + at);
            if (!one) return fail(ErrorCode::Unknown, where, "a register that configures nothing here", "one of the registers of " + id);
            if (at + one->bytes > block.bytes.size())
                return fail(ErrorCode::Range, where, fmt::format("{} byte(s)", block.bytes.size() - at),
                            fmt::format("the {} bytes of {}", one->bytes, one->name));
            std::uint32_t word = 0;
            for (std::size_t i = 0; i < one->bytes; ++i)
                word = word << 8 | block.bytes[at + (one->order == ByteOrder::HighFirst ? i : one->bytes - 1 - i)];
            result.push_back({one, word});
            // Where a pointer names whole words, one block is one register.
            at = one->bytes > 1 && at + one->bytes < block.bytes.size() &&
                         !findRegister(*block.address + static_cast<unsigned>(at + one->bytes))
                     ? block.bytes.size()
                     : at + one->bytes;
        }
    }
    return result;
}

std::vector<FieldValue> RegisterMap::explain(std::span<const RegisterWord> words) const {
    std::vector<FieldValue> values;
    for (const RegisterWord& word : words)
        for (const RegisterField& field : word.in->fields) values.push_back(valueOf(*word.in, field, word.word));
    return values;
}

std::vector<FieldValue> RegisterMap::all(std::span<const RegisterWord> words) const {
    std::vector<FieldValue> values;
    for (const Register& one : registers) {
        const auto it = std::find_if(words.begin(), words.end(), [&](const RegisterWord& word) { return word.in == &one; });
        for (const RegisterField& field : one.fields) values.push_back(valueOf(one, field, it == words.end() ? one.reset : it->word));
    }
    return values;
}

Expected<std::vector<Mismatch>> RegisterMap::compare(std::span<const RegisterWord> words, std::span<const Setting> asked) const {
    std::vector<Mismatch> found;
    const auto wanted = set(asked, words);
    if (!wanted) return tl::unexpected(wanted.error());
    for (const Setting& setting : asked) {
        const auto [in, field] = findField(setting.id);
        const auto is = [where = in](const RegisterWord& word) { return word.in == where; };
        const auto have = std::find_if(words.begin(), words.end(), is);
        const auto want = std::find_if(wanted->begin(), wanted->end(), is);
        const FieldValue now = valueOf(*in, *field, have == words.end() ? in->reset : have->word), then = valueOf(*in, *field, want->word);
        if (now.code == then.code) continue;
        Mismatch mismatch{field, then.text, now.text, ""};
        const auto a = field->choices.empty() ? std::optional(then.number) : numberIn(then.text),
                   b = field->choices.empty() ? std::optional(now.number) : numberIn(now.text);
        std::string ratio;
        if (a && b && *a > 0 && *b > 0) {
            const double times = *b / *a;
            ratio = times == 0.5 ? ", half of"
                    : times == 2 ? ", twice"
                    : times > 1  ? ", " + plainNumber(times, 3) + " times"
                                 : ", 1/" + plainNumber(1 / times, 3) + " of";
        }
        mismatch.text =
            fmt::format("{} is {}{} {} that was asked for{}", field->title, now.text, ratio.empty() ? ", not the" : ratio + " the",
                        then.text,
                        have == words.end() ? fmt::format(" (0x{:02X} is not written and stays at its reset value)", in->address) : "");
        found.push_back(mismatch);
    }
    return found;
}

namespace {

BusStep byteStep(std::uint8_t byte, bool byMaster, bool acknowledged, const std::string& meaning) {
    return {BusStep::Kind::Byte, byte, byMaster, acknowledged, meaning};
}

std::string addressText(unsigned address, bool read) { return fmt::format("address 0x{:02X}, {}", address, read ? "read" : "write"); }

}  // namespace

std::vector<BusStep> writeTransaction(unsigned address, unsigned pointer, std::span<const std::uint8_t> data, const std::string& name) {
    std::vector<BusStep> steps{{BusStep::Kind::Start, 0, true, true, "start"},
                               byteStep(static_cast<std::uint8_t>(address << 1), true, true, addressText(address, false)),
                               byteStep(static_cast<std::uint8_t>(pointer), true, true, "register " + name)};
    for (const std::uint8_t byte : data) steps.push_back(byteStep(byte, true, true, "data"));
    steps.push_back({BusStep::Kind::Stop, 0, true, true, "stop"});
    return steps;
}

std::vector<BusStep> readTransaction(unsigned address, unsigned pointer, std::span<const std::uint8_t> data, const std::string& name) {
    std::vector<BusStep> steps{{BusStep::Kind::Start, 0, true, true, "start"},
                               byteStep(static_cast<std::uint8_t>(address << 1), true, true, addressText(address, false)),
                               byteStep(static_cast<std::uint8_t>(pointer), true, true, "register " + name),
                               {BusStep::Kind::RepeatedStart, 0, true, true, "repeated start"},
                               byteStep(static_cast<std::uint8_t>(address << 1 | 1), true, true, addressText(address, true))};
    for (std::size_t i = 0; i < data.size(); ++i)
        steps.push_back(byteStep(data[i], false, i + 1 < data.size(), i + 1 < data.size() ? "data" : "last data, not acknowledged"));
    steps.push_back({BusStep::Kind::Stop, 0, true, true, "stop"});
    return steps;
}

std::string transactionText(std::span<const BusStep> steps) {
    std::string text;
    for (const BusStep& step : steps) {
        if (!text.empty()) text += ' ';
        switch (step.kind) {
            case BusStep::Kind::Start:
                text += 'S';
                break;
            case BusStep::Kind::RepeatedStart:
                text += "Sr";
                break;
            case BusStep::Kind::Stop:
                text += 'P';
                break;
            case BusStep::Kind::Byte:
                text += fmt::format("{:02X} {}", step.byte, step.acknowledged ? 'A' : 'N');
                break;
        }
    }
    return text;
}

}  // namespace fg
