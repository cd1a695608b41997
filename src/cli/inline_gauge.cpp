#include "inline_gauge.h"

#include "converters/kind.h"
#include "path/default_gauge.h"
#include "sensors/family.h"
#include "units/value_text.h"
#include "wiring/kind.h"

#include <algorithm>
#include <map>
#include <vector>

namespace fg::cli {
namespace {

struct Setting {
    std::string name;  ///< empty: a bare word
    std::string value;
};

std::vector<Setting> settingsOf(const std::string& text) {
    std::vector<Setting> settings;
    std::size_t begin = 0;
    while (begin < text.size()) {
        const std::size_t end = std::min(text.find(',', begin), text.size());
        const std::string piece = text.substr(begin, end - begin);
        const std::size_t equals = piece.find('=');
        if (!piece.empty())
            settings.push_back(equals == std::string::npos ? Setting{"", piece}
                                                           : Setting{piece.substr(0, equals), piece.substr(equals + 1)});
        begin = end + 1;
    }
    return settings;
}

/// Short names that people use for what the files spell out.
std::string spelledOut(const std::string& name) {
    static const std::map<std::string, std::string> names{
        {"vref", "reference_V"}, {"law", "code_law"}, {"measured", "reference_measured_V"}, {"gate", "gate_s"}, {"clock", "clock_Hz"}};
    const auto it = names.find(name);
    return it == names.end() ? name : it->second;
}

/// Reads a value as its parameter wants it; what no parameter claims is a text.
Expected<void> set(Parameters& parameters, const Setting& setting, const std::vector<ParameterSpec>& known, const std::string& option) {
    const std::string name = spelledOut(setting.name);
    for (const ParameterSpec& spec : known) {
        const bool isTolerance = !spec.toleranceId.empty() && spec.toleranceId == name;
        if ((spec.id != name && !isTolerance) || spec.isText) continue;
        if (spec.isPoints) return fail(ErrorCode::Unsupported, option, "a table in “" + name + "”", "a gauge file for that");
        const Quantity quantity = isTolerance && spec.tolerance == ToleranceKind::Relative ? Quantity::Ratio : spec.quantity;
        const auto value = readValue(setting.value, quantity);
        if (!value) return tl::unexpected(value.error().within(option + " " + name));
        parameters.set(name, value->canonical);
        return {};
    }
    parameters.set(name, setting.value);
    return {};
}

Expected<void> readConverter(GaugeSpec& spec, const std::string& text, const Catalogue& catalogue) {
    const auto settings = settingsOf(text);
    if (settings.empty()) return {};
    // Values of one's own replace the suggested converter; a converter's id keeps its own.
    spec.converter.part.clear();
    spec.converter.parameters = {};
    for (const Setting& setting : settings) {
        if (setting.name.empty()) {
            const ConverterPart* part = catalogue.findConverter(setting.value);
            if (!part)
                return fail(ErrorCode::Unknown, "--adc", "“" + setting.value + "”", "a converter of the catalogue, or name=value pairs");
            spec.converter.part = part->id;
            spec.converter.kind = part->kind;
            continue;
        }
        const auto done = set(spec.converter.parameters, setting, findConverterKind(spec.converter.kind)->parameters(), "--adc");
        if (!done) return done;
    }
    return {};
}

Expected<void> readWiring(GaugeSpec& spec, const std::string& text) {
    for (const Setting& setting : settingsOf(text)) {
        if (setting.name.empty()) {
            const WiringKind* kind = findWiringKind(setting.value);
            if (!kind) return fail(ErrorCode::Unknown, "--wiring", "“" + setting.value + "”", "a kind of wiring, or name=value pairs");
            if (spec.wiring.kind != kind->id) spec.wiring = {std::string(kind->id), {{"source", std::string("reference")}}};
            continue;
        }
        const auto done = set(spec.wiring.parameters, setting, findWiringKind(spec.wiring.kind)->parameters(), "--wiring");
        if (!done) return done;
        if (setting.name == "source_V") spec.wiring.parameters.set("source", std::string("rail"));
    }
    return {};
}

}  // namespace

Expected<GaugeSpec> gaugeWithoutFile(const InlineGauge& wish, const Catalogue& catalogue) {
    const Part* part = catalogue.findPart(wish.part);
    if (!part) return tl::unexpected(catalogue.partOrFamily(wish.part, Quantity::Temperature).error().within("--part"));
    GaugeSpec spec = defaultGauge(*part);
    spec.name = part->title;
    for (const Setting& setting : settingsOf(wish.sensor)) {
        const auto done = set(spec.sensor.parameters, setting, findSensorFamily(part->family)->parameters(part->quantity), "--sensor");
        if (!done) return tl::unexpected(done.error());
    }
    if (const auto done = readConverter(spec, wish.converter, catalogue); !done) return tl::unexpected(done.error());
    if (const auto done = readWiring(spec, wish.wiring); !done) return tl::unexpected(done.error());
    if (!wish.unit.empty()) {
        const auto unit = unitFromId(wish.unit, spec.quantity);
        if (!unit) return tl::unexpected(unit.error().within("--unit"));
        const Interval span = spec.spanCanonical();
        spec.reading.unit = (*unit)->id;
        spec.reading.span = {(*unit)->fromCanonical(span.low), (*unit)->fromCanonical(span.high)};
    }
    return spec;
}

}  // namespace fg::cli
