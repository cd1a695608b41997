#include "handover/code_display.h"

#include "uncertainty/reading_text.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {
namespace {

/// Decimals, not more than `most`; `unknown` where there is no uncertainty to tell them.
int decimalsOf(const Gauge& gauge, const GaugeCode& code, int most, int unknown) {
    if (const auto wanted = gauge.spec().reading.decimals) return std::clamp(*wanted, 0, most);
    const Interval span = gauge.spec().spanCanonical();
    const auto budget = gauge.budgetAt((span.low + span.high) / 2);
    if (!budget || !(budget->expanded > 0)) return unknown;
    return std::clamp(decimalsFor(code.unit->differenceFromCanonical(budget->expanded)), 0, most);
}

std::int64_t powerOfTen(int exponent) {
    std::int64_t power = 1;
    for (int i = 0; i < exponent; ++i) power *= 10;
    return power;
}

/// From the rounded `size` and the value's sign to the characters.
std::string digitsLines(int places) {
    std::string text = "    if (value < 0 && size != 0) *text++ = '-';\n";
    text += fmt::format("    while (size != 0 || count <= {}) {{\n", places);
    text += "        digits[count++] = (char)('0' + (char)(size % 10u));\n        size /= 10u;\n    }\n";
    text += "    while (count > 0) {\n";
    if (places > 0) text += fmt::format("        if (count == {}) *text++ = '.';\n", places);
    return text + "        *text++ = digits[--count];\n    }\n    *text = '\\0';\n}\n";
}

bool isWide(const GaugeCode& code) { return code.gives == "int64_t"; }

}  // namespace

int displaySize(const GaugeCode& code) { return isWide(code) ? 24 : 14; }

std::string displaySignature(const std::string& base, const GaugeCode& code) {
    return fmt::format("void {}_text({} value, char *text)", base, isWide(code) ? "int64_t" : "int32_t");
}

std::string displayFunction(const std::string& base, const Gauge& gauge, const GaugeCode& code, CodeLanguage language) {
    int most = 0;
    for (std::int64_t power = 1; power < code.scale; power *= 10) ++most;
    const int places = decimalsOf(gauge, code, most, most);
    const std::int64_t unit = powerOfTen(places), drop = code.scale / unit;
    if (language == CodeLanguage::MicroPython) {
        std::string text =
            fmt::format("def {}_text(value):\n    \"\"\"Rounded to {} decimals, halves away from zero.\"\"\"\n", base,
                        places);
        text += fmt::format("    size = (abs(value) + {}) // {}\n", drop / 2, drop);
        text += "    sign = '-' if value < 0 and size else ''\n";
        return text + (places > 0 ? fmt::format("    return '%s%d.%0{}d' % (sign, size // {}, size % {})\n", places,
                                                unit, unit)
                                  : "    return '%s%d' % (sign, size)\n");
    }
    const std::string type = isWide(code) ? "uint64_t" : "uint32_t";
    std::string text = fmt::format(
        "/* Rounded to {0} decimal{1}, halves away from zero; the sign is put before what is left, so that -0.5\n"
        "   keeps it and what rounds to 0 has none. */\n{2}\n{{\n",
        places, places == 1 ? "" : "s", displaySignature(base, code));
    text += fmt::format("    char digits[{}];\n    int count = 0;\n", displaySize(code));
    text += fmt::format("    {0} size = value < 0 ? ({0})0 - ({0})value : ({0})value;\n", type);
    if (drop > 1) text += fmt::format("    size = (size + {}u) / {}u;\n", drop / 2, drop);
    return text + digitsLines(places);
}

std::string realDisplayFunction(const std::string& base, const Gauge& gauge, const GaugeCode& code) {
    constexpr int kMostDecimals = 6, kUsualDecimals = 2;
    const int places = decimalsOf(gauge, code, kMostDecimals, kUsualDecimals);
    const CodeReal real = code.gives == "float" ? CodeReal::Float : CodeReal::Double;
    const auto number = [&](double value) { return realText(value, CodeLanguage::C, real); };
    return fmt::format(
               "static void {0}_text({1} value, char *text)\n{{\n"
               "    char digits[{5}];\n    int count = 0;\n    uint32_t size;\n"
               "    const {1} scaled = (value < 0 ? -value : value) * {2} + {3};\n"
               "    if (!(scaled < {4})) {{\n        *text++ = '?';\n        *text = '\\0';\n        return;\n    }}\n"
               "    size = (uint32_t)scaled;\n",
               base, code.gives, number(static_cast<double>(powerOfTen(places))), number(0.5), number(4e9),
               displaySize(code)) +
           digitsLines(places) + "\n";
}

}  // namespace fg
