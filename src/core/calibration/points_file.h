#pragma once

#include "calibration/fit.h"
#include "gauge/gauge.h"

namespace fg {

/// Comparisons as a CSV file holds them.
struct PointsFile {
    std::vector<Comparison> points;  ///< reading and reference in `unit`; x of a resistance in Ω
    const Unit* unit = nullptr;
    bool isResistance = false;
    bool isRaw = false;  ///< readings were worked out from raw values
};

/// Reads a table with a header: `reference` with `reading`, `raw` (with a gauge, which makes a reading of it, without
/// its correction) or `resistance_ohm`; optionally `u_reference` (standard uncertainty), `set_aside` (a reason). Units
/// may stand in brackets behind a name, `reference [degC]`, or behind a number; without one the gauge's unit holds, or
/// none. The result is in the reference's unit. Decimal commas where fields are separated otherwise. `gauge` may be
/// null. Errors name the line and the column: Missing for a column or a number, Syntax for a text in a number column,
/// Unknown for units of two quantities or of another one than the gauge's.
[[nodiscard]] Expected<PointsFile> readPoints(std::string_view text, const std::string& file, const Gauge* gauge);

/// The readings of such a file as a gauge keeps them, canonical. Not for resistances.
[[nodiscard]] std::vector<CalibrationPoint> calibrationPoints(const PointsFile& file);

/// The numbers of one column of a table with a header, in order; times in seconds from a column `time_s` or `time`,
/// where there is one.
struct Column {
    std::vector<double> values, times_s;
    std::size_t skipped = 0;  ///< rows without a number there
};
[[nodiscard]] Expected<Column> readColumn(std::string_view text, const std::string& file, const std::string& name);

/// Several columns side by side, row by row; NaN where a row has no number. Errors: Unknown for a column that is not
/// there.
[[nodiscard]] Expected<std::vector<std::vector<double>>> readColumns(std::string_view text, const std::string& file,
                                                                     const std::vector<std::string>& names);

}  // namespace fg
