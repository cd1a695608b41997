#pragma once

#include "registers/bus_transaction.h"
#include "widgets/form.h"

#include <functional>
#include <map>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <span>

namespace fg::gui {

/// One register or command of a device: what it is, its word in hexadecimal and binary, its fields to choose, and how
/// it goes over the bus.
class RegisterCard final : public QWidget {
    Q_OBJECT
  public:
    /// `isAsked` hears which field shall say what.
    RegisterCard(const Register& in, std::function<void(const RegisterField& field, const std::string& value)> isAsked,
                 QWidget* parent = nullptr);

    /// The word as it stands, and what the device's fields say. `site` is where the device hangs.
    void showWord(const RegisterWord& word, std::span<const FieldValue> values, const BusSite& site);

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    void addField(const RegisterField& field);

    const Register& m_in;
    std::function<void(const RegisterField&, const std::string&)> m_isAsked;
    QLabel m_name;
    QLabel m_word;
    QLabel m_effect;
    QLabel m_read;  // fields that the device writes
    Form m_fields;
    QLabel m_bus;
    std::map<const RegisterField*, QComboBox*> m_choices;
    std::map<const RegisterField*, QLineEdit*> m_numbers;
};

}  // namespace fg::gui
