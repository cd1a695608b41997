#include "timing/consequences.h"

#include "timing/consequence_rules.h"
#include "units/number_format.h"

#include <array>
#include <cmath>

namespace fg {
namespace {

struct Rule {
    std::string_view map;
    costs::Result (*run)(const costs::Fields& fields);
};
constexpr std::array kRules{Rule{"bmp280", costs::trimmedBarometer},
                            Rule{"bme280", costs::trimmedBarometer},
                            Rule{"tmp117", costs::tmp117},
                            Rule{"tmp116", costs::tmp117},
                            Rule{"tmp102", costs::tmp102},
                            Rule{"mcp9808", costs::mcp9808},
                            Rule{"ds18b20", costs::ds18b20},
                            Rule{"ads1115", costs::ads},
                            Rule{"ads1015", costs::ads},
                            Rule{"hdc1080", costs::hdc1080},
                            Rule{"max31865", costs::max31865},
                            Rule{"opt3001", costs::opt3001},
                            Rule{"veml7700", costs::veml7700},
                            Rule{"tsl2561", costs::tsl2561},
                            Rule{"lm75", costs::lm75},
                            Rule{"adt7410", costs::adt7410},
                            Rule{"dps310", costs::dps310},
                            Rule{"lps22hb", costs::lps2x},
                            Rule{"lps25hb", costs::lps2x},
                            Rule{"max44009", costs::max44009},
                            Rule{"bme680", costs::bme680},
                            Rule{"bmp180", costs::bmp180},
                            Rule{"ds3231", costs::ds3231},
                            Rule{"bmp388", costs::bmp388},
                            Rule{"bh1750", costs::bh1750},
                            Rule{"sht3x", costs::sht3x},
                            Rule{"sht40", costs::sht4x},
                            Rule{"si7021", costs::si7021},
                            Rule{"htu21d", costs::htu21d},
                            Rule{"ms5611", costs::ms5611},
                            Rule{"ms5607", costs::ms5607},
                            Rule{"ms5837", costs::ms5837},
                            Rule{"hx711", costs::hx711},
                            Rule{"ds18s20", costs::ds18s20},
                            Rule{"mcp9600", costs::mcp9600},
                            Rule{"tmp75", costs::tmp75},
                            Rule{"hdc2080", costs::hdc2080},
                            Rule{"hts221", costs::hts221},
                            Rule{"nau7802", costs::nau7802}};

}  // namespace

std::vector<Consequence> consequencesOf(const RegisterMap& map, std::span<const FieldValue> values) {
    for (const Rule& rule : kRules)
        if (rule.map == map.id) return rule.run(costs::Fields(values));
    return {};
}

std::string consequenceText(const Consequence& one) {
    // Steps are told to the last digit of their data sheet; lux get no prefix, as on every meter.
    const int significant = one.id.starts_with("step") ? 5 : 4;
    if (one.quantity == Quantity::Illuminance)
        return (one.value < 1e3 ? plainNumber(one.value, significant) : plainNumber(std::round(one.value))) + " lx";
    return shortEngineering(one.value, one.quantity, significant).joined();
}

}  // namespace fg
