#pragma once

#include "catalogue/catalogue.h"
#include "choosing/need.h"
#include "widgets/combo_box.h"
#include "widgets/form.h"
#include "widgets/value_edit.h"

#include <QCheckBox>
#include <QLineEdit>
#include <QSpinBox>
#include <QVBoxLayout>

namespace fg::gui {

/// What must be measured and what is at hand, in the maker's words.
class NeedForm final : public QWidget {
    Q_OBJECT
  public:
    explicit NeedForm(const Catalogue& catalogue, QWidget* parent = nullptr);

    [[nodiscard]] const Need& need() const { return m_need; }
    void setNeed(const Need& need);

  signals:
    void changed();

  private:
    void buildWishes();
    QComboBox* pressureKinds(std::size_t index);
    void buildCircumstances();
    void buildFree();
    void chooseQuantities();
    void readSupplies();
    void readRest();
    ValueEdit* entry(const QString& name, Quantity quantity, const Unit* unit, double value,
                     std::function<void(double)> take);

    const Catalogue& m_catalogue;
    Need m_need;
    ComboBox m_quantities;
    Form m_wishes;
    Form m_circumstances;
    ValueEdit* m_interval = nullptr;
    ValueEdit* m_hot = nullptr;
    ComboBox m_medium;
    QLineEdit m_supplies;
    QCheckBox m_battery;
    QCheckBox m_wet;
    QCheckBox m_case;
    ValueEdit* m_cable = nullptr;
    QSpinBox m_count;
    QCheckBox m_onlyFree;
    QWidget m_freeBox;
    Form m_freeForm;
    QSpinBox m_analogPins;
    QSpinBox m_digitalPins;
    ComboBox m_converter;
    QCheckBox m_i2c;
    QCheckBox m_oneWire;
    QCheckBox m_spi;
    bool m_isFilling = false;
};

}  // namespace fg::gui
