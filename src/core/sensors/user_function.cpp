#include "sensors/user_function.h"

#include "numeric/bracketed.h"
#include "sensors/family_rows.h"
#include "sensors/typed_expression.h"

#include <muParser.h>
#include <array>

namespace fg {
namespace {

/// muParser evaluates through a pointer to its variable; parser and variable live and move together.
struct Parsed {
    mu::Parser parser;
    double x = 0;
};

/// What somebody typed, run over the number types.
struct Typed {
    std::string text;  ///< "f(x) = 0.5 + 0.01*x, formula of your own"
    std::shared_ptr<const Bracketed> function;
    std::optional<TypedExpression> expression;  ///< nothing: known by its values alone
};

double run(const Typed& typed, double x) { return typed.function->forward(x); }
Dual run(const Typed& typed, const Dual& x) {
    if (typed.expression)
        if (const Dual exact = typed.expression->at(x); std::isfinite(exact.slope)) return exact;
    const double h = 1e-5 * typed.function->range().width();
    return {run(typed, x.value), x.slope * (run(typed, x.value + h) - run(typed, x.value - h)) / (2 * h)};
}
Bounds run(const Typed& typed, const Bounds& x) { return Bounds::outwards(run(typed, x.low), run(typed, x.high)); }
Recorded run(const Typed& typed, const Recorded& x) {
    if (!x.in()) return run(typed, x.value());
    if (typed.expression) return typed.expression->at(x);
    Recording& in = *x.in();
    return {in,
            in.add({.op = Op::Call, .operands = {x.indexIn(in), -1, -1}, .value = run(typed, x.value()), .name = "f"})};
}

struct UserFixed {
    std::shared_ptr<const Typed> typed;
    Symbol argument;
};

template <class N>
struct UserFormula {
    UserFixed fixed{};

    template <class Self, class Visit>
    static void each(Self&, Visit) {}

    [[nodiscard]] N forward(const N& x) const { return step("U", "V", fixed.typed->text, run(*fixed.typed, x)); }
    [[nodiscard]] N inverse(const N& y) const {
        const auto [id, name, unit] = fixed.argument;
        const Typed& typed = *fixed.typed;
        return step(name, unit, typed.text,
                    solve(
                        name, unit, y, [&](double value) { return typed.function->inverse(value); },
                        [&](const N& x) { return run(typed, x); }));
    }
    [[nodiscard]] Interval range() const { return fixed.typed->function->range(); }
    [[nodiscard]] bool isRising() const { return fixed.typed->function->isRising(); }
    [[nodiscard]] std::string title() const { return "Formula of your own"; }
    [[nodiscard]] Symbol argument() const { return fixed.argument; }
    [[nodiscard]] Symbol result() const { return symbolOf(Quantity::Voltage); }
};

/// The text as a formula of ours, where it says the same as the parser at every place that is tried; so a difference
/// in spelling can do no harm.
std::optional<TypedExpression> expressionOf(const std::string& text, Interval range,
                                            const std::function<double(double)>& parser) {
    auto read = TypedExpression::read(text);
    constexpr int kPlaces = 1000;
    double largest = 0;
    for (int i = 0; read && i <= kPlaces; ++i) {
        const double x = range.low + i * range.width() / kPlaces, theirs = parser(x), ours = read->at(x);
        if (std::isnan(theirs) && std::isnan(ours)) continue;
        largest = std::max(largest, std::abs(theirs));
        if (!(std::abs(ours - theirs) <= 1e-12 * largest)) return std::nullopt;
    }
    return read;
}

MadeSensor makeExpression(const Parameters& parameters, const SensorContext& context) {
    const auto text = parameters.text("expression");
    if (!text)
        return fail(ErrorCode::Missing, "expression", "nothing",
                    "the output voltage as an expression in x, like 0.5 + 0.01*x");
    return userExpression(*text, context.measurand, ownRange(parameters, context));
}

std::vector<ParameterSpec> expressionParameters(Quantity measurand) {
    auto specs = ownRangeParameters(measurand);
    specs.push_back(
        {.id = "expression", .label = "Output in V, of x", .isText = true, .example = std::string("0.5 + 0.01*x")});
    return specs;
}

const std::array kRows{
    SensorFamily{.id = "expression-voltage",
                 .title = "Expression of your own, voltage",
                 .output = Quantity::Voltage,
                 .parameters = expressionParameters,
                 .make = makeExpression,
                 .confusedWith = {"polynomial-voltage"}},
};

}  // namespace

MadeSensor userExpression(const std::string& text, Quantity measurand, Interval range) {
    auto parsed = std::make_shared<Parsed>();
    try {
        parsed->parser.DefineVar("x", &parsed->x);
        parsed->parser.SetExpr(text);
        (void)parsed->parser.Eval();
        // The parser would take the last of several values: “0,5+0,01*x” would silently become 01*x.
        if (const int values = parsed->parser.GetNumResults(); values > 1)
            return fail(ErrorCode::Syntax, "expression", fmt::format("“{}”: {} values between commas", text, values),
                        "one value in x with decimal points, like 0.5 + 0.01*x");
    } catch (const mu::Parser::exception_type& error) {
        return fail(ErrorCode::Syntax, "expression", fmt::format("“{}”: {}", text, error.GetMsg()),
                    "an expression in x like 0.5 + 0.01*x");
    }
    const auto evaluate = [parsed](double x) {
        parsed->x = x;
        try {
            return parsed->parser.Eval();
        } catch (const mu::Parser::exception_type&) {
            return std::nan("");
        }
    };
    const auto expression = expressionOf(text, range, evaluate);
    // One and the same routine gives the value, its printed steps and the code that is handed over.
    auto function = expression
                        ? Bracketed::make([expression](double x) { return expression->at(x); }, range, "expression")
                        : Bracketed::make(evaluate, range, "expression");
    if (!function) return tl::unexpected(function.error());
    UserFormula<double> formula;
    formula.fixed.typed =
        std::make_shared<const Typed>(Typed{fmt::format("f(x) = {}, formula of your own", text),
                                            std::make_shared<const Bracketed>(std::move(*function)), expression});
    formula.fixed.argument = symbolOf(measurand);
    return makeTransfer<UserFormula>(formula);
}

std::span<const SensorFamily> ownFamilies() { return kRows; }

}  // namespace fg
