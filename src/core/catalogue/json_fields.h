#pragma once

#include "json/json_text.h"
#include "numeric/transfer.h"
#include "sensors/parameters.h"
#include "units/error.h"
#include "units/quantity.h"

#include <nlohmann/json.hpp>

namespace fg {

/// Reading of JSON fields with errors that name the field, what was found and what was expected. Shared by part,
/// converter and gauge files.
///
/// A reader collects the first error; the getters after it return neutral values, so that a file is read straight down
/// and checked once.
class JsonFields {
  public:
    /// Reads from `object`, which has to stay as long as this and all that object() gives: a copy of it would cost as
    /// much as reading the file.
    JsonFields(const nlohmann::json& object, std::string context);
    JsonFields(const nlohmann::json&& object, std::string context) = delete;

    [[nodiscard]] std::string text(const char* name);
    [[nodiscard]] std::string textOr(const char* name, const std::string& otherwise);
    [[nodiscard]] double numberOr(const char* name, double otherwise);
    [[nodiscard]] bool flagOr(const char* name, bool otherwise);
    /// A whole number from low to high.
    [[nodiscard]] int wholeOr(const char* name, int otherwise, int low, int high);
    [[nodiscard]] Interval interval(const char* name);
    [[nodiscard]] Interval intervalOr(const char* name, Interval otherwise);
    [[nodiscard]] Quantity measurand(const char* name);
    /// What a gauge may read: a measurand, or what follows from measurands.
    [[nodiscard]] Quantity readable(const char* name);
    [[nodiscard]] std::vector<std::string> texts(const char* name);
    /// Every member of the object under `name` as a parameter; numbers, texts, and lists of pairs.
    [[nodiscard]] Parameters parametersIn(const char* name);
    /// Every member of this object but those listed.
    [[nodiscard]] Parameters parametersExcept(std::initializer_list<const char*> names);
    /// The object under `name` as a reader of its own; a missing or wrong one is an error here.
    [[nodiscard]] JsonFields object(const char* name);
    [[nodiscard]] bool has(const char* name) const { return m_object->is_object() && m_object->contains(name); }
    /// The value under `name`; null when there is none.
    [[nodiscard]] const nlohmann::json& at(const char* name) const;
    [[nodiscard]] const nlohmann::json& json() const { return *m_object; }

    void refuse(ErrorCode code, const std::string& field, std::string found, std::string expected);
    /// Takes over a nested reader's error.
    void adopt(const JsonFields& nested);

    [[nodiscard]] const std::optional<Error>& error() const { return m_error; }

  private:
    const nlohmann::json* find(const char* name, bool required, const char* expected);
    Parameters toParameters(const nlohmann::json& object, const std::string& field,
                            std::initializer_list<const char*> except);

    const nlohmann::json* m_object;
    std::string m_context;
    std::optional<Error> m_error;
};

/// A number for a file that people read: whole ones without ".0".
[[nodiscard]] nlohmann::json fileNumber(double value);

/// Parameters as a JSON object.
[[nodiscard]] nlohmann::json toJson(const Parameters& parameters);

/// How a JSON value is named in messages: «-5», «“low”», «a list».
[[nodiscard]] std::string describe(const nlohmann::json& value);

}  // namespace fg
