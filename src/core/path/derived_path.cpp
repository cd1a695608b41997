#include "path/derived_path.h"

#include "path/reading_spec.h"
#include "path/ready_reading.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

constexpr const char* kReading = "reading";
constexpr const char* kWindow = "window_s";
constexpr double kUsualWindow_s = 3600;

/// What a running value of this quantity is made of.
Quantity takenBy(const RunningKind& kind, Quantity output) {
    for (const Quantity quantity : {Quantity::Temperature, Quantity::RelativeHumidity, Quantity::Pressure})
        if (kind.over == Over::Rate && rateOf(quantity) == output) return quantity;
    return output;
}

std::string lawNames() {
    std::string names;
    for (const Law* law : laws()) names += (names.empty() ? "" : ", ") + std::string(law->id());
    for (const RunningKind& kind : runningKinds()) names += ", " + std::string(kind.id);
    return names;
}

std::string durationText(double seconds) {
    if (seconds >= 3600) return plainNumber(seconds / 3600, 4) + " h";
    return seconds >= 60 ? plainNumber(seconds / 60, 4) + " min" : plainNumber(seconds, 4) + " s";
}

}  // namespace

std::vector<ParameterSpec> derivedParameters(const GaugeSpec& spec) {
    std::vector<ParameterSpec> parameters;
    if (!DerivedPath::applies(spec)) return parameters;
    const auto absolute = [](std::string id, std::string label, Quantity quantity) {
        ParameterSpec one;
        one.toleranceId = id + "_tolerance";
        one.tolerance = ToleranceKind::Absolute;
        one.id = std::move(id);
        one.label = std::move(label);
        one.quantity = quantity;
        return one;
    };
    if (const RunningKind* kind = findRunningKind(spec.sensor.part)) {
        parameters.push_back(absolute(kReading, "Reading", takenBy(*kind, spec.quantity)));
        ParameterSpec window;
        window.id = kWindow;
        window.label = "Over the last";
        window.quantity = Quantity::Time;
        window.defaultValue = kUsualWindow_s;
        parameters.push_back(std::move(window));
    }
    if (const Law* law = findLaw(spec.sensor.part))
        for (const LawInput& input : law->inputs()) {
            parameters.push_back(absolute(std::string(input.name), std::string(input.label), input.quantity));
            parameters.back().defaultValue = input.otherwise;
            parameters.back().unitSuffix = input.unit;
        }
    return parameters;
}

std::optional<GaugeSpec> defaultDerivedGauge(std::string_view id, Quantity of) {
    const Law* law = findLaw(id);
    const RunningKind* kind = findRunningKind(id);
    const auto quantity = law ? std::optional(law->output().quantity) : kind ? outputOf(*kind, of) : std::nullopt;
    if (!quantity) return std::nullopt;
    GaugeSpec spec;
    spec.quantity = *quantity;
    spec.sensor.part = id;
    spec.wiring.kind = "none";
    spec.converter.kind = DerivedPath::kKind;
    if (kind) spec.sensor.parameters.set(kWindow, kUsualWindow_s);
    const Unit& unit =
        *quantity == Quantity::Pressure ? *unitFromId("hPa", Quantity::Pressure).value() : canonicalUnit(*quantity);
    spec.reading.unit = unit.id;
    const auto usual = [&]() -> Interval {
        switch (*quantity) {
            case Quantity::RelativeHumidity:
                return {20, 80};
            case Quantity::Pressure:
                return id == "vapour-pressure-deficit" ? Interval{0, 30} : Interval{950, 1050};
            case Quantity::WoodMoisture:
                return {4, 20};
            case Quantity::VapourDensity:
                return {0, 25};
            case Quantity::Height:
                return id == "depth" ? Interval{0, 5} : Interval{0, 1000};
            case Quantity::TemperatureRate:
            case Quantity::HumidityRate:
                return {-10, 10};
            case Quantity::PressureRate:
                return {-300, 300};
            case Quantity::Illuminance:
                return {0, 2000};
            default:
                return {-10, 40};
        }
    };
    spec.reading.span = usual();
    return spec;
}

Expected<DerivedPath> DerivedPath::build(const GaugeSpec& spec) {
    DerivedPath path;
    path.m_law = findLaw(spec.sensor.part);
    path.m_running = findRunningKind(spec.sensor.part);
    if (!path.m_law && !path.m_running)
        return fail(ErrorCode::Unknown, "sensor.part", "“" + spec.sensor.part + "”",
                    "what a derived gauge follows: " + lawNames());
    path.m_quantity = spec.quantity;
    const bool gives =
        path.m_law ? path.m_law->output().quantity == spec.quantity
                   : path.m_running->over != Over::Rate || takenBy(*path.m_running, spec.quantity) != spec.quantity;
    if (!gives)
        return fail(ErrorCode::Range, "quantity", std::string(quantityName(spec.quantity)),
                    path.m_law ? fmt::format("what {} gives: {}", path.m_law->id(),
                                             quantityName(path.m_law->output().quantity))
                               : "a rate: temperature_rate, humidity_rate or pressure_rate");
    if (const auto good = checkReading(spec); !good) return tl::unexpected(good.error());
    const auto parameters = derivedParameters(spec);
    for (const auto& [name, value] : spec.sensor.parameters.all()) {
        const bool isKnown = std::any_of(parameters.begin(), parameters.end(), [&wanted = name](const auto& one) {
            return one.id == wanted || one.toleranceId == wanted;
        });
        if (!isKnown || !std::holds_alternative<double>(value))
            return fail(isKnown ? ErrorCode::Syntax : ErrorCode::Unknown, "sensor.parameters." + name,
                        isKnown ? "no number" : "a field that “" + spec.sensor.part + "” does not take",
                        isKnown ? "a number" : "one of its inputs");
    }
    if (path.m_running) {
        path.m_window_s = spec.sensor.parameters.numberOr(kWindow, kUsualWindow_s);
        if (!(path.m_window_s > 0))
            return fail(ErrorCode::Range, "sensor.parameters.window_s", plainNumber(path.m_window_s),
                        "a time above 0 s");
    }
    for (const ParameterSpec& one : parameters) {
        if (one.id == kWindow) continue;
        const auto given = spec.sensor.parameters.number(one.id);
        const double value = given ? *given : one.defaultValue.value_or(std::nan(""));
        path.m_inputs.push_back(value);
        path.m_missing.push_back(std::isnan(value) ? one.label : "");
        if (!std::isnan(value) && path.m_inputs.size() <= 3)
            path.m_shown += (path.m_shown.empty() ? "" : " · ") +
                            (one.unitSuffix.empty() ? shortEngineering(value, one.quantity, 4).joined()
                                                    : plainNumber(value, 5) + " " + one.unitSuffix);
    }
    const auto correction = Correction::make(spec.correction, spec.quantity);
    if (!correction) return tl::unexpected(correction.error());
    path.m_correction = *correction;
    return path;
}

double DerivedPath::readingOf(std::span<const double> inputs) const {
    const auto takes = m_law->inputs();
    for (std::size_t i = 0; i < takes.size(); ++i)
        if (!(inputs[i] >= takes[i].range.low && inputs[i] <= takes[i].range.high)) return std::nan("");
    return m_correction.apply(m_law->value(inputs));
}

Expected<Derived> DerivedPath::value() const {
    for (const std::string& label : m_missing)
        if (!label.empty())
            return fail(ErrorCode::Missing, "sensor", label + " not given", "a gauge that reads it, or a value");
    std::vector<LawValue> values;
    for (const double input : m_inputs) values.push_back({input});
    return derive(*m_law, values);
}

Expected<Evaluation> DerivedPath::evaluate(const Entry& entry) const {
    double reading = std::nan("");
    std::string problem;
    if (m_running) {
        if (entry.stage == Stage::Reading) reading = m_correction.undo(entry.value);
        if (std::isnan(reading))
            problem = m_running->over == Over::Rate ? "no readings over a tenth of the window yet" : "no readings yet";
    } else {
        const auto derived = value();
        if (derived)
            reading = derived->value;
        else
            problem = derived.error().message();
    }
    Evaluation evaluation = readyEvaluation(entry, m_quantity, reading, Clip::None, problem, m_correction);
    evaluation.at(Stage::Sensor).value = evaluation.at(Stage::Sensor).exact = std::nan("");
    evaluation.at(Stage::Sensor).problem.clear();
    evaluation.at(Stage::Sensor).text = m_shown.empty() ? "–" : m_shown;
    return evaluation;
}

std::vector<TraceLine> DerivedPath::trace(const Evaluation& evaluation) const {
    std::vector<TraceLine> lines;
    if (m_law)
        if (auto derived = value()) lines = std::move(derived->trace);
    const double reading = evaluation.at(Stage::Formula).value;
    if (std::isnan(reading)) return lines;
    for (TraceLine& line : m_correction.explain(reading, m_quantity)) lines.push_back(std::move(line));
    return lines;
}

std::string DerivedPath::stageNote(Stage stage) const {
    switch (stage) {
        case Stage::Sensor:
            return "readings it takes";
        case Stage::Formula:
            return m_law ? std::string(m_law->title()) : "last " + durationText(m_window_s);
        case Stage::Correction:
            return m_correction.note();
        default:
            return {};
    }
}

}  // namespace fg
