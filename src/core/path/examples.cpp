#include "path/examples.h"

#include "converters/kind.h"
#include "path/derived_path.h"
#include "path/gauge_field.h"
#include "path/said_path.h"
#include "sensors/family.h"
#include "units/number_format.h"
#include "wiring/kind.h"

#include <fmt/format.h>
#include <algorithm>

namespace fg {
namespace {

constexpr std::string_view kConverterPart = "converter.part";

std::string pointsText(const std::vector<Point>& points, Quantity measurand, Quantity output) {
    std::string text;
    for (std::size_t i = 0; i < points.size() && i < 3; ++i)
        text += fmt::format("{}{} {}: {}", i == 0 ? "" : ", ", plainNumber(points[i][0], 6),
                            canonicalUnit(measurand).symbol, shortEngineering(points[i][1], output).joined());
    return points.size() > 3 ? text + " …" : text;
}

std::string valueText(const ParameterValue& value, const ParameterSpec& spec, Quantity measurand, Quantity output) {
    if (const auto* text = std::get_if<std::string>(&value)) return "“" + *text + "”";
    if (const auto* points = std::get_if<std::vector<Point>>(&value)) return pointsText(*points, measurand, output);
    const double number = std::get<double>(value);
    const bool isPlain = spec.quantity == Quantity::Ratio || spec.quantity == Quantity::Count;
    return isPlain ? plainNumber(number, 6) + (spec.unitSuffix.empty() ? "" : " " + spec.unitSuffix)
                   : shortEngineering(number, spec.quantity).joined() + spec.unitSuffix;
}

std::string unitOf(const ParameterSpec& spec, Quantity measurand, Quantity output) {
    if (spec.isPoints)
        return fmt::format("pairs of {} and {}", canonicalUnit(measurand).symbol, canonicalUnit(output).symbol);
    if (spec.id == "sensor_side") return "“low”, to ground, or “high”, to the source";
    if (spec.isText) return {};
    if (spec.quantity == Quantity::Ratio || spec.quantity == Quantity::Count) return spec.unitSuffix;
    return std::string(canonicalUnit(spec.quantity).symbol) + spec.unitSuffix;
}

/// What a stage takes, and what of it a gauge says.
struct StageFields {
    std::string prefix;
    std::vector<ParameterSpec> specs;
    Parameters given;
    Quantity output = Quantity::Voltage;
};

std::vector<StageFields> stagesOf(const GaugeSpec& spec, const Catalogue& catalogue) {
    std::vector<StageFields> stages;
    if (DerivedPath::applies(spec))
        return {{"sensor.", derivedParameters(spec), spec.sensor.parameters, spec.quantity}};
    if (SaidPath::applies(spec))
        return {{"sensor.", saidParameters(spec.quantity), spec.sensor.parameters, spec.quantity}};
    const auto part = catalogue.partOrFamily(spec.sensor.part, spec.quantity);
    if (const SensorFamily* family = part ? findSensorFamily(part->family) : nullptr)
        stages.push_back({"sensor.", family->parameters(spec.quantity), spec.sensor.parameters, family->output});
    if (const WiringKind* kind = findWiringKind(spec.wiring.kind)) {
        auto specs = kind->parameters();
        // The word that decides a divider; it is no number, and so has no row of its own.
        ParameterSpec side;
        side.id = "sensor_side";
        side.label = "Side of the sensor";
        side.isText = true;
        specs.push_back(side);
        stages.push_back({"wiring.", std::move(specs), spec.wiring.parameters});
    }
    if (const ConverterKind* kind = findConverterKind(spec.converter.kind))
        stages.push_back({"converter.", kind->parameters(), spec.converter.parameters});
    return stages;
}

/// The field's value, to tell whether an edit has moved it.
std::optional<ParameterValue> valueAt(GaugeSpec spec, const std::string& field) {
    if (field == kConverterPart) return ParameterValue(spec.converter.part);
    const Parameters& parameters = parametersAt(spec, field);
    const auto it = parameters.all().find(fieldName(field));
    return it == parameters.all().end() ? std::nullopt : std::optional(it->second);
}

}  // namespace

std::vector<GivenValue> givenValues(const GaugeSpec& spec, const Catalogue& catalogue) {
    std::vector<GivenValue> values;
    for (const StageFields& stage : stagesOf(spec, catalogue))
        for (const ParameterSpec& one : stage.specs) {
            const auto it = stage.given.all().find(one.id);
            if (it == stage.given.all().end()) continue;
            GivenValue value{stage.prefix + one.id, one.label, valueText(it->second, one, spec.quantity, stage.output),
                             ""};
            const double tolerance = one.toleranceId.empty() ? 0 : stage.given.numberOr(one.toleranceId, 0);
            if (tolerance > 0)
                value.tolerance = one.tolerance == ToleranceKind::Relative
                                      ? fmt::format("± {} %", plainNumber(100 * tolerance, 4))
                                      : fmt::format("± {}", valueText(tolerance, one, spec.quantity, stage.output));
            value.isExample = spec.examples.contains(value.field);
            values.push_back(std::move(value));
        }
    return values;
}

std::vector<ExampleValue> exampleValues(const GaugeSpec& spec, const Catalogue& catalogue) {
    std::vector<ExampleValue> values;
    if (spec.examples.empty()) return values;
    for (const StageFields& stage : stagesOf(spec, catalogue))
        for (const ParameterSpec& one : stage.specs) {
            const std::string field = stage.prefix + one.id;
            const auto it = stage.given.all().find(one.id);
            if (it != stage.given.all().end() && spec.examples.count(field))
                values.push_back({field, one.label, valueText(it->second, one, spec.quantity, stage.output),
                                  unitOf(one, spec.quantity, stage.output), false});
            const std::string toleranceField = stage.prefix + one.toleranceId;
            const auto tolerance = stage.given.number(one.toleranceId);
            if (tolerance && !one.toleranceId.empty() && spec.examples.count(toleranceField))
                values.push_back(
                    {toleranceField, one.label + ", tolerance",
                     one.tolerance == ToleranceKind::Relative ? plainNumber(100 * *tolerance, 4) + " %"
                                                              : shortEngineering(*tolerance, one.quantity).joined(),
                     one.tolerance == ToleranceKind::Relative ? "%" : std::string(canonicalUnit(one.quantity).symbol),
                     true});
        }
    if (spec.examples.count(std::string(kConverterPart))) {
        const ConverterPart* part = catalogue.findConverter(spec.converter.part);
        values.push_back(
            {std::string(kConverterPart), "Converter", part ? part->title : spec.converter.part, "", false});
    }
    return values;
}

std::optional<Error> missingValues(const GaugeSpec& spec, const Catalogue& catalogue) {
    std::string list, first;
    for (const ExampleValue& value : exampleValues(spec, catalogue)) {
        if (value.isTolerance) continue;
        if (first.empty()) first = value.field;
        list += fmt::format("{}{} ({}{}, for example {})", list.empty() ? "" : "; ", value.field, value.label,
                            value.unit.empty() ? "" : " in " + value.unit, value.text);
    }
    if (list.empty()) return std::nullopt;
    return Error{ErrorCode::Missing, first, "nothing", "what only the maker of this gauge knows: " + list};
}

void settleExamples(const GaugeSpec& before, GaugeSpec& after) {
    const bool samePart = before.sensor.part == after.sensor.part, sameWiring = before.wiring.kind == after.wiring.kind,
               sameConverter = before.converter.kind == after.converter.kind;
    std::erase_if(after.examples, [&](const std::string& field) {
        if (!before.examples.count(field)) return false;  // came with the edit
        const bool sameStage = field.starts_with("sensor.")   ? samePart
                               : field.starts_with("wiring.") ? sameWiring
                                                              : sameConverter;
        return sameStage && valueAt(before, field) != valueAt(after, field);
    });
    // A converter of one's own values is no catalogue part any more.
    if (before.converter.parameters != after.converter.parameters && after.converter.part.empty())
        after.examples.erase(std::string(kConverterPart));
}

void confirmExample(GaugeSpec& spec, const std::string& field) { spec.examples.erase(field); }

}  // namespace fg
