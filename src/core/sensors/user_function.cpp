#include "sensors/user_function.h"

#include <fmt/format.h>
#include <muParser.h>
#include <cmath>
#include "units/number_format.h"
#include "units/unit.h"

namespace fg {
namespace {

/// muParser evaluates through a pointer to its variable; parser and variable live and move together.
struct Parsed {
    mu::Parser parser;
    double x = 0;
};

std::string polynomialText(const std::vector<double>& coefficients) {
    std::string text = plainNumber(coefficients[0]);
    for (std::size_t i = 1; i < coefficients.size(); ++i)
        text += fmt::format(" + {}·x{}", term(coefficients[i], 10), i > 1 ? fmt::format("^{}", i) : "");
    return text;
}

}  // namespace

Expected<UserFunction> UserFunction::polynomial(std::vector<double> coefficients, Quantity measurand, Quantity output,
                                                Interval range) {
    if (coefficients.size() < 2)
        return fail(ErrorCode::Range, "coefficients", fmt::format("{} coefficients", coefficients.size()),
                    "at least two: c0 and c1");
    const std::string text = polynomialText(coefficients);
    auto horner = [coefficients = std::move(coefficients)](double x) {
        double sum = 0;
        for (auto c = coefficients.rbegin(); c != coefficients.rend(); ++c) sum = sum * x + *c;
        return sum;
    };
    return Bracketed::make(horner, range, "coefficients").map([&](Bracketed&& f) {
        return UserFunction(std::move(f), text, measurand, output);
    });
}

Expected<UserFunction> UserFunction::expression(const std::string& text, Quantity measurand, Quantity output,
                                                Interval range) {
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
    return Bracketed::make(evaluate, range, "expression").map([&](Bracketed&& f) {
        return UserFunction(std::move(f), text, measurand, output);
    });
}

std::vector<TraceLine> UserFunction::explainInverse(double output) const {
    return {{"x", fmt::format("solve {} = {}", m_text, plainNumber(output, 7)), inverse(output),
             std::string(canonicalUnit(m_measurand).id), "formula of your own, by bracketing"}};
}

std::vector<TraceLine> UserFunction::explainForward(double measurand) const {
    return {{"y", fmt::format("{}, x = {}", m_text, plainNumber(measurand, 7)), forward(measurand),
             std::string(canonicalUnit(m_output).id), "formula of your own"}};
}

}  // namespace fg
