#include "planning/plan_items.h"

#include "planning/one_wire_time.h"

#include <algorithm>
#include <cmath>

namespace fg::plan {
namespace {

// UM10204, 3.1: nine clocks a byte, and about one more for start and stop each.
double i2cTime_s(std::size_t bytes, double clock_Hz) { return (9 * static_cast<double>(bytes) + 2) / clock_Hz; }
constexpr std::size_t kCommandBytes = 3;  // address, register, value
constexpr std::size_t kPointerBytes = 3;  // address, register, address again for reading
constexpr double kOneWireCommand_s =
    0.00096 + 16 * 70e-6;  // reset, skip ROM, convert: slots of 70 µs (DS18B20 data sheet)
constexpr double kSingleBusRead_s =
    0.018 + 160e-6 + 40 * 120e-6;  // 18 ms low, the answer, 40 bits of up to 120 µs (AM2302 data sheet)
constexpr double kSpiClock_Hz = 1e6;
/// A shortest interval above this is a rule about asking, not a conversion that one waits for.
constexpr double kLongestConversion_s = 1;

/// A converter that takes longer than this runs by itself (delta-sigma); one that is quicker is waited for.
constexpr double kByItself_s = 1e-3;

double clockOf_Hz(const Parameters& wiring) {
    const std::string speed = wiring.textOr("speed", "400k");  // as the bus sheet assumes
    return speed == "1M" ? 1e6 : speed == "100k" ? 100e3 : 400e3;
}

std::size_t measuredBytes(const Item& item) {
    std::size_t bytes = 0;
    const auto options = item.device->options.completed(item.device->device->options());
    if (!options) return 0;
    for (const BlockSpec& block : item.device->device->blocks(*options))
        if (!block.isCalibration && !block.isOptional) bytes += block.size;
    return bytes;
}

/// How one thing is read: told to convert, waits, is read.
struct Work {
    double command_s = 0, convert_s = 0, read_s = 0, least_s = 0;
};

Work workOf(const Item& item) {
    Work work;
    if (!item.device) {
        // An analog pin: the converter does nothing else meanwhile. A counter's gate runs by itself.
        const double conversion = item.converter ? item.converter->conversion_s : 0;
        const bool isCounter = item.path && !item.path->converter().isAdc();
        const double part = item.path ? item.path->part().minimumInterval_s : 0;
        if (isCounter || part > 0 || conversion > kByItself_s)
            work.convert_s = std::max(conversion, part);
        else
            work.read_s = conversion;
        return work;
    }
    const std::string& interface = item.device->interface;
    work.least_s = item.settingValue("poll_s").value_or(item.device->minimumInterval_s);
    const auto most = item.settingValue("conversion_max_s");
    const auto whole = item.settingValue("reading_s");  // where one reading takes several conversions
    const auto convert = whole ? whole : most ? most : item.settingValue("conversion_s");
    if (convert && interface != "single-bus")
        work.convert_s = *convert;
    else if (interface != "single-bus" && item.device->minimumInterval_s <= kLongestConversion_s)
        work.convert_s = item.device->minimumInterval_s;
    if (interface == "i2c") {
        const double clock = clockOf_Hz(item.spec().wiring.parameters);
        work.command_s = i2cTime_s(kCommandBytes, clock);
        work.read_s = i2cTime_s(kPointerBytes + measuredBytes(item), clock);
    } else if (interface == "1-wire") {
        work.command_s = kOneWireCommand_s;
        if (const auto time = oneWireTime(1, 12, false)) work.read_s = time->read_s;
    } else if (interface == "single-bus") {
        work.read_s = kSingleBusRead_s;
    } else {
        work.read_s = 8 * static_cast<double>(measuredBytes(item)) / kSpiClock_Hz;
    }
    return work;
}

std::string lineTitle(const Item& item, const std::vector<PlanGroup>& groups) {
    for (const PlanGroup& group : groups)
        if (item.isOn(group)) return group.kind == GroupKind::Converter ? group.title : group.line;
    return {};
}

}  // namespace

PlanSchedule scheduleOf(const std::vector<Item>& items, const std::vector<PlanGroup>& groups, const Board& board) {
    PlanSchedule schedule;
    std::vector<Work> works;
    double now = 0;
    // One processor: it does one thing at a time, and whoever converts by itself is told to first.
    for (const Item& item : items) {
        const Work work = workOf(item);
        works.push_back(work);
        PlanRow row{item.name(), lineTitle(item, groups), {}, work.least_s, work.command_s + work.read_s, item.ids()};
        if (work.convert_s > 0) {
            if (work.command_s > 0) row.segments.push_back({PlanSegment::Kind::Command, now, now + work.command_s});
            now += work.command_s;
            row.segments.push_back({PlanSegment::Kind::Convert, now, now + work.convert_s});
        }
        schedule.rows.push_back(std::move(row));
    }
    std::vector<std::size_t> order(items.size());
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
    const auto ready = [&](std::size_t i) {
        return schedule.rows[i].segments.empty() ? 0 : schedule.rows[i].segments.back().to_s;
    };
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return ready(a) < ready(b); });
    for (const std::size_t i : order) {
        now = std::max(now, ready(i));
        if (works[i].read_s > 0)
            schedule.rows[i].segments.push_back({PlanSegment::Kind::Read, now, now + works[i].read_s});
        now += works[i].read_s;
    }
    schedule.busy_s = now;
    schedule.fastest_s = now;
    for (const PlanRow& row : schedule.rows)
        if (!row.segments.empty() && row.segments.back().to_s >= now * (1 - 1e-12)) schedule.slowest = row.who;
    for (const PlanRow& row : schedule.rows)
        if (row.least_s > schedule.fastest_s) {
            schedule.fastest_s = row.least_s;
            schedule.slowest = row.who;
        }
    schedule.wanted_s = board.cycle_s > 0 ? board.cycle_s : schedule.fastest_s;
    schedule.fits = schedule.wanted_s >= schedule.fastest_s * (1 - 1e-9);
    return schedule;
}

}  // namespace fg::plan
