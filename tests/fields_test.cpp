// Reading of fields and parameters, and inverses by bracketing: the small tools that every file and formula leans on.

#include <gtest/gtest.h>

#include <cmath>

#include "catalogue/json_fields.h"
#include "numeric/bracketed.h"
#include "units/number_format.h"

namespace fg {
namespace {

TEST(JsonFields, KeepsTheFirstErrorAndReadsOn) {
    const auto json =
        parseJson(R"({"text": 5, "number": "x", "interval": [2, 1], "list": ["a", 3]})", "f.json").value();
    JsonFields fields(json, "f.json");
    EXPECT_EQ(fields.text("text"), "");
    EXPECT_EQ(fields.numberOr("number", 7), 7);
    (void)fields.interval("interval");
    (void)fields.texts("list");
    ASSERT_TRUE(fields.error());
    EXPECT_EQ(fields.error()->message(), "f.json: text: found 5, expected a text");
}

TEST(JsonFields, NamesNestedFieldsByTheirPath) {
    const auto json = parseJson(R"({"outer": {"inner": {"deep": true}}})", "f.json").value();
    JsonFields fields(json, "f.json");
    JsonFields inner = fields.object("outer").object("inner");
    (void)inner.text("deep");
    EXPECT_EQ(inner.error()->where, "f.json: outer.inner.deep");
    JsonFields missing = fields.object("elsewhere");
    EXPECT_EQ(fields.error()->message(), "f.json: elsewhere: found nothing, expected an object {…}");
}

TEST(JsonFields, ParametersTakeNumbersTextsAndPairs) {
    const auto json = parseJson(R"({"a": 1.5, "b": "two", "c": [[0, 1], [2, 3.5]], "skip": 9})", "f.json").value();
    JsonFields fields(json, "f.json");
    const Parameters parameters = fields.parametersExcept({"skip"});
    EXPECT_EQ(parameters,
              (Parameters{{"a", 1.5}, {"b", std::string("two")}, {"c", std::vector<Point>{{0, 1}, {2, 3.5}}}}));
    EXPECT_EQ(toJson(parameters).dump(), R"({"a":1.5,"b":"two","c":[[0,1],[2,3.5]]})");
    for (const char* wrong :
         {R"({"x": null})", R"({"x": {}})", R"({"x": [[1]]})", R"({"x": [1, 2]})", R"({"x": [["a", 1]]})"}) {
        const auto refused = parseJson(wrong, "f.json").value();
        JsonFields bad(refused, "f.json");
        (void)bad.parametersExcept({});
        EXPECT_TRUE(bad.error()) << wrong;
    }
}

TEST(ParseJson, SaysLineAndColumn) {
    EXPECT_EQ(parseJson("{\n  \"a\": 1,\n  oops\n}", "f.json").error().where, "f.json, line 3, column 3");
    EXPECT_EQ(parseJson("", "f.json").error().found, "the end of the file");
    EXPECT_NE(parseJson("{\"a\": 1", "f.json").error().found.find("end of the file"), std::string::npos);
}

TEST(FileNumber, WholeOnesHaveNoPoint) {
    EXPECT_EQ(fileNumber(10000).dump(), "10000");
    EXPECT_EQ(fileNumber(-3).dump(), "-3");
    EXPECT_EQ(fileNumber(0.1).dump(), "0.1");
    EXPECT_EQ(fileNumber(1e300).get<double>(), 1e300);
}

TEST(Parameters, OverridesAndTypes) {
    const Parameters defaults{{"a", 1.0}, {"b", 2.0}};
    const Parameters own{{"b", 3.0}, {"c", std::string("x")}};
    const Parameters both = own.over(defaults);
    EXPECT_EQ(both.number("a"), 1);
    EXPECT_EQ(both.number("b"), 3);
    EXPECT_FALSE(both.number("c"));
    EXPECT_EQ(both.requireNumber("c").error().found, "a text or a list");
    EXPECT_EQ(both.requirePoints("a").error().code, ErrorCode::Syntax);
    EXPECT_EQ(both.requirePoints("z").error().code, ErrorCode::Missing);
}

TEST(Bracketed, FindsInversesToTheLastBits) {
    const auto cubic = Bracketed::make([](double x) { return x * x * x + x; }, {-3, 5}, "f").value();
    EXPECT_NEAR(cubic.inverse(2), 1, 1e-14);
    EXPECT_NEAR(cubic.inverse(10), 2, 1e-14);
    EXPECT_DOUBLE_EQ(cubic.inverse(cubic.forward(-3)), -3);
    EXPECT_DOUBLE_EQ(cubic.inverse(cubic.forward(5)), 5);
    EXPECT_TRUE(std::isnan(cubic.inverse(1000)));
    EXPECT_TRUE(std::isnan(cubic.inverse(std::nan(""))));
    const auto falling = Bracketed::make([](double x) { return std::exp(-x); }, {0, 10}, "f").value();
    EXPECT_FALSE(falling.isRising());
    EXPECT_NEAR(falling.inverse(std::exp(-4.2)), 4.2, 1e-12);
}

TEST(Bracketed, RefusesWhatHasNoInverse) {
    EXPECT_EQ(Bracketed::make([](double) { return std::nan(""); }, {0, 1}, "f").error().code, ErrorCode::Domain);
    EXPECT_EQ(Bracketed::make([](double x) { return std::sin(x); }, {0, 6}, "f").error().where, "f");
    EXPECT_EQ(Bracketed::make([](double x) { return x; }, {1, 0}, "f").error().code, ErrorCode::Range);
    EXPECT_EQ(Bracketed::make([](double x) { return x; }, {0, INFINITY}, "f").error().code, ErrorCode::Range);
}

}  // namespace
}  // namespace fg
