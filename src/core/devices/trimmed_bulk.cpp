#include "devices/trimmed_bulk.h"

#include <cassert>
#include <cstddef>

namespace fg {

// GCC dispatches between the clones when the program is loaded.
#if defined(__x86_64__) && defined(__GNUC__) && !defined(__SANITIZE_ADDRESS__)
__attribute__((target_clones("avx2", "default")))
#endif
void compensateColumns(const TrimmedCoefficients& coefficients, const RawColumns& raw, const ReadingColumns& readings) {
    const std::size_t count = raw.temperature.size();
    assert(raw.pressure.size() == count && raw.humidity.size() == count && readings.temperature.size() == count);
    const Trimmed<double> c = coefficients.asDoubles();
    const std::int32_t* const t = raw.temperature.data();
    const std::int32_t* const p = raw.pressure.data();
    const std::int32_t* const h = raw.humidity.data();
    double* const celsius = readings.temperature.data();
    double* const pascal = readings.pressure.data();
    double* const percent = readings.humidity.data();
    for (std::size_t i = 0; i < count; ++i) {
        const double fine = trimmed::fineOf<double>(c, t[i]);
        celsius[i] = fine / 5120.0;
        pascal[i] = trimmed::pascalOf<double>(c, fine, p[i]);
        percent[i] = trimmed::cutPercent(trimmed::uncutPercentOf<double>(c, fine, h[i]));
    }
}

}  // namespace fg
