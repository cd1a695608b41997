#include "path/span_table.h"

#include "units/number_format.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace fg {
namespace {

std::string binaryText(std::int64_t word, int bits) {
    std::string text;
    for (int bit = bits - 1; bit >= 0; --bit) text += (word >> bit) & 1 ? '1' : '0';
    return text;
}

constexpr std::int64_t kMost32 = 2147483647;

}  // namespace

double niceStep(double width) {
    if (!(width > 0) || !std::isfinite(width)) return 1;
    const double least = width / 25, decade = std::pow(10, std::floor(std::log10(least)));
    for (const double mantissa : {1.0, 2.0, 5.0})
        if (mantissa * decade >= least * (1 - 1e-12)) return mantissa * decade;
    return 10 * decade;
}

Expected<std::vector<double>> spanValues(Interval span, double step) {
    constexpr double kMostRows = 100'000;
    if (!(step > 0) || !(span.width() / step <= kMostRows))
        return fail(ErrorCode::Range, "step", plainNumber(step), "a step above 0 that gives at most 100 000 rows");
    std::vector<double> values;
    const auto count = static_cast<std::size_t>(std::floor(span.width() / step * (1 + 1e-12)));
    for (std::size_t i = 0; i <= count; ++i) values.push_back(span.low + static_cast<double>(i) * step);
    if (std::abs(values.back() - span.high) >= 1e-9 * span.width()) values.push_back(span.high);
    return values;
}

Expected<std::vector<SpanRow>> spanTable(const GaugeSpec& spec, const AnalogPath& path, double step) {
    const auto values = spanValues(spec.reading.span, step);
    if (!values) return tl::unexpected(values.error());
    const Unit& unit = spec.readingUnit();
    std::vector<SpanRow> rows;
    for (const double value : *values) {
        SpanRow row;
        row.value = value;
        row.input = path.wiring().forward(path.signalAt(unit.toCanonical(row.value)));
        row.exact = path.converter().exactCode(row.input);
        row.codeValue = std::nan("");
        if (std::isfinite(row.input)) {
            row.code = path.converter().quantise(row.input);
            row.word = path.converter().wordOfCode(row.code.value);
            row.codeValue = unit.fromCanonical(path.reading(static_cast<double>(row.code.value)));
        }
        rows.push_back(row);
    }
    return rows;
}

SpanCells spanCells(const AnalogPath& path, const SpanRow& row, int digits) {
    const std::string value = fmt::format("{:.10g}", row.value);
    if (!std::isfinite(row.input)) return {value, "", "", "", "", "", "no value"};
    const Converter& converter = path.converter();
    const int bits = converter.word() == WordFormat::RightJustified ? converter.bits() : converter.wordBits();
    const std::int64_t word = row.word & ((std::int64_t{1} << bits) - 1);
    // Which side of the measurand a clipped code leaves open turns round on a falling path.
    const Clip clip = path.isRising() ? row.code.clip : flipped(row.code.clip);
    return {value,
            fmt::format("{:.{}g}", row.input, digits),
            std::to_string(row.code.value),
            fmt::format("0x{:0{}X}", word, (bits + 3) / 4),
            binaryText(word, bits),
            std::isfinite(row.codeValue) ? fmt::format("{:.{}g}", row.codeValue, digits) : "",
            std::string(clipText(clip))};
}

std::string spanTableCsv(const GaugeSpec& spec, const AnalogPath& path, const std::vector<SpanRow>& rows) {
    const std::string unit = spec.reading.unit;
    std::string text = fmt::format("value_{},input_{},code,hex,binary,code_value_{},limit\r\n", unit,
                                   canonicalUnit(path.converter().input()).id, unit);
    for (const SpanRow& row : rows) {
        const SpanCells cells = spanCells(path, row);
        for (const std::string& cell : cells) text.append(&cell == cells.data() ? "" : ",").append(cell);
        text += "\r\n";
    }
    return text;
}

std::optional<IntegerConstants> integerConstants(const GaugeSpec& spec, const AnalogPath& path, double scale) {
    const Unit& unit = spec.readingUnit();
    const auto low = static_cast<double>(path.converter().minCode()),
               high = static_cast<double>(path.converter().maxCode());
    const auto exact = [&](double code) { return unit.fromCanonical(path.reading(code)); };
    const double slope = (exact(high) - exact(low)) / (high - low), offset = exact(0);
    const double size = std::max(std::abs(exact(low)), std::abs(exact(high)));
    if (!std::isfinite(slope) || slope == 0) return std::nullopt;
    for (double share = 0.05; share < 1; share += 0.1)
        if (!(std::abs(exact(low + share * (high - low)) - (exact(low) + share * (exact(high) - exact(low)))) <
              1e-9 * size))
            return std::nullopt;
    for (int shift = 30; shift >= 0; --shift) {
        const double power = std::ldexp(1.0, shift);
        const double multiplier = std::round(slope * scale * power),
                     addend = std::round(offset * scale * power + (shift > 0 ? power / 2 : 0));
        // The product, the addend and their sum must each fit; the largest are at the end codes.
        bool fits = std::abs(multiplier) <= kMost32 && std::abs(addend) <= kMost32;
        for (const double code : {low, high})
            fits = fits && std::abs(code * multiplier) <= kMost32 && std::abs(code * multiplier + addend) <= kMost32;
        if (!fits) continue;
        IntegerConstants constants{static_cast<std::int32_t>(multiplier), static_cast<std::int32_t>(addend), shift,
                                   scale, 0};
        const double step = std::max(1.0, std::floor((high - low) / 65536));
        for (double code = low; code <= high; code += step) {
            const std::int64_t sum = static_cast<std::int64_t>(code) * constants.multiplier + constants.addend;
            constants.worstError =
                std::max(constants.worstError, std::abs(static_cast<double>(sum >> shift) / scale - exact(code)));
        }
        return constants;
    }
    return std::nullopt;
}

}  // namespace fg
