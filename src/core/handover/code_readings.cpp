#include "handover/code_readings.h"

#include <algorithm>
#include <vector>

namespace fg {
namespace {

class Readings {
  public:
    Readings(ReadCodes read, std::int64_t last) : m_read(std::move(read)), m_last(last) {}
    [[nodiscard]] double operator()(std::int64_t code) {
        if (code < m_first || code >= m_first + static_cast<std::int64_t>(m_readings.size())) fill(code);
        return m_readings[static_cast<std::size_t>(code - m_first)];
    }

  private:
    void fill(std::int64_t code) {
        // Single questions come from all over, whole runs one after the other.
        const bool isNext = code == m_first + static_cast<std::int64_t>(m_readings.size());
        constexpr std::int64_t kBatch = 8192;
        const std::int64_t count = isNext ? std::clamp(m_last - code + 1, std::int64_t{1}, kBatch) : 1;
        m_first = code;
        m_codes.resize(static_cast<std::size_t>(count));
        m_readings.resize(m_codes.size());
        for (std::int64_t i = 0; i < count; ++i) m_codes[static_cast<std::size_t>(i)] = static_cast<double>(code + i);
        m_read(m_codes, m_readings);
    }
    ReadCodes m_read;
    std::int64_t m_last, m_first = 0;
    std::vector<double> m_codes, m_readings;
};

}  // namespace

ReadingOfCode readingsAhead(ReadCodes read, std::int64_t last) {
    return [readings = Readings(std::move(read), last)](std::int64_t at) mutable { return readings(at); };
}

}  // namespace fg
