#include "catalogue/device_part.h"

#include "bytes/dump_text.h"

#include "catalogue/json_fields.h"
#include "units/number_format.h"

#include <algorithm>
#include <charconv>
#include <cmath>

namespace fg {
namespace {

/// "0x76" as a number.
std::optional<unsigned> hexNumber(const nlohmann::json& value) {
    if (!value.is_string()) return std::nullopt;
    const std::string text = value.get<std::string>();
    unsigned number = 0;
    if (!text.starts_with("0x")) return std::nullopt;
    const auto [end, status] = std::from_chars(text.data() + 2, text.data() + text.size(), number, 16);
    return status == std::errc{} && end == text.data() + text.size() ? std::optional(number) : std::nullopt;
}

void readAddresses(JsonFields& fields, DevicePart& part) {
    if (!fields.has("addresses")) return;
    for (const auto& entry : fields.at("addresses")) {
        const auto address =
            entry.is_object() && entry.contains("address") ? hexNumber(entry["address"]) : std::nullopt;
        if (!address || *address < 0x08 || *address > 0x77)
            return fields.refuse(ErrorCode::Range, "addresses", describe(entry),
                                 "a seven-bit address from 0x08 to 0x77 with its straps");
        part.addresses.push_back({*address, entry.value("straps", "")});
    }
}

void readIdentity(JsonFields& fields, DevicePart& part) {
    if (!fields.has("identity")) return;
    const auto& entry = fields.at("identity");
    const auto address = entry.is_object() && entry.contains("register") ? hexNumber(entry["register"]) : std::nullopt;
    const auto value = entry.is_object() && entry.contains("value") ? hexNumber(entry["value"]) : std::nullopt;
    if (!address || !value)
        return fields.refuse(ErrorCode::Syntax, "identity", describe(entry), "register and value in hexadecimal");
    part.identity = Identity{*address, *value};
}

/// "measure": [{"why": "measure", "write": "AC 33 00", "wait_s": 0.08}, {"why": "the result", "read": 6, "block":
/// "frame"}]; instead of "write" also "set": "measure=pressure", or "start_low_s": 0.018 of a single-bus part.
void readMeasure(JsonFields& fields, DevicePart& part) {
    if (!fields.has("measure")) return;
    for (const auto& entry : fields.at("measure")) {
        JsonFields step(entry, "measure.");
        MeasureStep read;
        read.why = step.text("why");
        if (const std::string bytes = step.textOr("write", ""); !bytes.empty()) {
            const auto raw = readDump(bytes);
            if (!raw || raw->blocks().size() != 1)
                step.refuse(ErrorCode::Syntax, "write", "“" + bytes + "”", "bytes in hexadecimal");
            else
                read.out = raw->blocks().front().bytes;
        }
        read.in = static_cast<std::size_t>(step.wholeOr("read", 0, 0, 64));
        read.block = step.textOr("block", "");
        read.settings = step.textOr("set", "");
        read.startLow_s = step.numberOr("start_low_s", 0);
        read.wait_s = step.numberOr("wait_s", 0);
        read.isOnce = entry.is_object() && entry.value("once", false);
        read.isUnanswered = entry.is_object() && entry.value("unanswered", false);
        if ((read.in > 0 || !read.settings.empty()) == read.block.empty())
            step.refuse(ErrorCode::Missing, "block", "“" + read.block + "”",
                        "the block that is read or that the settings are for, and only that");
        if (step.error()) {
            fields.adopt(step);
            return;
        }
        part.measure.push_back(std::move(read));
    }
}

void readAccuracy(JsonFields& fields, DevicePart& part) {
    if (!fields.has("accuracy")) return;
    for (const auto& entry : fields.at("accuracy")) {
        JsonFields band(entry, "accuracy.");
        DeviceAccuracy read{band.measurand("quantity"),
                            {band.interval("span"), band.numberOr("limit", 0), band.numberOr("per_unit", 0),
                             band.textOr("statement", "")}};
        if (!(read.band.limit + read.band.perUnit > 0))
            band.refuse(ErrorCode::Range, "limit", plainNumber(read.band.limit), "a limit above 0");
        if (band.error())
            return fields.refuse(band.error()->code, band.error()->where, band.error()->found, band.error()->expected);
        part.accuracy.push_back(read);
    }
}

void readOptions(JsonFields& fields, DevicePart& part) {
    if (!fields.has("options")) return;
    for (const auto& [id, value] : fields.at("options").items())
        part.options.set(id, value.is_string() ? value.get<std::string>() : jsonText(value));
}

}  // namespace

std::optional<unsigned> DevicePart::addressIn(const Parameters& wiring) const {
    if (addresses.empty()) return std::nullopt;
    const double given = wiring.numberOr("address", addresses.front().address);
    constexpr double kSevenBits = 0x7F;
    if (!(given >= 0 && given <= kSevenBits) || given != std::floor(given)) return std::nullopt;
    return static_cast<unsigned>(given);
}

std::optional<double> DevicePart::accuracyAt(Quantity quantity, double value) const {
    std::optional<double> tightest;
    for (const DeviceAccuracy& one : accuracy)
        if (one.quantity == quantity && one.band.span.contains(value) &&
            (!tightest || one.band.limitAt(value) < *tightest))
            tightest = one.band.limitAt(value);
    return tightest;
}

ReadingDisplay displayOf(const DevicePart& part, const DeviceReading& reading, const Unit* wanted) {
    if (std::isnan(reading.value)) return {"–", ""};
    if (reading.bound != Bound::None) {
        DeviceReading limit = reading;
        limit.bound = Bound::None;
        return {(reading.bound == Bound::AtLeast ? "≥ " : "≤ ") + displayOf(part, limit, wanted).value, ""};
    }
    if (!isMeasurand(reading.quantity)) {
        if (reading.quantity == Quantity::Ratio) return {plainNumber(1000 * reading.value, 6) + " mV/V", ""};
        return {engineering(reading.value, reading.quantity, 6).joined(), ""};
    }
    const Unit& unit = wanted && wanted->quantity == reading.quantity ? *wanted
                       : reading.quantity == Quantity::Pressure       ? *unitFromId("hPa", Quantity::Pressure).value()
                                                                      : canonicalUnit(reading.quantity);
    // A statement is about the whole quantity: a second temperature of the same part has its own or none.
    const bool isMain = reading.id == quantityName(reading.quantity);
    const auto limit = isMain ? part.accuracyAt(reading.quantity, reading.value) : std::nullopt;
    const RoundedReading rounded =
        roundedReading(reading.value, limit.value_or(reading.step > 0 ? 10 * reading.step : 0), unit);
    return {rounded.value.joined(), limit ? rounded.uncertainty + " " + std::string(unit.symbol) : ""};
}

Expected<DevicePart> readDevicePart(const std::string& text, const std::string& file) {
    return guarded(file, [&]() -> Expected<DevicePart> {
        const auto json = parseJson(text, file);
        if (!json) return tl::unexpected(json.error());
        JsonFields fields(*json, file);
        DevicePart part;
        static_cast<PartFacts&>(part) = readFacts(fields, file);
        const std::string device = fields.text("device");
        part.device = findDevice(device);
        if (!part.device) fields.refuse(ErrorCode::Unknown, "device", "“" + device + "”", "the name of a decoder");
        part.readings = fields.texts("readings");
        if (part.readings.empty()) fields.refuse(ErrorCode::Missing, "readings", "none", "at least one reading");
        for (const std::string& reading : part.readings)
            if (!quantityFromName(reading) && reading != "internal" && reading != "gas")
                fields.refuse(ErrorCode::Unknown, "readings", "“" + reading + "”", "a quantity, or internal or gas");
        if (fields.has("ranges")) {
            JsonFields ranges = fields.object("ranges");
            for (const std::string& reading : part.readings)
                if (ranges.has(reading.c_str())) part.ranges[reading] = ranges.interval(reading.c_str());
            fields.adopt(ranges);
        }
        readOptions(fields, part);
        readAccuracy(fields, part);
        readAddresses(fields, part);
        readIdentity(fields, part);
        readMeasure(fields, part);
        part.openDrain = fields.textOr("open_drain", "");
        part.nothingToSet = fields.textOr("nothing_to_set", "");
        if (part.interface.empty())
            fields.refuse(ErrorCode::Missing, "interface", "nothing", "i2c, 1-wire, single-bus or spi");
        if (part.interface == "i2c" && part.addresses.empty())
            fields.refuse(ErrorCode::Missing, "addresses", "none", "the addresses of a two-wire device");
        if (fields.error()) return tl::unexpected(*fields.error());
        if (const auto complete = part.options.completed(part.device->options()); !complete)
            return tl::unexpected(complete.error().within(file));
        return part;
    });
}

}  // namespace fg
