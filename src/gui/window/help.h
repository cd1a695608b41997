#pragma once

class QWidget;

namespace fg::gui {

/// The shortcut sheet.
void showKeys(QWidget* parent);

/// What this is, its licence and that of what it ships.
void showAbout(QWidget* parent);

}  // namespace fg::gui
