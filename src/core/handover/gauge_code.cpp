#include "handover/gauge_code.h"

#include "handover/code_findings.h"
#include "handover/code_page.h"
#include "handover/formula_runner.h"
#include "handover/law_code.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <bit>
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

int widthOf(CodeArithmetic arithmetic) {
    return arithmetic == CodeArithmetic::Int16 ? 16 : arithmetic == CodeArithmetic::Int64 ? 64 : 32;
}

/// As 1, 2 or 5 times a power of ten, not above `value`.
double tidyBelow(double value) {
    const double decade = std::pow(10, std::floor(std::log10(value)));
    for (const double mantissa : {5.0, 2.0, 1.0})
        if (mantissa * decade <= value * (1 + 1e-9)) return mantissa * decade;
    return decade;
}

/// Runs the written formula over the codes of its range. Where that would take minutes, over as many as take seconds.
template <class Real>
CodeError proveFormula(const FormulaCode& code, const ReadingOfCode& exact) {
    constexpr double kMostOperations = 6e8;
    const double all = static_cast<double>(code.range().size()) * (code.operations() + 4);
    const auto stride = static_cast<std::int64_t>(std::max(1.0, std::ceil(all / kMostOperations)));
    FormulaRunner<Real> runner(code);
    CodeError error;
    double sum = 0;
    for (std::int64_t at = code.range().first;; at = std::min(at + stride, code.range().last)) {
        const double off = std::abs(runner(static_cast<double>(at)) - exact(at));
        sum += off;
        // A value that is none where the gauge has one is as wrong as can be.
        if (!(off <= error.worst) || error.checked == 0)
            error.worst = std::isnan(off) ? HUGE_VAL : off, error.atCode = at;
        ++error.checked;
        if (at == code.range().last) break;
    }
    error.mean = sum / static_cast<double>(error.checked);
    return error;
}

/// Readings in a unit, a batch at a time: the bulk path is what makes every code of 24 bits a matter of a second.
class Readings {
  public:
    Readings(AnalogPath path, const Unit& unit) : m_path(std::move(path)), m_unit(&unit) {}
    [[nodiscard]] double operator()(std::int64_t code) {
        if (code < m_first || code >= m_first + static_cast<std::int64_t>(m_values.size())) fill(code);
        return m_values[static_cast<std::size_t>(code - m_first)];
    }

  private:
    void fill(std::int64_t code) {
        // Single questions come from all over, whole runs one after the other.
        const bool isNext = code == m_first + static_cast<std::int64_t>(m_values.size());
        constexpr std::int64_t kBatch = 8192;
        const std::int64_t count = isNext ? std::min(kBatch, m_path.converter().maxCode() - code + 1) : 1;
        m_first = code;
        m_values.resize(static_cast<std::size_t>(count));
        for (std::int64_t i = 0; i < count; ++i) m_values[static_cast<std::size_t>(i)] = static_cast<double>(code + i);
        m_path.readings(std::span<const double>(m_values), m_values);
        for (double& value : m_values) value = m_unit->fromCanonical(value);
    }
    AnalogPath m_path;  // its own: the code may be looked at when the gauge is gone
    const Unit* m_unit;
    std::int64_t m_first = 0;
    std::vector<double> m_values;
};

Expected<void> writeReal(const Gauge& gauge, const CodeWish& wish, const ReadingOfCode& exact, GaugeCode& code) {
    const auto formula = FormulaCode::make(*gauge.analog(), gauge.spec(), *code.unit);
    if (!formula) return tl::unexpected(formula.error());
    const bool isFloat = wish.arithmetic == CodeArithmetic::Float;
    code.range = formula->range();
    code.gives = isFloat ? "float" : "double";
    code.method = gauge.analog()->sensor().title();
    code.operations = formula->operations();
    code.error = isFloat ? proveFormula<float>(*formula, exact) : proveFormula<double>(*formula, exact);
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

/// A whole number that is the value times `divisor`, as a result that is the value times `scale`: no more than a shift
/// or a factor. Nothing where it takes a division.
std::optional<IntegerForm> directForm(const CodeRange& range, std::int64_t divisor, std::int64_t scale, int width) {
    IntegerForm form;
    form.width = width, form.scale = scale, form.range = range;
    form.shifts = {0};
    if (scale % divisor == 0) {
        form.numbers = {0, scale / divisor};
        return form;
    }
    const std::int64_t by = divisor / scale;
    if (by * scale != divisor || !std::has_single_bit(static_cast<std::uint64_t>(by))) return std::nullopt;
    form.fraction = std::countr_zero(static_cast<std::uint64_t>(by));
    form.numbers = {by / 2, 1};
    return form;
}

bool isPowerOfTen(std::int64_t value) {
    while (value >= 10 && value % 10 == 0) value /= 10;
    return value == 1;
}

/// Finds the whole numbers of `wish` that give `exact` over the codes of `range`. `divisor`: by which the codes are
/// divided where that is all; 0 otherwise.
Expected<void> fitWhole(const CodeRange& range, const CodeWish& wish, const ReadingOfCode& exact, GaugeCode& code,
                        std::int64_t divisor = 0) {
    const bool isTable = wish.arithmetic == CodeArithmetic::Table;
    // The largest result has to fit its own type.
    const double largest = std::max(std::abs(exact(range.first)), std::abs(exact(range.last)));
    const double most = std::ldexp(1.0, std::min(isTable ? 32 : widthOf(wish.arithmetic), 53) - 1) - 1;
    std::int64_t scale = codeScaleFor(code.wanted);
    // What is there already is not rounded.
    if (divisor > scale && isPowerOfTen(divisor)) scale = divisor;
    while (scale > 1 && largest * static_cast<double>(scale) > most) scale /= 10;
    if (largest > most)
        return fail(ErrorCode::Range, "--unit",
                    fmt::format("a result up to {} {}", plainNumber(largest, 6), code.unit->id),
                    fmt::format("a unit in which {} holds it, or a wider arithmetic", arithmeticName(wish.arithmetic)));
    const int width = widthOf(wish.arithmetic);
    auto form = divisor > 0 && !isTable ? directForm(range, divisor, scale, width) : std::nullopt;
    double peak = 0;
    for (const std::int64_t end : {range.first, range.last})
        if (form) (void)form->at(end, peak);
    if (peak > std::ldexp(1.0, width - 1) - 1) form.reset();
    if (!form)
        form = isTable ? searchTable(range, scale, code.wanted, exact)
                       : searchPolynomial(range, scale, width, code.wanted, exact);
    if (!form)
        return fail(ErrorCode::Unsupported, "arithmetic",
                    isTable ? fmt::format("a table of more than {} entries", kMostEntries)
                            : fmt::format("no line that {} bits can hold over this span", widthOf(wish.arithmetic)),
                    isTable ? "a larger wanted error, or int32 or float" : "int32, a narrower span, or a table");
    code.scale = scale;
    code.range = range;
    code.error = proveForm(*form, exact);
    code.method =
        isTable ? fmt::format("{} entries, straight between", form->numbers.size())
                : (form->degree() == 1 ? "straight line" : fmt::format("polynomial of degree {}", form->degree()));
    code.operations = form->operations();
    code.gives = !isTable                                       ? fmt::format("int{}_t", form->width)
                 : form->least >= -32768 && form->most <= 32767 ? "int16_t"
                                                                : "int32_t";
    code.bytes = form->bytes();
    const auto shared = std::make_shared<IntegerForm>(*form);
    code.errorAt = [shared, exact](std::int64_t at) {
        double top = 0;
        return static_cast<double>(shared->at(at, top)) / static_cast<double>(shared->scale) - exact(at);
    };
    code.form = std::move(*form);
    return {};
}

Expected<void> writeWhole(const Gauge& gauge, const CodeWish& wish, const ReadingOfCode& exact, GaugeCode& code) {
    const auto range = codeRangeOf(*gauge.analog(), gauge.spec().spanCanonical());
    if (!range) return tl::unexpected(range.error());
    if (const auto fitted = fitWhole(*range, wish, exact, code); !fitted) return fitted;
    writeWholeFiles(gauge, wish, code);
    return {};
}

/// A sum and a factor, as most formulas of digital parts are, as such: it need not be gone through step by step again
/// for each of millions of numbers. Nothing where it is more than that at one of the numbers looked at, every `stride`
/// of them, or has no value there.
std::optional<ReadingOfCode> straightOf(const ReadingOfCode& exact, std::int64_t first, std::int64_t last,
                                        std::int64_t stride) {
    const double begin = exact(first), end = exact(last), slope = (end - begin) / static_cast<double>(last - first);
    const auto straight = [begin, slope, first](std::int64_t at) {
        return begin + slope * static_cast<double>(at - first);
    };
    const double slack = 1e-12 * std::max(std::abs(begin), std::abs(end));
    for (std::int64_t at = first; at < last; at += stride)
        if (!(std::abs(straight(at) - exact(at)) <= slack)) return std::nullopt;
    return straight;
}

/// The numbers of a part whose readings lie in the span. Errors: Domain where there is none, or where they are not in
/// one piece.
Expected<CodeRange> numberRangeOf(const DeviceCode::OneNumber& one, const GaugeSpec& spec, const Unit& unit,
                                  const ReadingOfCode& exact) {
    const double low = unit.fromCanonical(spec.spanCanonical().low),
                 high = unit.fromCanonical(spec.spanCanonical().high);
    const double slack = 1e-9 * (high - low);
    const auto fits = [&](std::int64_t at) {
        const double value = exact(at);
        return value >= low - slack && value <= high + slack;
    };
    CodeRange range{one.least - 1, one.most + 1, one.least, one.most};
    // Of very many numbers some: between two that are looked at the ends of the run are searched for.
    const std::int64_t stride = std::max<std::int64_t>(1, (one.most - one.least) >> 20);
    const auto edge = [&](std::int64_t outside, std::int64_t inside) {
        while (std::abs(inside - outside) > 1) {
            const std::int64_t middle = outside + (inside - outside) / 2;
            (fits(middle) ? inside : outside) = middle;
        }
        return inside;
    };
    while (range.first <= range.last && !fits(range.first)) range.first += stride;
    while (range.last >= range.first && !fits(range.last)) range.last -= stride;
    bool isOneRun = range.first <= range.last;
    // What a part says nothing by is often one of these.
    for (const std::int64_t special : {std::int64_t{-1}, std::int64_t{0}, std::int64_t{1}})
        if (special > range.first && special < range.last) isOneRun = isOneRun && fits(special);
    for (std::int64_t at = range.first; isOneRun && at <= range.last; at += stride) isOneRun = fits(at);
    if (isOneRun) {
        range.first = edge(std::max(one.least - 1, range.first - stride), range.first);
        range.last = edge(std::min(one.most + 1, range.last + stride), range.last);
        if (range.first < range.last) return range;
    }
    return fail(ErrorCode::Domain, "reading.span",
                fmt::format("{} … {} {}", plainNumber(low), plainNumber(high), unit.symbol),
                "a span whose readings the part sends as one run of numbers");
}

/// What the numbers are divided by where that is all there is to the reading ("in tenths"); 0 otherwise.
std::int64_t divisorOf(const CodeRange& range, const ReadingOfCode& exact) {
    const std::int64_t largest = std::abs(range.first) > std::abs(range.last) ? range.first : range.last;
    const double by = std::round(static_cast<double>(largest) / exact(largest));
    if (!(by >= 1 && by <= 1e9)) return 0;
    constexpr std::int64_t kPlaces = 1000;
    const std::int64_t stride = range.size() / kPlaces + 1;
    for (std::int64_t at = range.first; at <= range.last; at += stride)
        if (!(std::abs(exact(at) * by - static_cast<double>(at)) <= 1e-9)) return 0;
    return static_cast<std::int64_t>(by);
}

/// A part whose reading follows from one number, in integers as a converter's code.
Expected<void> writeWholeDevice(const Gauge& gauge, const CodeWish& wish, const DeviceCode& device, GaugeCode& code) {
    const auto formula = device.formula;
    const auto runner = std::make_shared<FormulaRunner<double>>(*formula);
    std::vector<double> inputs(formula->recording().size());
    for (const auto& [node, value] : device.one->others) inputs[static_cast<std::size_t>(node)] = value;
    const ReadingOfCode formulas = [formula, runner, step = device.one->step,
                                    input = static_cast<std::size_t>(device.one->node),
                                    values = std::move(inputs)](std::int64_t at) mutable {
        values[input] = static_cast<double>(at) * step;
        return (*runner)(values);
    };
    const auto range = numberRangeOf(*device.one, gauge.spec(), *code.unit, formulas);
    if (!range) return tl::unexpected(range.error());
    ReadingOfCode exact = formulas;
    constexpr std::int64_t kMany = 1 << 20;
    if (range->size() > kMany) {
        const auto straight = straightOf(formulas, range->first, range->last, range->size() / kMany);
        if (!straight && range->size() > 4 * kMany)
            return fail(
                ErrorCode::Unsupported, "arithmetic", std::string(arithmeticName(wish.arithmetic)),
                "float or double: the part's number has more than 22 bits, and its formula is no straight line");
        if (straight) exact = *straight;
    }
    if (const auto fitted = fitWhole(*range, wish, exact, code, divisorOf(*range, exact)); !fitted) return fitted;
    for (const std::string& setting : device.one->settings) code.kept.push_back(setting);
    writeWholeDeviceFiles(gauge, wish, device, code);
    return {};
}

/// A part whose document computes in whole numbers: its routine, and from its last number to the result.
Expected<void> writeRoutine(const Gauge& gauge, const CodeWish& wish, const DeviceCode& device, GaugeCode& code) {
    const WholeTail& tail = *device.tail;
    const double low = code.unit->fromCanonical(gauge.spec().spanCanonical().low),
                 high = code.unit->fromCanonical(gauge.spec().spanCanonical().high);
    const bool rises = tail.isRising().value_or(true);
    const double slack = 1e-9 * (high - low);
    const std::int64_t first = tail.firstPast(rises ? low - slack : high + slack, false),
                       last = tail.firstPast(rises ? high + slack : low - slack, true) - 1;
    const std::string name(device.formula->at(tail.node()).name);
    if (first >= last)
        return fail(ErrorCode::Domain, "reading.span",
                    fmt::format("{} … {} {}", plainNumber(low), plainNumber(high), code.unit->symbol),
                    "a span of which the part's routine gives more than one number");
    const ReadingOfCode steps = [formula = device.formula, tail](std::int64_t at) { return tail(at); };
    const ReadingOfCode exact = straightOf(steps, first, last, (last - first) / 1000 + 1).value_or(steps);
    const std::int64_t divisor = tail.divisor().value_or(0);
    if (const auto fitted = fitWhole({first - 1, last + 1, first, last}, wish, exact, code, divisor); !fitted)
        return fitted;
    code.method = divisor > 0 && code.scale % divisor == 0
                      ? "The integer routine of the part's document"
                      : "The integer routine of the part's document, and a " + code.method;
    // A factor of whole numbers adds nothing; what is left is the double that it was held against.
    if (divisor > 0 && code.scale % divisor == 0) code.error.worst = code.error.mean = 0;
    code.operations += device.formula->operations();
    code.atFrame = fmt::format("{} = {}", name.empty() ? "the routine's result" : name, code.error.atCode);
    code.checkedOver = "results of the routine";
    return writeRoutineFiles(gauge, wish, device, code);
}

Expected<void> writeDevice(const Gauge& gauge, const CodeWish& wish, GaugeCode& code) {
    auto device = deviceCodeOf(*gauge.digital(), gauge.spec(), *code.unit, wish.arithmetic);
    if (!device) return tl::unexpected(device.error());
    if (device->one) return writeWholeDevice(gauge, wish, *device, code);
    if (device->tail) return writeRoutine(gauge, wish, *device, code);
    code.gives = wish.arithmetic == CodeArithmetic::Float ? "float" : "double";
    code.method = "The part's formula";
    code.operations = device->formula->operations();
    code.error = device->error;
    code.atFrame = device->atFrame;
    code.checkedOver = "frames with a value";
    writeDeviceFiles(gauge, wish, *device, code);
    return {};
}

Expected<void> writeLaw(const Gauge& gauge, const CodeWish& wish, GaugeCode& code) {
    auto law = lawCodeOf(*gauge.derived(), gauge.spec(), *code.unit, wish.arithmetic);
    if (!law) return tl::unexpected(law.error());
    code.gives = wish.arithmetic == CodeArithmetic::Float ? "float" : "double";
    code.method = std::string(gauge.derived()->law()->title());
    code.operations = law->formula->operations();
    code.error = law->error;
    code.atFrame = law->atInputs;
    code.checkedOver = "sets of readings";
    writeLawFiles(gauge, wish, *law, code);
    return {};
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
    const auto readings = std::make_shared<Readings>(*gauge.analog(), *code.unit);
    const ReadingOfCode exact = [readings](std::int64_t at) { return (*readings)(at); };
    const auto done =
        isReal(wish.arithmetic) ? writeReal(gauge, wish, exact, code) : writeWhole(gauge, wish, exact, code);
    if (!done) return tl::unexpected(done.error());
    code.findings = codeFindings(gauge, wish, code);
    return code;
}

}  // namespace fg
