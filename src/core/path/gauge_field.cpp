#include "path/gauge_field.h"

#include "path/analog_path.h"

#include <cassert>

namespace fg {

Parameters& parametersAt(GaugeSpec& spec, std::string_view field) {
    if (field.starts_with("sensor.")) return spec.sensor.parameters;
    if (field.starts_with("converter.")) return spec.converter.parameters;
    assert(field.starts_with("wiring."));
    return spec.wiring.parameters;
}

std::string fieldName(std::string_view field) { return std::string(field.substr(field.find('.') + 1)); }

double fieldOr(const GaugeSpec& spec, const Catalogue& catalogue, std::string_view field, double otherwise) {
    if (field.starts_with("converter."))
        return effectiveConverter(spec, catalogue).numberOr(fieldName(field), otherwise);
    GaugeSpec copy = spec;
    return parametersAt(copy, field).numberOr(fieldName(field), otherwise);
}

}  // namespace fg
