#include "handover/gauge_code.h"

#include "handover/code_files.h"
#include "handover/code_findings.h"
#include "handover/code_readings.h"
#include "handover/formula_runner.h"
#include "handover/in_parts.h"
#include "handover/law_code.h"
#include "handover/running_code.h"
#include "handover/whole_code.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>

namespace fg {
namespace {

constexpr std::array<std::string_view, 6> kNames{"float", "double", "int16", "int32", "int64", "table"};

template <std::size_t Count>
Expected<std::size_t> indexOf(const std::array<std::string_view, Count>& names, std::string_view name,
                              const std::string& where) {
    std::string list;
    for (std::size_t i = 0; i < Count; ++i) {
        if (names[i] == name) return i;
        list += (i == 0 ? "" : ", ") + std::string(names[i]);
    }
    return fail(ErrorCode::Unknown, where, "“" + std::string(name) + "”", "one of " + list);
}

bool isReal(CodeArithmetic arithmetic) {
    return arithmetic == CodeArithmetic::Float || arithmetic == CodeArithmetic::Double;
}

/// As 1, 2 or 5 times a power of ten, not above `value`.
double tidyBelow(double value) {
    const double decade = std::pow(10, std::floor(std::log10(value)));
    for (const double mantissa : {5.0, 2.0, 1.0})
        if (mantissa * decade <= value * (1 + 1e-9)) return mantissa * decade;
    return decade;
}

/// Codes of a range, from the first to the last, `stride` apart.
struct CodeSteps {
    std::int64_t first, last, stride;
    [[nodiscard]] std::int64_t count() const { return (last - first + stride - 1) / stride + 1; }
    [[nodiscard]] std::int64_t at(std::int64_t number) const { return std::min(first + number * stride, last); }
};

/// The written formula over the codes with the numbers `from` to `to`, without that one; the mean is a sum still.
template <class Real>
CodeError overCodes(const FormulaCode& code, ReadCodes exact, const CodeSteps& steps, std::int64_t from,
                    std::int64_t to) {
    FormulaOver<Real> run(code);
    CodeError error;
    std::vector<double> codes, values, readings;
    while (from < to) {
        constexpr std::int64_t kAtOnce = 4096;
        const std::int64_t count = std::min(kAtOnce, to - from);
        codes.clear();
        for (std::int64_t i = 0; i < count; ++i) codes.push_back(static_cast<double>(steps.at(from + i)));
        values.resize(codes.size());
        readings.resize(codes.size());
        run(codes, values);
        exact(codes, readings);
        for (std::size_t i = 0; i < codes.size(); ++i) {
            const double off = std::abs(values[i] - readings[i]);
            error.mean += off;
            // A value that is none where the gauge has one is as wrong as can be.
            if (!(off <= error.worst) || error.checked == 0) {
                error.worst = std::isnan(off) ? HUGE_VAL : off;
                error.atCode = static_cast<std::int64_t>(codes[i]);
            }
            ++error.checked;
        }
        from += count;
    }
    return error;
}

/// Runs the written formula over the codes of its range. Where that would take longer than a second, over as many as
/// one has time for.
template <class Real>
CodeError proveFormula(const FormulaCode& code, const ReadCodes& exact) {
    // What is gone through operation by operation takes longer by far.
    const double mostOperations = FormulaBlock<Real>::of(code) ? 2e8 : 4e7;
    const double all = static_cast<double>(code.range().size()) * (code.operations(kHalvings<Real>) + 4);
    const CodeSteps steps{code.range().first, code.range().last,
                          static_cast<std::int64_t>(std::max(1.0, std::ceil(all / mostOperations)))};
    constexpr std::int64_t kWorthThreads = 1 << 15;
    const int parts = steps.count() < kWorthThreads ? 1 : kProofParts;
    const auto shown = inParts(parts, [&](int part) {
        return overCodes<Real>(code, exact, steps, steps.count() * part / parts, steps.count() * (part + 1) / parts);
    });
    CodeError error;
    for (const CodeError& part : shown) error.takeIn(part);
    error.mean /= static_cast<double>(error.checked);
    return error;
}

Expected<void> writeReal(const Gauge& gauge, const CodeWish& wish, const ReadCodes& read, const ReadingOfCode& exact,
                         GaugeCode& code) {
    const auto formula = FormulaCode::make(*gauge.analog(), gauge.spec(), *code.unit);
    if (!formula) return tl::unexpected(formula.error());
    const bool isFloat = wish.arithmetic == CodeArithmetic::Float;
    code.range = formula->range();
    code.gives = isFloat ? "float" : "double";
    code.method = gauge.analog()->sensor().title();
    code.operations = formula->operations(isFloat ? kHalvings<float> : kHalvings<double>);
    code.error = isFloat ? proveFormula<float>(*formula, read) : proveFormula<double>(*formula, read);
    const auto shared = std::make_shared<FormulaCode>(*formula);
    if (isFloat)
        code.errorAt = [shared, exact, run = std::make_shared<FormulaRunner<float>>(*shared)](std::int64_t at) {
            return (*run)(static_cast<double>(at)) - exact(at);
        };
    else
        code.errorAt = [shared, exact, run = std::make_shared<FormulaRunner<double>>(*shared)](std::int64_t at) {
            return (*run)(static_cast<double>(at)) - exact(at);
        };
    writeRealFiles(gauge, wish, *formula, code);
    return {};
}

/// What results in whole numbers are the readings of the span times.
std::int64_t scaleOver(const Gauge& gauge, const CodeWish& wish, const GaugeCode& code) {
    const Interval span = gauge.spec().spanCanonical();
    const double low = code.unit->fromCanonical(span.low), high = code.unit->fromCanonical(span.high);
    return wholeScaleFor(code.wanted, std::max(std::abs(low), std::abs(high)), wish.arithmetic);
}

Expected<GaugeCode> deviceCode(const Gauge& gauge, const CodeWish& wish, GaugeCode code, WholeWay way) {
    auto device =
        deviceCodeOf(*gauge.digital(), gauge.spec(), *code.unit, wish.arithmetic, scaleOver(gauge, wish, code), way);
    if (!device) return tl::unexpected(device.error());
    Expected<void> done;
    if (device->one) {
        done = writeWholeDevice(gauge, wish, *device, code);
    } else if (device->tail) {
        const char* title =
            device->isFixedPoint ? "Formula in fixed point" : "The integer routine of the part's document";
        const WholeRoutine routine{device->formula, device->tail, title, device->isFixedPoint};
        done = fitRoutine(gauge, wish, routine, device->ofRoutine, device->ofRoutineAt, code);
        if (done) done = writeRoutineFiles(gauge, wish, *device, code);
    } else {
        code.gives = wish.arithmetic == CodeArithmetic::Float ? "float" : "double";
        code.method = "The part's formula";
        code.operations = device->formula->operations();
        code.error = device->error;
        code.atFrame = device->atFrame;
        code.checkedOver = "frames with a value";
        writeDeviceFiles(gauge, wish, *device, code);
    }
    return done ? Expected<GaugeCode>(std::move(code)) : tl::unexpected(done.error());
}

/// Where the integers that stand to reason do not hold the wanted error, fixed point if it does; where there are none,
/// fixed point as it is.
Expected<void> writeDevice(const Gauge& gauge, const CodeWish& wish, GaugeCode& code) {
    auto usual = deviceCode(gauge, wish, code, WholeWay::Usual);
    const bool isWhole = !isReal(wish.arithmetic) && wish.arithmetic != CodeArithmetic::Table;
    if (isWhole && !(usual && (usual->holds() || usual->isFixedPoint))) {
        auto fixed = deviceCode(gauge, wish, code, WholeWay::Fixed);
        if (fixed && (!usual || fixed->holds())) usual = std::move(fixed);
    }
    if (!usual) return tl::unexpected(usual.error());
    code = std::move(*usual);
    return {};
}

/// Of a derived gauge what both kinds share: `law` is all of it, or what stands behind a window, and `how` names it.
template <class WriteReal, class WriteWhole>
Expected<void> writeDerived(const Gauge& gauge, const CodeWish& wish, const LawCode& law, std::string_view how,
                            const char* over, GaugeCode& code, const WriteReal& writeReal,
                            const WriteWhole& writeWhole) {
    if (law.tail) {
        const bool isFixedPoint = !law.tail->isInput();
        const WholeRoutine routine{law.formula, law.tail, isFixedPoint ? "Law in fixed point" : std::string(how),
                                   isFixedPoint};
        if (const auto done = fitRoutine(gauge, wish, routine, law.error, law.atInputs, code); !done) return done;
        code.checkedOver = over;
        return writeWhole();
    }
    code.gives = wish.arithmetic == CodeArithmetic::Float ? "float" : "double";
    code.method = std::string(how);
    code.operations = law.formula->operations();
    code.error = law.error;
    code.atFrame = law.atInputs;
    code.checkedOver = over;
    writeReal();
    return {};
}

Expected<void> writeRunning(const Gauge& gauge, const CodeWish& wish, const WholeLaw& whole, GaugeCode& code) {
    const DerivedPath& path = *gauge.derived();
    const auto running = runningCodeOf(path, gauge.spec(), *code.unit, wish.arithmetic, whole);
    if (!running) return tl::unexpected(running.error());
    return writeDerived(
        gauge, wish, running->law, path.running()->title, "readings", code,
        [&] { writeRunningFiles(gauge, wish, *running, code); },
        [&] { return writeWholeRunningFiles(gauge, wish, *running, code); });
}

Expected<void> writeLaw(const Gauge& gauge, const CodeWish& wish, GaugeCode& code) {
    const WholeLaw whole{code.wanted, scaleOver(gauge, wish, code)};
    const DerivedPath& path = *gauge.derived();
    if (path.running()) return writeRunning(gauge, wish, whole, code);
    const auto law = lawCodeOf(path, gauge.spec(), *code.unit, wish.arithmetic, whole);
    if (!law) return tl::unexpected(law.error());
    return writeDerived(
        gauge, wish, *law, path.law()->title(), "sets of readings", code,
        [&] { writeLawFiles(gauge, wish, *law, code); }, [&] { return writeWholeLawFiles(gauge, wish, *law, code); });
}

}  // namespace

std::string_view arithmeticName(CodeArithmetic arithmetic) { return kNames[static_cast<std::size_t>(arithmetic)]; }

Expected<CodeArithmetic> arithmeticFromName(std::string_view name) {
    return indexOf(kNames, name, "--arithmetic").map([](std::size_t i) { return static_cast<CodeArithmetic>(i); });
}

Expected<CodeLanguage> codeLanguageFromName(std::string_view name) {
    return indexOf<2>({"c", "micropython"}, name, "--language").map([](std::size_t i) {
        return static_cast<CodeLanguage>(i);
    });
}

Expected<CodeShape> codeShapeFromName(std::string_view name) {
    return indexOf<2>({"function", "program"}, name, "--form").map([](std::size_t i) {
        return static_cast<CodeShape>(i);
    });
}

std::span<const CodeStatus> codeStatuses() {
    static constexpr std::array kStatuses{
        CodeStatus{"ok", "FG_OK", 0, "a value"},
        CodeStatus{"clipped", "FG_CLIPPED", 1, "the converter is at an end of its range: at least, or at most"},
        CodeStatus{"no_value", "FG_NO_VALUE", 2, "the formula has no value there"},
        CodeStatus{"beyond", "FG_BEYOND", 3, "outside what this code was made for"},
        CodeStatus{"damaged", "FG_DAMAGED", 4, "bytes that are missing, or whose checksum does not fit"},
        CodeStatus{"busy", "FG_BUSY", 5, "the part has not measured yet: read it again later"}};
    return kStatuses;
}

double wantedErrorOf(const Gauge& gauge) {
    const Unit& unit = gauge.unit();
    const Interval span = gauge.spec().spanCanonical();
    double size = std::abs(unit.differenceToCanonical(gauge.spec().reading.wanted));
    if (!(size > 0))
        if (const auto budget = gauge.budgetAt((span.low + span.high) / 2)) size = budget->expanded;
    if (!(size > 0) || !std::isfinite(size)) size = span.width() / 100;
    return unit.differenceToCanonical(tidyBelow(unit.differenceFromCanonical(size) / 10));
}

std::int64_t codeScaleFor(double wanted) {
    std::int64_t scale = 1;
    constexpr std::int64_t kMost = 1'000'000'000;
    while (scale < kMost && 1 / static_cast<double>(scale) > wanted / 2 * (1 + 1e-9)) scale *= 10;
    return scale;
}

Expected<GaugeCode> writeCode(const Gauge& gauge, const CodeWish& wish) {
    // The readings of others are what the code of a derived gauge takes.
    const auto missing = gauge.missing();
    if (missing && !gauge.derived()) return tl::unexpected(*missing);
    if (gauge.said())
        return fail(ErrorCode::Unsupported, "“" + gauge.spec().name + "”", "readings that the board works out itself",
                    "a gauge whose raw values a program can read");
    if (!(wish.wantedError >= 0) || !std::isfinite(wish.wantedError))
        return fail(ErrorCode::Range, "--max-error", plainNumber(wish.wantedError), "an error above 0");
    GaugeCode code;
    const auto unit = unitFromId(wish.unit.empty() ? std::string(gauge.unit().id) : wish.unit, gauge.spec().quantity);
    if (!unit) return tl::unexpected(unit.error().within("--unit"));
    code.unit = *unit;
    code.wanted = code.unit->differenceFromCanonical(wish.wantedError > 0 ? wish.wantedError : wantedErrorOf(gauge));
    if (!gauge.analog()) {
        const auto done = gauge.digital() ? writeDevice(gauge, wish, code) : writeLaw(gauge, wish, code);
        if (!done) return tl::unexpected(done.error());
        code.findings = codeFindings(gauge, wish, code);
        return code;
    }
    // The path is copied: the code may be looked at when the gauge is gone.
    const ReadCodes read = [path = *gauge.analog(), unit = code.unit](std::span<const double> codes,
                                                                      std::span<double> readings) {
        path.readings(codes, readings);
        for (double& reading : readings) reading = unit->fromCanonical(reading);
    };
    const ReadingOfCode exact = readingsAhead(read, gauge.analog()->converter().maxCode());
    const auto done =
        isReal(wish.arithmetic) ? writeReal(gauge, wish, read, exact, code) : writeWhole(gauge, wish, exact, code);
    if (!done) return tl::unexpected(done.error());
    code.findings = codeFindings(gauge, wish, code);
    return code;
}

}  // namespace fg
