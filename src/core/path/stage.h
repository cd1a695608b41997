// Room `path`: the signal path. Stages composed, run forwards and backwards from any of them, and the trace of it.
#pragma once

#include <array>
#include <optional>
#include <string_view>

namespace fg {

/// The seven stages in signal order. The value at a stage is what leaves it.
enum class Stage {
    World,       ///< the measurand
    Sensor,      ///< the sensor's signal (Ω, V, A, Hz)
    Wiring,      ///< what arrives at the converter
    Converter,   ///< the raw code (or, for digital parts, the bytes)
    Formula,     ///< the value computed from raw, before any correction
    Correction,  ///< the value after the correction (screens show the amount added)
    Reading      ///< the value as given out
};

inline constexpr std::size_t kStageCount = 7;
inline constexpr std::array<Stage, kStageCount> kStages{Stage::World,     Stage::Sensor,  Stage::Wiring,
                                                        Stage::Converter, Stage::Formula, Stage::Correction,
                                                        Stage::Reading};

/// "world" … "reading", as in files and on the command line.
[[nodiscard]] std::string_view stageName(Stage stage);

/// "World" … "Reading", as on the screen.
[[nodiscard]] std::string_view stageTitle(Stage stage);

[[nodiscard]] std::optional<Stage> stageFromName(std::string_view name);

}  // namespace fg
