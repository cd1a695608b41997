#pragma once

#include "units/error.h"
#include "units/unit.h"

#include <functional>
#include <QLabel>
#include <QLineEdit>
#include <QPointer>

namespace fg::gui {

/// An entry for a value with its unit. Understands engineering notation, says below what it understood, and never loses
/// a wrong entry: it stays, marked, with the reason. Enter or leaving the field applies, Esc restores.
class ValueEdit final : public QLineEdit {
    Q_OBJECT
  public:
    /// `suffix` stands behind the unit ("/°C") or is the unit of a plain number ("K"); typed or not, it reads the same.
    ValueEdit(Quantity quantity, const Unit* unit = nullptr, const QString& suffix = {}, QWidget* parent = nullptr);

    /// And its quantity: the same entry serves gauges of any kind.
    void setUnit(const Unit* unit);
    void setSuffix(const QString& suffix);

    /// Shows a stored value, unless the user is in the middle of typing another one or a refused one stands there.
    void setValue(double canonical);

    /// What zero means in this field ("not measured"); shown in its place.
    void setZeroText(const QString& text) { m_zeroText = text; }

    /// Takes a new value; an error is shown as the reason and the entry stays.
    std::function<Expected<void>(double canonical)> onCommit;

    [[nodiscard]] bool isInvalid() const { return m_invalid; }
    [[nodiscard]] QString reason() const { return m_reason; }

  protected:
    bool event(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void hideEvent(QHideEvent* event) override;

  private:
    [[nodiscard]] Expected<double> readText() const;
    [[nodiscard]] QString textFor(double canonical) const;
    void commit();
    void restore();
    void setInvalid(const QString& reason);
    void showHint(const QString& text, bool bad);

    Quantity m_quantity;
    const Unit* m_unit;
    QString m_suffix;
    QString m_zeroText;
    double m_value = 0;
    bool m_hasValue = false;
    bool m_invalid = false;
    QString m_reason;
    QPointer<QLabel> m_hint;
};

}  // namespace fg::gui
