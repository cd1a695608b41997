#include "catalogue/json_fields.h"
#include "units/text_file.h"

#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

std::optional<ParameterValue> toParameter(const nlohmann::json& value) {
    if (value.is_number()) return ParameterValue(value.get<double>());
    if (value.is_string()) return ParameterValue(value.get<std::string>());
    if (!value.is_array()) return std::nullopt;
    std::vector<Point> points;
    for (const auto& pair : value) {
        if (!pair.is_array() || pair.size() != 2 || !pair[0].is_number() || !pair[1].is_number()) return std::nullopt;
        points.push_back({pair[0].get<double>(), pair[1].get<double>()});
    }
    return ParameterValue(std::move(points));
}

}  // namespace

std::string describe(const nlohmann::json& value) {
    if (value.is_string()) return "“" + value.get<std::string>() + "”";
    if (value.is_array()) return "a list";
    if (value.is_object()) return "an object";
    return jsonText(value);
}

JsonFields::JsonFields(const nlohmann::json& object, std::string context)
    : m_object(&object), m_context(std::move(context)) {
    if (!object.is_object()) refuse(ErrorCode::Syntax, "", describe(object), "a JSON object {…}");
}

void JsonFields::refuse(ErrorCode code, const std::string& field, std::string found, std::string expected) {
    if (m_error) return;
    std::string where = m_context;
    if (!field.empty()) where += (where.empty() || where.back() == '.' ? "" : ": ") + field;
    m_error = Error{code, std::move(where), std::move(found), std::move(expected)};
}

void JsonFields::adopt(const JsonFields& nested) {
    if (m_error || !nested.m_error) return;
    m_error = nested.m_error;
    if (!m_context.empty() && !m_error->where.starts_with(m_context))
        m_error->where = m_context + (m_context.back() == '.' ? "" : ": ") + m_error->where;
}

const nlohmann::json* JsonFields::find(const char* name, bool required, const char* expected) {
    if (!m_object->is_object()) return nullptr;
    const auto it = m_object->find(name);
    if (it != m_object->end()) return &*it;
    if (required) refuse(ErrorCode::Missing, name, "nothing", expected);
    return nullptr;
}

std::string JsonFields::text(const char* name) {
    const nlohmann::json* value = find(name, true, "a text");
    if (!value) return {};
    if (value->is_string()) return value->get<std::string>();
    refuse(ErrorCode::Syntax, name, describe(*value), "a text");
    return {};
}

std::string JsonFields::textOr(const char* name, const std::string& otherwise) {
    return has(name) ? text(name) : otherwise;
}

double JsonFields::numberOr(const char* name, double otherwise) {
    const nlohmann::json* value = find(name, false, "");
    if (!value) return otherwise;
    if (value->is_number()) return value->get<double>();
    refuse(ErrorCode::Syntax, name, describe(*value), "a number");
    return otherwise;
}

int JsonFields::wholeOr(const char* name, int otherwise, int low, int high) {
    const double value = numberOr(name, otherwise);
    if (value >= low && value <= high && value == std::floor(value)) return static_cast<int>(value);
    refuse(ErrorCode::Range, name, plainNumber(value), fmt::format("a whole number, {} to {}", low, high));
    return otherwise;
}

const nlohmann::json& JsonFields::at(const char* name) const {
    static const nlohmann::json nothing;
    if (!m_object->is_object()) return nothing;
    const auto it = m_object->find(name);
    return it == m_object->end() ? nothing : *it;
}

bool JsonFields::flagOr(const char* name, bool otherwise) {
    const nlohmann::json* value = find(name, false, "");
    if (!value) return otherwise;
    if (value->is_boolean()) return value->get<bool>();
    refuse(ErrorCode::Syntax, name, describe(*value), "true or false");
    return otherwise;
}

Interval JsonFields::interval(const char* name) {
    const char* expected = "two numbers [low, high], low first";
    const nlohmann::json* value = find(name, true, expected);
    if (!value) return {};
    if (!value->is_array() || value->size() != 2 || !(*value)[0].is_number() || !(*value)[1].is_number()) {
        refuse(ErrorCode::Syntax, name, describe(*value), expected);
        return {};
    }
    const Interval interval{(*value)[0].get<double>(), (*value)[1].get<double>()};
    if (!(interval.low <= interval.high))
        refuse(ErrorCode::Range, name, fmt::format("[{}, {}]", plainNumber(interval.low), plainNumber(interval.high)),
               expected);
    return interval;
}

Interval JsonFields::intervalOr(const char* name, Interval otherwise) { return has(name) ? interval(name) : otherwise; }

Quantity JsonFields::measurand(const char* name) {
    const std::string found = text(name);
    const auto quantity = quantityFromName(found);
    if (quantity && isMeasurand(*quantity)) return *quantity;
    refuse(ErrorCode::Unknown, name, "“" + found + "”", "temperature, humidity, pressure or illuminance");
    return Quantity::Temperature;
}

Quantity JsonFields::readable(const char* name) {
    const std::string found = text(name);
    const auto quantity = quantityFromName(found);
    if (quantity && isReadable(*quantity)) return *quantity;
    refuse(ErrorCode::Unknown, name, "“" + found + "”",
           "temperature, humidity, pressure or illuminance; of derived gauges also height, vapour_density, "
           "wood_moisture or a rate");
    return Quantity::Temperature;
}

std::vector<std::string> JsonFields::texts(const char* name) {
    const nlohmann::json* value = find(name, false, "");
    std::vector<std::string> list;
    if (!value) return list;
    if (!value->is_array()) refuse(ErrorCode::Syntax, name, describe(*value), "a list of texts");
    for (const auto& entry : *value) {
        if (entry.is_string())
            list.push_back(entry.get<std::string>());
        else
            refuse(ErrorCode::Syntax, name, describe(entry), "a text");
    }
    return list;
}

Parameters JsonFields::toParameters(const nlohmann::json& object, const std::string& field,
                                    std::initializer_list<const char*> except) {
    Parameters parameters;
    if (!object.is_object()) {
        refuse(ErrorCode::Syntax, field, describe(object), "an object of named values");
        return parameters;
    }
    for (const auto& [name, value] : object.items()) {
        if (std::find(except.begin(), except.end(), name) != except.end()) continue;
        if (auto parameter = toParameter(value))
            parameters.set(name, std::move(*parameter));
        else
            refuse(ErrorCode::Syntax, field.empty() ? name : field + "." + name, describe(value),
                   "a number, a text, or a list of pairs of numbers");
    }
    return parameters;
}

Parameters JsonFields::parametersIn(const char* name) {
    const nlohmann::json* value = find(name, false, "");
    return value ? toParameters(*value, name, {}) : Parameters{};
}

Parameters JsonFields::parametersExcept(std::initializer_list<const char*> names) {
    return toParameters(*m_object, "", names);
}

JsonFields JsonFields::object(const char* name) {
    const nlohmann::json* value = find(name, true, "an object {…}");
    static const nlohmann::json empty = nlohmann::json::object();
    const bool nested = !m_context.empty() && m_context.back() == '.';
    return {value ? *value : empty, m_context + (nested || m_context.empty() ? "" : ": ") + name + "."};
}

nlohmann::json fileNumber(double value) {
    const bool whole = value == std::floor(value) && std::abs(value) < 1e15;
    return whole ? nlohmann::json(static_cast<std::int64_t>(value)) : nlohmann::json(value);
}

nlohmann::json toJson(const Parameters& parameters) {
    nlohmann::json object = nlohmann::json::object();
    for (const auto& [name, value] : parameters.all()) {
        nlohmann::json& member = object[name];
        if (const double* number = std::get_if<double>(&value))
            member = fileNumber(*number);
        else if (const auto* text = std::get_if<std::string>(&value))
            member = *text;
        else
            for (const Point& point : std::get<std::vector<Point>>(value))
                member.push_back({fileNumber(point[0]), fileNumber(point[1])});
    }
    return object;
}

}  // namespace fg
