#include "handover/code_thresholds.h"

namespace fg {

std::vector<CodeThreshold> codeThresholds(const Gauge& gauge) {
    std::vector<CodeThreshold> all;
    const auto& alarm = gauge.spec().alarm;
    if (!alarm || !gauge.analog()) return all;
    const AnalogPath& path = *gauge.analog();
    const auto add = [&](const char* name, const char* id, double limit, bool rising) {
        const auto put = [&](const char* word, const char* ending, double setAt, const Threshold& threshold) {
            all.push_back({std::string(name) + word, std::string(id) + ending, setAt, threshold});
        };
        if (alarm->band > 0)
            if (const auto pair = thresholdPair(path, limit, alarm->band, rising)) {
                put(" on", "_on", limit, pair->on);
                return put(" off", "_off", rising ? limit - alarm->band : limit + alarm->band, pair->off);
            }
        if (const auto one = thresholdFor(path, limit, rising, Promptness::NeverEarly)) put(" on", "_on", limit, *one);
    };
    if (alarm->high) add("High", "high", *alarm->high, true);
    if (alarm->low) add("Low", "low", *alarm->low, false);
    return all;
}

}  // namespace fg
