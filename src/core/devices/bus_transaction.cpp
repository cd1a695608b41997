#include "devices/bus_transaction.h"

#include "devices/checksum.h"

#include <fmt/format.h>

namespace fg {
namespace {

using Steps = std::vector<BusStep>;

void start(Steps& steps, unsigned address, bool isRead) {
    const bool isAgain = !steps.empty();
    steps.push_back({isAgain ? BusStep::Kind::RepeatedStart : BusStep::Kind::Start, 0, true, true, isAgain ? "repeated start" : "start"});
    steps.push_back({BusStep::Kind::Byte, static_cast<std::uint8_t>(address << 1 | (isRead ? 1 : 0)), true, true,
                     fmt::format("address 0x{:02X}, {}", address, isRead ? "read" : "write")});
}

void send(Steps& steps, std::uint8_t byte, const std::string& meaning) {
    steps.push_back({BusStep::Kind::Byte, byte, true, true, meaning});
}

void point(Steps& steps, unsigned pointer, std::size_t bytes, const std::string& name) {
    for (std::size_t i = bytes; i-- > 0;) send(steps, static_cast<std::uint8_t>(pointer >> 8 * i), "register " + name);
}

/// Data as the device sends it; its last byte is not acknowledged.
void receive(Steps& steps, std::span<const std::uint8_t> data, bool isMeasured) {
    for (std::size_t i = 0; i < data.size(); ++i) {
        const bool isLast = i + 1 == data.size();
        steps.push_back({BusStep::Kind::Byte, data[i], false, !isLast, isLast ? "last data, not acknowledged" : "data", isMeasured});
    }
}

void stop(Steps& steps) { steps.push_back({BusStep::Kind::Stop, 0, true, true, "stop"}); }

std::vector<std::uint8_t> withCrc(const RegisterWord& word) {
    std::vector<std::uint8_t> data = word.bytes();
    if (word.in->hasCrc) data.push_back(crc8Humidity(data, 0xFF));
    return data;
}

Steps writing(unsigned address, unsigned pointer, std::size_t pointerBytes, std::span<const std::uint8_t> data, const std::string& name) {
    Steps steps;
    start(steps, address, false);
    point(steps, pointer, pointerBytes, name);
    for (const std::uint8_t byte : data) send(steps, byte, "data");
    stop(steps);
    return steps;
}

Steps reading(unsigned address, unsigned pointer, std::size_t pointerBytes, std::span<const std::uint8_t> data, const std::string& name) {
    Steps steps;
    start(steps, address, false);
    point(steps, pointer, pointerBytes, name);
    start(steps, address, true);
    receive(steps, data, false);
    stop(steps);
    return steps;
}

Steps command(unsigned address, std::span<const std::uint8_t> bytes, const std::string& name) {
    Steps steps;
    start(steps, address, false);
    for (const std::uint8_t byte : bytes) send(steps, byte, "command " + name);
    stop(steps);
    return steps;
}

}  // namespace

std::vector<BusStep> writeTransaction(unsigned address, unsigned pointer, std::span<const std::uint8_t> data, const std::string& name) {
    return writing(address, pointer, 1, data, name);
}

std::vector<BusStep> readTransaction(unsigned address, unsigned pointer, std::span<const std::uint8_t> data, const std::string& name) {
    return reading(address, pointer, 1, data, name);
}

std::vector<Transaction> transactionsOf(const RegisterWord& word, unsigned address) {
    const Register& in = *word.in;
    std::vector<Transaction> list;
    if (in.form == WordForm::Pulses) return list;
    const std::vector<std::uint8_t> data = withCrc(word);
    if (in.form == WordForm::Register) {
        if (!in.isReadOnly) {
            list.push_back({"write", writing(address, in.address, in.pointerBytes, data, in.name)});
            list.back().steps[1 + in.pointerBytes + data.size()].meaning = in.hasCrc ? "CRC-8 of the word" : "data";
        }
        list.push_back({"read", reading(address, in.readAddress, in.pointerBytes, data, in.name)});
        // What a register that is only read will hold, nobody knows beforehand.
        if (in.isReadOnly)
            for (BusStep& step : list.back().steps) step.isMeasured = !step.byMaster;
        return list;
    }
    if (in.sendsBytesAlone)
        for (const std::uint8_t& byte : data) list.push_back({"send", command(address, std::span(&byte, 1), in.name)});
    else
        list.push_back({"send", command(address, data, in.name)});
    if (in.isAnswered(word.word)) {
        Steps steps;
        start(steps, address, true);
        receive(steps, std::vector<std::uint8_t>(in.answer.bytes), true);
        stop(steps);
        list.push_back({"answer", std::move(steps)});
    }
    return list;
}

std::string transactionText(std::span<const BusStep> steps) {
    std::string text;
    for (const BusStep& step : steps) {
        if (!text.empty()) text += ' ';
        switch (step.kind) {
            case BusStep::Kind::Start:
                text += 'S';
                break;
            case BusStep::Kind::RepeatedStart:
                text += "Sr";
                break;
            case BusStep::Kind::Stop:
                text += 'P';
                break;
            case BusStep::Kind::Byte:
                text += (step.isMeasured ? std::string("··") : fmt::format("{:02X}", step.byte)) + (step.acknowledged ? " A" : " N");
                break;
        }
    }
    return text;
}

}  // namespace fg
