// What must hold for any need and any bench, however odd: over random ones.

#include "choosing/candidate.h"
#include "path/default_gauge.h"
#include "path/digital_path.h"
#include "planning/plan.h"
#include "support.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <random>

namespace fg {
namespace {

using Random = std::mt19937;

double between(Random& random, double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
}
bool chance(Random& random, double p) { return std::bernoulli_distribution(p)(random); }

Need anyNeed(Random& random) {
    Need need;
    constexpr Quantity all[] = {Quantity::Temperature, Quantity::RelativeHumidity, Quantity::Pressure,
                                Quantity::Illuminance};
    constexpr Interval usual[] = {{-60, 200}, {0, 100}, {1000, 200000}, {0.1, 90000}};
    const std::size_t first = random() % 4;
    for (std::size_t i = 0; i < 4; ++i) {
        const std::size_t which = (first + i) % 4;
        if (i > 0 && !chance(random, 0.15)) continue;
        double a = between(random, usual[which].low, usual[which].high),
               b = between(random, usual[which].low, usual[which].high);
        if (a > b) std::swap(a, b);
        need.wishes.push_back({all[which],
                               {a, b + 1},
                               chance(random, 0.6) ? (b - a) * between(random, 1e-4, 0.2) : 0,
                               chance(random, 0.5) ? (b - a) * between(random, 1e-5, 0.1) : 0});
    }
    if (chance(random, 0.5)) need.interval_s = std::pow(10, between(random, -4, 2));
    need.medium = static_cast<Medium>(random() % 5);
    for (const double voltage : {1.8, 3.3, 5.0, 12.0, 24.0})
        if (chance(random, 0.3)) need.supplies_V.push_back(voltage);
    need.isBattery = chance(random, 0.3);
    if (chance(random, 0.5)) {
        const auto& converters = test::catalogue().converters();
        need.free = FreePlaces{static_cast<int>(random() % 4),
                               chance(random, 0.7) ? converters[random() % converters.size()].id : "",
                               static_cast<int>(random() % 4),
                               chance(random, 0.5),
                               chance(random, 0.5),
                               chance(random, 0.5)};
    }
    if (chance(random, 0.5)) need.cable_m = between(random, 0, 60);
    need.isWet = chance(random, 0.3);
    need.isInCase = chance(random, 0.3);
    if (chance(random, 0.3)) need.hot_degC = between(random, 20, 300);
    need.count = 1 + static_cast<int>(random() % 5);
    return need;
}

TEST(EveryNeed, RanksAllPartsAndExplainsEach) {
    Random random(5);
    for (int round = 0; round < 12; ++round) {
        const Need need = anyNeed(random);
        const auto candidates = choose(need, test::catalogue());
        ASSERT_TRUE(candidates) << candidates.error().message();
        ASSERT_EQ(candidates->size(), test::catalogue().parts().size() + test::catalogue().devices().size());
        for (const Candidate& one : *candidates) {
            EXPECT_EQ(one.gauges.size(), one.trust.size());
            EXPECT_FALSE(one.why.empty()) << one.id;
            EXPECT_EQ(one.why.starts_with("Ruled out"), one.isRuledOut()) << one.why;
            for (const Mark& mark : one.marks) {
                EXPECT_FALSE(mark.text.empty()) << one.id << " " << mark.id;
                EXPECT_EQ(mark.text.find(" nan"), std::string::npos) << one.id << ": " << mark.text;
                EXPECT_TRUE(std::isfinite(mark.margin) && mark.margin >= 0) << one.id << " " << mark.id;
                // A number that is short of what is wanted rules out, one that is not does not.
                if (mark.margin > 0 && mark.margin < 0.94) {
                    EXPECT_EQ(mark.verdict, Verdict::Ruled) << one.id << ": " << mark.text;
                }
            }
            // Its gauges can be used as they are, where they could be judged.
            for (std::size_t i = 0; i < one.gauges.size(); ++i) {
                if (one.part && one.trust[i].problem.empty()) {
                    EXPECT_TRUE(AnalogPath::build(one.gauges[i], test::catalogue())) << one.id;
                }
            }
        }
    }
}

// Asking for less can only bring parts in, never rule one out.
TEST(EveryNeed, LessIsNeverHarder) {
    Random random(6);
    for (int round = 0; round < 6; ++round) {
        const Need strict = anyNeed(random);
        Need loose = strict;
        for (Wish& wish : loose.wishes) {
            wish.accuracy *= 2;
            wish.resolution *= 2;
        }
        loose.interval_s *= 3;
        loose.isWet = loose.isInCase = loose.isBattery = false;
        loose.medium = Medium::Any;
        loose.hot_degC.reset();
        std::map<std::string, bool> ruled;
        const auto hard = choose(strict, test::catalogue()), easy = choose(loose, test::catalogue());
        ASSERT_TRUE(hard && easy);
        for (const Candidate& one : *hard) ruled[one.id] = one.isRuledOut();
        for (const Candidate& one : *easy)
            EXPECT_FALSE(one.isRuledOut() && !ruled.at(one.id)) << one.id << ": " << one.why;
    }
}

Bench anyBench(Random& random) {
    Bench bench;
    const auto& parts = test::catalogue().parts();
    const auto& devices = test::catalogue().devices();
    const int count = 1 + static_cast<int>(random() % 14);
    for (int i = 0; i < count; ++i) {
        GaugeSpec spec;
        if (chance(random, 0.5)) {
            spec = defaultGauge(parts[random() % parts.size()]);
        } else {
            const DevicePart& device = devices[random() % devices.size()];
            spec = defaultDeviceGauge(device, device.readings[random() % device.readings.size()]);
            if (!device.addresses.empty())
                spec.wiring.parameters.set(
                    "address", static_cast<double>(device.addresses[random() % device.addresses.size()].address));
        }
        spec.name = "Gauge " + std::to_string(i);
        if (chance(random, 0.5)) spec.channel = "c" + std::to_string(random() % 3);
        const auto id = bench.add(spec);
        GaugePlace& place = bench.board.places[id];
        constexpr const char* lines[] = {"", "", "A0", "A3", "A99", "D2", "bus 1", "bus 2", "wire 2", "nonsense"};
        place.line = lines[random() % 10];
        if (chance(random, 0.4)) place.cable_m = between(random, 0, 120);
        if (chance(random, 0.3)) place.rail = chance(random, 0.5) ? "5 V" : "unheard of";
    }
    if (chance(random, 0.6))
        bench.board.rails = {{"5 V", 5, chance(random, 0.5) ? 0.01 : 0, chance(random, 0.5) ? 2.0 : 0},
                             {"3.3 V", 3.3, 0, 0}};
    if (chance(random, 0.5)) bench.board.cycle_s = std::pow(10, between(random, -3, 2));
    if (chance(random, 0.5)) {
        bench.board.awake_A = 0.02;
        bench.board.asleep_A = 1e-4;
    }
    return bench;
}

TEST(EveryBench, IsLaidOutWithEachGaugeInOnePlace) {
    Random random(7);
    for (int round = 0; round < 120; ++round) {
        const Bench bench = anyBench(random);
        const BenchPlan plan = planOf(bench, test::catalogue());
        std::map<std::int64_t, int> places, rows;
        for (const PlanGroup& group : plan.groups) {
            for (const PlanPlace& place : group.places) {
                for (const std::int64_t id : place.gauges) ++places[id];
                EXPECT_FALSE(place.isFree() && place.isTwice);
            }
            if (group.pullUp) {
                EXPECT_GT(group.supply_V, 0);
            }
        }
        for (const PlanRow& row : plan.schedule.rows)
            for (const std::int64_t id : row.gauges) ++rows[id];
        for (const BenchGauge& gauge : bench.gauges) {
            EXPECT_EQ(places[gauge.id], 1) << gauge.spec.sensor.part;
            EXPECT_EQ(rows[gauge.id], 1) << gauge.spec.sensor.part;
            // What is offered can be done, and brings the gauge there.
            for (const std::string& place : placesFor(bench, plan, gauge.id, test::catalogue())) {
                Bench moved = bench;
                for (const PlanRow& row : plan.schedule.rows)  // a device goes with all its gauges
                    if (std::find(row.gauges.begin(), row.gauges.end(), gauge.id) != row.gauges.end())
                        for (const std::int64_t id : row.gauges) moved.board.places[id].line = place;
                const BenchPlan after = planOf(moved, test::catalogue());
                const bool isThere = std::any_of(after.groups.begin(), after.groups.end(), [&](const PlanGroup& group) {
                    return std::any_of(group.places.begin(), group.places.end(), [&](const PlanPlace& one) {
                        const bool isHere =
                            std::find(one.gauges.begin(), one.gauges.end(), gauge.id) != one.gauges.end();
                        return isHere && (group.line == place || one.label == place);
                    });
                });
                EXPECT_TRUE(isThere) << gauge.spec.sensor.part << " to " << place;
            }
        }
    }
}

TEST(EveryBench, KeepsItsSumsAndItsOneProcessor) {
    Random random(8);
    for (int round = 0; round < 200; ++round) {
        const Bench bench = anyBench(random);
        const BenchPlan plan = planOf(bench, test::catalogue());
        for (const PlanRail& rail : plan.rails) {
            double sum = 0;
            for (const PlanLoad& load : rail.loads) sum += load.isKnown ? load.measuring_A : 0;
            EXPECT_NEAR(rail.peak_A, sum, 1e-12);
            EXPECT_LE(rail.average_A, rail.constant_A * (1 + 1e-12));
            EXPECT_TRUE(rail.life_h >= rail.constantLife_h * (1 - 1e-12));
            const bool isOverloaded = rail.rail.limit_A > 0 && rail.peak_A > rail.rail.limit_A;
            const bool isFound = std::any_of(plan.findings.begin(), plan.findings.end(), [&](const Finding& one) {
                return one.id == "rail-overloaded" && one.title.find(rail.rail.name) != std::string::npos;
            });
            EXPECT_EQ(isOverloaded, isFound);
        }
        std::vector<PlanSegment> talking;
        for (const PlanRow& row : plan.schedule.rows) {
            double before = 0;
            for (const PlanSegment& segment : row.segments) {
                EXPECT_LE(before, segment.from_s + 1e-12);
                EXPECT_LT(segment.from_s, segment.to_s);
                EXPECT_LE(segment.to_s, plan.schedule.busy_s + 1e-12);
                before = segment.to_s;
                if (segment.kind != PlanSegment::Kind::Convert) talking.push_back(segment);
            }
            EXPECT_LE(row.least_s, plan.schedule.fastest_s);
        }
        std::sort(talking.begin(), talking.end(),
                  [](const PlanSegment& a, const PlanSegment& b) { return a.from_s < b.from_s; });
        for (std::size_t i = 1; i < talking.size(); ++i) EXPECT_GE(talking[i].from_s, talking[i - 1].to_s - 1e-12);
        EXPECT_TRUE(std::is_sorted(plan.findings.begin(), plan.findings.end(),
                                   [](const Finding& a, const Finding& b) { return a.severity < b.severity; }));
        int sensors = 0;
        for (const PartsLine& line : plan.parts) sensors += line.what.starts_with("sensor") ? line.count : 0;
        EXPECT_EQ(sensors, static_cast<int>(plan.schedule.rows.size()));
        const std::string csv = partsCsv(plan.parts);
        EXPECT_EQ(static_cast<std::size_t>(std::count(csv.begin(), csv.end(), '\n')), plan.parts.size() + 1);
    }
}

// A spoilt need or board is refused with its field, or read; it never crashes.
TEST(EverySpoiltNeedOrBoard, IsRefusedOrRead) {
    const std::string need =
        R"({"wishes":[{"quantity":"temperature","unit":"degC","span":[10,60],"accuracy":1,"resolution":0.1}],
            "interval_s":2,)"
        R"("medium":"liquid","supplies_V":[3.3,5],"battery":true,"free":{"analog_pins":2,"i2c":true},"place":["wet"],
            "count":2})";
    Bench bench;
    bench.board.rails = {{"cells", 3, 0.2, 2.2}};
    bench.board.places[4] = {"A3", "cells", 1.5};
    const std::string board = writeBoard(bench.board);
    Random random(9);
    int refused = 0;
    for (int round = 0; round < 4000; ++round) {
        std::string text = round % 2 ? need : board;
        for (auto changes = random() % 3 + 1; changes > 0; --changes) {
            const std::size_t at = random() % text.size();
            constexpr char kBytes[] = "0-9{}[]\",:.eE\\ x";
            if (chance(random, 0.5))
                text[at] = kBytes[random() % (sizeof kBytes - 1)];
            else
                text.erase(at, random() % 6 + 1);
            if (text.empty()) text = "x";
        }
        if (round % 2) {
            const auto read = readNeed(text, "n");
            refused += read ? 0 : 1;
            EXPECT_TRUE(read || !read.error().message().empty());
        } else {
            const auto read = readBoard(text, "b");
            refused += read ? 0 : 1;
            EXPECT_TRUE(read || !read.error().message().empty());
        }
    }
    EXPECT_GT(refused, 2000);
}

}  // namespace
}  // namespace fg
