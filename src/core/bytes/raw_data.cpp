#include "bytes/raw_data.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {

void Bytes::reserve(std::size_t count) {
    m_bytes.reserve(count);
    m_places.reserve(count);
}

void Bytes::append(std::uint8_t byte, std::size_t block, std::size_t offset) {
    m_bytes.push_back(byte);
    m_places.push_back({block, offset, 1});
}

std::vector<ByteRef> Bytes::places(std::size_t first, std::size_t count) const {
    std::vector<ByteRef> joined;
    for (std::size_t i = first; i < first + count; ++i) {
        const ByteRef& one = m_places[i];
        if (!joined.empty() && joined.back().block == one.block &&
            joined.back().first + joined.back().count == one.first)
            ++joined.back().count;
        else
            joined.push_back(one);
    }
    return joined;
}

std::string Bytes::hex(std::size_t first, std::size_t count) const {
    std::string text;
    for (std::size_t i = first; i < first + count; ++i)
        text += fmt::format("{}{:02X}", i == first ? "" : " ", m_bytes[i]);
    return text;
}

Bytes Bytes::part(std::size_t first, std::size_t count) const {
    Bytes bytes;
    for (std::size_t i = first; i < first + count; ++i) bytes.append(m_bytes[i], m_places[i].block, m_places[i].first);
    return bytes;
}

std::string RawBlock::label() const {
    if (!name.empty()) return name;
    return address ? fmt::format("0x{:02X}", *address) : std::string("bytes");
}

bool RawData::hasOneUnnamed() const {
    return std::count_if(m_blocks.begin(), m_blocks.end(),
                         [](const RawBlock& b) { return b.name.empty() && !b.address; }) == 1;
}

std::size_t RawData::find(std::string_view name) const {
    for (std::size_t i = m_blocks.size(); i-- > 0;)
        if (m_blocks[i].name == name) return i;
    if (hasOneUnnamed() && m_blocks.size() == 1) return 0;
    return m_blocks.size();
}

Expected<Bytes> RawData::whole(std::size_t index, std::size_t count, const std::string& what, ByteOrder order) const {
    RawBlock block = m_blocks[index];
    if (block.isNumber && block.bytes.size() <= count) {
        block.bytes.insert(block.bytes.begin(), count - block.bytes.size(), 0);
        if (order == ByteOrder::LowFirst) std::reverse(block.bytes.begin(), block.bytes.end());
    }
    if (block.bytes.size() != count)
        return fail(ErrorCode::Range, what,
                    fmt::format("{} byte{}", block.bytes.size(), block.bytes.size() == 1 ? "" : "s"),
                    fmt::format("{} bytes", count));
    Bytes bytes;
    bytes.reserve(count);
    for (std::size_t i = 0; i < count; ++i) bytes.append(block.bytes[i], index, i);
    return bytes;
}

Expected<Bytes> RawData::block(std::string_view name, std::size_t count, ByteOrder order) const {
    const std::size_t index = find(name);
    if (index == m_blocks.size())
        return fail(ErrorCode::Missing, std::string(name), "nothing", fmt::format("the {} bytes of “{}”", count, name));
    return whole(index, count, std::string(name), order);
}

std::size_t RawData::blockSize(std::string_view name) const {
    const std::size_t index = find(name);
    return index == m_blocks.size() ? 0 : m_blocks[index].bytes.size();
}

bool RawData::hasRegister(unsigned address) const {
    return std::any_of(m_blocks.begin(), m_blocks.end(), [&](const RawBlock& block) {
        return block.address && address >= *block.address && address < *block.address + block.bytes.size();
    });
}

Expected<Bytes> RawData::registers(unsigned first, std::size_t count) const {
    Bytes bytes;
    bytes.reserve(count);
    for (unsigned address = first; address < first + count; ++address) {
        std::size_t index = m_blocks.size();
        while (index-- > 0) {
            const RawBlock& block = m_blocks[index];
            if (block.address && address >= *block.address && address < *block.address + block.bytes.size()) break;
        }
        if (index >= m_blocks.size())
            return fail(ErrorCode::Missing, fmt::format("register 0x{:02X}", address), "nothing",
                        fmt::format("{} bytes from 0x{:02X} to 0x{:02X}", count, first, first + count - 1));
        bytes.append(m_blocks[index].bytes[address - *m_blocks[index].address], index,
                     address - *m_blocks[index].address);
    }
    return bytes;
}

bool RawData::hasWord(unsigned address) const {
    return std::any_of(m_blocks.begin(), m_blocks.end(),
                       [&](const RawBlock& block) { return block.address == address; });
}

Expected<Bytes> RawData::word(unsigned address, std::size_t count, bool isUsual, ByteOrder order) const {
    const std::string what = fmt::format("register 0x{:02X}", address);
    for (std::size_t i = m_blocks.size(); i-- > 0;)
        if (m_blocks[i].address == address) return whole(i, count, what, order);
    if (isUsual)
        for (std::size_t i = 0; i < m_blocks.size(); ++i)
            if (!m_blocks[i].address && (m_blocks[i].name == "word" || (m_blocks[i].name.empty() && hasOneUnnamed())))
                return whole(i, count, what, order);
    return fail(ErrorCode::Missing, what, "nothing", fmt::format("{} bytes", count));
}

}  // namespace fg
