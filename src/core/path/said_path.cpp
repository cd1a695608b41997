#include "path/said_path.h"

#include "path/reading_spec.h"
#include "path/ready_reading.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {

std::vector<ParameterSpec> saidParameters(Quantity quantity) {
    ParameterSpec accuracy;
    accuracy.id = "accuracy";
    accuracy.label = "Accuracy of what the board says, ±";
    accuracy.quantity = quantity;
    return {accuracy};
}

GaugeSpec defaultSaidGauge(const std::string& channel, const Unit& unit) {
    GaugeSpec spec;
    spec.quantity = unit.quantity;
    spec.sensor.part = SaidPath::kPart;
    spec.wiring.kind = "none";
    spec.converter.kind = SaidPath::kKind;
    spec.converter.parameters.set("unit", std::string(unit.id));
    spec.channel = channel;
    spec.reading.unit = unit.id;
    Interval usual{0, 50};
    if (unit.quantity == Quantity::RelativeHumidity) usual = {20, 80};
    if (unit.quantity == Quantity::Pressure) usual = {95000, 105000};
    if (unit.quantity == Quantity::Illuminance) usual = {10, 2000};
    spec.reading.span = {unit.fromCanonical(usual.low), unit.fromCanonical(usual.high)};
    return spec;
}

Expected<SaidPath> SaidPath::build(const GaugeSpec& spec) {
    SaidPath path;
    path.m_quantity = spec.quantity;
    const auto unit = unitFromId(spec.converter.parameters.textOr("unit", spec.reading.unit), spec.quantity);
    if (!unit) return tl::unexpected(unit.error().within("converter.unit"));
    path.m_unit = *unit;
    if (const auto good = checkReading(spec); !good) return tl::unexpected(good.error());
    for (const auto& [name, value] : spec.converter.parameters.all())
        if (name != "unit")
            return fail(ErrorCode::Unknown, "converter." + name, "a field that is not known here", "unit");
    if (const double accuracy = spec.sensor.parameters.numberOr("accuracy", 0); !(accuracy >= 0))
        return fail(ErrorCode::Range, "sensor.parameters.accuracy", plainNumber(accuracy), "0 or more");
    const auto correction = Correction::make(spec.correction, spec.quantity);
    if (!correction) return tl::unexpected(correction.error());
    path.m_correction = *correction;
    return path;
}

Expected<Evaluation> SaidPath::evaluate(const Entry& entry) const {
    if (std::isnan(entry.value))
        return fail(ErrorCode::Range, std::string(stageName(entry.stage)), "no number", "a reading");
    const bool isBefore = entry.stage == Stage::Formula;
    const double said = entry.stage == Stage::Converter ? m_unit->toCanonical(entry.value)
                        : isBefore                      ? entry.value
                                                        : m_correction.undo(entry.value);
    Evaluation evaluation = readyEvaluation(entry, m_quantity, said, Clip::None, "", m_correction);
    StageValue& word = evaluation.at(Stage::Converter);
    word.value = word.exact = m_unit->fromCanonical(said);
    word.text = plainNumber(word.value, 8);
    return evaluation;
}

std::vector<TraceLine> SaidPath::trace(const Evaluation& evaluation) const {
    return m_correction.explain(evaluation.at(Stage::Formula).value, m_quantity);
}

std::string SaidPath::stageNote(Stage stage) const {
    switch (stage) {
        case Stage::Converter:
            return "as the board writes, in " + std::string(m_unit->symbol);
        case Stage::Formula:
            return "worked out by the board";
        case Stage::Correction:
            return m_correction.note();
        default:
            return {};
    }
}

}  // namespace fg
