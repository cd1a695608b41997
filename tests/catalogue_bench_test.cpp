#include "bench/document.h"
#include "bench/linked_inputs.h"
#include "path/default_gauge.h"
#include "sensors/family.h"
#include "support.h"

#include <algorithm>
#include <cmath>

namespace fg {
namespace {

TEST(Catalogue, EveryShippedEntryIsSound) {
    for (const Error& problem : test::catalogue().problems()) ADD_FAILURE() << problem.message();
    EXPECT_GE(test::catalogue().parts().size(), 7u);
    EXPECT_GE(test::catalogue().converters().size(), 3u);
    for (const Part& part : test::catalogue().parts()) {
        EXPECT_FALSE(part.source.empty()) << part.id;
        EXPECT_TRUE(std::filesystem::path(part.file).stem() == part.id) << part.file;
        for (const AccuracyBand& band : part.accuracy) {
            EXPECT_GE(band.span.low, part.range.low) << part.id;
            EXPECT_LE(band.span.high, part.range.high) << part.id;
        }
    }
}

TEST(Catalogue, FindsByDesignationAliasAndFamily) {
    EXPECT_EQ(test::catalogue().findPart("TMP36")->id, "tmp36");
    EXPECT_EQ(test::catalogue().findPart("thermistor")->id, "ntc");
    EXPECT_EQ(test::catalogue().findPart("TMP-36")->id, "tmp36");
    EXPECT_EQ(test::catalogue().findPart("lm 35")->id, "lm35");
    EXPECT_EQ(test::catalogue().findDevicePart("ms5837-02")->id, "ms5837-02");
    EXPECT_EQ(test::catalogue().findPart("-"), nullptr);
    EXPECT_EQ(test::catalogue().findPart("tmp99"), nullptr);
    EXPECT_EQ(test::catalogue().partOrFamily("steinhart-hart", Quantity::Temperature)->family, "steinhart-hart");
    const auto unknown = test::catalogue().partOrFamily("tmp99", Quantity::Temperature);
    EXPECT_NE(unknown.error().message().find("tmp36"), std::string::npos);  // near names help
}

TEST(Catalogue, RefusesEntriesThatCannotBeUsed) {
    const std::string good =
        R"({"id":"x1","title":"t","quantity":"temperature","family":"linear-voltage",
            "parameters":{"slope_V_per_degC":0.01},"range":[0,100],"source":"s"})";
    Catalogue catalogue;
    ASSERT_TRUE(catalogue.addPart(good, "x1.json"));
    const auto refusal = [&](const std::string& what, const std::string& with) {
        std::string text = good;
        text.replace(text.find("x1"), 2, "x2");
        text.replace(text.find(what), what.size(), with);
        const auto added = catalogue.addPart(text, "x2.json");
        return added ? std::string("accepted") : added.error().message();
    };
    EXPECT_EQ(refusal("x2", "x1"),
              "x2.json: id: found “x1” a second time, expected an id that no other part has (also in x1.json)");
    EXPECT_NE(refusal("linear-voltage", "cubic").find("x2.json: family: found “cubic”"), std::string::npos);
    EXPECT_NE(refusal("temperature", "colour").find("quantity: found “colour”"), std::string::npos);
    EXPECT_NE(refusal("[0,100]", "[100,0]").find("low first"), std::string::npos);
    EXPECT_NE(refusal("0.01", "0").find("slope_V_per_degC: found 0"), std::string::npos);
    EXPECT_NE(refusal("\"source\":\"s\"", "\"sauce\":\"s\"").find("source: found nothing"), std::string::npos);
    EXPECT_NE(refusal("{\"id\"", "{,\"id\"").find("line 1, column 2"), std::string::npos);
    EXPECT_EQ(catalogue.parts().size(), 1u);
}

TEST(GaugeJson, ReadsWhatTheReadmeShowsAndWritesItBack) {
    const std::string text = R"({ "fairgauge": 1, "name": "Glue pot", "quantity": "temperature",
      "sensor":    { "part": "ntc", "parameters": { "r25_ohm": 10000, "beta_K": 3950 } },
      "wiring":    { "kind": "divider", "sensor_side": "low", "fixed_ohm": 2200, "fixed_tolerance": 0.01,
          "source": "reference" },
      "converter": { "kind": "adc", "bits": 12, "reference_V": 3.3, "code_law": "2^n" },
      "correction":{ "kind": "none" },
      "reading":   { "unit": "degC", "span": [20, 90] } })";
    const auto spec = readGauge(text, "pot.json");
    ASSERT_TRUE(spec) << spec.error().message();
    EXPECT_EQ(spec->sensor.parameters.number("beta_K"), 3950);
    EXPECT_EQ(spec->reading.span.high, 90);
    EXPECT_TRUE(AnalogPath::build(*spec, test::catalogue()));
    EXPECT_EQ(readGauge(writeGauge(*spec), "again").value(), *spec);
    GaugeSpec all = *spec;
    all.note = "a “quoted” note\n";
    all.correction = {"line", 0.1, -0.01, 0.2};
    all.reading.wanted = 0.5;
    all.reading.decimals = 1;
    all.inputs = {{"sensor.cold_junction_degC", {7, "Air"}}};
    all.channel = "pot";
    all.cautions = {"heat", "mains"};
    all.sensor.parameters.set("points_degC_ohm", std::vector<Point>{{0, 1}, {1.5, 2}});
    EXPECT_EQ(readGauge(writeGauge(all), "again").value(), all);
}

TEST(GaugeJson, ErrorsNameFileFieldFoundAndExpected) {
    const std::string good = writeGauge(test::gluePot());
    const auto message = [&](const std::string& what, const std::string& with) {
        std::string text = good;
        const auto at = text.find(what);
        if (at == std::string::npos) return "test is wrong: no " + what;
        text.replace(at, what.size(), with);
        const auto spec = readGauge(text, "pot.json");
        return spec ? std::string("accepted") : spec.error().message();
    };
    EXPECT_EQ(message("\"fairgauge\": 1", "\"fairgauge\": 2"),
              "pot.json: fairgauge: found 2, expected at most 1; this file was written by a later version");
    EXPECT_NE(message("\"fairgauge\": 1,", "").find("fairgauge: found nothing"), std::string::npos);
    EXPECT_NE(message("\"quantity\": \"temperature\"", "\"quantity\": 7").find("quantity: found 7, expected a text"),
              std::string::npos);
    EXPECT_NE(message("\"part\": \"ntc\"", "\"prat\": \"ntc\"").find("sensor.prat"), std::string::npos);
    EXPECT_NE(message("\"name\": \"Glue pot\",", "").find("name: found nothing"), std::string::npos);
    EXPECT_NE(message("\"degC\"", "\"degX\"").find("reading.unit: found “degX”, expected a unit of temperature: degC"),
              std::string::npos);
    EXPECT_NE(message("\"unit\"", "\"unti\"").find("reading.unti: found a field that is not known here"),
              std::string::npos);
    EXPECT_NE(message("\"heat\"", "7").find("cautions: found 7"), std::string::npos);
    EXPECT_NE(message("10000", "true").find("sensor.parameters.r25_ohm: found true"), std::string::npos);
    EXPECT_EQ(readGauge("[]", "pot.json").error().message(), "pot.json: found a list, expected a JSON object {…}");
    EXPECT_NE(readGauge("{\n\"a\": oops}", "pot.json").error().where.find("line 2"), std::string::npos);
    EXPECT_EQ(readGaugeFile("/no/such/file.json").error().code, ErrorCode::Io);
}

/// A sink that can be told to fail.
class TestSink final : public BenchSink {
  public:
    Expected<void> write(const Bench&, const Bench& after) override {
        if (broken) return fail(ErrorCode::Io, "disk", "no room", "room");
        stored = after;
        return {};
    }
    bool broken = false;
    Bench stored;
};

TEST(Document, EveryChangeIsStoredAndCanBeUndone) {
    auto sink = std::make_shared<TestSink>();
    Document document({}, sink);
    std::int64_t id = 0;
    ASSERT_TRUE(document.change("New gauge", [&](Bench& bench) { id = bench.add(test::gluePot()); }));
    ASSERT_TRUE(document.change("Set R1", [&](Bench& bench) {
        bench.find(id)->spec.wiring.parameters.set("fixed_ohm", 3300.0);
    }));
    EXPECT_EQ(document.undoLabel(), "Set R1");
    ASSERT_TRUE(document.undo());
    EXPECT_EQ(document.bench().find(id)->spec, test::gluePot());
    EXPECT_EQ(sink->stored, document.bench());
    EXPECT_EQ(document.redoLabel(), "Set R1");
    ASSERT_TRUE(document.redo());
    EXPECT_EQ(document.bench().find(id)->spec.wiring.parameters.number("fixed_ohm"), 3300);
    EXPECT_EQ(sink->stored, document.bench());
    // A new change after an undo drops what could be redone; a change of nothing leaves no step.
    ASSERT_TRUE(document.undo());
    ASSERT_TRUE(document.change("Rename", [&](Bench& bench) { bench.find(id)->spec.name = "Pot"; }));
    EXPECT_FALSE(document.canRedo());
    ASSERT_TRUE(document.change("Nothing", [](Bench&) {}));
    EXPECT_EQ(document.undoLabel(), "Rename");
}

TEST(Document, AFailedWriteChangesNothing) {
    auto sink = std::make_shared<TestSink>();
    Document document({}, sink);
    ASSERT_TRUE(document.change("New gauge", [](Bench& bench) { bench.add(test::gluePot()); }));
    const Bench before = document.bench();
    sink->broken = true;
    EXPECT_EQ(document.change("Remove", [](Bench& bench) { bench.gauges.clear(); }).error().found, "no room");
    EXPECT_FALSE(document.undo());
    EXPECT_EQ(document.bench(), before);
    EXPECT_EQ(document.undoLabel(), "New gauge");
}

TEST(Bench, IdsAreNeverUsedTwice) {
    Bench bench;
    const auto first = bench.add(test::gluePot());
    bench.remove(first);
    EXPECT_NE(bench.add(test::gluePot()), first);
    EXPECT_EQ(bench.find(first), nullptr);
}

TEST(LinkedInputs, InputsComeFirstAndACircleStaysLast) {
    Bench bench;
    const auto add = [&](const std::string& name, const std::string& lender) {
        GaugeSpec spec = defaultGauge(*test::catalogue().findPart("thermocouple-k"));
        spec.name = name;
        if (!lender.empty()) spec.inputs = {{"sensor.cold_junction_degC", {0, lender}}};
        bench.add(spec);
    };
    add("c", "b");
    add("b", "a");
    add("a", "");
    add("x", "y");
    add("y", "x");
    std::string order;
    for (const BenchGauge* gauge : inLinkOrder(bench)) order += gauge->spec.name;
    EXPECT_EQ(order, "abcxy");
}

TEST(LinkedInputs, ARenameBreaksNothingAndACircleIsNamed) {
    Document document;
    const auto add = [&](const std::string& name, const std::string& lender) {
        std::int64_t id = 0;
        EXPECT_TRUE(document.change("add", [&](Bench& bench) {
            GaugeSpec spec = defaultGauge(*test::catalogue().findPart("thermocouple-k"));
            spec.name = name;
            if (!lender.empty()) spec.inputs = {{"sensor.cold_junction_degC", {0, lender}}};
            id = bench.add(spec);
        }));
        return id;
    };
    const auto air = add("Air", ""), iron = add("Iron", "Air");
    EXPECT_TRUE(document.change("rename", [&](Bench& bench) { bench.find(air)->spec.name = "Workshop air"; }));
    EXPECT_EQ(document.bench().find(iron)->spec.inputs.at("sensor.cold_junction_degC").name, "Workshop air");
    EXPECT_FALSE(linkCircle(document.bench(), *document.bench().find(iron)));
    EXPECT_TRUE(document.undo());
    EXPECT_EQ(document.bench().find(iron)->spec.inputs.at("sensor.cold_junction_degC").name, "Air");
    EXPECT_TRUE(document.change("circle", [&](Bench& bench) {
        bench.find(air)->spec.inputs = {{"sensor.cold_junction_degC", {0, "Iron"}}};
    }));
    const auto circle = linkCircle(document.bench(), *document.bench().find(air));
    ASSERT_TRUE(circle);
    EXPECT_NE(circle->message().find("Air ← Iron ← Air"), std::string::npos) << circle->message();
}

// Two gauges of one name: the link means the one it was made to.
TEST(LinkedInputs, GoById) {
    Document document;
    const GaugeSpec couple = defaultGauge(*test::catalogue().findPart("thermocouple-k"));
    std::int64_t first = 0, second = 0, iron = 0;
    EXPECT_TRUE(document.change("add", [&](Bench& bench) {
        GaugeSpec air = test::gluePot();
        air.name = "Air";
        first = bench.add(air);
        second = bench.add(air);
        iron = bench.add(couple);
        bench.find(iron)->spec.inputs = {{"sensor.cold_junction_degC", {second, "Air"}}};
    }));
    const auto link = [&] { return document.bench().find(iron)->spec.inputs.at("sensor.cold_junction_degC"); };
    EXPECT_TRUE(document.change("rename", [&](Bench& bench) { bench.find(first)->spec.name = "Outside"; }));
    EXPECT_EQ(link(), (LinkedInput{second, "Air"}));
    EXPECT_TRUE(document.change("rename", [&](Bench& bench) { bench.find(second)->spec.name = "Outside"; }));
    EXPECT_EQ(link(), (LinkedInput{second, "Outside"}));
    // Taken away, the link keeps the name that it waits for; two of that name are none.
    EXPECT_TRUE(document.change("remove", [&](Bench& bench) { bench.remove(second); }));
    EXPECT_EQ(link(), (LinkedInput{first, "Outside"}));
    // A gauge file brings the id of another bench: the name counts.
    Bench other;
    GaugeSpec brought = document.bench().find(iron)->spec;
    GaugeSpec air = test::gluePot();
    air.name = "Outside";
    GaugeSpec stranger = test::gluePot();
    stranger.name = "Stranger";
    other.add(stranger);
    const auto there = other.add(air), moved = other.add(brought);
    EXPECT_EQ(other.find(moved)->spec.inputs.begin()->second, (LinkedInput{there, "Outside"}));
}

TEST(LinkedInputs, PutsReadingAndUncertaintyIn) {
    GaugeSpec spec = defaultGauge(*test::catalogue().findPart("thermocouple-k"));
    spec.inputs = {{"sensor.cold_junction_degC", {0, "Air"}}};
    const auto lend = [&](std::optional<LinkedReading> lent) {
        return withInputs(spec, test::catalogue(), [=](const LinkedInput&) { return lent; });
    };
    const auto filled = lend(LinkedReading{21.5, 0.4}).value();
    EXPECT_EQ(filled.sensor.parameters.number("cold_junction_degC"), 21.5);
    EXPECT_NEAR(filled.sensor.parameters.number("cold_junction_tolerance_K").value(), 0.6928203, 1e-6);  // 0.4·√3
    EXPECT_EQ(lend(std::nullopt).error().code, ErrorCode::Unknown);
    EXPECT_EQ(lend(LinkedReading{std::nan(""), 0}).error().code, ErrorCode::Missing);
    spec.inputs = {{"sensor.type", {0, "Air"}}};
    EXPECT_EQ(lend(LinkedReading{21.5, 0.4}).error().where, "sensor.type");
}

}  // namespace
}  // namespace fg
