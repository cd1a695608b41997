#include "catalogue/part.h"

#include "catalogue/json_fields.h"
#include "units/number_format.h"

namespace fg {

std::optional<double> ConverterPart::noiseAt(double gain, double rate_Hz) const {
    for (const ConverterNoise& one : noise)
        if (one.gain == gain && (one.rate_Hz == 0 || rate_Hz == 0 || one.rate_Hz == rate_Hz)) return one.rms_V;
    return std::nullopt;
}

std::string pinStepText(const PinStep& step) {
    const auto level = [](const auto& pin) { return pin.first + (pin.second ? " high" : " low"); };
    const std::string time = shortEngineering(step.time_s, Quantity::Time).joined();
    std::string text;
    for (const auto& pin : step.put) text += (text.empty() ? "" : ", ") + level(pin);
    if (!step.put.empty() && step.time_s > 0) text += ", at least " + time;
    if (step.wait) text = "wait for " + level(*step.wait) + (step.time_s > 0 ? ", at most " + time : "");
    if (!step.read.empty())
        text = step.read.size() == 1 ? "read " + step.read[0] : "read " + step.read.back() + " to " + step.read.front();
    return step.why.empty() ? text : text + ": " + step.why;
}

namespace {

/// "remarks": ["…", {"outside": [0, 100], "text": "…"}].
std::vector<PartRemark> readRemarks(JsonFields& fields) {
    std::vector<PartRemark> remarks;
    if (!fields.has("remarks")) return remarks;
    for (const nlohmann::json& entry : fields.at("remarks")) {
        if (entry.is_string()) {
            remarks.push_back({entry.get<std::string>(), {}});
            continue;
        }
        JsonFields one(entry, "remarks");
        remarks.push_back({one.text("text"), one.interval("outside")});
        fields.adopt(one);
    }
    return remarks;
}

}  // namespace

PartFacts readFacts(JsonFields& fields, const std::string& file) {
    PartFacts facts;
    facts.id = fields.text("id");
    facts.title = fields.text("title");
    facts.aliases = fields.texts("aliases");
    facts.supply_V = fields.intervalOr("supply_V", {0, 0});
    facts.supply_A = fields.numberOr("supply_A", 0);
    facts.supplyIsTypical = fields.flagOr("supply_typical", false);
    facts.standby_A = fields.numberOr("standby_A", 0);
    facts.average_A = fields.numberOr("average_A", 0);
    facts.average_Hz = fields.numberOr("average_Hz", 0);
    facts.interface = fields.textOr("interface", "");
    facts.body = fields.textOr("body", "");
    facts.cableMax_m = fields.numberOr("cable_max_m", 0);
    facts.minimumInterval_s = fields.numberOr("minimum_interval_s", 0);
    facts.cautions = fields.texts("cautions");
    facts.measures = fields.textOr("measures", "");
    facts.pressureKind = fields.textOr("pressure_kind", "");
    facts.remarks = readRemarks(fields);
    facts.pinouts = readPinouts(fields);
    facts.source = fields.text("source");
    facts.file = file;
    return facts;
}

}  // namespace fg
