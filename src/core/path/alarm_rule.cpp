#include "path/alarm_rule.h"

#include "units/number_format.h"

#include <cmath>

namespace fg {

Expected<void> checkRule(const AlarmRule& rule) {
    if (!rule.high && !rule.low)
        return fail(ErrorCode::Missing, "alarm", "no limit", "a high limit, a low one, or both");
    if (!(rule.band >= 0) || !std::isfinite(rule.band))
        return fail(ErrorCode::Range, "dead band", plainNumber(rule.band), "a difference of 0 or more");
    if (!(rule.delay_s >= 0) || !std::isfinite(rule.delay_s))
        return fail(ErrorCode::Range, "delay", plainNumber(rule.delay_s) + " s", "a time of 0 or more");
    if (rule.high && rule.low && !(*rule.low < *rule.high))
        return fail(ErrorCode::Range, "low limit", plainNumber(*rule.low), "one below the high limit");
    if (rule.high && rule.low && !(*rule.low + rule.band < *rule.high - rule.band))
        return fail(ErrorCode::Range, "dead band", plainNumber(rule.band),
                    "less than half of what lies between the limits: else one alarm cannot clear before the other");
    return {};
}

}  // namespace fg
