#pragma once

#include "bytes/raw_data.h"
#include "converters/converter.h"
#include "path/gauge_spec.h"
#include "path/stage.h"
#include "units/error.h"

#include <array>
#include <memory>
#include <string>
#include <vector>

namespace fg {

struct DeviceAnswer;  // path/digital_path.h

/// Where a value is put into the path, in that stage's canonical unit. For Converter a code; the mean of several codes
/// need not be whole.
struct Entry {
    Stage stage = Stage::Converter;
    double value = 0;
    std::shared_ptr<const RawData> raw = {};  ///< Converter of a digital part: its bytes; `value` means nothing then
    std::optional<double> word = {};      ///< Converter of an analog path: the word that the code in `value` came in
    std::optional<double> standard = {};  ///< Reading of a running value: its standard uncertainty by scatter alone
};

/// What the path says at one stage.
struct StageValue {
    Stage stage = Stage::World;
    Quantity quantity = Quantity::Temperature;
    double value = 0;  ///< canonical; NaN when there is none. Downstream of the entry: as the hardware gives it, from
                       ///< the rounded code
    double exact = 0;  ///< the same without rounding to a code
    Clip clip = Clip::None;
    double amount = 0;      ///< Correction only: what was added
    std::string problem;    ///< why there is no value; empty when there is one
    std::string text = {};  ///< what a digital part shows where there is no number: its bytes, its address
};

/// What one raw value says and no more: what feeds and recordings keep of it. Why there is no value is told by
/// SignalPath::evaluate().
struct Reading {
    double value = 0;  ///< corrected, canonical; NaN when there is none
    Clip clip = Clip::None;
};

/// The whole path answering to one entry.
struct Evaluation {
    Entry entry;
    std::array<StageValue, kStageCount> stages;
    std::shared_ptr<const DeviceAnswer> device = {};  ///< what a digital part said; null for analog ones
    [[nodiscard]] const StageValue& at(Stage stage) const { return stages[static_cast<std::size_t>(stage)]; }
    [[nodiscard]] StageValue& at(Stage stage) { return stages[static_cast<std::size_t>(stage)]; }
    [[nodiscard]] double reading() const { return at(Stage::Reading).value; }
};

/// One code next to a wanted reading, and what it really stands for.
struct CodeReading {
    std::int64_t code = 0;
    double reading = 0;  ///< canonical; NaN where the formula has no value
};

/// A signal path of any kind. Analog gauges are AnalogPath; parts that deliver bytes get a sibling whose Converter
/// stage holds the bytes and whose Formula stage is the device's compensation. Callers see seven stage values and a
/// trace either way.
class SignalPath {
  public:
    virtual ~SignalPath() = default;

    /// Runs the path both ways from the entry. Upstream values are the exact inverse; downstream ones what the hardware
    /// would give. A stage that has no value says why and is NaN; later ones follow. Error only when the entry itself
    /// is impossible (a code the converter cannot give, NaN).
    [[nodiscard]] virtual Expected<Evaluation> evaluate(const Entry& entry) const = 0;

    /// The steps behind an evaluation: towards the converter when the entry was before it, then from the code to the
    /// reading.
    [[nodiscard]] virtual std::vector<TraceLine> trace(const Evaluation& evaluation) const = 0;

    /// What makes each stage, for the tile: "Beta equation", "12 bit, 2^n law".
    [[nodiscard]] virtual std::string stageNote(Stage stage) const = 0;
};

}  // namespace fg
