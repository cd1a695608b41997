#pragma once

#include <boost/crc.hpp>
#include <cstdint>
#include <string>
#include <string_view>

namespace fg {

/// The checksum of a row of a bench file: CRC-32, which finds every single flipped bit and every run of up to 32 of
/// them, over texts with a zero byte behind each. Numbers as decimal texts.
class RowSum {
  public:
    RowSum& add(std::string_view text) {
        m_crc.process_bytes(text.data(), text.size());
        m_crc.process_byte(0);
        return *this;
    }
    RowSum& add(std::int64_t number) { return add(std::to_string(number)); }
    [[nodiscard]] std::int64_t value() const { return m_crc.checksum(); }

  private:
    boost::crc_32_type m_crc;
};

}  // namespace fg
