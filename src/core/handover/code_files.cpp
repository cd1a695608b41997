#include "handover/code_files.h"

#include "handover/code_page.h"
#include "handover/formula_writer.h"
#include "handover/integer_writer.h"

#include <fmt/format.h>

namespace fg {

void writeRealFiles(const Gauge& gauge, const CodeWish& wish, const FormulaCode& formula, GaugeCode& code) {
    CodePage page(gauge, wish, code);
    const CodeReal real = code.gives == "float" ? CodeReal::Float : CodeReal::Double;
    const std::string input = page.names().freshExact("code_real");
    const FormulaText text = FormulaWriter(formula, wish.language, real, input, page.names()).write();
    code.bytes = text.bytes;
    page.write(text.constants, text.functions, text.body, text.result, true);
}

void writeDeviceFiles(const Gauge& gauge, const CodeWish& wish, const DeviceCode& device, GaugeCode& code) {
    CodePage page(gauge, wish, code);
    const CodeReal real = code.gives == "float" ? CodeReal::Float : CodeReal::Double;
    std::string helpers;
    auto inputs = page.takeDevice(device, real, helpers);
    FormulaWriter writer(*device.formula, wish.language, real, "raw", page.names());
    writer.nameInputs(std::move(inputs));
    writer.letWrap(device.hasWrapped);
    const FormulaText text = writer.write();
    code.bytes = text.bytes;
    page.write(text.constants, helpers + text.functions, text.body, text.result, true);
}

namespace {

/// A routine in whole numbers and its result, on a page that has taken what it is given.
Expected<void> writeRoutine(CodePage& page, const Gauge& gauge, const CodeWish& wish, const WholeRoutine& routine,
                            std::map<std::int32_t, std::string> names, bool mayWrap, const std::string& helpers,
                            GaugeCode& code) {
    // What the steps behind the routine are called.
    for (const char* name : {"x", "y"}) (void)page.names().freshExact(name);
    FormulaWriter writer(*routine.formula, wish.language, CodeReal::Double, "raw", page.names());
    writer.nameInputs(std::move(names));
    writer.letWrap(mayWrap);
    const WholeTail& tail = *routine.tail;
    FormulaText text = writer.writeWhole(tail);
    if (text.hasReal)
        return fail(ErrorCode::Unsupported, "arithmetic", std::string(arithmeticName(wish.arithmetic)),
                    "float or double: " + std::string(gauge.derived() ? "the law" : "the part's routine") +
                        " looks at numbers that are not whole");
    const bool isC = wish.language == CodeLanguage::C, isUnsigned = tail.bits() < 0;
    const auto bound = [&](std::int64_t value) { return wholeText(value, wish.language, isUnsigned); };
    text.body += fmt::format(fmt::runtime(isC ? "    if ({0} < {1} || {0} > {2}) return FG_BEYOND;\n"
                                              : "    if not {1} <= {0} <= {2}: return (FG_BEYOND, None)\n"),
                             text.result, bound(code.range.first), bound(code.range.last));
    const std::string type = fmt::format("{}int{}_t", isUnsigned ? "u" : "", std::abs(tail.bits()));
    const bool isResult = code.form->numbers == std::vector<std::int64_t>{0, 1} && code.form->fraction == 0;
    const IntegerText whole = isResult && !isUnsigned && tail.bits() <= code.form->width
                                  ? IntegerText{{}, {}, {}, text.result}
                                  : integerText(*code.form, wish.language, text.result, type, code.gives);
    code.bytes = text.bytes;
    page.write(text.constants + whole.constants, helpers + text.functions + whole.functions, text.body + whole.body,
               whole.result, false);
    return {};
}

}  // namespace

Expected<void> writeRoutineFiles(const Gauge& gauge, const CodeWish& wish, const DeviceCode& device, GaugeCode& code) {
    CodePage page(gauge, wish, code);
    std::string helpers;
    auto names = page.takeDevice(device, CodeReal::Double, helpers);
    const WholeRoutine routine{device.formula, device.tail, {}, device.isFixedPoint};
    return writeRoutine(page, gauge, wish, routine, std::move(names), device.hasWrapped, helpers, code);
}

Expected<void> writeWholeLawFiles(const Gauge& gauge, const CodeWish& wish, const LawCode& law, GaugeCode& code) {
    CodePage page(gauge, wish, code);
    auto names = page.takeReadings(law.parameters);
    return writeRoutine(page, gauge, wish, {law.formula, law.tail, {}, true}, std::move(names), false, "", code);
}

Expected<void> writeWholeRunningFiles(const Gauge& gauge, const CodeWish& wish, const RunningCode& running,
                                      GaugeCode& code) {
    CodePage page(gauge, wish, code);
    std::string helpers;
    auto names = page.takeRunning(running, helpers);
    return writeRoutine(page, gauge, wish, {running.law.formula, running.law.tail, {}, true}, std::move(names), false,
                        helpers, code);
}

void writeWholeDeviceFiles(const Gauge& gauge, const CodeWish& wish, const DeviceCode& device, GaugeCode& code) {
    CodePage page(gauge, wish, code);
    std::string helpers;
    (void)page.takeDevice(device, CodeReal::Double, helpers);
    const IntegerText text = integerText(*code.form, wish.language, page.raw().name, page.raw().type, code.gives);
    page.write(text.constants, helpers + text.functions, text.body, text.result, false);
}

namespace {

/// A law in real numbers, on a page that has taken its readings.
void writeLaw(CodePage& page, const CodeWish& wish, const LawCode& law, std::map<std::int32_t, std::string> names,
              const std::string& helpers, GaugeCode& code) {
    const CodeReal real = code.gives == "float" ? CodeReal::Float : CodeReal::Double;
    FormulaWriter writer(*law.formula, wish.language, real, "raw", page.names());
    writer.nameInputs(std::move(names));
    const FormulaText text = writer.write();
    code.bytes = text.bytes;
    page.write(text.constants, helpers + text.functions, text.body, text.result, true);
}

}  // namespace

void writeLawFiles(const Gauge& gauge, const CodeWish& wish, const LawCode& law, GaugeCode& code) {
    CodePage page(gauge, wish, code);
    auto names = page.takeReadings(law.parameters);
    writeLaw(page, wish, law, std::move(names), "", code);
}

void writeRunningFiles(const Gauge& gauge, const CodeWish& wish, const RunningCode& running, GaugeCode& code) {
    CodePage page(gauge, wish, code);
    std::string helpers;
    auto names = page.takeRunning(running, helpers);
    writeLaw(page, wish, running.law, std::move(names), helpers, code);
}

void writeWholeFiles(const Gauge& gauge, const CodeWish& wish, GaugeCode& code) {
    CodePage page(gauge, wish, code);
    const IntegerText text = integerText(*code.form, wish.language, page.raw().name, page.raw().type, code.gives);
    page.write(text.constants, text.functions, text.body, text.result, false);
}

}  // namespace fg
