// Room `bytes`: bytes as they were read from a part: blocks, dumps and pulse lengths as text, checksums.
#pragma once

#include "units/error.h"

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace fg {

/// Where bytes of a result came from: `count` bytes of block `block` (index in RawData::blocks()), from `first`.
struct ByteRef {
    std::size_t block = 0;
    std::size_t first = 0;
    std::size_t count = 0;
    bool operator==(const ByteRef&) const = default;
};

/// A run of bytes with where each came from, and the ways in which data sheets join them. Indices are the caller's own
/// and must be inside.
class Bytes {
  public:
    /// Room for so many bytes, so that appending them moves none.
    void reserve(std::size_t count);
    void append(std::uint8_t byte, std::size_t block, std::size_t offset);

    [[nodiscard]] std::size_t size() const { return m_bytes.size(); }
    [[nodiscard]] const std::vector<std::uint8_t>& data() const { return m_bytes; }
    [[nodiscard]] std::uint8_t u8(std::size_t i) const { return m_bytes[i]; }
    [[nodiscard]] std::int8_t s8(std::size_t i) const { return static_cast<std::int8_t>(m_bytes[i]); }
    /// Two bytes, high byte first or low byte first.
    [[nodiscard]] std::uint16_t be16(std::size_t i) const {
        return static_cast<std::uint16_t>(m_bytes[i] << 8 | m_bytes[i + 1]);
    }
    [[nodiscard]] std::uint16_t le16(std::size_t i) const {
        return static_cast<std::uint16_t>(m_bytes[i + 1] << 8 | m_bytes[i]);
    }
    [[nodiscard]] std::int16_t sbe16(std::size_t i) const { return static_cast<std::int16_t>(be16(i)); }
    [[nodiscard]] std::int16_t sle16(std::size_t i) const { return static_cast<std::int16_t>(le16(i)); }
    [[nodiscard]] std::uint32_t be24(std::size_t i) const {
        return static_cast<std::uint32_t>(m_bytes[i]) << 16 | static_cast<std::uint32_t>(m_bytes[i + 1]) << 8 |
               m_bytes[i + 2];
    }
    [[nodiscard]] std::uint32_t le24(std::size_t i) const {
        return static_cast<std::uint32_t>(m_bytes[i + 2]) << 16 | static_cast<std::uint32_t>(m_bytes[i + 1]) << 8 |
               m_bytes[i];
    }
    [[nodiscard]] std::uint32_t be32(std::size_t i) const {
        return static_cast<std::uint32_t>(be16(i)) << 16 | be16(i + 2);
    }

    /// The places of `count` bytes from `first`, neighbours joined.
    [[nodiscard]] std::vector<ByteRef> places(std::size_t first, std::size_t count) const;
    /// "70 6B".
    [[nodiscard]] std::string hex(std::size_t first, std::size_t count) const;
    /// `count` of the bytes from `first`, each still knowing where it came from.
    [[nodiscard]] Bytes part(std::size_t first, std::size_t count) const;

  private:
    std::vector<std::uint8_t> m_bytes;
    std::vector<ByteRef> m_places;
};

/// A number of `bits` bits in two's complement as a signed one.
[[nodiscard]] constexpr std::int32_t signExtend(std::uint32_t word, int bits) {
    const std::uint32_t sign = std::uint32_t{1} << (bits - 1), mask = (sign << 1) - 1;
    return static_cast<std::int32_t>(((word & mask) ^ sign) - sign);
}

/// In which order a device sends the bytes of one number.
enum class ByteOrder { HighFirst, LowFirst };

/// One run of bytes as it was read: from a register address on, under a name ("scratchpad"), or neither.
struct RawBlock {
    std::string name;
    std::optional<unsigned> address;
    std::vector<std::uint8_t> bytes;
    bool isNumber = false;  ///< typed as one number: `bytes` are its, high byte first, to be laid into the block as the
                            ///< device has it
    bool isWords = false;   ///< typed as 16-bit words, each high byte first here: laidOut() (device.h) puts them as the
                            ///< device has them
    bool operator==(const RawBlock&) const = default;

    /// "0x88", "scratchpad" or "bytes", for messages.
    [[nodiscard]] std::string label() const;
};

/// Everything that was read from one device.
class RawData {
  public:
    RawData() = default;
    explicit RawData(std::vector<RawBlock> blocks) : m_blocks(std::move(blocks)) {}

    [[nodiscard]] const std::vector<RawBlock>& blocks() const { return m_blocks; }
    void add(RawBlock block) { m_blocks.push_back(std::move(block)); }
    void add(const RawData& more) { m_blocks.insert(m_blocks.end(), more.m_blocks.begin(), more.m_blocks.end()); }

    /// Bytes of consecutive registers, wherever they were read: later blocks win. Error Missing: the first register
    /// that is not there.
    [[nodiscard]] Expected<Bytes> registers(unsigned first, std::size_t count) const;
    [[nodiscard]] bool hasRegister(unsigned address) const;

    /// A block of exactly `count` bytes by its name; the only block without name and address stands for any name.
    /// Errors: Missing, or Range for another length.
    [[nodiscard]] Expected<Bytes> block(std::string_view name, std::size_t count,
                                        ByteOrder order = ByteOrder::HighFirst) const;
    /// Is there such a block?
    [[nodiscard]] bool hasBlock(std::string_view name) const { return find(name) != m_blocks.size(); }
    /// How many bytes that block has; 0 when there is none.
    [[nodiscard]] std::size_t blockSize(std::string_view name) const;

    /// A register that holds a word of `count` bytes at one address (parts whose pointer names whole words). The only
    /// block without name and address stands for it when `isUsual`.
    [[nodiscard]] Expected<Bytes> word(unsigned address, std::size_t count, bool isUsual,
                                       ByteOrder order = ByteOrder::HighFirst) const;
    [[nodiscard]] bool hasWord(unsigned address) const;

  private:
    [[nodiscard]] std::size_t find(std::string_view name) const;
    [[nodiscard]] bool hasOneUnnamed() const;
    [[nodiscard]] Expected<Bytes> whole(std::size_t index, std::size_t count, const std::string& what,
                                        ByteOrder order) const;
    std::vector<RawBlock> m_blocks;
};

}  // namespace fg
