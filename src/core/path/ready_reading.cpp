#include "path/ready_reading.h"

#include <cmath>

namespace fg {

Evaluation readyEvaluation(const Entry& entry, Quantity quantity, double formula, Clip clip, const std::string& problem,
                           const Correction& correction) {
    Evaluation evaluation;
    evaluation.entry = entry;
    for (const Stage stage : kStages) {
        StageValue& at = evaluation.at(stage);
        at.stage = stage;
        at.quantity = quantity;
    }
    const double corrected = std::isnan(formula) ? formula : correction.apply(formula);
    const auto put = [&](Stage stage, double value) {
        StageValue& at = evaluation.at(stage);
        at.value = at.exact = value;
        at.problem = std::isnan(value) ? problem : "";
        at.clip = clip;
    };
    put(Stage::World, corrected);
    put(Stage::Sensor, formula);
    put(Stage::Formula, formula);
    put(Stage::Correction, corrected);
    put(Stage::Reading, corrected);
    evaluation.at(Stage::Correction).amount = corrected - formula;
    for (const Stage stage : {Stage::Wiring, Stage::Converter}) {
        StageValue& at = evaluation.at(stage);
        at.quantity = Quantity::Count;
        at.value = at.exact = std::nan("");
    }
    return evaluation;
}

}  // namespace fg
