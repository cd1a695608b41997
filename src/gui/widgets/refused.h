#pragma once

#include "theme/theme.h"

#include <QLineEdit>

namespace fg::gui {

/// What cannot be read stays as it was typed, framed, with the reason as its tip; an empty reason takes both away.
inline void markRefused(QLineEdit& edit, const QString& reason) {
    edit.setToolTip(reason);
    edit.setStyleSheet(reason.isEmpty() ? QString()
                                        : QStringLiteral("border: 2px dashed %1;").arg(colours().ink.name()));
}

}  // namespace fg::gui
