#pragma once

#include "handover/whole_slope.h"

#include <string>

namespace fg {

/// What the program text of a window is made of is called.
struct WindowNames {
    std::string pieces = "pieces", pieceAt = "piece_at", join = "join", keep = "keep", window = "of_window",
                clock = "clock", held = "held", oldest = "oldest", last = "last_ms", passed = "passed_ms",
                piece = "piece", count = "PIECES", length = "WINDOW_MS", timeOf = "time_of", meanOf = "mean_of";
};

/// WholeSlope as program text: members of a piece, functions of one, how a reading goes into `piece`, and how the value
/// comes of all pieces. `type` of the value.
struct WholeSlopeText {
    std::string members, functions, keep, value;
    /// A piece that holds nothing yet, behind its number; of the first reading.
    std::string fresh;
};
[[nodiscard]] WholeSlopeText wholeSlopeC(const WholeSlope& slope, const WindowNames& names, const std::string& type);
[[nodiscard]] WholeSlopeText wholeSlopePython(const WholeSlope& slope, const WindowNames& names);

}  // namespace fg
