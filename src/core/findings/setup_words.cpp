#include "findings/rules.h"
#include "path/converter_setup.h"

namespace fg::rules {

void setupWords(const FindingContext& context, std::vector<Finding>& findings) {
    const Parameters& own = context.spec.converter.parameters;
    const std::string text = own.textOr("setup", "");
    const std::string part = own.textOr("setup_part", "");
    const RegisterMap* map = setupMapOf(context.catalogue, context.spec);
    const auto unreadable = [&](const std::string& why) {
        findings.push_back({Severity::Fault,
                            Stage::Converter,
                            "setup-unreadable",
                            "The converter's set-up cannot be read",
                            why + ".",
                            {}});
    };
    if (!map && !part.empty()) return unreadable("No set-up words are known of “" + part + "”");
    if (!map && !text.empty()) return unreadable("It is not given whose words “" + text + "” are");
    if (!map || text.empty()) return;
    const auto settings = RegisterMap::readSettings(text);
    const auto words =
        settings ? map->set(*settings) : Expected<std::vector<RegisterWord>>(tl::unexpected(settings.error()));
    if (!words) return unreadable(words.error().message());
    std::string said;
    for (const SetupMismatch& one : checkSetup(*map, *words, context.spec, context.catalogue))
        said += (said.empty() ? "" : " ") + one.text + ".";
    if (!said.empty())
        findings.push_back({Severity::Fault,
                            Stage::Converter,
                            "setup-differs",
                            "The set-up words are not what the gauge counts with",
                            said,
                            {}});
    const SetupTiming timing = setupTiming(*map, *words, own.numberOr("setup_clock_Hz", 0));
    if (!timing.problem.empty())
        findings.push_back({Severity::Doubt,
                            Stage::Converter,
                            "setup-clock",
                            "The converter's clock is beyond its range",
                            "With its prescaler " + timing.problem + "." +
                                (timing.advice.empty() ? "" : " Set " + timing.advice + "."),
                            {}});
}

}  // namespace fg::rules
