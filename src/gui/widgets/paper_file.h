#pragma once

#include "papers/document.h"
#include "units/error.h"

#include <QString>

class QWidget;

namespace fg::gui {

/// Writes a paper as what the ending of `path` says: .pdf, .html, else Markdown. Errors: Io.
[[nodiscard]] Expected<void> writePaper(const Paper& paper, const QString& path);

/// The paper as it will look on the printer, to be printed from there.
void previewPaper(const Paper& paper, QWidget* parent);

}  // namespace fg::gui
