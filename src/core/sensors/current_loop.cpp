#include "sensors/current_loop.h"

#include "units/number_format.h"

#include <fmt/format.h>
#include <cmath>

namespace fg {

Expected<CurrentLoop> CurrentLoop::make(double low, double high, Quantity measurand, Interval range,
                                        const std::string& field) {
    auto line =
        StraightLine::throughPoints({low, kSpanLow_A}, {high, kSpanHigh_A}, measurand, Quantity::Current, range, field);
    if (!line) return tl::unexpected(line.error());
    return CurrentLoop(*line);
}

std::string CurrentLoop::refusal(double current_A) const {
    if (!std::isfinite(current_A) || !isFault(current_A)) return {};
    return fmt::format("{} is no value of a 4–20 mA loop: {}",
                       shortEngineering(current_A, Quantity::Current, 3).joined(),
                       current_A < kSpanLow_A
                           ? "at 3.6 mA and below the transmitter has failed, or the loop is open or not fed"
                           : "at 21 mA and above the transmitter has failed, or the loop is short-circuited");
}

}  // namespace fg
