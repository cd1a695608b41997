#include "registers/register_word.h"

#include "devices/tracer.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace fg {
namespace {

std::uint32_t ones(int count) { return count >= 32 ? ~std::uint32_t{0} : (std::uint32_t{1} << count) - 1; }
int widthOf(const BitRun& run) { return run.high - run.low + 1; }

}  // namespace

int RegisterField::width() const {
    int count = 0;
    for (const BitRun& run : bits) count += widthOf(run);
    return count;
}

std::uint32_t RegisterField::mask() const {
    std::uint32_t mask = 0;
    for (const BitRun& run : bits) mask |= ones(widthOf(run)) << run.low;
    return mask;
}

std::uint32_t RegisterField::extract(std::uint32_t word) const {
    std::uint32_t code = 0;
    for (const BitRun& run : bits) code = code << (widthOf(run) % 32) | (word >> run.low & ones(widthOf(run)));
    return code;
}

std::uint32_t RegisterField::deposit(std::uint32_t word, std::uint32_t code) const {
    word &= ~mask();
    int left = width();
    for (const BitRun& run : bits) {
        left -= widthOf(run);
        word |= (code >> left & ones(widthOf(run))) << run.low;
    }
    return word;
}

double RegisterField::numberOf(std::uint32_t code) const {
    if (exponentBits == 0) return (isSigned ? signExtend(code, width()) : static_cast<double>(code)) * scale + offset;
    const int mantissaBits = width() - exponentBits;
    const double mantissa = code & ones(mantissaBits);
    return std::ldexp((mantissa + mantissaOffset) * scale, static_cast<int>(code >> mantissaBits));
}

double RegisterField::codeOf(double number) const {
    if (exponentBits == 0) return std::round((number - offset) / scale);
    const int mantissaBits = width() - exponentBits;
    const double most = ones(mantissaBits);
    // Beyond the bits where no exponent reaches it.
    double nearest = std::ldexp(1, width()), least = std::numeric_limits<double>::infinity();
    for (int exponent = 0; exponent < 1 << exponentBits; ++exponent) {
        const double mantissa = std::max(std::round(std::ldexp(number / scale, -exponent) - mantissaOffset), 0.0);
        const double error = std::abs(std::ldexp((mantissa + mantissaOffset) * scale, exponent) - number);
        if (mantissa > most || !(error < least * (1 - 1e-9))) continue;
        least = error;
        nearest = std::ldexp(exponent, mantissaBits) + mantissa;
    }
    return nearest;
}

bool RegisterField::hasName(std::uint32_t code) const {
    return choices.empty() ||
           std::any_of(choices.begin(), choices.end(), [&](const auto& choice) { return choice.second == code; });
}

bool Register::isAt(unsigned pointer) const {
    return form == WordForm::Register &&
           (pointer == address || pointer == readAddress || pointer == writePointer() || pointer == readPointer());
}

std::optional<std::uint32_t> Register::codeIn(const RegisterField& field, std::uint32_t word) const {
    if (words.empty()) return field.extract(word);
    const auto listed =
        std::find_if(words.begin(), words.end(), [&](const ListedWord& one) { return one.word == word; });
    if (listed == words.end()) return std::nullopt;
    return listed->codes[static_cast<std::size_t>(&field - fields.data())];
}

std::optional<std::uint32_t> Register::with(const RegisterField& field, std::uint32_t word, std::uint32_t code) const {
    if (words.empty()) return field.deposit(word, code);
    const auto now = std::find_if(words.begin(), words.end(), [&](const ListedWord& one) { return one.word == word; });
    std::vector<std::uint32_t> codes = now == words.end() ? words.front().codes : now->codes;
    codes[static_cast<std::size_t>(&field - fields.data())] = code;
    const auto then =
        std::find_if(words.begin(), words.end(), [&](const ListedWord& one) { return one.codes == codes; });
    return then == words.end() ? std::nullopt : std::optional(then->word);
}

bool Register::accepts(std::uint32_t word) const {
    if (!words.empty())
        return std::any_of(words.begin(), words.end(), [&](const ListedWord& one) { return one.word == word; });
    return (word & reserved) == (reset & reserved) &&
           std::all_of(fields.begin(), fields.end(),
                       [&](const RegisterField& field) { return field.hasName(field.extract(word)); });
}

bool Register::isAnswered(std::uint32_t word) const {
    if (answer.bytes == 0 || !answer.block.empty()) return answer.bytes > 0;
    const auto field =
        std::find_if(fields.begin(), fields.end(), [&](const RegisterField& one) { return one.id == answer.by; });
    if (field == fields.end()) return true;  // another command's field chooses
    const auto code = codeIn(*field, word);
    return std::any_of(field->choices.begin(), field->choices.end(), [&](const auto& choice) {
        return choice.second == code && answer.blocks.count(choice.first) > 0;
    });
}

std::vector<std::uint8_t> Register::bytesOf(std::uint32_t word) const {
    return order == ByteOrder::HighFirst ? bytesBe(word, bytes) : bytesLe(word, bytes);
}

std::uint32_t Register::wordOf(std::span<const std::uint8_t> sent) const {
    std::uint32_t word = 0;
    for (std::size_t i = 0; i < bytes; ++i) word = word << 8 | sent[order == ByteOrder::HighFirst ? i : bytes - 1 - i];
    return word;
}

std::string Register::place() const {
    if (form == WordForm::Command) return "command";
    if (form == WordForm::Pulses) return "pulses";
    const auto hex = [&](unsigned at) { return fmt::format("0x{:0{}X}", at, 2 * pointerBytes); };
    if (address != readAddress) return hex(address) + ", read at " + hex(readAddress);
    if (writePointer() == address) return hex(address);
    return hex(address) + (readPointer() == writePointer() ? ", on the bus " : ", written as ") + hex(writePointer());
}

std::string RegisterWord::text() const {
    return in->form == WordForm::Pulses ? std::to_string(word) : fmt::format("0x{:0{}X}", word, 2 * in->bytes);
}

std::string RegisterWord::binary() const {
    if (in->form == WordForm::Pulses) return {};
    std::string text = "0b ";
    for (int bit = static_cast<int>(8 * in->bytes) - 1; bit >= 0; --bit) {
        text += word >> bit & 1 ? '1' : '0';
        if (bit > 0 && bit % 4 == 0) text += ' ';
    }
    return text;
}

}  // namespace fg
