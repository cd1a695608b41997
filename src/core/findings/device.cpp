#include "catalogue/part_consequences.h"
#include "findings/rules.h"
#include "registers/register_checks.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

/// "power-on" as a title.
std::string titleOf(const DeviceStatus& status) {
    std::string title = status.id;
    std::replace(title.begin(), title.end(), '-', ' ');
    if (!title.empty()) title[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(title[0])));
    return title;
}

void statuses(const Evaluation& now, std::vector<Finding>& findings) {
    for (const DeviceStatus& one : now.device->decoded.status)
        if (one.kind != StatusKind::Note)
            findings.push_back({one.kind == StatusKind::Fault ? Severity::Fault : Severity::Doubt,
                                Stage::Converter,
                                one.id,
                                titleOf(one),
                                one.text,
                                {}});
}

/// Settings against what arrives.
void settings(const DigitalPath& path, const Evaluation* now, std::vector<Finding>& findings) {
    for (const DeviceStatus& one : checkSettings(path.settings()))
        if (one.kind == StatusKind::Fault)
            findings.push_back(
                {Severity::Fault, Stage::Converter, one.id, "The settings contradict each other", one.text + ".", {}});
    if (now && now->entry.raw && isResting(path.settings()) && !std::isnan(now->at(Stage::Reading).value))
        findings.push_back(
            {Severity::Doubt,
             Stage::Converter,
             "settings-rest",
             "The settings say that nothing is measured",
             "The part is set to rest, yet readings arrive: they are old, or it is set otherwise than the gauge says.",
             {}});
}

/// Bytes that come with a code are those of the gauge's own probe, or of another.
void ownProbe(const DigitalPath& path, const Evaluation* now, std::vector<Finding>& findings) {
    if (path.rom().empty() || !now || !now->entry.raw) return;
    for (const RawBlock& block : now->entry.raw->blocks())
        if (block.name == "rom" && block.bytes != path.rom())
            findings.push_back({Severity::Fault,
                                Stage::Wiring,
                                "another-probe",
                                "Another probe answers",
                                "The bytes come with another code than the one this gauge was given: its probe was "
                                "swapped, or the line was searched anew.",
                                {}});
}

void range(const GaugeSpec& spec, const DigitalPath& path, const Evaluation* now, std::vector<Finding>& findings) {
    const auto it = path.part().ranges.find(path.reading());
    if (it == path.part().ranges.end()) return;
    const Unit& unit = spec.readingUnit();
    const Interval span = spec.spanCanonical(), stated = it->second;
    const std::string text =
        fmt::format("{} is stated for {} … {} {}.", path.part().id, plainNumber(unit.fromCanonical(stated.low), 5),
                    plainNumber(unit.fromCanonical(stated.high), 5), unit.symbol);
    if (now && !std::isnan(now->at(Stage::Sensor).value) && !stated.contains(now->at(Stage::Sensor).value))
        findings.push_back(
            {Severity::Doubt, Stage::Sensor, "beyond-range", "Beyond what the part is made for", text, {}});
    else if (!stated.contains(span.low) || !stated.contains(span.high))
        findings.push_back(
            {Severity::Doubt, Stage::Sensor, "span-beyond-range", "The span goes beyond the part", text, {}});
}

void accuracy(const GaugeSpec& spec, const DigitalPath& path, const Budget* budget, std::vector<Finding>& findings) {
    if (budget && !budget->sensorStated)
        findings.push_back({Severity::Doubt,
                            Stage::Sensor,
                            "accuracy-unknown",
                            "Accuracy not stated here",
                            fmt::format("The data sheet of {} states no accuracy for this value: what stands behind "
                                        "the ± leaves the sensor out.",
                                        path.part().id),
                            {}});
    if (budget) rules::accuracyWanted(spec, *budget, findings);
    if (path.part().device->specimen && !path.hasOwnCalibration())
        findings.push_back({Severity::Hint,
                            Stage::Formula,
                            "example-calibration",
                            "Example coefficients",
                            "This part has coefficients of its own: read them once and paste them on the Converter "
                            "sheet. Until then an "
                            "example's are used where the bytes bring none.",
                            {}});
    if (path.part().measures == "chip")
        findings.push_back({Severity::Doubt,
                            Stage::Sensor,
                            "chip-sensor",
                            "It measures the chip",
                            "Not the room: the chip warms itself, and follows the air slowly.",
                            {}});
    if (path.part().pressureKind == "absolute" && spec.quantity == Quantity::Pressure &&
        spec.spanCanonical().low < 20000)
        findings.push_back({Severity::Doubt,
                            Stage::World,
                            "absolute-as-gauge",
                            "This part measures absolute pressure",
                            "The span begins near zero, as for a gauge pressure: the air's own 1013 hPa are in every "
                            "reading of this part.",
                            {}});
}

}  // namespace

std::vector<Finding> findingsForDevice(const GaugeSpec& spec, const DigitalPath& path, const Catalogue& catalogue,
                                       const Evaluation* now, const Budget* budget) {
    std::vector<Finding> findings;
    rules::examplesOf(spec, catalogue, findings);
    if (now && now->device) statuses(*now, findings);
    settings(path, now, findings);
    ownProbe(path, now, findings);
    range(spec, path, now, findings);
    accuracy(spec, path, budget, findings);
    rules::cautionsOf(spec.cautions, path.part().cautions, findings);
    std::stable_sort(findings.begin(), findings.end(),
                     [](const Finding& a, const Finding& b) { return a.severity < b.severity; });
    return findings;
}

}  // namespace fg
