#include "sensors/current_loop.h"
#include "findings/rules.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <cmath>

namespace fg::rules {

void currentLoop(const FindingContext& context, std::vector<Finding>& findings) {
    if (context.path.part().family != "current-loop" || !context.now) return;
    const double current_A = context.now->at(Stage::Sensor).value;
    if (!std::isfinite(current_A)) return;
    const std::string text = shortEngineering(current_A, Quantity::Current, 3).joined();
    if (current_loop::isFault(current_A))
        findings.push_back({Severity::Fault,
                            Stage::Sensor,
                            "loop-fault",
                            "The loop has failed",
                            context.path.sensor().refusal(current_A) + ".",
                            {}});
    else if (current_A < current_loop::kSpanLow_A * (1 - 1e-9) || current_A > current_loop::kSpanHigh_A * (1 + 1e-9))
        findings.push_back({Severity::Doubt,
                            Stage::Sensor,
                            "loop-beyond-span",
                            "The loop is beyond its span",
                            fmt::format("{}: the value lies {} the {} of the transmitter's span, by up to {} %.", text,
                                        current_A < current_loop::kSpanLow_A ? "below" : "above",
                                        current_A < current_loop::kSpanLow_A ? "low end" : "high end",
                                        current_A < current_loop::kSpanLow_A ? "2.5" : "6.3"),
                            {}});
}

}  // namespace fg::rules
