#include "registers/bus_transaction.h"

#include "bytes/checksum.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>

namespace fg {
namespace {

using Steps = std::vector<BusStep>;
using Kind = BusStep::Kind;

void mark(Steps& steps, Kind kind, const char* meaning) {
    steps.push_back({kind, 0, kind != Kind::Presence, {}, meaning});
}

void start(Steps& steps, unsigned address, bool isRead) {
    mark(steps, steps.empty() ? Kind::Start : Kind::RepeatedStart, steps.empty() ? "start" : "repeated start");
    steps.push_back({Kind::Byte, static_cast<std::uint8_t>(address << 1 | (isRead ? 1 : 0)), true, true,
                     fmt::format("address 0x{:02X}, {}", address, isRead ? "read" : "write")});
}

void send(Steps& steps, std::uint8_t byte, const std::string& meaning, std::optional<bool> acknowledged) {
    steps.push_back({Kind::Byte, byte, true, acknowledged, meaning});
}

void point(Steps& steps, const Register& in, unsigned pointer, std::optional<bool> acknowledged) {
    for (std::size_t i = in.pointerBytes; i-- > 0;)
        send(steps, static_cast<std::uint8_t>(pointer >> 8 * i), "register " + in.name, acknowledged);
}

/// Data as the device sends it; its last byte is not acknowledged on a bus that acknowledges.
void receive(Steps& steps, std::span<const std::uint8_t> data, bool isMeasured, bool acknowledges) {
    for (std::size_t i = 0; i < data.size(); ++i) {
        const bool isLast = i + 1 == data.size();
        steps.push_back({Kind::Byte, data[i], false, acknowledges ? std::optional(!isLast) : std::nullopt,
                         isLast && acknowledges ? "last data, not acknowledged" : "data", isMeasured});
    }
}

std::vector<std::uint8_t> withCrc(const RegisterWord& word) {
    std::vector<std::uint8_t> data = word.bytes();
    if (word.in->hasCrc) data.push_back(crc8Humidity(data, 0xFF));
    return data;
}

void sendData(Steps& steps, const Register& in, std::span<const std::uint8_t> data, std::optional<bool> acknowledged) {
    for (std::size_t i = 0; i < data.size(); ++i)
        send(steps, data[i], in.hasCrc && i + 1 == data.size() ? "CRC-8 of the word" : "data", acknowledged);
}

Steps twoWireWrite(const Register& in, std::span<const std::uint8_t> data, unsigned address) {
    Steps steps;
    start(steps, address, false);
    point(steps, in, in.writePointer(), true);
    sendData(steps, in, data, true);
    mark(steps, Kind::Stop, "stop");
    return steps;
}

Steps twoWireRead(const Register& in, std::span<const std::uint8_t> data, unsigned address) {
    Steps steps;
    start(steps, address, false);
    point(steps, in, in.readPointer(), true);
    start(steps, address, true);
    receive(steps, data, in.isReadOnly, true);
    mark(steps, Kind::Stop, "stop");
    return steps;
}

Steps fourWire(const Register& in, std::span<const std::uint8_t> data, bool isRead) {
    Steps steps;
    mark(steps, Kind::Select, "select low");
    point(steps, in, isRead ? in.readPointer() : in.writePointer(), {});
    if (isRead)
        receive(steps, data, in.isReadOnly, false);
    else
        sendData(steps, in, data, {});
    mark(steps, Kind::Release, "select high");
    return steps;
}

Steps command(unsigned address, std::span<const std::uint8_t> bytes, const std::string& name) {
    Steps steps;
    start(steps, address, false);
    for (const std::uint8_t byte : bytes) send(steps, byte, "command " + name, true);
    mark(steps, Kind::Stop, "stop");
    return steps;
}

Steps answer(unsigned address, std::size_t bytes) {
    Steps steps;
    start(steps, address, true);
    receive(steps, std::vector<std::uint8_t>(bytes), true, true);
    mark(steps, Kind::Stop, "stop");
    return steps;
}

Steps oneWire(std::uint8_t function, const char* meaning) {
    Steps steps;
    mark(steps, Kind::Reset, "reset");
    mark(steps, Kind::Presence, "presence");
    send(steps, 0xCC, "skip ROM: the only one on the line", {});
    send(steps, function, meaning, {});
    return steps;
}

}  // namespace

BusKind busKindOf(std::string_view interface) {
    return interface == "i2c"                ? BusKind::TwoWire
           : interface == "spi"              ? BusKind::FourWire
           : interface == "1-wire"           ? BusKind::OneWire
           : interface == "single-bus"       ? BusKind::SingleBus
           : interface == "two-wire clocked" ? BusKind::Clocked
                                             : BusKind::None;
}

std::string_view busStepName(BusStep::Kind kind) {
    constexpr std::array<std::string_view, 8> names{"start",  "repeated-start", "byte",  "stop",
                                                    "select", "release",        "reset", "presence"};
    return names[static_cast<std::size_t>(kind)];
}

std::vector<Transaction> transactionsOf(const RegisterWord& word, const BusSite& site) {
    const Register& in = *word.in;
    const bool isTwoWire = site.kind == BusKind::TwoWire && site.address != 0;
    std::vector<Transaction> list;
    const std::vector<std::uint8_t> data = withCrc(word);
    if (in.form == WordForm::Register && (isTwoWire || site.kind == BusKind::FourWire)) {
        if (!in.isReadOnly)
            list.push_back({"write", isTwoWire ? twoWireWrite(in, data, site.address) : fourWire(in, data, false)});
        list.push_back({"read", isTwoWire ? twoWireRead(in, data, site.address) : fourWire(in, data, true)});
    }
    if (in.form != WordForm::Command || !isTwoWire) return list;
    if (in.sendsBytesAlone)
        for (const std::uint8_t& byte : data)
            list.push_back({"send", command(site.address, std::span(&byte, 1), in.name)});
    else
        list.push_back({"send", command(site.address, data, in.name)});
    if (in.isAnswered(word.word)) list.push_back({"answer", answer(site.address, in.answer.bytes)});
    return list;
}

std::vector<Transaction> scratchpadTransactions(const RegisterMap& map, std::span<const RegisterWord> words,
                                                const BusSite& site) {
    if (site.kind != BusKind::OneWire) return {};
    constexpr unsigned kBytes = 9;
    Steps write = oneWire(0x4E, "write scratchpad"), read = oneWire(0xBE, "read scratchpad");
    for (unsigned at = 0; at < kBytes; ++at) {
        const Register* in = map.findRegister(at);
        if (!in) {
            read.push_back({Kind::Byte, 0, false, {}, "data", true});
            continue;
        }
        const auto said =
            std::find_if(words.begin(), words.end(), [&](const RegisterWord& one) { return one.in == in; });
        const bool isOpen = said == words.end() && !in->isResetKnown;
        const auto byte = static_cast<std::uint8_t>(said == words.end() ? in->reset : said->word);
        write.push_back({Kind::Byte, byte, true, {}, isOpen ? in->name + ", as it was read before" : in->name, isOpen});
        read.push_back({Kind::Byte, byte, false, {}, in->name, isOpen});
    }
    return {{"write", std::move(write)},
            {"keep", oneWire(0x48, "copy scratchpad: 10 ms, the line held high with parasite power")},
            {"convert", oneWire(0x44, "convert T")},
            {"read", std::move(read)}};
}

std::string transactionText(std::span<const BusStep> steps) {
    constexpr std::array<std::string_view, 8> marks{"S", "Sr", "", "P", "[", "]", "R", "p"};
    std::string text;
    for (const BusStep& step : steps) {
        if (!text.empty()) text += ' ';
        text += marks[static_cast<std::size_t>(step.kind)];
        if (step.kind != Kind::Byte) continue;
        text += step.isMeasured ? std::string("··") : fmt::format("{:02X}", step.byte);
        if (step.acknowledged) text += *step.acknowledged ? " A" : " N";
    }
    return text;
}

std::string_view transactionLegend(BusKind kind) {
    switch (kind) {
        case BusKind::TwoWire:
            return "On the bus: S start, Sr repeated start, A acknowledged, N not acknowledged, P stop, ·· a byte that "
                   "only the device "
                   "knows.";
        case BusKind::FourWire:
            return "On the bus: [ the part is selected, ] released, between them bytes to it and from it.";
        case BusKind::OneWire:
            return "On the line, the probe alone on it: R reset, p presence, then bytes, ·· one that only the probe "
                   "knows. Of several "
                   "probes one is named by 55 and its ROM code instead of CC.";
        case BusKind::SingleBus:
        case BusKind::Clocked:
        case BusKind::None:
            break;
    }
    return "";
}

}  // namespace fg
