// The rules behind consequencesOf(), one a register map; each stands with its sources in consequences_*.cpp. For those
// files alone.
#pragma once

#include "timing/consequences.h"

#include <algorithm>
#include <charconv>
#include <optional>

namespace fg::costs {

/// The fields by name.
class Fields {
  public:
    explicit Fields(std::span<const FieldValue> values) : m_values(values) {}
    [[nodiscard]] const FieldValue* find(std::string_view id) const {
        const auto it = std::find_if(m_values.begin(), m_values.end(),
                                     [&](const FieldValue& value) { return value.field->id == id; });
        return it == m_values.end() ? nullptr : &*it;
    }
    [[nodiscard]] std::string text(std::string_view id) const { return find(id) ? find(id)->text : ""; }
    [[nodiscard]] bool is(std::string_view id, std::string_view text_) const { return text(id) == text_; }
    [[nodiscard]] unsigned code(std::string_view id) const { return find(id) ? find(id)->code : 0; }
    [[nodiscard]] double number(std::string_view id) const { return find(id) ? find(id)->number : 0; }
    /// The number that a choice begins with, 0.512 of "0.512V"; `otherwise` where it begins with none, as a reserved
    /// code does.
    [[nodiscard]] double leading(std::string_view id, double otherwise = 0) const {
        const std::string name = text(id);
        return numberFrom(name, 0).value_or(otherwise);
    }
    /// A choice of a duration, "62.5ms" or "4s", in s.
    [[nodiscard]] double seconds(std::string_view id) const {
        return leading(id) / (text(id).ends_with("ms") ? 1000 : 1);
    }
    /// A choice of a factor, "x16".
    [[nodiscard]] double factor(std::string_view id) const {
        const std::string name = text(id);
        return name.starts_with("x") ? numberFrom(name, 1).value_or(0) : 0;
    }

  private:
    /// A number as data files write it, whatever the locale.
    [[nodiscard]] static std::optional<double> numberFrom(const std::string& text, std::size_t at) {
        double number = 0;
        const auto [end, status] = std::from_chars(text.data() + at, text.data() + text.size(), number);
        return status == std::errc{} ? std::optional(number) : std::nullopt;
    }
    std::span<const FieldValue> m_values;
};

using Result = std::vector<Consequence>;

inline void add(Result& result, const char* id, const char* title, double value, const std::string& note,
                Quantity quantity = Quantity::Time) {
    result.push_back({id, title, value, quantity, note});
}

[[nodiscard]] Result tmp117(const Fields& fields);
[[nodiscard]] Result tmp102(const Fields& fields);
[[nodiscard]] Result mcp9808(const Fields& fields);
[[nodiscard]] Result ds18b20(const Fields& fields);
[[nodiscard]] Result max31865(const Fields& fields);
[[nodiscard]] Result lm75(const Fields& fields);
[[nodiscard]] Result adt7410(const Fields& fields);
[[nodiscard]] Result ds3231(const Fields& fields);
[[nodiscard]] Result ds18s20(const Fields& fields);
[[nodiscard]] Result tmp75(const Fields& fields);
[[nodiscard]] Result mcp9600(const Fields& fields);

[[nodiscard]] Result trimmedBarometer(const Fields& fields);
[[nodiscard]] Result bmp388(const Fields& fields);
[[nodiscard]] Result dps310(const Fields& fields);
[[nodiscard]] Result lps2x(const Fields& fields);
[[nodiscard]] Result bme680(const Fields& fields);
[[nodiscard]] Result bmp180(const Fields& fields);
[[nodiscard]] Result ms5611(const Fields& fields);
[[nodiscard]] Result ms5607(const Fields& fields);
[[nodiscard]] Result ms5837(const Fields& fields);

[[nodiscard]] Result hdc1080(const Fields& fields);
[[nodiscard]] Result sht3x(const Fields& fields);
[[nodiscard]] Result sht4x(const Fields& fields);
[[nodiscard]] Result si7021(const Fields& fields);
[[nodiscard]] Result htu21d(const Fields& fields);
[[nodiscard]] Result hdc2080(const Fields& fields);
[[nodiscard]] Result hts221(const Fields& fields);

[[nodiscard]] Result opt3001(const Fields& fields);
[[nodiscard]] Result veml7700(const Fields& fields);
[[nodiscard]] Result tsl2561(const Fields& fields);
[[nodiscard]] Result max44009(const Fields& fields);
[[nodiscard]] Result bh1750(const Fields& fields);

[[nodiscard]] Result ads(const Fields& fields);
[[nodiscard]] Result hx711(const Fields& fields);
[[nodiscard]] Result nau7802(const Fields& fields);

}  // namespace fg::costs
