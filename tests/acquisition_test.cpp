#include "acquisition/line_reader.h"
#include "acquisition/speed_search.h"
#include "gauge/csv_convert.h"
#include "simulation/virtual_board.h"
#include "support.h"
#include "units/number_format.h"

#include <cmath>
#include <random>

namespace fg {
namespace {

using Bytes = std::vector<std::uint8_t>;

TEST(LineReader, UnderstandsTheThreeShapes) {
    LineReader reader;
    const auto pairs = reader.feed("t=12.345 pot=2047 store=3F A2 10\r\n");
    ASSERT_EQ(pairs.size(), 1u);
    EXPECT_EQ(pairs[0].time_s, 12.345);
    EXPECT_EQ(pairs[0].samples, (std::vector<RawSample>{{"pot", 2047.0}, {"store", Bytes{0x3F, 0xA2, 0x10}}}));
    EXPECT_TRUE(reader.feed("t,pot,store\n").empty());
    const auto columns = reader.feed("13.0, 0x331 ,3F A2 10\n14.0,,3F A2 11\n");
    ASSERT_EQ(columns.size(), 2u);
    EXPECT_EQ(columns[0].samples, (std::vector<RawSample>{{"pot", 817.0}, {"store", Bytes{0x3F, 0xA2, 0x10}}}));
    EXPECT_EQ(columns[1].samples.size(), 1u);  // an empty field: nothing new there
    const auto json = reader.feed(R"({"t": 15, "pot": 2048, "store": [63, 162, 16], "hex": "3F A2"})"
                                  "\n");
    ASSERT_EQ(json.size(), 1u);
    EXPECT_EQ(json[0].samples.size(), 3u);
    EXPECT_EQ(reader.junkCount(), 0u);
    EXPECT_EQ(reader.frameCount(), 4u);
}

TEST(LineReader, JunkIsCountedAndShownNeverFatal) {
    LineReader reader;
    const char* junk[] = {"hello world",      "pot=",     "=5",          "pot=12x",
                          "pot=3F A2 1",      "pot=nan",  "1,,x",        "{\"pot\": }",
                          "{\"pot\": [300]}", "pot=5 =6", "\xFF\x80\x01"};
    for (const char* line : junk) EXPECT_TRUE(reader.feed(std::string(line) + "\n").empty()) << line;
    EXPECT_EQ(reader.junkCount(), std::size(junk));
    EXPECT_EQ(reader.lastJunk(), "\\xFF\\x80\\x01");
    EXPECT_TRUE(reader.looksLikeWrongSpeed());
    EXPECT_TRUE(reader.feed("# a comment\n\n").empty());
    EXPECT_EQ(reader.junkCount(), std::size(junk));
    for (int i = 0; i < 40; ++i) (void)reader.feed("pot=1\n");
    EXPECT_FALSE(reader.looksLikeWrongSpeed());
}

// As programs print for people: what it says, and no junk that blames the speed.
TEST(LineReader, UnderstandsWhatProgramsPrint) {
    struct Case {
        const char* line;
        std::vector<RawSample> samples;
    };
    const Case cases[] = {
        {"temp: 19.37", {{"temp", 19.37, ""}}},
        {"temp = 18.40 C   hum = 52.0 %", {{"temp", 18.4, "C"}, {"hum", 52.0, "%"}}},
        {"19.8", {{"value", 19.8, ""}}},
        {"-3", {{"value", -3.0, ""}}},
        {"19.8 C", {{"value", 19.8, "C"}}},
        {"512, 300", {{"value1", 512.0, ""}, {"value2", 300.0, ""}}},
        {"512\t3,5", {{"value1", 512.0, ""}, {"value2", 3.5, ""}}},
        {"T=21.5C,P=998.2hPa", {{"T", 21.5, "C"}, {"P", 998.2, "hPa"}}},
        {"T=21,5 C; P=998,2 hPa", {{"T", 21.5, "C"}, {"P", 998.2, "hPa"}}},
        {"Rel humidity: 45", {{"Rel_humidity", 45.0, ""}}},
        {"Temperature (C): 19.3 Humidity (%): 45", {{"Temperature", 19.3, "C"}, {"Humidity", 45.0, "%"}}},
        {"t=21.5C", {{"t", 21.5, "C"}}},
        {"Light: 120 lx, Supply: 3300 mV", {{"Light", 120.0, "lx"}, {"Supply", 3300.0, "mV"}}},
    };
    for (const Case& one : cases) {
        LineReader reader;
        const auto frames = reader.feed(std::string(one.line) + "\r\n");
        ASSERT_EQ(frames.size(), 1u) << one.line;
        EXPECT_EQ(frames[0].samples, one.samples) << one.line;
        EXPECT_EQ(reader.lastLines().back().kind, SeenKind::Values);
    }
    LineReader reader;
    EXPECT_TRUE(reader.feed("time;temp (C);hum [%]\n").empty());
    const auto frames = reader.feed("12;18.4;52\n");
    ASSERT_EQ(frames.size(), 1u);
    EXPECT_EQ(frames[0].samples, (std::vector<RawSample>{{"time", 12.0, ""}, {"temp", 18.4, "C"}, {"hum", 52.0, "%"}}));
    for (const char* line : {"pot=3F", "Sensor ready, starting now", "temp: none", "12:34:56 hello", "= 5", "a: 1 b"})
        EXPECT_TRUE(reader.feed(std::string(line) + "\n").empty()) << line;
    EXPECT_EQ(reader.junkCount(), 6u);
    EXPECT_EQ(reader.lastLines().back().text, "a: 1 b");
    EXPECT_EQ(reader.lastLines().back().kind, SeenKind::Junk);
}

TEST(LineReader, HalfALineBeforeThePlugWasPulledDoesNotJoinTheNext) {
    LineReader reader;
    EXPECT_TRUE(reader.feed("pot=21").empty());
    reader.interrupt();
    const auto frames = reader.feed("9\npot=2155\n");  // “219” was never sent
    ASSERT_EQ(frames.size(), 1u);
    EXPECT_EQ(frames[0].samples, (std::vector<RawSample>{{"pot", 2155.0}}));
}

TEST(LineReader, BytesMayBeCutAnywhere) {
    const std::string text = "t=1 pot=2047 store=3F A2\ngarbage\npot=5\n";
    LineReader whole;
    const auto expected = whole.feed(text);
    for (std::size_t cut = 0; cut <= text.size(); ++cut) {
        LineReader reader;
        auto frames = reader.feed(text.substr(0, cut));
        for (Frame& frame : reader.feed(text.substr(cut))) frames.push_back(std::move(frame));
        ASSERT_EQ(frames.size(), expected.size()) << cut;
        for (std::size_t i = 0; i < frames.size(); ++i) EXPECT_EQ(frames[i].samples, expected[i].samples);
        EXPECT_EQ(reader.junkCount(), 1u);
    }
}

TEST(LineReader, AnEndlessLineDoesNotFillTheMemory) {
    LineReader reader;
    for (int i = 0; i < 1000; ++i) EXPECT_TRUE(reader.feed(std::string(1000, '7')).empty());
    EXPECT_EQ(reader.feed("\npot=3\n").size(), 1u);
    EXPECT_EQ(reader.junkCount(), 1u);
}

TEST(LineReader, SurvivesRandomBytes) {
    std::mt19937 random(7);
    LineReader reader;
    for (int i = 0; i < 2000; ++i) {
        static const std::string alphabet = "t=pot,{}\":0123456789ABCDEF \n\r.-x\xFF";
        std::string noise(random() % 64, ' ');
        for (char& c : noise) c = alphabet[random() % alphabet.size()];
        (void)reader.feed(noise);
    }
    EXPECT_GT(reader.junkCount(), 0u);
    (void)reader.feed("\n");
    EXPECT_EQ(reader.feed("pot=3\n").size(), 1u);
}

struct Converted {
    std::string text;
    Expected<CsvReport> report;
};

Converted convert(const std::string& input, const std::string& column = "", const GaugeSpec& spec = test::gluePot()) {
    std::string out;
    auto report = convertCsv(input, Gauge::make(spec, test::catalogue()).value(), column, [&](std::string_view piece) {
        out.append(piece);
        return true;
    });
    return {out, std::move(report)};
}

/// All digits of the pot's reading, which is held against the formula by hand: 10 kΩ at 25 °C, B 3950 K, below 2.2 kΩ:
/// R = R1·code/(4096 − code), 1/T = 1/T25 + ln(R/R25)/B.
std::string readingOf(double code) {
    const double reading = test::pathOf(test::gluePot()).evaluate({Stage::Converter, code})->reading();
    const double ohm = 2200 * code / (4096 - code);
    EXPECT_NEAR(reading, 1 / (1 / 298.15 + std::log(ohm / 10000) / 3950) - 273.15, 1e-9) << code;
    return shortestText(reading);
}

TEST(CsvConvert, KeepsEveryLineAndAddsTwoColumns) {
    const auto [text, report] = convert(
        "# from the bench\ntime,pot,note\n1,2155,\"warm, "
        "steady\"\n2,4095,\"a\nb\"\n3,abc,x\n4,9999,x\n5,0x86B,x\n6,2155.5,x\n7\n");
    ASSERT_TRUE(report) << report.error().message();
    EXPECT_EQ(text, "# from the bench\ntime,pot,note,reading_degC,clipped\n1,2155,\"warm, steady\"," + readingOf(2155) +
                        ",\n2,4095,\"a\nb\"," + readingOf(4095) +
                        ",at most\n"
                        "3,abc,x,,\"refused: “abc” where a count like 817, 0x331 or 0b1100 was "
                        "expected\"\n4,9999,x,,\"refused: 9999 where "
                        "a code the 12-bit converter can give, 0 "
                        "to 4095 was expected\"\n5,0x86B,x," +
                        readingOf(2155) + ",\n6,2155.5,x," + readingOf(2155.5) +
                        ",\n"
                        "7,,\"refused: nothing where a raw value was expected\"\n");
    EXPECT_EQ(report->rows, 7u);
    EXPECT_EQ(report->converted, 4u);
    EXPECT_EQ(report->clipped, 1u);
    EXPECT_EQ(report->refused, 3u);
    EXPECT_EQ(report->firstProblem, "row 3: “abc” where a count like 817, 0x331 or 0b1100 was expected");
}

TEST(CsvConvert, StrayQuotesDecimalCommasAndLongLines) {
    // A quote that closes nowhere costs its own row only; one inside a field is an inch.
    const auto [text, report] = convert("note,pot\n\"warm,2155\n\"cold,2155\n5\" pot,2155\n\"a, b\",2155\n");
    EXPECT_EQ(text,
              "note,pot,reading_degC,clipped\n\"warm,2155,,\"refused: a quote that is not closed in its field\"\n"
              "\"cold,2155,,\"refused: a quote that is not closed in its field\"\n5\" pot,2155," +
                  readingOf(2155) + ",\n\"a, b\",2155," + readingOf(2155) + ",\n");
    EXPECT_EQ(report->refused, 2u);
    EXPECT_EQ(convert("note,pot\n\"two\nlines\",2155\n").report->notes.size(), 1u);
    // Semicolons between, commas in the numbers.
    EXPECT_EQ(convert("t;pot\n1,5;2155,5\n2,5;2155\n").text,
              "t;pot;reading_degC;clipped\n1,5;2155,5;" + readingOf(2155.5) + ";\n2,5;2155;" + readingOf(2155) + ";\n");
    EXPECT_EQ(convert("1,5;2155\n2,5;2155\n", "2").text,
              "1,5;2155;" + readingOf(2155) + ";\n2,5;2155;" + readingOf(2155) + ";\n");
    EXPECT_EQ(convert("a;b,pot\nx,2155\ny,2155\n").report->converted, 2u);  // one semicolon makes no separator
    EXPECT_EQ(convert("pot\n" + std::string(3 << 20, '7')).report.error().code, ErrorCode::Range);
    // In pieces of any size it is the same.
    const std::string input = "note;pot\n\"two\nlines\";2155\nx;2000\n";
    for (std::size_t piece = 1; piece < 9; ++piece) {
        std::string out;
        std::size_t at = 0;
        const auto reader = [&](char* bytes, std::size_t count) -> Expected<std::size_t> {
            const std::size_t got = input.copy(bytes, std::min(count, piece), at);
            at += got;
            return got;
        };
        const auto done = convertCsv(reader, Gauge::make(test::gluePot(), test::catalogue()).value(), "pot",
                                     [&](std::string_view part) {
                                         out.append(part);
                                         return true;
                                     });
        ASSERT_TRUE(done) << done.error().message();
        EXPECT_EQ(out, convert(input, "pot").text) << piece;
    }
}

TEST(LineReader, TakesSoManyChannelsAndNoMore) {
    LineReader reader;
    for (std::size_t i = 0; i < LineReader::kMostChannels + 5; ++i) (void)reader.feed("c" + std::to_string(i) + "=1\n");
    EXPECT_EQ(reader.frameCount(), LineReader::kMostChannels);
    EXPECT_EQ(reader.junkCount(), 5u);
    EXPECT_EQ(reader.feed("c7=2\n").size(), 1u);
}

TEST(CsvConvert, FindsItsColumnOrAsks) {
    EXPECT_EQ(convert("raw\n2155\n").text, "raw,reading_degC,clipped\n2155," + readingOf(2155) + ",\n");
    EXPECT_EQ(convert("2155\n2000\n").text,
              "2155," + readingOf(2155) + ",\n2000," + readingOf(2000) + ",\n");  // no header
    EXPECT_EQ(convert("a;b\r\n1;2155\r\n", "b").text, "a;b;reading_degC;clipped\n1;2155;" + readingOf(2155) + ";\n");
    EXPECT_EQ(convert("1\t2155\n", "2").text, "1\t2155\t" + readingOf(2155) + "\t\n");
    EXPECT_EQ(convert("a,b\n1,2\n").report.error().code, ErrorCode::Ambiguous);
    EXPECT_NE(convert("a,b\n1,2\n").report.error().message().find("a, b"), std::string::npos);
    EXPECT_EQ(convert("a,b\n1,2\n", "c").report.error().message(),
              "--column: found “c”, expected one of the columns a, b");
    EXPECT_EQ(convert("").report.error().code, ErrorCode::Missing);
    EXPECT_EQ(convert("# only a comment\n").report.error().code, ErrorCode::Missing);
}

TEST(CsvConvert, ReadsInTheGaugesUnitAndStopsWhenTheDiskIsFull) {
    GaugeSpec spec = test::gluePot();
    spec.reading.unit = "K";
    spec.reading.span = {293, 363};
    const auto [text, report] = convert("raw\n2155\n", "", spec);
    EXPECT_EQ(text.substr(0, 22), "raw,reading_K,clipped\n");
    EXPECT_NEAR(test::number(text.substr(27)), 333.648, 1e-3);
    const auto full = convertCsv("raw\n1\n", Gauge::make(spec, test::catalogue()).value(), "",
                                 [](std::string_view) { return false; });
    EXPECT_EQ(full.error().code, ErrorCode::Io);
}

TEST(VirtualBoard, MeasuresTheWorkshopThroughRealHardware) {
    auto channels = readVirtualBoard((test::dataFolder() / "demo").string(), test::catalogue());
    ASSERT_TRUE(channels) << channels.error().message();
    VirtualBoard board(*channels, test::catalogue()), same(*channels, test::catalogue());
    LineReader reader;
    const AnalogPath nominal = test::pathOf(test::gluePot());
    double lowest = 1e9, highest = -1e9;
    for (int i = 0; i < 720; ++i) {
        const std::string line = board.measure(10);
        EXPECT_EQ(line, same.measure(10));  // same seed, same day
        const auto frames = reader.feed(line);
        ASSERT_EQ(frames.size(), 1u) << line;
        EXPECT_EQ(frames[0].samples[0].channel, "pot");
        const double read = nominal.reading(std::get<double>(frames[0].samples[0].raw));
        // The board's parts are within 1 % of nominal: a degree at most.
        EXPECT_NEAR(read, board.workshop().gluePot_degC(), 1.0);
        lowest = std::min(lowest, read);
        highest = std::max(highest, read);
    }
    EXPECT_LT(lowest, 57);   // cold water was poured in
    EXPECT_GT(highest, 60);  // and it was heated up again
    EXPECT_LT(highest, 66);  // by a controller
}

TEST(Workshop, StepsDoNotChangeTheDay) {
    Workshop fine, coarse;
    for (int i = 0; i < 4000; ++i) fine.advance(0.25);
    coarse.advance(1000);
    EXPECT_DOUBLE_EQ(fine.gluePot_degC(), coarse.gluePot_degC());
    EXPECT_TRUE(std::isnan(fine.value("attic")));
}

// A board at `real` baud: at its own speed lines, at any other junk in pieces of lines.
int foundFor(int given, int real, bool isSilent = false) {
    SpeedSearch search(given);
    for (int turns = 0; search.state() == SpeedSearch::State::Searching && turns < 1000; ++turns) {
        const int speed = search.speed();
        for (int lines = 1; lines <= 12 && search.speed() == speed; ++lines) {
            const bool isRight = speed == real && !isSilent;
            const auto junk = static_cast<std::uint64_t>(isSilent ? 0 : isRight ? 1 : lines);
            search.listen(isRight ? static_cast<std::uint64_t>(lines - 1) : 0, junk, 0.5 * lines);
            if (search.state() != SpeedSearch::State::Searching) break;
        }
    }
    return search.state() == SpeedSearch::State::Found ? search.speed() : -search.speed();
}

TEST(SpeedSearch, FindsTheSpeedAtWhichLinesAreUnderstood) {
    for (const int real : usualSpeeds()) {
        if (real == 115200) continue;
        EXPECT_EQ(foundFor(115200, real), real);
    }
    EXPECT_EQ(foundFor(9600, 115200), 115200);
    EXPECT_EQ(foundFor(9600, 31250), -9600) << "no usual one: back to what was given";
    EXPECT_EQ(foundFor(9600, 9600, true), -9600) << "a board that fell silent";
}

}  // namespace
}  // namespace fg
