#include "registers/register_map.h"

#include "bytes/checksum.h"
#include "devices/tracer.h"
#include "units/letters.h"
#include "units/value_text.h"

#include <algorithm>
#include <charconv>
#include <cmath>

namespace fg {
namespace {

const Unit* unitNamed(const std::string& id) {
    for (const Unit& unit : allUnits())
        if (unit.id == id) return &unit;
    return nullptr;
}

/// The number at the start of a choice: 1000 of "1000ms", 16 of "x16"; nothing where there is none.
std::optional<double> numberIn(const std::string& name) {
    const std::size_t first = name.find_first_of("0123456789");
    if (first == std::string::npos || first > 1) return std::nullopt;
    double number = 0;
    const auto [end, status] = std::from_chars(name.data() + first, name.data() + name.size(), number);
    return status == std::errc{} ? std::optional(number) : std::nullopt;
}

/// A number of a field: in full where its step is a short decimal, else to a tenth of the step.
std::string numberText(double value, double step) {
    const std::string inFull = plainNumber(value, 9);
    if (const std::string text = plainNumber(step, 9); numberIn(text) == step) return inFull;
    const double unit = std::pow(10, std::floor(std::log10(step)) - 1);
    return plainNumber(std::round(value / unit) * unit, 9);
}

FieldValue valueOf(const Register& in, const RegisterField& field, std::uint32_t word) {
    const auto code = in.codeIn(field, word);
    FieldValue value{&in, &field, code.value_or(0), kNoValue, "", false};
    if (!code) {
        value.isReserved = true;
        value.text = fmt::format("0x{:0{}X} (not a word of this command)", word, 2 * in.bytes);
        return value;
    }
    if (field.choices.empty()) {
        value.number = field.numberOf(value.code);
        const Unit* unit = unitNamed(field.unit);
        value.text = numberText(value.number, field.scale) + (unit                 ? " " + std::string(unit->symbol)
                                                              : field.unit.empty() ? ""
                                                                                   : " " + field.unit);
        value.isReserved =
            field.allowed && (value.number < field.allowed->first || value.number > field.allowed->second);
        if (value.isReserved)
            value.text += fmt::format(" (outside {} to {})", num(field.allowed->first), num(field.allowed->second));
        return value;
    }
    for (const auto& [name, each] : field.choices)
        if (each == value.code) {
            value.text = name;
            return value;
        }
    value.isReserved = true;
    value.text = fmt::format("code {} (reserved)", value.code);
    return value;
}

/// A ratio as people say it: 2000, 2.5.
std::string ratioText(double ratio) { return ratio >= 100 ? fmt::format("{:.0f}", ratio) : plainNumber(ratio, 3); }

/// The bits of a number that is known to fit.
std::uint32_t codeFor(const RegisterField& field, double number) {
    const auto mask = static_cast<std::uint32_t>((std::uint64_t{1} << field.width()) - 1);
    return static_cast<std::uint32_t>(static_cast<std::int64_t>(field.codeOf(number))) & mask;
}

/// What is said without the words around a number: 9 of "9 bits", 9-bit or 9bit.
std::string withoutBits(std::string said) {
    for (const std::string_view word : {"bits", "bit"})
        if (said.size() > word.size() && said.ends_with(word)) {
            said.resize(said.size() - word.size());
            while (said.ends_with(' ') || said.ends_with('-')) said.pop_back();
            return said;
        }
    return said;
}

/// A choice as people say it: 1s for 1000ms, skip for skipped, 16 for x16, 0.0625 for 0.0625degC, 9bit for 9, 1 for on.
/// Nothing when none or several fit.
std::optional<std::uint32_t> choiceMeant(const RegisterField& field, const std::string& value) {
    std::string said = withoutBits(lowered(value));
    const auto isChoice = [&](std::string_view name) {
        return std::any_of(field.choices.begin(), field.choices.end(),
                           [&](const auto& choice) { return lowered(choice.first) == name; });
    };
    if (field.choices.size() == 2 && isChoice("on") && isChoice("off")) {
        if (said == "1" || said == "yes" || said == "true") said = "on";
        if (said == "0" || said == "no" || said == "false") said = "off";
    }
    for (const auto* names : {&field.choices, &field.spoken})
        for (const auto& [name, code] : *names)
            if (lowered(name) == said) return code;
    std::vector<std::uint32_t> fitting;
    const auto add = [&](std::uint32_t code) {
        if (std::find(fitting.begin(), fitting.end(), code) == fitting.end()) fitting.push_back(code);
    };
    const auto time = readValue(value, Quantity::Time);
    for (const auto& [name, code] : field.choices) {
        const std::string known = lowered(name);
        const auto ofName =
            known.ends_with("s") && numberIn(known) ? readValue(known, Quantity::Time) : tl::unexpected(Error{});
        if (ofName && time && said.ends_with("s") &&
            std::abs(ofName->canonical - time->canonical) <= 0.06 * ofName->canonical)
            add(code);
    }
    if (fitting.size() == 1) return fitting.front();
    fitting.clear();
    for (const auto& [name, code] : field.choices) {
        const std::string known = lowered(name);
        const auto number = numberIn(known), wanted = numberIn(said);
        const bool isSameNumber =
            number && wanted && *number == *wanted && said.find_first_not_of("0123456789.,x") == std::string::npos;
        if (isSameNumber || (said.size() >= 3 && !number && known.starts_with(said))) add(code);
    }
    return fitting.size() == 1 ? std::optional(fitting.front()) : std::nullopt;
}

RegisterWord& wordIn(std::vector<RegisterWord>& words, const Register& in) {
    const auto it = std::find_if(words.begin(), words.end(), [&](const RegisterWord& word) { return word.in == &in; });
    return it == words.end() ? words.emplace_back(RegisterWord{&in, in.reset}) : *it;
}

/// A word off the bus, and how many bytes it took.
struct ReadWord {
    std::uint32_t word = 0;
    std::size_t length = 0;
};

Expected<ReadWord> readWord(const Register& one, std::span<const std::uint8_t> bytes) {
    if (bytes.size() < one.bytes)
        return fail(ErrorCode::Range, fmt::format("register 0x{:02X}", one.address),
                    fmt::format("{} byte(s)", bytes.size()), fmt::format("the {} bytes of {}", one.bytes, one.name));
    ReadWord read{one.wordOf(bytes), one.bytes};
    if (one.hasCrc && bytes.size() > one.bytes) {
        const std::uint8_t crc = crc8Humidity(bytes.first(one.bytes), 0xFF);
        if (bytes[one.bytes] != crc)
            return fail(ErrorCode::Damaged, one.name, fmt::format("CRC 0x{:02X}", bytes[one.bytes]),
                        fmt::format("0x{:02X} for its word", crc));
        ++read.length;
    }
    return read;
}

std::string hexOf(std::span<const std::uint8_t> bytes) {
    std::string text;
    for (const std::uint8_t byte : bytes) text += fmt::format("{}{:02X}", text.empty() ? "" : " ", byte);
    return text;
}

}  // namespace

const Register* RegisterMap::findRegister(unsigned address) const {
    for (const Register& one : registers)
        if (one.isAt(address)) return &one;
    return nullptr;
}

std::pair<const Register*, const RegisterField*> RegisterMap::findField(std::string_view name) const {
    const std::string wanted = lowered(std::string(name));
    for (const Register& one : registers)
        for (const RegisterField& field : one.fields)
            if (field.id == wanted ||
                std::find(field.aliases.begin(), field.aliases.end(), wanted) != field.aliases.end())
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
        if (equals == std::string_view::npos)
            return fail(ErrorCode::Syntax, "setting", "“" + std::string(trimmed(part)) + "”", "field=value");
        settings.push_back(
            {std::string(trimmed(part.substr(0, equals))), std::string(trimmed(part.substr(equals + 1)))});
    }
    return settings;
}

Expected<std::uint32_t> RegisterMap::codeOf(const RegisterField& field, const std::string& value) const {
    if (!field.choices.empty()) {
        std::string names;
        for (const auto& [name, code] : field.choices) {
            if (lowered(name) == lowered(value)) return code;
            names += (names.empty() ? "" : ", ") + name;
        }
        if (const auto meant = choiceMeant(field, value)) return *meant;
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
            readValue(trimmed(std::string_view(value).substr(0, value.size() - (hasSuffix ? field.unit.size() : 0))),
                      Quantity::Ratio);
        if (!read) return tl::unexpected(read.error().within(field.id));
        number = read->canonical;
    }
    const double code = field.codeOf(number);
    // A step this coarse is a decision: 28.5 is neither 28 nor 29.
    constexpr double kCoarseStep = 1;
    if (field.exponentBits == 0 && field.scale >= kCoarseStep && unit &&
        std::abs(code * field.scale + field.offset - number) > 1e-9)
        return fail(
            ErrorCode::Range, field.id, "“" + value + "”",
            fmt::format("steps of {}: {} or {}", plainNumber(field.scale),
                        plainNumber(std::floor((number - field.offset) / field.scale) * field.scale + field.offset),
                        plainNumber(std::ceil((number - field.offset) / field.scale) * field.scale + field.offset)));
    const double codes = std::ldexp(1, field.width());
    const double low = field.isSigned ? -codes / 2 : 0, high = low + codes - 1;
    const double least = field.allowed ? field.allowed->first : low * field.scale + field.offset,
                 most = field.allowed ? field.allowed->second : high * field.scale + field.offset;
    if (!(code >= low && code <= high) || (field.allowed && !(number >= least && number <= most)))
        return fail(ErrorCode::Range, field.id, "“" + value + "”",
                    plainNumber(least, 9) + " to " + plainNumber(most, 9) +
                        (unit ? " " + std::string(unit->symbol) : ""));
    return static_cast<std::uint32_t>(static_cast<std::int64_t>(code)) & static_cast<std::uint32_t>(codes - 1);
}

const RegisterField& RegisterMap::inForce(const RegisterField& field, std::span<const RegisterWord> words) const {
    if (!field.instead) return field;
    const auto [in, by] = findField(field.insteadBy);
    if (!by) return field;
    const auto it =
        std::find_if(words.begin(), words.end(), [where = in](const RegisterWord& word) { return word.in == where; });
    const auto code = in->codeIn(*by, it == words.end() ? in->reset : it->word);
    return code == field.insteadCode ? *field.instead : field;
}

Expected<void> RegisterMap::setOne(std::vector<RegisterWord>& words, const Setting& setting) const {
    const auto [in, own] = findField(setting.id);
    const RegisterField& field = inForce(*own, words);
    const auto code = codeOf(field, setting.value);
    if (!code) return tl::unexpected(code.error());
    RegisterWord& word = wordIn(words, *in);
    const auto changed = in->with(field, word.word, *code);
    if (!changed)
        return fail(ErrorCode::Range, field.id, "“" + setting.value + "” beside the other settings of " + in->name,
                    "one it has a command for");
    word.word = *changed;
    return {};
}

Expected<std::vector<RegisterWord>> RegisterMap::set(std::span<const Setting> settings,
                                                     std::span<const RegisterWord> base) const {
    std::vector<RegisterWord> result(base.begin(), base.end());
    // What decides how other fields are written goes first; what was there keeps its meaning.
    std::vector<Setting> dependent;
    for (const Setting& setting : settings) {
        const auto [in, field] = findField(setting.id);
        if (!field) {
            std::string known;
            for (const Register& one : registers)
                for (const RegisterField& each : one.fields)
                    if (!each.isReadOnly) known += (known.empty() ? "" : ", ") + each.id;
            return fail(ErrorCode::Unknown, setting.id, "a field this device does not have", "one of " + known);
        }
        if (field->isReadOnly)
            return fail(ErrorCode::ReadOnly, field->id, "a value", "nothing: this field is only read");
        if (field->instead) {
            dependent.push_back(setting);
            continue;
        }
        if (const auto done = setOne(result, setting); !done) return tl::unexpected(done.error());
    }
    for (const RegisterWord& before : base)
        for (const RegisterField& field : before.in->fields) {
            const RegisterField &was = inForce(field, base), &is = inForce(field, result);
            if (&was == &is) continue;
            const auto code = before.in->codeIn(was, before.word);
            RegisterWord& word = wordIn(result, *before.in);
            if (code) word.word = is.deposit(was.deposit(word.word, 0), codeFor(is, was.numberOf(*code)));
        }
    for (const Setting& setting : dependent)
        if (const auto done = setOne(result, setting); !done) return tl::unexpected(done.error());
    return result;
}

Measuring RegisterMap::measuringWith(std::span<const RegisterWord> words) const {
    const auto values = all(words);
    // A code that means the same as another one is named after it: "forced (10)".
    const auto holds = [&](const Setting& setting) {
        return std::any_of(values.begin(), values.end(), [&](const FieldValue& value) {
            return value.field->id == setting.id &&
                   (value.text == setting.value || value.text.starts_with(setting.value + " ("));
        });
    };
    const auto allHold = [&](const std::vector<Setting>& settings) {
        return !settings.empty() && std::all_of(settings.begin(), settings.end(), holds);
    };
    if (allHold(measuring.once)) return Measuring::Once;
    return measuring.isAlways || allHold(measuring.always) ? Measuring::Always : Measuring::Rests;
}

bool RegisterMap::isRepeated(std::span<const RegisterWord> words) const {
    const auto values = all(words);
    const auto it =
        std::find_if(values.begin(), values.end(), [](const FieldValue& value) { return value.field->id == "repeat"; });
    return it != values.end() && !it->text.starts_with("once");
}

bool RegisterMap::hasCommands() const {
    return std::any_of(registers.begin(), registers.end(),
                       [](const Register& one) { return one.form != WordForm::Register; });
}

std::optional<RegisterWord> RegisterMap::command(std::span<const std::uint8_t> sent,
                                                 std::span<const RegisterWord> base) const {
    for (const Register& one : registers) {
        if (one.form == WordForm::Register) continue;
        if (!one.sendsBytesAlone) {
            if (sent.size() == one.bytes && one.accepts(one.wordOf(sent))) return RegisterWord{&one, one.wordOf(sent)};
            continue;
        }
        // Its reserved bits say which of its bytes this is.
        std::vector<RegisterWord> words(base.begin(), base.end());
        RegisterWord word = wordIn(words, one);
        for (std::size_t i = 0; i < one.bytes && sent.size() == 1; ++i) {
            const std::size_t shift = 8 * (one.bytes - 1 - i);
            if ((sent[0] & (one.reserved >> shift & 0xFF)) != ((one.reset & one.reserved) >> shift & 0xFF)) continue;
            word.word = (word.word & ~(std::uint32_t{0xFF} << shift)) | std::uint32_t{sent[0]} << shift;
            return word;
        }
    }
    return std::nullopt;
}

/// One register or command at the beginning of bytes as they are sent; how many of them it took.
Expected<std::size_t> RegisterMap::take(std::vector<RegisterWord>& words, std::span<const std::uint8_t> sent) const {
    for (std::size_t length = std::min<std::size_t>(sent.size(), 4); length > 0; --length)
        if (const auto found = command(sent.first(length), words)) {
            wordIn(words, *found->in) = *found;
            return length;
        }
    for (const Register& one : registers) {
        if (one.form != WordForm::Register || sent.size() < one.pointerBytes) continue;
        unsigned pointer = 0;
        for (std::size_t i = 0; i < one.pointerBytes; ++i) pointer = pointer << 8 | sent[i];
        if (pointer != one.writePointer() || one.isReadOnly) continue;
        const std::size_t most = one.pointerBytes + one.bytes + (one.hasCrc ? 1 : 0);
        const auto read = readWord(one, sent.subspan(one.pointerBytes, std::min(sent.size(), most) - one.pointerBytes));
        if (!read) return tl::unexpected(read.error());
        wordIn(words, one).word = read->word;
        return one.pointerBytes + read->length;
    }
    std::string known;
    for (const Register& one : registers) {
        if (one.isReadOnly) continue;
        known += (known.empty() ? "" : ", ") + one.name;
        if (one.form != WordForm::Pulses || sent.size() != 1) continue;
        std::string counts;
        for (const auto& [name, code] : one.fields.front().choices)
            counts += fmt::format("{}{} ({})", counts.empty() ? "" : ", ", code, name);
        return fail(ErrorCode::Range, one.name, fmt::format("{} pulses", sent[0]), counts);
    }
    return fail(ErrorCode::Unknown, "bytes", hexOf(sent.first(std::min<std::size_t>(sent.size(), 4))),
                "one of the commands of " + id + ": " + known);
}

Expected<std::vector<RegisterWord>> RegisterMap::words(const RawData& raw, std::vector<std::string>* unknown) const {
    std::vector<RegisterWord> result;
    for (const RawBlock& block : raw.blocks()) {
        if (!block.address) {
            if (!hasCommands())
                return fail(ErrorCode::Missing, block.label(), "no address", "register addresses, like F4=27");
            for (std::size_t at = 0; at < block.bytes.size();) {
                const auto taken = take(result, std::span(block.bytes).subspan(at));
                if (!taken) return tl::unexpected(taken.error());
                at += *taken;
            }
            continue;
        }
        for (std::size_t at = 0; at < block.bytes.size();) {
            const Register* one = findRegister(*block.address + static_cast<unsigned>(at));
            if (!one && unknown) {
                unknown->push_back(fmt::format("0x{:02X}", *block.address + at));
                break;
            }
            if (!one)
                return fail(ErrorCode::Unknown, fmt::format("register 0x{:02X}", *block.address + at),
                            "a register that configures nothing here", "one of the registers of " + id);
            if (block.isWords && one->bytes != 2)
                return fail(ErrorCode::Ambiguous, fmt::format("register 0x{:02X}", *block.address + at),
                            "a word of 16 bits", fmt::format("the {} byte(s) of {}, apart", one->bytes, one->name));
            auto rest =
                std::vector<std::uint8_t>(block.bytes.begin() + static_cast<std::ptrdiff_t>(at), block.bytes.end());
            if (block.isNumber && at == 0 && rest.size() < one->bytes)
                rest.insert(rest.begin(), one->bytes - rest.size(), 0);
            // A word or a number is the register's value, whatever the order of its bytes on the bus.
            if ((block.isWords || block.isNumber) && one->order == ByteOrder::LowFirst && rest.size() >= one->bytes)
                std::reverse(rest.begin(), rest.begin() + static_cast<std::ptrdiff_t>(one->bytes));
            const auto read = readWord(*one, rest);
            if (!read) return tl::unexpected(read.error());
            wordIn(result, *one).word = read->word;
            // Where a pointer names whole words, one block is one register.
            at += read->length;
            if (block.isNumber) break;
            if (one->bytes > 1 && !findRegister(*block.address + static_cast<unsigned>(at))) break;
        }
    }
    return result;
}

std::string RegisterMap::withAddresses(std::string text) const {
    const bool isCount = !text.empty() && text.find_first_not_of("0123456789") == std::string::npos;
    if (isCount && text.size() < 4 && registers.front().form == WordForm::Pulses)
        return fmt::format("0x{:02X}", std::stoi(text));
    for (const Register& one : registers) {
        if (one.form != WordForm::Register) continue;
        // Documents write them in capitals.
        const std::string name = lowered(one.name);
        for (std::size_t at = 0; (at = lowered(text).find(name, at)) != std::string::npos; ++at) {
            const std::size_t end = at + name.size();
            const bool isWhole = (at == 0 || !std::isalnum(static_cast<unsigned char>(text[at - 1]))) &&
                                 end < text.size() && (text[end] == '=' || text[end] == ':');
            if (isWhole) text.replace(at, name.size(), fmt::format("0x{:02X}", one.address));
        }
    }
    return text;
}

std::vector<FieldValue> RegisterMap::explain(std::span<const RegisterWord> words) const {
    std::vector<FieldValue> values;
    for (const RegisterWord& word : words)
        for (const RegisterField& field : word.in->fields)
            values.push_back(valueOf(*word.in, inForce(field, words), word.word));
    return values;
}

std::vector<FieldValue> RegisterMap::all(std::span<const RegisterWord> words) const {
    std::vector<FieldValue> values;
    for (const Register& one : registers) {
        const auto it =
            std::find_if(words.begin(), words.end(), [&](const RegisterWord& word) { return word.in == &one; });
        for (const RegisterField& field : one.fields)
            values.push_back(valueOf(one, inForce(field, words), it == words.end() ? one.reset : it->word));
    }
    return values;
}

Expected<std::vector<Mismatch>> RegisterMap::compare(std::span<const RegisterWord> words,
                                                     std::span<const Setting> asked) const {
    std::vector<Mismatch> found;
    const auto wanted = set(asked, words);
    if (!wanted) return tl::unexpected(wanted.error());
    for (const Setting& setting : asked) {
        const auto [in, field] = findField(setting.id);
        const auto is = [where = in](const RegisterWord& word) { return word.in == where; };
        const auto have = std::find_if(words.begin(), words.end(), is);
        const auto want = std::find_if(wanted->begin(), wanted->end(), is);
        const FieldValue now = valueOf(*in, inForce(*field, words), have == words.end() ? in->reset : have->word),
                         then = valueOf(*in, inForce(*field, *wanted), want->word);
        if (now.code == then.code && now.text == then.text) continue;
        Mismatch mismatch{field, then.text, now.text, ""};
        const auto a = field->choices.empty() ? std::optional(then.number) : numberIn(then.text),
                   b = field->choices.empty() ? std::optional(now.number) : numberIn(now.text);
        std::string ratio;
        if (a && b && *a > 0 && *b > 0) {
            const double times = *b / *a;
            ratio = times == 0.5 ? ", half of"
                    : times == 2 ? ", twice"
                    : times > 1  ? ", " + ratioText(times) + " times"
                                 : ", a " + ratioText(1 / times) + "th of";
        }
        mismatch.text = fmt::format("{} is {}{} {} that was asked for{}", field->title, now.text,
                                    ratio.empty() ? ", not the" : ratio + " the", then.text,
                                    have != words.end() ? ""
                                    : in->form == WordForm::Register
                                        ? fmt::format(" (0x{:02X} is not written and {})", in->address,
                                                      in->isResetKnown ? "stays at its reset value"
                                                                       : "what it holds after power-on is not stated")
                                        : fmt::format(" ({} is not sent)", in->name));
        found.push_back(mismatch);
    }
    return found;
}

}  // namespace fg
