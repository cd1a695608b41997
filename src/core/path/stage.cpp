#include "path/stage.h"

namespace fg {
namespace {
constexpr std::array<std::string_view, kStageCount> kNames{"world",   "sensor",     "wiring", "converter",
                                                           "formula", "correction", "reading"};
constexpr std::array<std::string_view, kStageCount> kTitles{"World",   "Sensor",     "Wiring", "Converter",
                                                            "Formula", "Correction", "Reading"};
}  // namespace

std::string_view stageName(Stage stage) { return kNames[static_cast<std::size_t>(stage)]; }
std::string_view stageTitle(Stage stage) { return kTitles[static_cast<std::size_t>(stage)]; }

std::optional<Stage> stageFromName(std::string_view name) {
    for (const Stage stage : kStages)
        if (stageName(stage) == name) return stage;
    return std::nullopt;
}

}  // namespace fg
