#include "handover/code_findings.h"

#include "units/number_format.h"

#include <fmt/format.h>

namespace fg {
namespace {

constexpr double kLittleHeadroom = 1.25;

std::string size(const GaugeCode& code, double value) {
    return significantDigits(value, 2) + " " + std::string(code.unit->symbol);
}

}  // namespace

std::vector<Finding> codeFindings(const Gauge& gauge, const CodeWish& wish, const GaugeCode& code) {
    std::vector<Finding> findings;
    const auto add = [&](Severity severity, const char* id, std::string title, std::string detail) {
        findings.push_back({severity, Stage::Formula, id, std::move(title), std::move(detail), {}});
    };
    if (!code.holds())
        add(Severity::Fault, "code-error", "The wanted error is not held",
            fmt::format("Worst {} {}, wanted {}. Take a wider arithmetic, a table or a narrower span.",
                        size(code, code.error.worst),
                        code.atFrame.empty() ? fmt::format("at code {}", code.error.atCode) : "for " + code.atFrame,
                        size(code, code.wanted)));
    if (code.form && code.form->headroom() < kLittleHeadroom)
        add(Severity::Doubt, "code-headroom", fmt::format("Headroom of {:.0f} %", 100 * (code.form->headroom() - 1)),
            fmt::format("A product or sum reaches {} of {}. It fits every code of this gauge; with other values of its "
                        "circuit the code has to be written again.",
                        plainNumber(code.form->peak, 6), plainNumber(std::ldexp(1.0, code.form->width - 1) - 1, 10)));
    if (code.form && code.scale < codeScaleFor(code.wanted))
        add(Severity::Doubt, "code-scale", "Fewer decimals than wanted",
            fmt::format("The result is the value times {}: with more decimals it would not fit {}.", code.scale,
                        code.gives));
    for (const std::string& setting : code.kept)
        add(Severity::Hint, "code-setting", "Made for one setting of the part",
            fmt::format("Bytes that were read with another setting than {} give no value. Float and double take any.",
                        setting));
    // Of a derived gauge they are what its function takes.
    for (const auto& [field, input] : gauge.spec().inputs)
        if (!gauge.derived())
            add(Severity::Doubt, "code-input", "Another gauge's reading is a constant here",
                fmt::format(
                    "“{}” takes the reading of “{}” on the bench. The code has the value of this moment; write it "
                    "again when that changes, or read it in your program.",
                    field, input.name));
    if (wish.arithmetic == CodeArithmetic::Double && wish.language == CodeLanguage::C)
        add(Severity::Hint, "code-double", "Some 8-bit compilers have no double",
            "There a double is a float of 32 bits: the error is that of float.");
    if (wish.wantedError <= 0)
        add(Severity::Hint, "code-wanted", "The wanted error is not given",
            fmt::format(
                "{} was taken: a tenth of the accuracy wanted of the gauge or, where none is, of its uncertainty.",
                size(code, code.wanted)));
    bool isCare = false;
    for (const Finding& one : gauge.findings(nullptr, nullptr)) isCare = isCare || one.severity == Severity::Care;
    if (isCare)
        add(Severity::Care, "code-care", "This code is no protection",
            "It informs. What can hurt someone needs its own cut-out or relief valve, and work by those licensed for "
            "it; local codes decide.");
    return findings;
}

}  // namespace fg
