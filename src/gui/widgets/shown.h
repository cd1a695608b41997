#pragma once

#include <QString>

namespace fg::gui {

/// What a widget last showed, as a text: so that it is painted again only when it would look different.
class Shown {
  public:
    /// Takes over `now`; false where that is what was shown already.
    [[nodiscard]] bool changesTo(const QString& now) {
        if (now == m_text) return false;
        m_text = now;
        return true;
    }
    void forget() { m_text.clear(); }

  private:
    QString m_text;
};

}  // namespace fg::gui
