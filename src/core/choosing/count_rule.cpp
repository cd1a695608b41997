#include "choosing/rules.h"

namespace fg::choosing {

// Several of the same: a place for each.
std::optional<Mark> countRule(const Subject& subject) {
    const int count = subject.need.count;
    if (count < 2) return std::nullopt;
    Mark mark{"count", "How many", Verdict::Met, "", "", 0};
    const std::string& interface = subject.candidate.interface;
    if (interface == "i2c") {
        const int addresses = static_cast<int>(subject.device->addresses.size());
        mark.brief = fmt::format("{} address{}", addresses, addresses == 1 ? "" : "es");
        if (addresses >= count)
            mark.text = fmt::format("{} on one bus, {} wanted", mark.brief, count);
        else {
            mark.verdict = Verdict::Open;
            mark.text = fmt::format("{} for {}: a multiplexer, or more buses", mark.brief, count);
        }
    } else if (interface == "1-wire") {
        mark.text = fmt::format("{} on one line, each told by its own code", count);
    } else {
        mark.text = fmt::format("{} side by side, a place each", count);
    }
    return mark;
}

}  // namespace fg::choosing
