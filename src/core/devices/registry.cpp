#include "devices/device.h"
#include "devices/device_rows.h"
#include "devices/tracer.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>

namespace fg {

std::span<const Device* const> devices() {
    using namespace device_rows;
    static const std::array all{&kDs18b20, &kDs18s20, &kLm75,     &kTmp102,   &kTmp117,   &kMcp9808, &kAdt7410,
                                &kDs3231,  &kMax6675, &kMax31855, &kMax31865, &kMcp9600,  &kDht11,   &kDht22,
                                &kAm2320,  &kAht20,   &kSht3x,    &kSht4x,    &kSi7021,   &kHdc1080, &kHdc2080,
                                &kHts221,  &kBmp180,  &kBmp280,   &kBme280,   &kBmp388,   &kBme680,  &kMs5611,
                                &kMs5607,  &kMs5837,  &kMs583702, &kMpl115a2, &kDps310,   &kLps22hb, &kLps25hb,
                                &kBh1750,  &kTsl2561, &kVeml7700, &kOpt3001,  &kMax44009, &kHx711,   &kNau7802,
                                &kAds1115};
    return all;
}

const Device* findDevice(std::string_view id) {
    for (const Device* device : devices())
        if (device->id == id) return device;
    return nullptr;
}

const DeviceReading* Decoded::find(std::string_view id) const {
    const auto it =
        std::find_if(readings.begin(), readings.end(), [&](const DeviceReading& one) { return one.id == id; });
    return it == readings.end() ? nullptr : &*it;
}

std::vector<std::uint8_t> bytesBe(std::uint64_t value, std::size_t count) {
    std::vector<std::uint8_t> bytes(count);
    for (std::size_t i = count; i-- > 0; value >>= 8) bytes[i] = static_cast<std::uint8_t>(value);
    return bytes;
}

std::vector<std::uint8_t> bytesLe(std::uint64_t value, std::size_t count) {
    std::vector<std::uint8_t> bytes(count);
    for (std::uint8_t& byte : bytes) {
        byte = static_cast<std::uint8_t>(value);
        value >>= 8;
    }
    return bytes;
}

Expected<RawData> laidOut(const Device& device, const DeviceOptions& options, const RawData& raw) {
    const auto complete = options.completed(device.options());
    if (!complete) return tl::unexpected(complete.error());
    RawData data;
    for (RawBlock block : raw.blocks()) {
        if (!block.isWords) {
            data.add(std::move(block));
            continue;
        }
        WordReading reading = device.words;
        for (const BlockSpec& spec : device.blocks(*complete))
            if (spec.words && spec.address && block.address && *block.address >= *spec.address &&
                *block.address < *spec.address + spec.size)
                reading = *spec.words;
        const std::string written = fmt::format("0x{:02X}{:02X}", block.bytes[0], block.bytes[1]);
        if (reading == WordReading::Unknown)
            return fail(ErrorCode::Ambiguous, block.label(), written,
                        fmt::format("two bytes, {:02X} {:02X} as {} sends them or {:02X} {:02X} where a word read of "
                                    "the bus made the number "
                                    "(it takes the low byte first)",
                                    block.bytes[0], block.bytes[1], device.id, block.bytes[1], block.bytes[0]));
        block.isWords = false;
        if (reading == WordReading::OfPointer) {
            if (block.bytes.size() != 2)
                return fail(ErrorCode::Range, block.label(), fmt::format("{} words", block.bytes.size() / 2),
                            "one word: each register of " + std::string(device.id) + " is a word of its own");
            block.isNumber = true;
        } else {
            for (std::size_t i = 0; i + 1 < block.bytes.size(); i += 2) std::swap(block.bytes[i], block.bytes[i + 1]);
        }
        data.add(std::move(block));
    }
    return data;
}

std::vector<std::uint8_t> measuredBytes(const Device& device, const DeviceOptions& options, const RawData& raw) {
    std::vector<std::uint8_t> all;
    for (const BlockSpec& block : device.blocks(options)) {
        if (block.isCalibration || block.isOptional) continue;
        const auto bytes = block.address && raw.hasRegister(*block.address)
                               ? raw.registers(*block.address, block.size)
                               : raw.block(block.name, raw.blockSize(block.name));
        if (bytes) all.insert(all.end(), bytes->data().begin(), bytes->data().end());
    }
    return all;
}

namespace {

void doubtUniform(const Device& device, const DeviceOptions& options, const RawData& raw, Decoded& decoded) {
    const auto bytes = measuredBytes(device, options, raw);
    const auto all = [&](std::uint8_t value) {
        return !bytes.empty() &&
               std::all_of(bytes.begin(), bytes.end(), [&](std::uint8_t byte) { return byte == value; });
    };
    const bool isToldAlready = std::any_of(decoded.status.begin(), decoded.status.end(),
                                           [](const DeviceStatus& one) { return one.kind != StatusKind::Note; });
    if (isToldAlready) return;
    if (all(0xFF))
        decoded.status.push_back(
            {StatusKind::Doubt, "all-ones",
             "All bits are 1: a bus on which nothing answers gives the same, its pull-ups hold it high. Read again, or "
             "read a register that is never all ones (an identity, the configuration)."});
    if (all(0x00))
        decoded.status.push_back({StatusKind::Doubt, "all-zeros",
                                  device.isZeroAtPowerOn
                                      ? "All bits are 0: so the result stands from power-on until the first conversion "
                                        "is finished, and so a data line held low "
                                        "reads. Wait for a conversion and read again."
                                      : "All bits are 0: a data line held low reads the same, and so may a part that "
                                        "has measured nothing yet. Read again, or "
                                        "read "
                                        "a register that is never 0."});
}

}  // namespace

Expected<Decoded> decode(const Device& device, const RawData& raw, const DeviceOptions& options) {
    const auto complete = options.completed(device.options());
    if (!complete) return tl::unexpected(complete.error());
    auto decoded = device.decode(raw, *complete);
    if (decoded) doubtUniform(device, *complete, raw, *decoded);
    return decoded;
}

namespace {

/// The reading for these raw numbers; NaN where decoding refuses or gives none.
double readingOf(const Device& device, const RawData& calibration, const DeviceOptions& options,
                 std::span<const std::int64_t> raw, const std::string& id) {
    RawData data = calibration;
    data.add(device.compose(raw, options, calibration));
    const auto decoded = device.decode(data, options);
    const DeviceReading* reading = decoded ? decoded->find(id) : nullptr;
    return reading ? reading->value : std::nan("");
}

/// Where in low … high there is a reading at all: one run of numbers, found by looking at 64 of them and bisecting its
/// two ends.
template <class At>
std::optional<std::pair<std::int64_t, std::int64_t>> validRange(const RawVariable& variable, const At& at) {
    constexpr std::int64_t kParts = 64;
    const auto place = [&](std::int64_t i) {
        return variable.low + (variable.high - variable.low) / kParts * i +
               (variable.high - variable.low) % kParts * i / kParts;
    };
    std::int64_t first = 0, last = kParts;
    while (first <= kParts && std::isnan(at(place(first)))) ++first;
    if (first > kParts) return std::nullopt;
    while (std::isnan(at(place(last)))) --last;
    const auto edge = [&](std::int64_t valid, std::int64_t invalid) {
        while (std::abs(valid - invalid) > 1) {
            const std::int64_t middle = invalid + (valid - invalid) / 2;
            (std::isnan(at(middle)) ? invalid : valid) = middle;
        }
        return valid;
    };
    return std::pair{first == 0 ? place(0) : edge(place(first), place(first - 1)),
                     last == kParts ? place(kParts) : edge(place(last), place(last + 1))};
}

/// The raw number nearest to a value, for a reading that is monotonic in it.
Expected<std::int64_t> bisect(const Device& device, const RawData& calibration, const DeviceOptions& options,
                              std::vector<std::int64_t>& raw, std::size_t index, const RawVariable& variable,
                              double value) {
    const auto at = [&](std::int64_t number) {
        raw[index] = number;
        return readingOf(device, calibration, options, raw, variable.reading);
    };
    const auto range = validRange(variable, at);
    if (!range)
        return fail(ErrorCode::Domain, variable.reading, plainNumber(value), "a device whose bytes can be decoded");
    auto [low, high] = *range;
    const double first = at(low), last = at(high);
    const bool rising = last >= first;
    if (!(value >= std::min(first, last) && value <= std::max(first, last)))
        return fail(ErrorCode::Range, variable.reading, plainNumber(value),
                    "a value from " + plainNumber(std::min(first, last), 6) + " to " +
                        plainNumber(std::max(first, last), 6));
    while (high - low > 1) {
        const std::int64_t middle = low + (high - low) / 2;
        ((at(middle) <= value) == rising ? low : high) = middle;
    }
    return std::abs(at(low) - value) <= std::abs(at(high) - value) ? low : high;
}

}  // namespace

Expected<RawData> encode(const Device& device, std::span<const WantedReading> wanted, const DeviceOptions& options,
                         const RawData& calibration) {
    const auto complete = options.withoutLines().completed(device.options());
    if (!complete) return tl::unexpected(complete.error());
    const std::vector<RawVariable> variables = device.variables(*complete);
    if (variables.empty())
        return fail(ErrorCode::Unsupported, std::string(device.id), "a value", "bytes: this device is only read");
    std::vector<std::int64_t> raw;
    for (const RawVariable& variable : variables) raw.push_back(variable.low + (variable.high - variable.low) / 2);
    for (std::size_t i = 0; i < variables.size(); ++i) {
        const auto it = std::find_if(wanted.begin(), wanted.end(),
                                     [&](const WantedReading& one) { return one.id == variables[i].reading; });
        if (it == wanted.end()) continue;
        // The numbers after it stand somewhere in their range meanwhile, where the device's coefficients need not give
        // a value.
        Expected<std::int64_t> found;
        for (const int eighths : {4, 3, 5, 2, 6, 1, 7}) {
            for (std::size_t j = i + 1; j < variables.size(); ++j)
                raw[j] = variables[j].low + (variables[j].high - variables[j].low) / 8 * eighths;
            if (found = bisect(device, calibration, *complete, raw, i, variables[i], it->value);
                found || i + 1 == variables.size())
                break;
        }
        if (!found) return tl::unexpected(found.error());
        raw[i] = *found;
    }
    RawData data = calibration;
    data.add(device.compose(raw, *complete, calibration));
    return data;
}

}  // namespace fg
