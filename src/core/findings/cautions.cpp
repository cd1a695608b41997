#include "findings/rules.h"

#include <algorithm>
#include <array>

namespace fg::rules {
namespace {

struct Caution {
    std::string_view id;
    const char* title;
    const char* detail;
};

constexpr std::array kCautions{
    Caution{"heat", "This gauge is not a protection",
            "A heated vessel or tool needs its own thermal cut-out, whatever this gauge says."},
    Caution{"mains", "Mains can kill",
            "Switching and wiring of mains loads follow local codes and belong in licensed hands."},
    Caution{"pressure", "Stored pressure can injure",
            "A vessel under pressure needs its own relief valve, tested and sized by local rules."},
    Caution{"vacuum", "A vessel under vacuum can implode",
            "Use one made for it and keep a relief; this gauge does not protect it."},
    Caution{"battery", "Batteries burn", "Cells need their own protection against charge, discharge and heat."},
    Caution{"water", "Water and electricity apart",
            "Feed wet sensors from a low, isolated voltage behind a residual-current device."},
    Caution{"health", "Not a medical or safety device",
            "Where health depends on a reading, use equipment approved for it."},
};

}  // namespace

void cautionsOf(const std::vector<std::string>& ofGauge, const std::vector<std::string>& ofPart,
                std::vector<Finding>& findings) {
    const auto named = [&](const std::vector<std::string>& list, std::string_view id) {
        return std::find(list.begin(), list.end(), id) != list.end();
    };
    for (const Caution& caution : kCautions)
        if (named(ofGauge, caution.id) || named(ofPart, caution.id))
            findings.push_back(
                {Severity::Care, Stage::World, "care-" + std::string(caution.id), caution.title, caution.detail, {}});
}

void cautions(const FindingContext& context, std::vector<Finding>& findings) {
    cautionsOf(context.spec.cautions, context.path.part().cautions, findings);
}

}  // namespace fg::rules
