#pragma once

#include <QString>
#include <string_view>

namespace fg::gui {

/// The core's texts for Qt. Plain text: nothing in it is markup.
[[nodiscard]] inline QString qs(std::string_view text) {
    return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
}

}  // namespace fg::gui
