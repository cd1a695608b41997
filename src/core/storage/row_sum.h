#pragma once

#include <libdeflate.h>
#include <cstdint>
#include <string>
#include <string_view>

namespace fg {

/// The checksum of a row of a bench file: CRC-32, which finds every single flipped bit and every run of up to 32 of
/// them, over texts with a zero byte behind each. Numbers as decimal texts.
class RowSum {
  public:
    RowSum& add(std::string_view text) {
        constexpr char kEnd = 0;
        m_crc = ::libdeflate_crc32(m_crc, text.data(), text.size());
        m_crc = ::libdeflate_crc32(m_crc, &kEnd, 1);
        return *this;
    }
    RowSum& add(std::int64_t number) { return add(std::to_string(number)); }
    [[nodiscard]] std::int64_t value() const { return static_cast<std::int64_t>(m_crc); }

  private:
    std::uint32_t m_crc = 0;
};

}  // namespace fg
