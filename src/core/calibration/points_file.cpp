#include "calibration/points_file.h"

#include "gauge/csv_records.h"
#include "units/number_format.h"
#include "units/value_text.h"

#include <fmt/format.h>
#include <algorithm>
#include <charconv>
#include <cmath>
#include <map>

namespace fg {
namespace {

/// A table with a header; every field as its text.
struct Table {
    std::vector<std::string> names;  ///< as they stand, "reference [degC]"
    struct Row {
        std::vector<std::string> fields;
        std::size_t line = 0;
    };
    std::vector<Row> rows;

    [[nodiscard]] std::string listed() const {
        std::string list;
        for (const std::string& name : names) list += (list.empty() ? "" : ", ") + name;
        return list;
    }
};

Expected<Table> readTable(std::string_view text, const std::string& file) {
    std::size_t taken = 0;
    const CsvReader reader = [&](char* bytes, std::size_t count) -> Expected<std::size_t> {
        const std::size_t size = std::min(count, text.size() - taken);
        std::copy_n(text.data() + taken, size, bytes);
        taken += size;
        return size;
    };
    if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
    const char separator = csv::separatorOf(text);
    csv::Records records(reader);
    Table table;
    std::size_t line = 0;
    while (true) {
        const auto record = records.next(separator);
        if (!record) return tl::unexpected(record.error().within(file));
        if (!*record) break;
        ++line;
        const std::size_t here = line;
        line += static_cast<std::size_t>((*record)->lines - 1);
        const std::string_view whole = trimmed((*record)->text);
        if (whole.empty() || whole.starts_with('#')) continue;
        if ((*record)->isStray)
            return fail(ErrorCode::Syntax, fmt::format("{}, line {}", file, here), "a quote that belongs to no field",
                        "quotes around a whole field");
        std::vector<std::string> fields;
        for (const std::string_view field : csv::fieldsOf(**record, separator)) fields.emplace_back(trimmed(field));
        if (table.names.empty())
            table.names = std::move(fields);
        else
            table.rows.push_back({std::move(fields), here});
    }
    if (table.names.empty()) return fail(ErrorCode::Missing, file, "nothing", "a header and points");
    return table;
}

/// "reference [degC]" as its name and its unit.
struct Heading {
    std::string name;
    const Unit* unit = nullptr;
};
Expected<Heading> headingOf(const std::string& text) {
    const std::size_t open = text.find('['), close = text.find(']');
    Heading heading{std::string(trimmed(std::string_view(text).substr(0, open)))};
    if (open == std::string::npos) return heading;
    const std::string_view unit = trimmed(
        std::string_view(text).substr(open + 1, close == std::string::npos ? std::string::npos : close - open - 1));
    for (const Unit& one : allUnits())
        if (one.id == unit || one.symbol == unit) {
            heading.unit = &one;
            return heading;
        }
    return fail(ErrorCode::Unknown, "column “" + text + "”", "unit “" + std::string(unit) + "”",
                "a unit such as degC, degF, percent, hPa, lx");
}

bool isTemperature(const Unit& unit) { return unit.quantity == Quantity::Temperature; }

std::optional<std::size_t> indexOf(const Table& table, std::string_view wanted) {
    for (std::size_t i = 0; i < table.names.size(); ++i)
        if (table.names[i] == wanted || table.names[i].starts_with(std::string(wanted) + " [")) return i;
    return std::nullopt;
}

std::optional<double> numberOf(const std::string& field) {
    const auto value = readValue(field, Quantity::Ratio);
    return value && std::isfinite(value->canonical) ? std::optional(value->canonical) : std::nullopt;
}

}  // namespace

Expected<PointsFile> readPoints(std::string_view text, const std::string& file, const Gauge* gauge) {
    const auto table = readTable(text, file);
    if (!table) return tl::unexpected(table.error());
    std::map<std::string, std::pair<std::size_t, const Unit*>> columns;
    for (std::size_t i = 0; i < table->names.size(); ++i) {
        const auto heading = headingOf(table->names[i]);
        if (!heading) return tl::unexpected(heading.error().within(file));
        if (!columns.emplace(heading->name, std::pair(i, heading->unit)).second)
            return fail(ErrorCode::Ambiguous, file, "two columns “" + heading->name + "”", "one of each name");
    }
    const auto has = [&](const char* name) { return columns.count(name) > 0; };
    if (!has("reference"))
        return fail(ErrorCode::Missing, file, "the columns " + table->listed(),
                    "a column “reference”, and “reading”, “raw” or “resistance_ohm”");
    const char* const source = has("reading") ? "reading" : has("raw") ? "raw" : "resistance_ohm";
    if (!has(source))
        return fail(ErrorCode::Missing, file, "the columns " + table->listed(),
                    "a column “reading”, “raw” or “resistance_ohm” beside “reference”");
    PointsFile result;
    result.isRaw = std::string_view(source) == "raw";
    result.isResistance = std::string_view(source) == "resistance_ohm";
    if (result.isRaw && !gauge)
        return fail(ErrorCode::Missing, file, "raw values", "the gauge that makes readings of them: --gauge");
    const Unit* const given = columns.at("reference").second;
    const Unit& ownUnit = gauge                 ? gauge->unit()
                          : result.isResistance ? canonicalUnit(Quantity::Temperature)
                                                : canonicalUnit(Quantity::Ratio);
    result.unit =
        given ? given : (has("reading") && columns.at("reading").second ? columns.at("reading").second : &ownUnit);
    if (gauge && result.unit->quantity != gauge->unit().quantity)
        return fail(ErrorCode::Unknown, file + ": reference", std::string(result.unit->id),
                    fmt::format("a unit of {}, as the gauge reads", quantityName(gauge->unit().quantity)));
    if (result.isResistance && !isTemperature(*result.unit))
        return fail(ErrorCode::Unknown, file + ": reference", std::string(result.unit->id), "a unit of temperature");
    const Unit& unit = *result.unit;
    for (const Table::Row& row : table->rows) {
        const auto place = [&](const std::string& name) {
            return fmt::format("{}, line {}: {}", file, row.line, name);
        };
        const auto fieldAt = [&](const std::string& name) -> std::string {
            const auto it = columns.find(name);
            return it == columns.end() || it->second.first >= row.fields.size() ? "" : row.fields[it->second.first];
        };
        const auto numberAt = [&](const std::string& name, bool isDifference) -> Expected<double> {
            const std::string field = fieldAt(name);
            if (field.empty()) return fail(ErrorCode::Missing, place(name), "nothing", "a number");
            const Unit* own = columns.at(name).second ? columns.at(name).second : &unit;
            if (name == "resistance_ohm") own = &canonicalUnit(Quantity::Resistance);
            if (name != "resistance_ohm" && own->quantity != unit.quantity)
                return fail(ErrorCode::Unknown, place(name), std::string(own->id),
                            fmt::format("a unit of {}, as the reference has", quantityName(unit.quantity)));
            if (isDifference) {
                const auto value = readDifference(field, own->quantity, own);
                if (!value) return tl::unexpected(value.error().within(place(name)));
                return unit.differenceFromCanonical(*value);
            }
            const auto value = readValue(field, own->quantity, own);
            if (!value) return tl::unexpected(value.error().within(place(name)));
            return name == "resistance_ohm" ? value->canonical : unit.fromCanonical(value->canonical);
        };
        Comparison point;
        point.line = row.line;
        point.setAside = fieldAt("set_aside");
        const auto reference = numberAt("reference", false);
        if (!reference) return tl::unexpected(reference.error());
        point.reference = *reference;
        if (result.isRaw) {
            const auto entry = gauge->entryOfRaw(fieldAt("raw"));
            if (!entry) return tl::unexpected(entry.error().within(place("raw")));
            const auto evaluation = gauge->evaluate(*entry);
            if (!evaluation) return tl::unexpected(evaluation.error().within(place("raw")));
            const StageValue& reading = evaluation->at(Stage::Formula);
            if (!std::isfinite(reading.value) || reading.clip != Clip::None)
                return fail(ErrorCode::Domain, place("raw"), fieldAt("raw"),
                            "a raw value with a reading that is no limit");
            point.x = unit.fromCanonical(reading.value);
        } else {
            const auto reading = numberAt(source, false);
            if (!reading) return tl::unexpected(reading.error());
            point.x = *reading;
        }
        if (has("u_reference")) {
            const auto u = numberAt("u_reference", true);
            if (!u) return tl::unexpected(u.error());
            if (!(*u >= 0))
                return fail(ErrorCode::Range, place("u_reference"), plainNumber(*u),
                            "a standard uncertainty, 0 or more");
            point.u = *u;
        }
        result.points.push_back(std::move(point));
    }
    if (result.points.empty()) return fail(ErrorCode::Missing, file, "a header alone", "points below it");
    return result;
}

std::vector<CalibrationPoint> calibrationPoints(const PointsFile& file) {
    std::vector<CalibrationPoint> points;
    for (const Comparison& one : file.points)
        points.push_back({file.unit->toCanonical(one.x), file.unit->toCanonical(one.reference),
                          file.unit->differenceToCanonical(one.u), one.setAside});
    return points;
}

Expected<std::vector<std::vector<double>>> readColumns(std::string_view text, const std::string& file,
                                                       const std::vector<std::string>& names) {
    const auto table = readTable(text, file);
    if (!table) return tl::unexpected(table.error());
    std::vector<std::vector<double>> columns;
    for (const std::string& name : names) {
        const auto at = indexOf(*table, name);
        if (!at) return fail(ErrorCode::Unknown, file, "no column “" + name + "”", "one of " + table->listed());
        std::vector<double>& column = columns.emplace_back();
        for (const Table::Row& row : table->rows)
            column.push_back(*at < row.fields.size() ? numberOf(row.fields[*at]).value_or(std::nan("")) : std::nan(""));
    }
    return columns;
}

Expected<Column> readColumn(std::string_view text, const std::string& file, const std::string& name) {
    const auto table = readTable(text, file);
    if (!table) return tl::unexpected(table.error());
    const auto at = indexOf(*table, name);
    if (!at) return fail(ErrorCode::Unknown, file, "no column “" + name + "”", "one of " + table->listed());
    auto time = indexOf(*table, "time_s");
    if (!time) time = indexOf(*table, "time");
    Column column;
    bool hasTimes = time.has_value();
    for (const Table::Row& row : table->rows) {
        const auto value = *at < row.fields.size() ? numberOf(row.fields[*at]) : std::nullopt;
        if (!value) {
            ++column.skipped;
            continue;
        }
        column.values.push_back(*value);
        const auto second = hasTimes && *time < row.fields.size() ? numberOf(row.fields[*time]) : std::nullopt;
        hasTimes = second.has_value();
        if (hasTimes) column.times_s.push_back(*second);
    }
    if (!hasTimes) column.times_s.clear();
    if (column.values.empty()) return fail(ErrorCode::Missing, file, "no number in column “" + name + "”", "numbers");
    return column;
}

}  // namespace fg
