#pragma once

#include "catalogue/outline.h"
#include "papers/drawing.h"

namespace fg::plan {

/// A pin with what is written beside it.
struct DrawnPin {
    std::string name;
    std::string note;  ///< "→ 5 V, red"; empty: none
};

/// The strip of a module with so many pins: a small board, its pins below.
[[nodiscard]] Outline moduleOutline(int pins);

/// A body with its pins, numbered from 1, each with its words. As many of `pins` as the outline has are drawn.
[[nodiscard]] Drawing pinDrawing(const Outline& outline, const std::vector<DrawnPin>& pins, const std::string& title);

}  // namespace fg::plan
