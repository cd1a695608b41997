#include "handover/code_checks.h"

#include <fmt/format.h>
#include <array>

namespace fg {
namespace {

struct Helper {
    const char *name, *c, *python;
};
constexpr std::array kHelpers{
    Helper{"fg_crc8_ones",
           "/* CRC-8, polynomial 0x31, high bit first. */\n"
           "static uint8_t {0}(const uint8_t *bytes, unsigned count)\n{{\n    uint8_t crc = 0xFF;\n    while "
           "(count-- > 0) {{\n        int i;\n        crc ^= *bytes++;\n        for (i = 0; i < 8; ++i)\n     "
           "       crc = (uint8_t)((crc & 0x80) ? (crc << 1) ^ 0x31 : crc << 1);\n    }}\n    return crc;\n}}\n\n",
           "\ndef {0}(data):\n    crc = 0xFF\n    for byte in data:\n        crc ^= byte\n        for _ in "
           "range(8): crc = ((crc << 1) ^ 0x31 if crc & 0x80 else crc << 1) & 0xFF\n    return crc\n\n"},
    Helper{"fg_crc8_zero",
           "/* CRC-8, polynomial 0x31, high bit first. */\n"
           "static uint8_t {0}(const uint8_t *bytes, unsigned count)\n{{\n    uint8_t crc = 0;\n    while "
           "(count-- > 0) {{\n        int i;\n        crc ^= *bytes++;\n        for (i = 0; i < 8; ++i)\n     "
           "       crc = (uint8_t)((crc & 0x80) ? (crc << 1) ^ 0x31 : crc << 1);\n    }}\n    return crc;\n}}\n\n",
           "\ndef {0}(data):\n    crc = 0\n    for byte in data:\n        crc ^= byte\n        for _ in "
           "range(8): crc = ((crc << 1) ^ 0x31 if crc & 0x80 else crc << 1) & 0xFF\n    return crc\n\n"},
    Helper{"fg_crc8_wire",
           "/* CRC-8, polynomial 0x31, low bit first. */\n"
           "static uint8_t {0}(const uint8_t *bytes, unsigned count)\n{{\n    uint8_t crc = 0;\n    while "
           "(count-- > 0) {{\n        int i;\n        crc ^= *bytes++;\n        for (i = 0; i < 8; ++i)\n     "
           "       crc = (uint8_t)((crc & 1) ? (crc >> 1) ^ 0x8C : crc >> 1);\n    }}\n    return crc;\n}}\n\n",
           "\ndef {0}(data):\n    crc = 0\n    for byte in data:\n        crc ^= byte\n        for _ in "
           "range(8): crc = (crc >> 1) ^ 0x8C if crc & 1 else crc >> 1\n    return crc\n\n"},
    Helper{"fg_sum8",
           "static uint8_t {0}(const uint8_t *bytes, unsigned count)\n{{\n    uint8_t sum = 0;\n    while "
           "(count-- > 0) sum = (uint8_t)(sum + *bytes++);\n    return sum;\n}}\n\n",
           "\ndef {0}(data):\n    return sum(data) & 0xFF\n\n"},
    Helper{"fg_crc16",
           "/* CRC-16, polynomial 0x8005, low bit first, from 0xFFFF. */\n"
           "static uint16_t {0}(const uint8_t *bytes, unsigned count)\n{{\n    uint16_t crc = 0xFFFF;\n    "
           "while (count-- > 0) {{\n        int i;\n        crc = (uint16_t)(crc ^ *bytes++);\n        for (i = "
           "0; i < 8; ++i)\n            crc = (uint16_t)((crc & 1) ? (crc >> 1) ^ 0xA001 : crc >> 1);\n    }}\n  "
           "  return crc;\n}}\n\n",
           "\ndef {0}(data):\n    crc = 0xFFFF\n    for byte in data:\n        crc ^= byte\n        for _ in "
           "range(8): crc = (crc >> 1) ^ 0xA001 if crc & 1 else crc >> 1\n    return crc\n\n"},
    Helper{"fg_crc4_low",
           "/* CRC-4 of a PROM of eight words, polynomial 0x3; the low half of the last byte holds it. */\n"
           "static int {0}(const uint8_t *bytes)\n{{\n    uint16_t rest = 0;\n    int i, bit;\n"
           "    for (i = 0; i < 16; ++i) {{\n        rest = (uint16_t)(rest ^ (i == 15 ? 0 : bytes[i]));\n"
           "        for (bit = 0; bit < 8; ++bit)\n"
           "            rest = (uint16_t)((rest & 0x8000) ? (rest << 1) ^ 0x3000 : rest << 1);\n    }}\n"
           "    return (rest >> 12) == (bytes[15] & 15);\n}}\n\n",
           "\ndef {0}(data):\n    rest = 0\n    for i in range(16):\n        rest ^= 0 if i == 15 else data[i]\n"
           "        for _ in range(8): rest = ((rest << 1) ^ 0x3000 if rest & 0x8000 else rest << 1) & 0xFFFF\n"
           "    return rest >> 12 == data[15] & 15\n\n"},
    Helper{"fg_crc4_high",
           "/* CRC-4 of a PROM of seven words, polynomial 0x3; the high half of the first byte holds it. */\n"
           "static int {0}(const uint8_t *bytes)\n{{\n    uint16_t rest = 0;\n    int i, bit;\n"
           "    for (i = 0; i < 16; ++i) {{\n"
           "        rest = (uint16_t)(rest ^ (i >= 14 ? 0 : i == 0 ? bytes[0] & 15 : bytes[i]));\n"
           "        for (bit = 0; bit < 8; ++bit)\n"
           "            rest = (uint16_t)((rest & 0x8000) ? (rest << 1) ^ 0x3000 : rest << 1);\n    }}\n"
           "    return (rest >> 12) == (bytes[0] >> 4);\n}}\n\n",
           "\ndef {0}(data):\n    rest = 0\n    for i in range(16):\n"
           "        rest ^= 0 if i >= 14 else data[0] & 15 if i == 0 else data[i]\n"
           "        for _ in range(8): rest = ((rest << 1) ^ 0x3000 if rest & 0x8000 else rest << 1) & 0xFFFF\n"
           "    return rest >> 12 == data[0] >> 4\n\n"}};

}  // namespace

CheckText checkText(const BlockCheck& check, const std::string& block, CodeLanguage language) {
    const bool isC = language == CodeLanguage::C, isWide = check.kind == CheckKind::Crc16Modbus;
    const Helper& helper = kHelpers[static_cast<std::size_t>(check.kind)];
    if (check.kind == CheckKind::PromLow || check.kind == CheckKind::PromHigh)
        return {fmt::format(fmt::runtime(isC ? helper.c : helper.python), helper.name),
                fmt::format("{}{}({})", isC ? "!" : "not ", helper.name, block)};
    const std::string joined = fmt::format("{0}[{1}] | {0}[{2}] << 8", block, check.at, check.at + 1);
    const std::string there = !isWide ? fmt::format("{}[{}]", block, check.at)
                              : isC   ? "(uint16_t)(" + joined + ")"
                                      : joined;
    const std::string from = check.first == 0 ? block : fmt::format("{} + {}", block, check.first);
    return {fmt::format(fmt::runtime(isC ? helper.c : helper.python), helper.name),
            isC ? fmt::format("{}({}, {}) != {}", helper.name, from, check.count, there)
                : fmt::format("{}({}[{}:{}]) != ({})", helper.name, block, check.first, check.first + check.count,
                              there)};
}

}  // namespace fg
