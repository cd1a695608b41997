#include "units/ticks.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace fg {

Ticks ticksOver(double low, double high, int about) {
    const double rough = (high - low) / std::max(1, about);
    const double power = std::pow(10, std::floor(std::log10(rough)));
    double step = 10 * power;
    for (const double times : {5.0, 2.0, 1.0})
        if (times * power >= rough) step = times * power;
    Ticks ticks;
    ticks.decimals = std::max(0, static_cast<int>(-std::floor(std::log10(step) + 1e-9)));
    constexpr double kNearly = 1e-9;
    for (double index = std::floor(low / step + kNearly);; ++index) {
        ticks.values.push_back(index * step);
        if (ticks.values.back() >= high - kNearly * step) return ticks;
    }
}

std::int64_t timeStepOver(std::int64_t length_us, int most) {
    constexpr std::int64_t kSecond = 1'000'000, kMinute = 60 * kSecond, kHour = 60 * kMinute, kDay = 24 * kHour;
    constexpr std::array kSteps{std::int64_t{1'000},
                                std::int64_t{2'000},
                                std::int64_t{5'000},
                                std::int64_t{10'000},
                                std::int64_t{20'000},
                                std::int64_t{50'000},
                                std::int64_t{100'000},
                                std::int64_t{200'000},
                                std::int64_t{500'000},
                                kSecond,
                                2 * kSecond,
                                5 * kSecond,
                                10 * kSecond,
                                30 * kSecond,
                                kMinute,
                                2 * kMinute,
                                5 * kMinute,
                                10 * kMinute,
                                30 * kMinute,
                                kHour,
                                2 * kHour,
                                3 * kHour,
                                6 * kHour,
                                12 * kHour,
                                kDay,
                                2 * kDay,
                                7 * kDay,
                                14 * kDay,
                                28 * kDay};
    const auto it =
        std::find_if(kSteps.begin(), kSteps.end(), [&](std::int64_t step) { return length_us / step <= most; });
    return it == kSteps.end() ? length_us / std::max(1, most) : *it;
}

}  // namespace fg
