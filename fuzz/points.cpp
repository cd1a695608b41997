// Points of a calibration and columns of readings: read or refused; what is read can be fitted or is refused, and is
// finite.
#include "calibration/advice.h"
#include "calibration/points_file.h"
#include "calibration/series.h"
#include "path/default_gauge.h"
#include "target.h"

#include <cmath>

using namespace fg;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const Gauge gauge =
        Gauge::make(defaultGauge(*fuzz::catalogue().findPart("lm35")), fuzz::catalogue()).value();
    const std::string_view text = fuzz::textOf(data, size);
    for (const Gauge* with : {static_cast<const Gauge*>(nullptr), &gauge}) {
        const auto file = readPoints(text, "points.csv", with);
        if (!file) continue;
        fuzz::expect(!file->points.empty() && file->unit);
        for (const FitKind kind : {FitKind::Offset, FitKind::Line, FitKind::Cubic, FitKind::Beta, FitKind::Callendar}) {
            const auto fit = fitCurve(kind, file->points, 0, false, *file->unit);
            if (!fit) continue;
            fuzz::expect(fit->residuals.size() == file->points.size());
            (void)calibrationFindings(file->points, *fit, {});
        }
        (void)recommendedFit(file->points, 0, true, *file->unit);
    }
    if (const auto column = readColumn(text, "series.csv", "reading"))
        if (const auto series = statisticsOf(column->values, column->times_s))
            fuzz::expect(series->count == column->values.size());
    return 0;
}
