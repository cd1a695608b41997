#include "catalogue/catalogue.h"
#include "units/letters.h"
#include "units/text_file.h"

#include "catalogue/json_fields.h"
#include "converters/kind.h"
#include "sensors/family.h"
#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <cstdlib>
#include <limits>

namespace fg {
namespace {

namespace fs = std::filesystem;

/// How two designations are compared: letter by letter without case, and without what people put between letters and
/// digits: "TMP-36", "tmp 36".
enum class Likeness { Exact, Squeezed };

bool isBetween(char c) { return c == '-' || c == ' ' || c == '_'; }

bool isLike(std::string_view one, std::string_view other, Likeness likeness) {
    const auto low = [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c; };
    std::size_t i = 0, k = 0;
    for (;;) {
        if (likeness == Likeness::Squeezed) {
            while (i < one.size() && isBetween(one[i])) ++i;
            while (k < other.size() && isBetween(other[k])) ++k;
        }
        if (i == one.size() || k == other.size()) return i == one.size() && k == other.size();
        if (low(one[i++]) != low(other[k++])) return false;
    }
}

template <class Entry>
const Entry* findIn(const std::vector<Entry>& entries, const std::string& name) {
    for (const Entry& entry : entries)
        if (isLike(entry.id, name, Likeness::Exact)) return &entry;
    if (std::all_of(name.begin(), name.end(), isBetween)) return nullptr;
    for (const Likeness likeness : {Likeness::Exact, Likeness::Squeezed})
        for (const Entry& entry : entries)
            if (isLike(entry.id, name, likeness) ||
                std::any_of(entry.aliases.begin(), entry.aliases.end(),
                            [&](const std::string& alias) { return isLike(alias, name, likeness); }))
                return &entry;
    return nullptr;
}

std::vector<AccuracyBand> readAccuracy(JsonFields& fields) {
    std::vector<AccuracyBand> bands;
    if (!fields.has("accuracy")) return bands;
    const nlohmann::json& list = fields.at("accuracy");
    if (!list.is_array()) fields.refuse(ErrorCode::Syntax, "accuracy", describe(list), "a list of {span, limit}");
    for (const auto& entry : list) {
        JsonFields band(entry, "accuracy.");
        AccuracyBand read{band.interval("span"), band.numberOr("limit", 0), band.numberOr("per_unit", 0), {}};
        read.perUnitFrom = band.numberOr("per_unit_from", 0);
        read.statement = band.textOr("statement", "");
        if (!(read.limit >= 0) || !(read.perUnit >= 0) || !(read.limit + read.perUnit > 0))
            band.refuse(ErrorCode::Range, "limit", plainNumber(read.limit),
                        "a limit above 0, in the unit of the quantity");
        if (band.error())
            fields.refuse(band.error()->code, band.error()->where, band.error()->found, band.error()->expected);
        bands.push_back(read);
    }
    return bands;
}

/// A part that fixes all of its family's parameters must build; one that leaves some free is checked when a gauge uses
/// it.
Expected<void> checkBuilds(const Part& part, const SensorFamily& family) {
    for (const ParameterSpec& spec : family.parameters(part.quantity))
        if (!spec.defaultValue && !part.parameters.has(spec.id)) return {};
    const auto made =
        family.make(part.parameters, {part.quantity, part.range,
                                      std::max(part.parameters.numberOr("ratiometric_at_V", 0), part.supply_V.high)});
    if (!made) return tl::unexpected(made.error().within("parameters"));
    return {};
}

fs::path shippedData() {
    if (const char* chosen = std::getenv("FAIRGAUGE_DATA")) return chosen;
    std::error_code ignored;
    const fs::path program = fs::read_symlink("/proc/self/exe", ignored);
    const fs::path installed = program.parent_path().parent_path() / "share" / "fair-gauge";
    if (!program.empty() && fs::exists(installed / "parts", ignored)) return installed;
    // Where systems keep shared data; a build that was not installed has it beside its sources.
    const char* const listed = std::getenv("XDG_DATA_DIRS");
    std::string_view rest = listed && *listed ? listed : "/usr/local/share:/usr/share";
    while (!rest.empty()) {
        const std::size_t end = std::min(rest.find(':'), rest.size());
        const fs::path shared = fs::path(rest.substr(0, end)) / "fair-gauge";
        if (end > 0 && fs::exists(shared / "parts", ignored)) return shared;
        rest.remove_prefix(std::min(end + 1, rest.size()));
    }
    return FAIRGAUGE_SOURCE_DATA;
}

}  // namespace

std::optional<double> Part::accuracyAt(double measurand) const {
    std::optional<double> tightest;
    for (const AccuracyBand& band : accuracy)
        if (band.span.contains(measurand) && (!tightest || band.limitAt(measurand) < *tightest))
            tightest = band.limitAt(measurand);
    return tightest;
}

std::vector<fs::path> Catalogue::standardFolders() {
    std::vector<fs::path> folders{shippedData()};
    if (const char* data = std::getenv("XDG_DATA_HOME"))
        folders.emplace_back(fs::path(data) / "fair-gauge");
    else if (const char* home = std::getenv("HOME"))
        folders.emplace_back(fs::path(home) / ".local/share/fair-gauge");
    return folders;
}

Catalogue Catalogue::read(std::span<const fs::path> folders) {
    Catalogue catalogue;
    for (const fs::path& folder : folders) {
        catalogue.readFolder(folder / "choosing", &Catalogue::addBodies);
        catalogue.readFolder(folder / "outlines", &Catalogue::addOutline);
        catalogue.readFolder(folder / "parts", &Catalogue::addPart);
        catalogue.readFolder(folder / "devices", &Catalogue::addDevice);
        catalogue.readFolder(folder / "registers", &Catalogue::addRegisterMap);
        catalogue.readFolder(folder / "converters", &Catalogue::addConverter);
    }
    return catalogue;
}

void Catalogue::readFolder(const fs::path& folder, Add add) {
    std::error_code error;
    if (!fs::is_directory(folder, error)) return;
    std::vector<fs::path> files;
    for (const auto& entry : fs::directory_iterator(folder, error))
        if (entry.path().extension() == ".json") files.push_back(entry.path());
    std::sort(files.begin(), files.end());
    for (const fs::path& file : files) {
        const auto text = readTextFile(file, "a file of the catalogue");
        const auto added = text ? (this->*add)(*text, file.string()) : tl::unexpected(text.error());
        if (!added) m_problems.push_back(added.error());
    }
}

Expected<void> Catalogue::addPart(const std::string& text, const std::string& file) {
    return guarded(file, [&]() -> Expected<void> {
        const auto json = parseJson(text, file);
        if (!json) return tl::unexpected(json.error());
        JsonFields fields(*json, file);
        constexpr double infinite = std::numeric_limits<double>::infinity();
        Part part;
        static_cast<PartFacts&>(part) = readFacts(fields, file);
        part.quantity = fields.measurand("quantity");
        part.family = fields.text("family");
        part.parameters = fields.parametersIn("parameters");
        part.range = fields.intervalOr("range", {-infinite, infinite});
        part.accuracy = readAccuracy(fields);
        if (part.interface.empty()) part.interface = "analog";
        checkBody(fields, part.body);
        const SensorFamily* family = findSensorFamily(part.family);
        if (!family)
            fields.refuse(ErrorCode::Unknown, "family", "“" + part.family + "”", "the name of a formula family");
        if (part.id != lowered(part.id) || part.id.empty())
            fields.refuse(ErrorCode::Syntax, "id", "“" + part.id + "”", "a designation in lower case");
        if (findPart(part.id))
            fields.refuse(ErrorCode::Range, "id", "“" + part.id + "” a second time",
                          "an id that no other part has (also in " + findPart(part.id)->file + ")");
        if (fields.error()) return tl::unexpected(*fields.error());
        if (const auto built = checkBuilds(part, *family); !built) return tl::unexpected(built.error().within(file));
        if (const auto good = checkPins(part, file); !good) return good;
        m_parts.push_back(std::move(part));
        return {};
    });
}

void Catalogue::checkBody(JsonFields& fields, const std::string& body) const {
    if (body.empty() || m_bodies.empty() || m_bodies.contains(body)) return;
    std::string names;
    for (const auto& [id, known] : m_bodies) names += (names.empty() ? "" : ", ") + id;
    fields.refuse(ErrorCode::Unknown, "body", "“" + body + "”", "one of " + names);
}

Expected<void> Catalogue::addBodies(const std::string& text, const std::string& file) {
    auto bodies = readBodies(text, file);
    if (!bodies) return tl::unexpected(bodies.error());
    m_bodies.merge(*bodies);
    return {};
}

Expected<void> Catalogue::addOutline(const std::string& text, const std::string& file) {
    auto outline = readOutline(text, file);
    if (!outline) return tl::unexpected(outline.error());
    if (m_outlines.contains(outline->id))
        return fail(ErrorCode::Range, file + ": id", "“" + outline->id + "” a second time",
                    "an id that no other outline has");
    m_outlines.emplace(outline->id, std::move(*outline));
    return {};
}

Expected<void> Catalogue::checkPins(const PartFacts& part, const std::string& file) const {
    for (const Pinout& pinout : part.pinouts) {
        const auto outline = m_outlines.find(pinout.outline);
        if (outline == m_outlines.end())
            return fail(ErrorCode::Unknown, file + ": pins.outline", "“" + pinout.outline + "”",
                        "the id of a file in outlines/");
        if (static_cast<int>(pinout.pins.size()) != outline->second.pins())
            return fail(ErrorCode::Range, file + ": pins.pins", fmt::format("{} pins", pinout.pins.size()),
                        fmt::format("the {} pins of {}", outline->second.pins(), pinout.outline));
    }
    return {};
}

Expected<void> Catalogue::addDevice(const std::string& text, const std::string& file) {
    auto part = readDevicePart(text, file);
    if (!part) return tl::unexpected(part.error());
    if (!part->body.empty() && !m_bodies.empty() && !m_bodies.contains(part->body))
        return fail(ErrorCode::Unknown, file + ": body", "“" + part->body + "”", "a body of choosing/bodies.json");
    if (const auto good = checkPins(*part, file); !good) return good;
    if (findDevicePart(part->id) || findPart(part->id))
        return fail(ErrorCode::Range, file + ": id", "“" + part->id + "” a second time",
                    "an id that no other part has");
    m_devices.push_back(std::move(*part));
    return {};
}

Expected<void> Catalogue::addRegisterMap(const std::string& text, const std::string& file) {
    auto map = readRegisterMap(text, file);
    if (!map) return tl::unexpected(map.error());
    for (const std::string& part : map->parts)
        if (findRegisterMap(part))
            return fail(ErrorCode::Range, file + ": parts", "“" + part + "” a second time",
                        "a part that no other map has");
    m_registerMaps.push_back(std::move(*map));
    return {};
}

const RegisterMap* Catalogue::findRegisterMap(const std::string& part) const {
    for (const RegisterMap& map : m_registerMaps)
        if (std::find(map.parts.begin(), map.parts.end(), lowered(part)) != map.parts.end()) return &map;
    return nullptr;
}

namespace {

/// "noise": [{"gain": 128, "rate_Hz": 10, "rms_V": 5e-8}, …].
std::vector<ConverterNoise> readNoise(JsonFields& fields) {
    std::vector<ConverterNoise> noise;
    if (!fields.has("noise")) return noise;
    for (const nlohmann::json& entry : fields.at("noise")) {
        JsonFields one(entry, "noise");
        noise.push_back({one.numberOr("gain", 1), one.numberOr("rate_Hz", 0), one.numberOr("rms_V", 0)});
        if (!one.error() && !(noise.back().rms_V > 0))
            one.refuse(ErrorCode::Range, "rms_V", plainNumber(noise.back().rms_V), "a voltage above 0 V");
        fields.adopt(one);
    }
    return noise;
}

/// "traps": ["…", {"text": "…", "input_V": [2.45, 3.3]}].
std::vector<ConverterTrap> readTraps(JsonFields& fields) {
    std::vector<ConverterTrap> traps;
    if (!fields.has("traps")) return traps;
    for (const nlohmann::json& entry : fields.at("traps")) {
        if (entry.is_string()) {
            traps.push_back({entry.get<std::string>(), {}});
            continue;
        }
        JsonFields one(entry, "traps");
        traps.push_back({one.text("text"), one.interval("input_V")});
        fields.adopt(one);
    }
    return traps;
}

/// "input_of_gain": {"128": 0, "32": 1}.
std::map<double, int> readInputOfGain(JsonFields& fields, int channels) {
    std::map<double, int> inputs;
    if (!fields.has("input_of_gain")) return inputs;
    JsonFields gains = fields.object("input_of_gain");
    for (const auto& [key, entry] : gains.json().items()) {
        double gain = 0;
        const auto [end, status] = std::from_chars(key.data(), key.data() + key.size(), gain);
        if (status != std::errc{} || end != key.data() + key.size() || !(gain > 0))
            gains.refuse(ErrorCode::Syntax, key, "“" + key + "”", "a gain");
        inputs[gain] = gains.wholeOr(key.c_str(), 0, 0, channels - 1);
    }
    fields.adopt(gains);
    return inputs;
}

/// "sequence": [{"put": [["CS", 0], ["WR", 0]], "time_s", "why"}, {"wait": ["INTR", 0], "time_s"}, {"read": ["DB0",
/// …]}].
std::vector<PinStep> readSequence(JsonFields& fields) {
    std::vector<PinStep> steps;
    if (!fields.has("sequence")) return steps;
    const auto pinOf = [](JsonFields& one, const char* name, const nlohmann::json& entry) {
        const bool isPin =
            entry.is_array() && entry.size() == 2 && entry[0].is_string() && entry[1].is_number_integer();
        if (!isPin) one.refuse(ErrorCode::Syntax, name, describe(entry), "[the pin's name, 0 or 1]");
        return isPin ? std::pair(entry[0].get<std::string>(), entry[1].get<int>() != 0)
                     : std::pair(std::string(), false);
    };
    for (const nlohmann::json& entry : fields.at("sequence")) {
        JsonFields one(entry, "sequence");
        PinStep step;
        if (one.has("put"))
            for (const nlohmann::json& pin : one.at("put")) step.put.push_back(pinOf(one, "put", pin));
        if (one.has("wait")) step.wait = pinOf(one, "wait", one.at("wait"));
        step.read = one.texts("read");
        step.time_s = one.numberOr("time_s", 0);
        step.why = one.textOr("why", "");
        const int kinds = (step.put.empty() ? 0 : 1) + (step.wait ? 1 : 0) + (step.read.empty() ? 0 : 1);
        if (kinds != 1) one.refuse(ErrorCode::Syntax, "", describe(entry), "one of put, wait and read");
        fields.adopt(one);
        steps.push_back(std::move(step));
    }
    return steps;
}

}  // namespace

Expected<void> Catalogue::addConverter(const std::string& text, const std::string& file) {
    return guarded(file, [&]() -> Expected<void> {
        const auto json = parseJson(text, file);
        if (!json) return tl::unexpected(json.error());
        JsonFields fields(*json, file);
        ConverterPart converter;
        converter.id = fields.text("id");
        converter.title = fields.text("title");
        converter.aliases = fields.texts("aliases");
        converter.kind = fields.textOr("kind", "adc");
        converter.parameters = fields.parametersIn("parameters");
        converter.channels = fields.wholeOr("channels", 1, 1, 64);
        converter.conversion_s = fields.numberOr("conversion_s", 0);
        if (!(converter.conversion_s >= 0))
            fields.refuse(ErrorCode::Range, "conversion_s", plainNumber(converter.conversion_s), "a time in s, or 0");
        converter.noise = readNoise(fields);
        converter.traps = readTraps(fields);
        converter.sequence = readSequence(fields);
        converter.inputOfGain = readInputOfGain(fields, converter.channels);
        converter.interface = fields.textOr("interface", "");
        converter.pinouts = readPinouts(fields);
        constexpr std::array<std::string_view, 5> kInterfaces{"", "i2c", "spi", "two-wire clocked", "parallel"};
        if (std::find(kInterfaces.begin(), kInterfaces.end(), converter.interface) == kInterfaces.end())
            fields.refuse(ErrorCode::Unknown, "interface", "“" + converter.interface + "”",
                          "i2c, spi, two-wire clocked or parallel");
        converter.source = fields.text("source");
        converter.file = file;
        if (findConverter(converter.id))
            fields.refuse(ErrorCode::Range, "id", "“" + converter.id + "” a second time",
                          "an id that no other converter has");
        if (fields.error()) return tl::unexpected(*fields.error());
        const ConverterKind* kind = findConverterKind(converter.kind);
        if (!kind)
            return fail(ErrorCode::Unknown, file + ": kind", "“" + converter.kind + "”",
                        "adc, counter, timer or pulses");
        if (const auto built = kind->make(converter.parameters); !built)
            return tl::unexpected(built.error().within(file));
        m_converters.push_back(std::move(converter));
        return {};
    });
}

const Part* Catalogue::findPart(const std::string& name) const { return findIn(m_parts, name); }
const DevicePart* Catalogue::findDevicePart(const std::string& name) const { return findIn(m_devices, name); }
const ConverterPart* Catalogue::findConverter(const std::string& name) const { return findIn(m_converters, name); }

Expected<Part> Catalogue::partOrFamily(const std::string& name, Quantity measurand) const {
    if (const Part* part = findPart(name)) return *part;
    if (const SensorFamily* family = findSensorFamily(name)) {
        constexpr double infinite = std::numeric_limits<double>::infinity();
        Part part;
        part.id = name;
        part.title = family->title;
        part.quantity = measurand;
        part.family = name;
        part.range = {-infinite, infinite};
        part.interface = "analog";
        part.source = "formula family";
        return part;
    }
    std::string known;
    for (const Part& part : m_parts)
        if (!name.empty() && !part.id.empty() && part.id[0] == std::tolower(static_cast<unsigned char>(name[0])))
            known += (known.empty() ? "" : ", ") + part.id;
    return fail(ErrorCode::Unknown, "sensor.part", "“" + name + "”",
                known.empty() ? std::string("a part of the catalogue (fgauge parts) or a formula family")
                              : "a part of the catalogue, such as " + known);
}

}  // namespace fg
