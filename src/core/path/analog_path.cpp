#include "path/analog_path.h"

#include "converters/kind.h"
#include "formula/text.h"
#include "path/reading_spec.h"
#include "sensors/family.h"
#include "units/nearest_name.h"
#include "units/number_format.h"
#include "wiring/kind.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

Expected<Parameters> converterParameters(const ConverterSpec& spec, const Catalogue& catalogue) {
    if (spec.part.empty()) return spec.parameters;
    const ConverterPart* part = catalogue.findConverter(spec.part);
    if (!part) return fail(ErrorCode::Unknown, "converter.part", "“" + spec.part + "”", "a converter of the catalogue");
    if (part->kind != spec.kind)
        return fail(ErrorCode::Range, "converter.kind", "“" + spec.kind + "”",
                    "“" + part->kind + "”, what " + part->id + " is");
    return spec.parameters.over(part->parameters);
}

/// What kind of value a parameter holds, as a phrase.
const char* kindOf(const ParameterValue& value) {
    constexpr const char* kinds[] = {"a number", "a text", "a list of pairs"};
    return kinds[value.index()];
}

/// A parameter nobody knows is a typing error, not a wish to be ignored; and so is a text where a number belongs.
Expected<void> refuseUnknown(const Parameters& given, const std::vector<ParameterSpec>& known,
                             const std::vector<std::string>& extra, const std::string& where) {
    for (const auto& [name, value] : given.all()) {
        bool isKnown = std::find(extra.begin(), extra.end(), name) != extra.end();
        std::string list;
        std::vector<std::string> names = extra;
        for (const ParameterSpec& spec : known) {
            const bool isTolerance = !spec.toleranceId.empty() && spec.toleranceId == name;
            names.push_back(spec.id);
            if (!spec.toleranceId.empty()) names.push_back(spec.toleranceId);
            list += (list.empty() ? "" : ", ") + spec.id;
            if (spec.id != name && !isTolerance) continue;
            isKnown = true;
            const std::size_t kind = isTolerance ? 0 : spec.isPoints ? 2 : spec.isText ? 1 : 0;
            if (value.index() != kind)
                return fail(ErrorCode::Syntax, where + name, kindOf(value),
                            kindOf(kind == 0   ? ParameterValue(0.0)
                                   : kind == 1 ? ParameterValue(std::string())
                                               : ParameterValue(std::vector<Point>())));
        }
        if (isKnown) continue;
        const std::string nearest = nearestName(name, names);
        return fail(ErrorCode::Unknown, where + name, "a field that is not known here",
                    nearest.empty() ? "one of " + list : fmt::format("“{}”, or one of {}", nearest, list));
    }
    return {};
}

std::string noteOfWiring(const WiringSpec& wiring) {
    const WiringKind* kind = findWiringKind(wiring.kind);
    const ParameterSpec spec = kind->parameters().front();  // what the network is made of stands first
    const auto value = wiring.parameters.number(spec.id);
    if (spec.id == "source_V" && kind->isDifferential) return "differential, as it is";
    if (!value || spec.id == "source_V")
        return kind->output == Quantity::Voltage ? "straight to the pin" : "straight to the counter";
    const double tolerance = wiring.parameters.numberOr(spec.toleranceId, 0);
    const std::string text =
        spec.label + " " +
        (spec.quantity == Quantity::Ratio ? plainNumber(*value, 4) : shortEngineering(*value, spec.quantity).joined());
    return tolerance > 0 ? fmt::format("{}, {} %", text, plainNumber(100 * tolerance, 3)) : text;
}

/// The wirings that take a signal of this kind, for messages.
std::string wiringNames(Quantity signal) {
    std::string names;
    for (const WiringKind& kind : wiringKinds())
        if (kind.input == signal) names += fmt::format("{}“{}”", names.empty() ? "" : ", ", kind.id);
    return names;
}

/// The kinds of converter that take this, for messages.
std::string converterNames(Quantity signal) {
    std::string names;
    for (const ConverterKind& kind : converterKinds())
        if (kind.input == signal) names += fmt::format("{}“{}”", names.empty() ? "" : ", ", kind.id);
    return names;
}

std::vector<ParameterSpec> withPiece(const SensorFamily& family, Quantity measurand) {
    auto specs = family.parameters(measurand);
    for (ParameterSpec& one : pieceParameters(measurand, family.output)) specs.push_back(std::move(one));
    return specs;
}

std::string unitId(Quantity quantity) { return std::string(canonicalUnit(quantity).id); }

}  // namespace

Parameters effectiveConverter(const GaugeSpec& spec, const Catalogue& catalogue) {
    const ConverterPart* part = spec.converter.part.empty() ? nullptr : catalogue.findConverter(spec.converter.part);
    if (!part) return spec.converter.parameters;
    Parameters parameters = spec.converter.parameters.over(part->parameters);
    if (!parameters.has("noise_V"))
        if (const auto noise = part->noiseAt(parameters.numberOr("gain", 1), parameters.numberOr("rate_Hz", 0)))
            parameters.set("noise_V", *noise);
    return parameters;
}

Expected<AnalogPath> AnalogPath::build(const GaugeSpec& spec, const Catalogue& catalogue) {
    AnalogPath path;
    path.m_quantity = spec.quantity;
    if (!isMeasurand(spec.quantity))
        return fail(ErrorCode::Range, "quantity", std::string(quantityName(spec.quantity)),
                    "what a sensor measures: temperature, humidity, pressure or illuminance");
    if (const auto good = checkReading(spec); !good) return tl::unexpected(good.error());

    auto part = catalogue.partOrFamily(spec.sensor.part, spec.quantity);
    if (!part) return tl::unexpected(part.error());
    if (part->quantity != spec.quantity)
        return fail(ErrorCode::Range, "sensor.part",
                    fmt::format("“{}”, which measures {}", part->id, quantityName(part->quantity)),
                    fmt::format("a part for {}", quantityName(spec.quantity)));
    const SensorFamily& family = *findSensorFamily(part->family);
    const WiringKind* kind = findWiringKind(spec.wiring.kind);
    if (!kind) return fail(ErrorCode::Unknown, "wiring.kind", "“" + spec.wiring.kind + "”", wiringNames(family.output));
    if (kind->input != family.output)
        return fail(ErrorCode::Range, "wiring.kind",
                    fmt::format("“{}”, which takes a {}", kind->id, quantityName(kind->input)),
                    fmt::format("a wiring for a sensor that gives a {}: {}", quantityName(family.output),
                                wiringNames(family.output)));

    const ConverterKind* converterKind = findConverterKind(spec.converter.kind);
    if (!converterKind || converterKind->input != kind->output)
        return fail(ErrorCode::Range, "converter.kind", "“" + spec.converter.kind + "”",
                    fmt::format("a converter of a {}: {}", quantityName(kind->output), converterNames(kind->output)));
    const auto parameters = converterParameters(spec.converter, catalogue);
    if (!parameters) return tl::unexpected(parameters.error());
    if (const auto known =
            refuseUnknown(*parameters, converterKind->parameters(), converterKind->words(), "converter.");
        !known)
        return tl::unexpected(known.error());
    const auto converter = converterKind->make(*parameters);
    if (!converter) return tl::unexpected(converter.error());
    path.m_converter = *converter;
    if (converter->isAdc()) path.m_converterNoise = effectiveConverter(spec, catalogue).numberOr("noise_V", 0);

    const WiringContext wiringContext{converter->reference_V(), isReferenceSupply(*parameters)};
    if (const auto known =
            refuseUnknown(spec.wiring.parameters, kind->parameters(),
                          {"source", "sensor_side", "capacitor_F", "polarity", "cable", "lead_ohm"}, "wiring.");
        !known)
        return tl::unexpected(known.error());
    auto wiring = kind->make(spec.wiring.parameters, wiringContext);
    if (!wiring) return tl::unexpected(wiring.error());
    path.m_wiring = std::move(*wiring);
    const auto feed = feedOf(kind->id, spec.wiring.parameters, wiringContext);
    if (!feed) return tl::unexpected(feed.error());
    path.m_source_V = feed->voltage_V;
    path.m_isRatiometric = feed->followsReference;

    if (const auto known =
            refuseUnknown(spec.sensor.parameters, withPiece(family, spec.quantity), {}, "sensor.parameters.");
        !known)
        return tl::unexpected(known.error());
    auto sensor =
        family.make(spec.sensor.parameters.over(part->parameters), {spec.quantity, part->range, path.m_source_V});
    if (!sensor) return tl::unexpected(sensor.error().within("sensor.parameters"));
    path.m_sensor = std::move(*sensor);
    path.m_signal = family.output;
    path.m_heat = HeatModel::make(spec.wiring, spec.sensor.parameters.over(part->parameters), path.m_source_V,
                                  spec.quantity, family.output);

    auto correction = Correction::make(spec.correction, spec.quantity);
    if (!correction) return tl::unexpected(correction.error());
    if (spec.correction.kind == "parameters")
        if (const auto done = correction->refitted(spec.correction, path.m_sensor); !done)
            return tl::unexpected(done.error());
    path.m_correction = std::move(*correction);
    path.m_sensorNote = family.note ? family.note(spec.sensor.parameters.over(part->parameters)) : part->id;
    path.m_wiringNote = noteOfWiring(spec.wiring);
    path.m_part = std::make_shared<const Part>(std::move(*part));
    return path;
}

double AnalogPath::exactCode(double world) const { return m_converter->exactCode(m_wiring->forward(signalAt(world))); }

double AnalogPath::reading(double code) const {
    return m_correction.apply(formulaOfVoltage(m_converter->inputOf(code)));
}

Recorded AnalogPath::recordReading(Recording& in, double code) const {
    const Recorded input = m_converter->recordInput(in, Recorded::leaf(in, Op::Input, "code", "", code));
    const Recorded signal = m_wiring->recordInverse(in, input);
    const Recorded measurand = m_heat.recordCooled(in, signal, m_sensor->recordInverse(in, signal));
    return m_correction.record(in, measurand, m_quantity);
}

std::vector<CodeReading> AnalogPath::neighbourCodes(double wantedReading) const {
    const double exact = exactCode(wantedReading);
    std::vector<CodeReading> neighbours;
    if (!std::isfinite(exact)) return neighbours;
    for (const double code : {std::floor(exact), std::floor(exact) + 1})
        if (m_converter->canGive(code)) neighbours.push_back({static_cast<std::int64_t>(code), reading(code)});
    return neighbours;
}

double AnalogPath::countsPerUnit(double world) const {
    // Central difference; the step is small against any span and large against the rounding of a double.
    const double step = 1e-4 * std::max(1.0, std::abs(world) * 1e-2);
    return std::abs(exactCode(world + step) - exactCode(world - step)) / (2 * step);
}

void AnalogPath::fillUpstream(Evaluation& evaluation, double formulaValue) const {
    const auto set = [&](Stage stage, double value) {
        StageValue& at = evaluation.at(stage);
        at.value = at.exact = value;
    };
    const double signal = signalOf(formulaValue);
    set(Stage::World, m_correction.apply(formulaValue));
    set(Stage::Sensor, signal);
    set(Stage::Wiring, m_wiring->forward(signal));
}

void AnalogPath::fillDownstream(Evaluation& evaluation, double code, double exactCode) const {
    const Clip clip = m_converter->clipOf(code);
    StageValue& converter = evaluation.at(Stage::Converter);
    converter.value = code;
    converter.exact = exactCode;
    converter.clip = clip;

    double pin_V = m_converter->inputOf(code);
    double value = formulaOfVoltage(pin_V);
    // At the very end of its range a divider or a logarithm has no finite value; what bounds the reading then is the
    // edge of the last cell.
    if (clip != Clip::None && !std::isfinite(value)) {
        pin_V = m_converter->clipBound(code);
        value = formulaOfVoltage(pin_V);
    }
    const double exact = formulaOfVoltage(m_converter->inputOf(exactCode));
    const Clip readingClip = isRising() ? clip : flipped(clip);
    const auto set = [&](Stage stage, double rounded, double unrounded) {
        StageValue& at = evaluation.at(stage);
        at.value = rounded;
        at.exact = unrounded;
        at.clip = readingClip;
    };
    set(Stage::Formula, value, exact);
    set(Stage::Correction, m_correction.apply(value), m_correction.apply(exact));
    set(Stage::Reading, m_correction.apply(value), m_correction.apply(exact));
}

Expected<Evaluation> AnalogPath::evaluate(const Entry& entry) const {
    const std::string where(stageName(entry.stage));
    if (!std::isfinite(entry.value)) return fail(ErrorCode::Range, where, plainNumber(entry.value), "a number");
    if (entry.stage == Stage::Converter && !m_converter->canGive(entry.value))
        return fail(ErrorCode::Range, where, plainNumber(entry.value),
                    fmt::format("a code the {}-bit converter can give, {} to {}", m_converter->bits(),
                                m_converter->minCode(), m_converter->maxCode()));

    Evaluation evaluation;
    evaluation.entry = entry;
    for (const Stage stage : kStages) {
        evaluation.at(stage).stage = stage;
        evaluation.at(stage).quantity = m_quantity;
    }
    evaluation.at(Stage::Sensor).quantity = m_signal;
    evaluation.at(Stage::Wiring).quantity = m_converter->input();
    evaluation.at(Stage::Converter).quantity = Quantity::Count;

    if (entry.stage == Stage::Converter) {
        fillDownstream(evaluation, entry.value, entry.value);
        fillUpstream(evaluation, evaluation.at(Stage::Formula).value);
        const double pin_V = m_converter->inputOf(entry.value);
        evaluation.at(Stage::Wiring).value = evaluation.at(Stage::Wiring).exact = pin_V;
        if (std::isnan(evaluation.at(Stage::Sensor).value))
            evaluation.at(Stage::Sensor).value = evaluation.at(Stage::Sensor).exact = m_wiring->inverse(pin_V);
        for (const Stage stage : {Stage::World, Stage::Sensor, Stage::Wiring}) {
            const bool follows = stage == Stage::Wiring || (stage == Stage::Sensor) == m_wiring->isRising();
            const Clip clip = m_converter->clipOf(entry.value);
            evaluation.at(stage).clip =
                stage == Stage::World ? evaluation.at(Stage::Reading).clip : (follows ? clip : flipped(clip));
        }
    } else {
        double pin_V = kNaN;
        switch (entry.stage) {
            case Stage::Wiring: {
                pin_V = entry.value;
                fillUpstream(evaluation, formulaOfVoltage(pin_V));
                evaluation.at(Stage::Sensor).value = evaluation.at(Stage::Sensor).exact = m_wiring->inverse(pin_V);
                evaluation.at(Stage::Wiring).value = evaluation.at(Stage::Wiring).exact = pin_V;
                break;
            }
            case Stage::Sensor:
                fillUpstream(evaluation, measurandOf(entry.value));
                evaluation.at(Stage::Sensor).value = evaluation.at(Stage::Sensor).exact = entry.value;
                pin_V = evaluation.at(Stage::Wiring).value = evaluation.at(Stage::Wiring).exact =
                    m_wiring->forward(entry.value);
                break;
            case Stage::Formula:
                fillUpstream(evaluation, entry.value);
                pin_V = evaluation.at(Stage::Wiring).value;
                break;
            default:  // World, Correction, Reading: the corrected value
                fillUpstream(evaluation, m_correction.undo(entry.value));
                pin_V = evaluation.at(Stage::Wiring).value;
        }
        if (std::isfinite(pin_V)) {
            const Code code = m_converter->quantise(pin_V);
            fillDownstream(evaluation, static_cast<double>(code.value), code.exact);
        } else {
            for (const Stage stage : {Stage::Converter, Stage::Formula, Stage::Correction, Stage::Reading})
                evaluation.at(stage).value = evaluation.at(stage).exact = kNaN;
        }
    }
    // What was typed stays as typed, and what lies between it and a code that came before it is not changed by
    // rounding.
    if (entry.stage >= Stage::Formula) {
        const double formula = entry.stage == Stage::Formula ? entry.value : m_correction.undo(entry.value);
        for (const Stage stage : {Stage::Formula, Stage::Correction, Stage::Reading}) {
            StageValue& at = evaluation.at(stage);
            at.value = at.exact = stage == Stage::Formula ? formula : m_correction.apply(formula);
            at.clip = Clip::None;
        }
    }
    StageValue& pinned = evaluation.at(entry.stage);
    pinned.value = pinned.exact = entry.value;

    StageValue& correction = evaluation.at(Stage::Correction);
    correction.amount = m_correction.amount(evaluation.at(Stage::Formula).value);
    const std::string refusal = m_sensor->refusal(evaluation.at(Stage::Sensor).value);
    for (StageValue& at : evaluation.stages) {
        if (!std::isnan(at.value)) continue;
        at.problem = refusal;
        if (!refusal.empty()) continue;
        at.problem = fmt::format("no {} gives {} {} at the {} stage", stageName(at.stage), plainNumber(entry.value, 7),
                                 unitId(evaluation.at(entry.stage).quantity), where);
    }
    return evaluation;
}

std::vector<TraceLine> AnalogPath::trace(const Evaluation& evaluation) const {
    std::vector<TraceLine> lines;
    const auto append = [&](std::vector<TraceLine> more) { appendLines(lines, std::move(more)); };
    const double sensor = evaluation.at(Stage::Sensor).value, pin_V = evaluation.at(Stage::Wiring).value,
                 code = evaluation.at(Stage::Converter).value;
    const Stage from = evaluation.entry.stage;
    if (from != Stage::Converter) {
        const bool fromValue = from == Stage::World || from > Stage::Converter;
        if (fromValue) {
            const double measurand = m_correction.undo(evaluation.at(Stage::World).value), settledAt = warm(measurand);
            append(m_heat.explain(m_sensor->forward(settledAt), measurand, false));
            append(m_sensor->explainForward(settledAt));
        }
        if (fromValue || from == Stage::Sensor) append(m_wiring->explainForward(sensor));
        if (std::isfinite(pin_V)) append(m_converter->explainCode(pin_V));
    }
    if (std::isnan(code)) return lines;
    if (evaluation.entry.word) append(m_converter->explainWord(*evaluation.entry.word));
    append(m_converter->explainInput(code));
    double used_V = m_converter->inputOf(code);
    if (m_converter->clipOf(code) != Clip::None && !std::isfinite(formulaOfVoltage(used_V))) {
        used_V = m_converter->clipBound(code);
        lines.push_back(m_converter->explainClipBound(code));
    }
    append(m_wiring->explainInverse(used_V));
    const double signal = m_wiring->inverse(used_V);
    append(m_sensor->explainInverse(signal));
    append(m_heat.explain(signal, m_sensor->inverse(signal), true));
    append(m_correction.explain(formulaOfVoltage(used_V), m_quantity));
    return lines;
}

std::string AnalogPath::stageNote(Stage stage) const {
    switch (stage) {
        case Stage::World:
            return std::string(quantityName(m_quantity));
        case Stage::Sensor:
            return m_sensorNote;
        case Stage::Wiring:
            return m_wiringNote;
        case Stage::Converter:
            if (!m_converter->isAdc())
                return fmt::format("one count is {}",
                                   shortEngineering(m_converter->lsb(), m_converter->input()).joined());
            // What a gain is called differs from library to library; the full scale in volts does not.
            if (m_converter->gain() != 1 || m_converter->polarity() == Polarity::Bipolar)
                return fmt::format("{} bit, {}{}", m_converter->bits(),
                                   m_converter->polarity() == Polarity::Bipolar ? "± " : "0 … ",
                                   shortEngineering(m_converter->fullScale(), Quantity::Voltage, 4).joined());
            return fmt::format("{} bit, {} law", m_converter->bits(),
                               m_converter->law() == CodeLaw::PowerOfTwo ? "2ⁿ" : "2ⁿ − 1");
        case Stage::Formula:
            return m_sensor->title();
        case Stage::Correction:
            return m_correction.note();
        case Stage::Reading:
            return m_part->title;
    }
    return {};
}

}  // namespace fg
