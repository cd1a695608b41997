#include "output.h"

#include "formula/text.h"
#include "units/number_format.h"
#include "units/text_file.h"

#include <fmt/core.h>
#include <fmt/format.h>
#include <cmath>

namespace fg::cli {

int refuse(const Error& error) {
    fmt::print(stderr, "fgauge: {}\n", inOneLine(error.message()));
    return kBadInput;
}

int refuseUsage(const std::string& what) {
    fmt::print(stderr, "fgauge: {}; see fgauge --help\n", inOneLine(what));
    return kBadInput;
}

nlohmann::ordered_json jsonNumber(double value) {
    return std::isfinite(value) ? nlohmann::ordered_json(value) : nlohmann::ordered_json(nullptr);
}

void printJsonText(const nlohmann::ordered_json& json) { fmt::print("{}\n", jsonText(json, 2)); }

nlohmann::ordered_json stagesJson(const Evaluation& evaluation) {
    auto list = nlohmann::ordered_json::array();
    for (const StageValue& at : evaluation.stages) {
        nlohmann::ordered_json stage;
        stage["stage"] = stageName(at.stage);
        stage["quantity"] = quantityName(at.quantity);
        const bool whole = at.stage == Stage::Converter && at.value == std::floor(at.value);
        stage["value"] = whole ? nlohmann::ordered_json(static_cast<std::int64_t>(at.value)) : jsonNumber(at.value);
        stage["exact"] = jsonNumber(at.exact);
        stage["unit"] = canonicalUnit(at.quantity).id;
        if (at.stage == Stage::Correction) stage["amount"] = jsonNumber(at.amount);
        stage["clipped"] =
            at.clip == Clip::None ? nlohmann::ordered_json(nullptr) : nlohmann::ordered_json(clipText(at.clip));
        if (!at.problem.empty()) stage["problem"] = at.problem;
        list.push_back(std::move(stage));
    }
    return list;
}

nlohmann::ordered_json traceJson(const TraceLine& line) {
    return {{"name", line.name},
            {"formula", line.formula},
            {"symbols", line.symbols.empty() ? nlohmann::ordered_json(nullptr) : nlohmann::ordered_json(line.symbols)},
            {"value", jsonNumber(line.value)},
            {"unit", line.unit.empty() ? "1" : line.unit},
            {"source", line.source}};
}

nlohmann::ordered_json traceJson(const std::vector<TraceLine>& lines) {
    auto list = nlohmann::ordered_json::array();
    for (const TraceLine& line : lines) list.push_back(traceJson(line));
    return list;
}

nlohmann::ordered_json findingsJson(const std::vector<Finding>& findings) {
    auto list = nlohmann::ordered_json::array();
    for (const Finding& finding : findings)
        list.push_back({{"severity", severityName(finding.severity)},
                        {"stage", stageName(finding.stage)},
                        {"id", finding.id},
                        {"title", finding.title},
                        {"detail", finding.detail},
                        {"action", finding.action ? nlohmann::ordered_json(finding.action->label)
                                                  : nlohmann::ordered_json(nullptr)}});
    return list;
}

void printTrace(const std::vector<TraceLine>& lines) {
    std::size_t nameWidth = 0, formulaWidth = 0;
    for (const TraceLine& line : lines) {
        nameWidth = std::max(nameWidth, line.name.size());
        formulaWidth = std::max(formulaWidth, line.formula.size());
    }
    for (const TraceLine& line : lines)
        fmt::print("  {:<{}}  {:<{}} = {}   [{}]\n", line.name, nameWidth, line.formula, formulaWidth,
                   valueText(line.value, line.unit, 8).joined(), line.source);
}

void printFindings(const std::vector<Finding>& findings) {
    for (const Finding& finding : findings)
        fmt::print("{}: {} ({}): {}\n", severityName(finding.severity), plainLine(finding.title),
                   stageName(finding.stage), plainLine(finding.detail));
}

std::string plainLine(std::string_view text) { return inOneLine(text); }

void warnOfUnread(const StoredBench& stored) {
    for (const UnreadGauge& gauge : stored.unread)
        fmt::print(stderr, "fgauge: left out: {}\n", plainLine(gauge.why.message()));
}

const Catalogue& catalogue() {
    static const Catalogue read = [] {
        const auto folders = Catalogue::standardFolders();
        Catalogue catalogue = Catalogue::read(folders);
        for (const Error& problem : catalogue.problems())
            fmt::print(stderr, "fgauge: left out: {}\n", plainLine(problem.message()));
        return catalogue;
    }();
    return read;
}

}  // namespace fg::cli
