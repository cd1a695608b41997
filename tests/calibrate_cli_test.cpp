// `fgauge calibrate` and `fgauge stats`: the thermometer of the guide, a gauge calibrated and read again, bad input.

#include "process.h"
#include "storage/bench_file.h"
#include "support.h"

#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>

namespace fg {
namespace {

using nlohmann::json;
using test::Finished;

class Calibrate : public testing::Test {
  protected:
    test::TemporaryFolder temporary;
    std::filesystem::path folder = temporary.path();

    std::string file(const std::string& name, const std::string& text) const {
        std::ofstream(folder / name) << text;
        return (folder / name).string();
    }
    static Finished fgauge(const std::vector<std::string>& arguments) { return test::run(FAIRGAUGE_FGAUGE, arguments); }
    static std::string pot() { return (test::dataFolder() / "demo/glue-pot.json").string(); }
};

// JCGM 100:2008, H.3.
TEST_F(Calibrate, TheThermometerOfTheGuide) {
    std::string text = "reading [degC],reference [degC]\n";
    for (const auto& [t, b] : std::initializer_list<std::array<double, 2>>{{21.521, -0.171},
                                                                           {22.012, -0.169},
                                                                           {22.512, -0.166},
                                                                           {23.003, -0.159},
                                                                           {23.507, -0.164},
                                                                           {23.999, -0.165},
                                                                           {24.513, -0.156},
                                                                           {25.002, -0.157},
                                                                           {25.503, -0.159},
                                                                           {26.010, -0.161},
                                                                           {26.511, -0.160}})
        text += fmt::format("{},{}\n", t, t + b);
    const Finished run = fgauge({"calibrate", "--points", file("h3.csv", text), "--fit", "line", "--of", "correction",
                                 "--centre", "20", "--at", "30", "--json"});
    ASSERT_EQ(run.exitCode, 0) << run.err;
    const json fit = json::parse(run.out);
    EXPECT_EQ(fit["fit"], "line");
    EXPECT_EQ(fit["coefficients"][0]["name"], "intercept");
    EXPECT_NEAR(fit["coefficients"][0]["value"].get<double>(), -0.1712, 0.00005);
    EXPECT_NEAR(fit["coefficients"][1]["standard_uncertainty"].get<double>(), 0.00067, 0.000005);
    EXPECT_NEAR(fit["correlation"][0][1].get<double>(), -0.930, 0.0005);
    EXPECT_NEAR(fit["residual_standard_deviation"].get<double>(), 0.0035, 0.00005);
    EXPECT_NEAR(fit["prediction"]["value"].get<double>(), -0.1494, 0.00005);
    EXPECT_NEAR(fit["prediction"]["standard_uncertainty"].get<double>(), 0.0041, 0.00005);
    EXPECT_EQ(fit["points"].size(), 11u);
    EXPECT_TRUE(std::any_of(fit["findings"].begin(), fit["findings"].end(),
                            [](const json& one) { return one["id"] == "extrapolation"; }));
}

// The pot against a thermometer; what is written reads corrected, and a raw point is the same as its reading.
TEST_F(Calibrate, WritesTheCorrectionIntoTheGauge) {
    const std::string points = file("p.csv",
                                    "reference [degC];reading [degC];u_reference;set_aside\n30,4;30;0,02;\n"
                                    "79,2;80;0,02;\n57;55;0,02;lid open\n"),
                      out = (folder / "pot.json").string();
    const Finished run = fgauge({"calibrate", "--points", points, "--gauge", pot(), "--fit", "line", "--centre", "55",
                                 "--u-shared", "0.05", "--with", "bench thermometer", "--apply", "--out", out});
    ASSERT_EQ(run.exitCode, 0) << run.err;
    const json at = json::parse(fgauge({"convert", "--gauge", out, "--raw", "2155", "--json"}).out);
    const double plain = at["stages"][4]["value"].get<double>();
    // The line through 0.4 at 30 and −0.8 at 80.
    EXPECT_NEAR(at["value"].get<double>(), plain + 0.4 - 0.024 * (plain - 30), 1e-6);
    const json written = json::parse(test::readText(out));
    EXPECT_EQ(written["correction"]["points"].size(), 3u);
    EXPECT_EQ(written["correction"]["points"][2]["set_aside"], "lid open");
    EXPECT_EQ(written["correction"]["with"], "bench thermometer");
    const Finished budget = fgauge({"budget", "--gauge", out, "--value", "55", "--json"});
    ASSERT_EQ(budget.exitCode, 0) << budget.err;
    const Finished record = fgauge({"record", "--gauge", out});
    EXPECT_EQ(record.exitCode, 0) << record.err;
    EXPECT_NE(record.out.find("bench thermometer"), std::string::npos);
    EXPECT_EQ(fgauge({"record", "--gauge", out, "--out", (folder / "r.html").string()}).exitCode, 0);
    EXPECT_EQ(test::readText(folder / "r.html").find("<!DOCTYPE html>"), 0u);
    EXPECT_EQ(fgauge({"record", "--gauge", pot()}).exitCode, 2);  // nothing was calibrated
    const json raw = json::parse(fgauge({"calibrate", "--points", file("raw.csv", "reference,raw\n60,2155\n61,2137\n"),
                                         "--gauge", out, "--fit", "offset", "--json"})
                                     .out);
    EXPECT_NEAR(raw["points"][0]["reading"].get<double>(), plain, 1e-9);  // without the correction in force
}

TEST_F(Calibrate, RefitsAThermistorByItsResistances) {
    const std::string points = file("r.csv",
                                    "resistance_ohm,reference [degC],u_reference\n32650,0,0.1\n12490,20,0.1\n"
                                    "5327,40,0.1\n2488,60,0.1\n1258,80,0.1\n");
    const json fit = json::parse(fgauge({"calibrate", "--points", points, "--fit", "beta", "--json"}).out);
    EXPECT_EQ(fit["coefficients"][0]["name"], "r25_ohm");
    EXPECT_NEAR(fit["coefficients"][0]["value"].get<double>(), 10000, 100);
    EXPECT_EQ(fit["coefficients"][1]["name"], "beta_K");
    EXPECT_NEAR(fit["coefficients"][1]["value"].get<double>(), 3930, 40);
    const std::string out = (folder / "refit.json").string();
    ASSERT_EQ(
        fgauge({"calibrate", "--points", points, "--gauge", pot(), "--fit", "beta", "--apply", "--out", out}).exitCode,
        0);
    const json written = json::parse(test::readText(out));
    EXPECT_NEAR(written["sensor"]["parameters"]["beta_K"].get<double>(), fit["coefficients"][1]["value"].get<double>(),
                1e-6);
    EXPECT_EQ(written["correction"]["kind"], "parameters");
    EXPECT_EQ(fgauge({"check", "--gauge", out}).exitCode, 0);
}

TEST_F(Calibrate, BadPointsAreNamed) {
    const auto refused = [&](const std::string& text, std::vector<std::string> more = {}) {
        std::vector<std::string> arguments{"calibrate", "--points", file("bad.csv", text)};
        arguments.insert(arguments.end(), more.begin(), more.end());
        const Finished run = fgauge(arguments);
        EXPECT_EQ(run.exitCode, 2) << text << run.out;
        return run.err;
    };
    EXPECT_NE(refused("reference,reading\n").find("points below it"), std::string::npos);
    EXPECT_NE(refused("reference,reading\n20,21\n", {"--fit", "line"}).find("at least 2"), std::string::npos);
    EXPECT_NE(refused("reference,reading\n20,21\n20,21\n", {"--fit", "line"}).find("apart"), std::string::npos);
    EXPECT_NE(refused("reference,reading\n20,warm\n").find("line 2: reading"), std::string::npos);
    EXPECT_NE(refused("reference,raw\n20,500\n").find("--gauge"), std::string::npos);
    EXPECT_NE(refused("reference [hPa],reading [hPa]\n990,1000\n", {"--gauge", pot()}).find("temperature"),
              std::string::npos);
    EXPECT_NE(refused("reference,reading\n20,21\n", {"--fit", "spline"}).find("cubic"), std::string::npos);
    // A curve that turns round is refused, and the gauge stays as it was.
    const std::string out = (folder / "none.json").string();
    const Finished turning =
        fgauge({"calibrate", "--points", file("t.csv", "reference,reading\n0,0\n12,10\n14,20\n8,30\n"), "--gauge",
                pot(), "--fit", "quadratic", "--apply", "--out", out});
    EXPECT_EQ(turning.exitCode, 1);
    EXPECT_FALSE(std::filesystem::exists(out));
}

TEST_F(Calibrate, StatisticsOfAColumn) {
    std::string text = "time_s,reading [degC],note\n";
    for (int i = 0; i < 5; ++i) text += fmt::format("{},{},x\n", 2 * i, 20 + 0.1 * i);
    text += "10,,missing\n";
    const json stats = json::parse(fgauge({"stats", "--in", file("s.csv", text), "--column", "reading", "--json"}).out);
    EXPECT_EQ(stats["count"], 5);
    EXPECT_EQ(stats["skipped"], 1);
    EXPECT_NEAR(stats["mean"].get<double>(), 20.2, 1e-12);
    EXPECT_NEAR(stats["standard_deviation"].get<double>(), 0.158113883, 1e-9);  // √(0.1/4)
    EXPECT_NEAR(stats["drift"].get<double>(), 0.05, 1e-12);
    EXPECT_EQ(stats["drift_per"], "second");
    const Finished none = fgauge({"stats", "--in", (folder / "s.csv").string(), "--column", "warmth"});
    EXPECT_EQ(none.exitCode, 2);
    EXPECT_NE(none.err.find("time_s"), std::string::npos);
}

TEST_F(Calibrate, PiecewiseAndWhatTheElectronicsAre) {
    const std::string points = file("p.csv", "reference,reading,u_reference\n20.5,20,0.1\n41,40,0.1\n61,60,0.2\n");
    const json fit =
        json::parse(fgauge({"calibrate", "--points", points, "--fit", "piecewise", "--at", "30", "--json"}).out);
    EXPECT_EQ(fit["coefficients"][1]["name"], "at 40");
    EXPECT_NEAR(fit["coefficients"][1]["value"].get<double>(), 1, 1e-12);
    EXPECT_NEAR(fit["prediction"]["value"].get<double>(), 30.75, 1e-12);  // half way from 0.5 to 1
    const std::string out = (folder / "table.json").string();
    EXPECT_EQ(fgauge({"calibrate", "--points", points, "--gauge", pot(), "--fit", "piecewise", "--apply", "--out", out})
                  .exitCode,
              0);
    EXPECT_EQ(json::parse(test::readText(out))["correction"]["kind"], "table");
    const Finished cancels = fgauge({"calibrate", "--points", points, "--gauge", pot(), "--fit", "reference-voltage"});
    EXPECT_EQ(cancels.exitCode, 2);
    EXPECT_NE(cancels.err.find("cancels"), std::string::npos);
    const json codes =
        json::parse(fgauge({"calibrate", "--points", points, "--gauge", pot(), "--fit", "codes", "--json"}).out);
    EXPECT_EQ(codes["coefficients"][1]["name"], "gain");
    EXPECT_LT(codes["worst_after"].get<double>(), codes["worst_before"].get<double>());
    EXPECT_EQ(fgauge({"calibrate", "--points", points, "--fit", "codes"}).exitCode, 2);
}

TEST_F(Calibrate, SideBySideTracesAndTheJournal) {
    const json sides = json::parse(fgauge({"compare", "--quantity", "humidity", "--reading", "Wood store=44.6 ± 2",
                                           "--reading", "round=49.5 +/- 3", "--json"})
                                       .out);
    EXPECT_NEAR(sides["pairs"][0]["normalised_error"].get<double>(), -4.9 / std::sqrt(13.0), 1e-9);
    EXPECT_EQ(sides["pairs"][0]["agrees"], false);
    EXPECT_EQ(fgauge({"compare", "--reading", "44.6"}).exitCode, 2);
    EXPECT_EQ(fgauge({"compare"}).exitCode, 2);
    std::string text = "t,a [codes],b\n";
    for (int i = 0; i < 20; ++i) text += fmt::format("{},{},{}\n", i, 100 + i, 7 + 4 * (100 + i));
    text += "20,,x\n";
    const std::string traces = file("traces.csv", text);
    const json pair =
        json::parse(fgauge({"compare", "--in", traces, "--columns", "a", "b", "--gauge", pot(), pot(), "--json"}).out);
    EXPECT_NEAR(pair["factor"].get<double>(), 4, 1e-9);
    EXPECT_NEAR(pair["offset"].get<double>(), 7, 1e-6);
    EXPECT_EQ(pair["pairs"], 20);
    EXPECT_NEAR(pair["factor_by_formulas"].get<double>(), 1, 1e-9);
    EXPECT_EQ(fgauge({"compare", "--in", traces, "--columns", "a"}).exitCode, 2);
    const std::string bench = (folder / "b.fairgauge").string();
    Bench content;
    content.add(test::gluePot());
    ASSERT_TRUE(BenchFile::create(bench, content));
    EXPECT_EQ(fgauge({"journal", bench, "--gauge", "Glue pot", "--note", "new lid", "--time", "2026-05-01"}).exitCode,
              0);
    EXPECT_EQ(fgauge({"journal", bench, "--note", "x", "--time", "in May"}).exitCode, 2);
    const json found = json::parse(fgauge({"journal", bench, "--search", "LID", "--json"}).out);
    EXPECT_EQ(found["entries"].size(), 1u);
    EXPECT_EQ(found["entries"][0]["gauge"], "Glue pot");
    EXPECT_EQ(fgauge({"journal", bench, "--gauge", "Glue pot", "--history"}).exitCode, 0);
    EXPECT_EQ(fgauge({"journal", bench, "--gauge", "Tea pot"}).exitCode, 2);
}

TEST_F(Calibrate, WhatFollowsFromReadings) {
    const json dew = json::parse(
        fgauge({"derive", "dew-point", "--temperature", "25 °C ± 0.3", "--humidity", "50 %RH ± 2", "--json"}).out);
    EXPECT_NEAR(dew["value"].get<double>(), 13.9, 0.06);  // psychrometric tables
    // ∂td/∂t ≈ 0.87, ∂td/∂RH ≈ 0.31 (differences of the tables): u of 0.15 K and 1 %RH.
    EXPECT_NEAR(dew["u"].get<double>(), std::hypot(0.87 * 0.15, 0.31), 0.01);
    EXPECT_EQ(dew["trace"].size(), 4u);
    EXPECT_NEAR(json::parse(
                    fgauge({"derive", "isa-pressure", "--altitude", "3281 ft", "--unit", "hPa", "--json"}).out)["value"]
                    .get<double>(),
                898.7, 0.1);
    EXPECT_EQ(fgauge({"derive", "dew-point", "--temperature", "25 °C"}).exitCode, 2);
    EXPECT_EQ(fgauge({"derive", "dew-point", "--temperature", "25 °C", "--humidity", "130"}).exitCode, 2);
    EXPECT_NE(fgauge({"derive", "depth", "--pressure", "1.2 bar", "--surface", "1013 hPa"}).out.find("998.2 kg/m³"),
              std::string::npos);
}

}  // namespace
}  // namespace fg
