#include "handover/whole_code.h"

#include "handover/code_files.h"
#include "handover/code_readings.h"
#include "handover/formula_runner.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <bit>
#include <cmath>

namespace fg {
namespace {

/// The largest result that its type holds.
double largestResult(CodeArithmetic arithmetic) {
    constexpr int kExact = 53;
    return std::ldexp(1.0, std::min(arithmetic == CodeArithmetic::Table ? 32 : widthOf(arithmetic), kExact) - 1) - 1;
}

std::int64_t fittingScale(std::int64_t scale, double largest, CodeArithmetic arithmetic) {
    while (scale > 1 && largest * static_cast<double>(scale) > largestResult(arithmetic)) scale /= 10;
    return scale;
}

/// A whole number that is the value times `divisor`, as a result that is the value times `scale`: no more than a shift
/// or a factor. Nothing where it takes a division.
std::optional<IntegerForm> directForm(const CodeRange& range, std::int64_t divisor, std::int64_t scale, int width) {
    IntegerForm form;
    form.width = width;
    form.scale = scale;
    form.range = range;
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

/// A direct form over every number of its range; a factor over more numbers than are gone through in a second is what
/// it is, with both ends looked at.
ProvenForm provenDirect(IntegerForm form, const ReadingOfCode& exact) {
    constexpr std::int64_t kMost = 1 << 24;
    const CodeRange whole = form.range;
    if (form.fraction != 0 || whole.size() <= kMost) {
        const CodeError error = proveForm(form, exact);
        return {std::move(form), error};
    }
    CodeError error;
    double peak = 0;
    IntegerForm ends = form;
    for (const CodeRange& end : {CodeRange{whole.min, whole.max, whole.first, whole.first + kMost / 2},
                                 CodeRange{whole.min, whole.max, whole.last - kMost / 2, whole.last}}) {
        ends.range = end;
        const CodeError here = proveForm(ends, exact);
        if (here.worst >= error.worst) {
            error.worst = here.worst;
            error.atCode = here.atCode;
        }
        error.mean += here.mean / 2;
        peak = std::max(peak, ends.peak);
        form.least = std::min(form.least, ends.least);
        form.most = std::max(form.most, ends.most);
    }
    error.checked = whole.size();
    form.peak = peak;
    return {std::move(form), error};
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
    std::int64_t scale = codeScaleFor(code.wanted);
    // What is there already is not rounded.
    if (divisor > scale && isPowerOfTen(divisor)) scale = divisor;
    scale = fittingScale(scale, largest, wish.arithmetic);
    if (largest > largestResult(wish.arithmetic))
        return fail(ErrorCode::Range, "--unit",
                    fmt::format("a result up to {} {}", plainNumber(largest, 6), code.unit->id),
                    fmt::format("a unit in which {} holds it, or a wider arithmetic", arithmeticName(wish.arithmetic)));
    const int width = widthOf(wish.arithmetic);
    auto direct = divisor > 0 && !isTable ? directForm(range, divisor, scale, width) : std::nullopt;
    double peak = 0;
    for (const std::int64_t end : {range.first, range.last})
        if (direct) (void)direct->at(end, peak);
    std::optional<ProvenForm> proven;
    if (direct && peak <= std::ldexp(1.0, width - 1) - 1) {
        proven = provenDirect(std::move(*direct), exact);
    } else {
        proven = isTable ? searchTable(range, scale, code.wanted, exact)
                         : searchPolynomial(range, scale, width, code.wanted, exact);
    }
    if (!proven)
        return fail(ErrorCode::Unsupported, "arithmetic",
                    isTable ? fmt::format("a table of more than {} entries", kMostEntries)
                            : fmt::format("no line that {} bits can hold over this span", widthOf(wish.arithmetic)),
                    isTable ? "a larger wanted error, or int32 or float" : "int32, a narrower span, or a table");
    code.scale = scale;
    code.range = range;
    code.error = proven->error;
    IntegerForm& form = proven->form;
    code.method = isTable
                      ? fmt::format("{} entries, linear", form.numbers.size())
                      : (form.degree() == 1 ? "straight line" : fmt::format("polynomial of degree {}", form.degree()));
    code.operations = form.operations();
    code.gives = !isTable                                     ? fmt::format("int{}_t", form.width)
                 : form.least >= -32768 && form.most <= 32767 ? "int16_t"
                                                              : "int32_t";
    code.bytes = form.bytes();
    const auto shared = std::make_shared<IntegerForm>(form);
    code.errorAt = [shared, exact](std::int64_t at) {
        double top = 0;
        return static_cast<double>(shared->at(at, top)) / static_cast<double>(shared->scale) - exact(at);
    };
    code.form = std::move(form);
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
    const std::int64_t stride = std::max<std::int64_t>(1, (one.most - one.least) >> 17);
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
        if (!(std::abs(exact(at) * by - static_cast<double>(at)) <= 1e-9 + 1e-15 * std::abs(static_cast<double>(at))))
            return 0;
    return static_cast<std::int64_t>(by);
}

}  // namespace

std::int64_t wholeScaleFor(double wanted, double largest, CodeArithmetic arithmetic) {
    return fittingScale(codeScaleFor(wanted), largest, arithmetic);
}

Expected<void> writeWhole(const Gauge& gauge, const CodeWish& wish, const ReadingOfCode& exact, GaugeCode& code) {
    const auto range = codeRangeOf(*gauge.analog(), gauge.spec().spanCanonical());
    if (!range) return tl::unexpected(range.error());
    if (const auto fitted = fitWhole(*range, wish, exact, code); !fitted) return fitted;
    writeWholeFiles(gauge, wish, code);
    return {};
}

Expected<void> writeWholeDevice(const Gauge& gauge, const CodeWish& wish, const DeviceCode& device, GaugeCode& code) {
    const auto formula = device.formula;
    std::vector<double> inputs(formula->recording().size());
    for (const auto& [node, value] : device.one->others) inputs[static_cast<std::size_t>(node)] = value;
    const ReadingOfCode formulas = readingsAhead(
        [formula, over = FormulaOver<double>(*formula, device.one->node, std::move(inputs)),
         step = device.one->step](std::span<const double> codes, std::span<double> readings) mutable {
            std::vector<double> numbers(codes.begin(), codes.end());
            for (double& number : numbers) number *= step;
            over(numbers, readings);
        },
        device.one->most);
    const auto range = numberRangeOf(*device.one, gauge.spec(), *code.unit, formulas);
    if (!range) return tl::unexpected(range.error());
    ReadingOfCode exact = formulas;
    constexpr std::int64_t kMany = 1 << 20, kLooks = 1 << 17;
    if (range->size() > kMany) {
        const auto straight = straightOf(formulas, range->first, range->last, range->size() / kLooks);
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

Expected<void> fitRoutine(const Gauge& gauge, const CodeWish& wish, const WholeRoutine& routine, const CodeError& off,
                          const std::string& offAt, GaugeCode& code) {
    const WholeTail& tail = *routine.tail;
    const double low = code.unit->fromCanonical(gauge.spec().spanCanonical().low),
                 high = code.unit->fromCanonical(gauge.spec().spanCanonical().high);
    const bool rises = tail.isRising().value_or(true);
    const double slack = 1e-9 * (high - low);
    const std::int64_t first = tail.firstPast(rises ? low - slack : high + slack, false),
                       last = tail.firstPast(rises ? high + slack : low - slack, true) - 1;
    const std::string name(routine.formula->at(tail.node()).name);
    if (first >= last)
        return fail(ErrorCode::Domain, "reading.span",
                    fmt::format("{} … {} {}", plainNumber(low), plainNumber(high), code.unit->symbol),
                    "a span of which the part's routine gives more than one number");
    const ReadingOfCode steps = [formula = routine.formula, tail](std::int64_t at) { return tail(at); };
    const ReadingOfCode exact = straightOf(steps, first, last, (last - first) / 1000 + 1).value_or(steps);
    const std::int64_t divisor = tail.divisor().value_or(0);
    if (const auto fitted = fitWhole({first - 1, last + 1, first, last}, wish, exact, code, divisor); !fitted)
        return fitted;
    code.method = divisor > 0 && code.scale % divisor == 0 ? routine.title : routine.title + ", and a " + code.method;
    // A factor of whole numbers adds nothing; what is left is the double that it was held against.
    if (divisor > 0 && code.scale % divisor == 0) code.error.worst = code.error.mean = 0;
    code.isFixedPoint = routine.isFixedPoint;
    code.operations += routine.formula->operations();
    code.atFrame = fmt::format("{} = {}", name.empty() ? "the routine's result" : name, code.error.atCode);
    code.checkedOver = "results of the routine";
    code.errorAt = {};  // what the codes of a converter are drawn over: these are numbers of the routine
    // What the routine itself is off is the larger part.
    if (off.checked > 0) {
        code.error.worst += off.worst;
        code.error.mean += off.mean;
        code.error.checked = off.checked;
        code.atFrame = offAt;
        code.checkedOver = "frames with a value";
    }
    return {};
}

}  // namespace fg
