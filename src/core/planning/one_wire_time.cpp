#include "planning/one_wire_time.h"

namespace fg {

Expected<OneWireTime> oneWireTime(int probes, int resolution, bool isParasite) {
    constexpr double kSlot_s = 70e-6, kReset_s = 960e-6;
    constexpr int kCommand = 8, kRom = 64, kScratchpad = 72;
    if (probes < 1 || probes > 1000) return fail(ErrorCode::Range, "probes", std::to_string(probes), "1 to 1000");
    if (resolution < 9 || resolution > 12)
        return fail(ErrorCode::Range, "resolution", std::to_string(resolution), "9 to 12 bits");
    const double conversion = 0.09375 * (1 << (resolution - 9));
    OneWireTime time;
    const double one = kReset_s + (2 * kCommand + kRom) * kSlot_s + conversion;
    time.convert_s = isParasite ? probes * one : kReset_s + 2 * kCommand * kSlot_s + conversion;
    time.read_s = probes * (kReset_s + (2 * kCommand + kRom + kScratchpad) * kSlot_s);
    time.search_s = probes * (kReset_s + (kCommand + 3 * kRom) * kSlot_s);
    return time;
}

}  // namespace fg
