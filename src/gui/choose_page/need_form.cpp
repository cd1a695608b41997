#include "choose_page/need_form.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "units/value_text.h"
#include "widgets/combo_box.h"
#include "widgets/refused.h"
#include "widgets/text.h"

#include <QHBoxLayout>
#include <QRegularExpression>

namespace fg::gui {
namespace {

struct Kind {
    const char* title;
    std::vector<Quantity> quantities;
};

const std::vector<Kind>& kinds() {
    static const std::vector<Kind> all{{QT_TRANSLATE_NOOP("NeedForm", "Temperature"), {Quantity::Temperature}},
                                       {QT_TRANSLATE_NOOP("NeedForm", "Temperature and humidity"),
                                        {Quantity::Temperature, Quantity::RelativeHumidity}},
                                       {QT_TRANSLATE_NOOP("NeedForm", "Humidity"), {Quantity::RelativeHumidity}},
                                       {QT_TRANSLATE_NOOP("NeedForm", "Pressure"), {Quantity::Pressure}},
                                       {QT_TRANSLATE_NOOP("NeedForm", "Pressure and temperature"),
                                        {Quantity::Pressure, Quantity::Temperature}},
                                       {QT_TRANSLATE_NOOP("NeedForm", "Light"), {Quantity::Illuminance}}};
    return all;
}

/// What people usually want of a quantity, to start from.
Wish usualWish(Quantity quantity) {
    switch (quantity) {
        case Quantity::RelativeHumidity:
            return {quantity, {30, 70}, 4, 0};
        case Quantity::Pressure:
            return {quantity, {95000, 105000}, 300, 0};
        case Quantity::Illuminance:
            return {quantity, {10, 1000}, 0, 1};
        default:
            return {quantity, {0, 50}, 1, 0.1};
    }
}

QString quantityWord(Quantity quantity) { return QString::fromUtf8(quantityName(quantity).data()); }

}  // namespace

NeedForm::NeedForm(const Catalogue& catalogue, QWidget* parent)
    : QWidget(parent),
      m_catalogue(catalogue),
      m_battery(tr("runs on a &battery")),
      m_wet(tr("&wet")),
      m_case(tr("inside a &case")),
      m_onlyFree(tr("Only what is &free on my board:")),
      m_i2c(tr("&I²C")),
      m_oneWire(tr("&1-wire")),
      m_spi(tr("S&PI")) {
    setObjectName(QStringLiteral("need"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(px(14), px(12), px(10), px(12));
    column->setSpacing(px(8));
    m_quantities.setObjectName(QStringLiteral("need.quantities"));
    m_quantities.setAccessibleName(tr("What must be measured"));
    for (const Kind& kind : kinds()) m_quantities.addItem(tr(kind.title));
    column->addWidget(&m_quantities);
    column->addWidget(&m_wishes);
    column->addWidget(&m_circumstances);
    column->addWidget(&m_onlyFree);
    auto* freeColumn = new QVBoxLayout(&m_freeBox);
    freeColumn->setContentsMargins(px(14), 0, 0, 0);
    freeColumn->addWidget(&m_freeForm);
    column->addWidget(&m_freeBox);
    column->addStretch();
    for (Form* form : {&m_wishes, &m_circumstances, &m_freeForm}) form->setWidths(108, 94, 94);
    buildCircumstances();
    buildFree();
    connect(&m_quantities, &QComboBox::activated, this, &NeedForm::chooseQuantities);
    Need start;
    start.wishes = {usualWish(Quantity::Temperature)};
    setNeed(start);
}

ValueEdit* NeedForm::entry(const QString& name, Quantity quantity, const Unit* unit, double value,
                           std::function<void(double)> take) {
    auto* edit = new ValueEdit(quantity, unit);
    edit->setObjectName(QStringLiteral("need.") + name);
    edit->setValue(value);
    edit->onCommit = [this, take = std::move(take)](double canonical) -> Expected<void> {
        const Need before = m_need;
        take(canonical);
        if (const auto checked = checkNeed(m_need); !checked) {
            m_need = before;
            return checked;
        }
        emit changed();
        return {};
    };
    return edit;
}

QComboBox* NeedForm::pressureKinds(std::size_t index) {
    auto* kinds = new ComboBox;
    kinds->setObjectName(QStringLiteral("need.pressureKind"));
    kinds->setAccessibleName(tr("kind of the pressure"));
    kinds->addItem(tr("anything"), QString());
    kinds->addItem(tr("nothing: absolute"), QStringLiteral("absolute"));
    kinds->addItem(tr("the air: gauge"), QStringLiteral("gauge"));
    kinds->addItem(tr("a second port: differential"), QStringLiteral("differential"));
    kinds->setCurrentIndex(std::max(0, kinds->findData(qs(m_need.wishes[index].pressureKind))));
    connect(kinds, &QComboBox::activated, this, [this, kinds, index] {
        m_need.wishes[index].pressureKind = kinds->currentData().toString().toStdString();
        emit changed();
    });
    return kinds;
}

void NeedForm::buildWishes() {
    m_wishes.clear();
    for (std::size_t i = 0; i < m_need.wishes.size(); ++i) {
        const Wish& wish = m_need.wishes[i];
        const QString name = quantityWord(wish.quantity);
        const Unit* unit = &unitOf(wish);
        auto* low = entry(name + QStringLiteral(".low"), wish.quantity, unit, wish.span.low,
                          [this, i](double v) { m_need.wishes[i].span.low = v; });
        auto* high = entry(name + QStringLiteral(".high"), wish.quantity, unit, wish.span.high,
                           [this, i](double v) { m_need.wishes[i].span.high = v; });
        high->setAccessibleName(tr("%1, up to").arg(name));
        if (m_need.wishes.size() > 1) m_wishes.addNote(name);
        m_wishes.addRow(tr("from, to"), low, high);
        if (wish.quantity == Quantity::Pressure) m_wishes.addRow(tr("against"), pressureKinds(i));
        // Accuracy and steps are differences: a number in the unit, without its zero.
        const QString symbol = QString::fromUtf8(unit->symbol.data(), static_cast<qsizetype>(unit->symbol.size()));
        const auto difference = [&](const char* what, double value, double Wish::*field) {
            auto* edit = entry(name + QLatin1Char('.') + QLatin1String(what), Quantity::Ratio, nullptr,
                               unit->differenceFromCanonical(value), [this, i, unit, field](double v) {
                                   m_need.wishes[i].*field = unit->differenceToCanonical(v);
                               });
            edit->setSuffix(symbol);
            edit->setZeroText(tr("not asked"));
            edit->setValue(unit->differenceFromCanonical(value));
            return edit;
        };
        auto* steps = difference("resolution", wish.resolution, &Wish::resolution);
        steps->setAccessibleName(tr("%1, steps of").arg(name));
        m_wishes.addRow(tr("within ±, steps of"), difference("accuracy", wish.accuracy, &Wish::accuracy), steps);
    }
}

void NeedForm::buildCircumstances() {
    auto* interval =
        entry(QStringLiteral("interval"), Quantity::Time, nullptr, 0, [this](double v) { m_need.interval_s = v; });
    interval->setZeroText(tr("not asked"));
    m_interval = interval;
    m_circumstances.addRow(tr("a reading &every"), interval);
    m_medium.setObjectName(QStringLiteral("need.medium"));
    for (const auto& [title, id] : {std::pair{tr("not asked"), ""},
                                    {tr("the air"), "air"},
                                    {tr("a surface"), "surface"},
                                    {tr("a liquid"), "liquid"},
                                    {tr("through a wall"), "wall"}})
        m_medium.addItem(title, QString::fromUtf8(id));
    m_circumstances.addRow(tr("taken &of"), &m_medium);
    m_supplies.setObjectName(QStringLiteral("need.supplies"));
    m_supplies.setPlaceholderText(tr("3.3 V, 5 V"));
    m_circumstances.addRow(tr("&supplies"), &m_supplies);
    auto* flags = new QWidget;
    auto* row = new QVBoxLayout(flags);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(px(2));
    for (QCheckBox* box : {&m_battery, &m_wet, &m_case}) {
        row->addWidget(box);
        connect(box, &QCheckBox::toggled, this, &NeedForm::readRest);
    }
    m_battery.setObjectName(QStringLiteral("need.battery"));
    m_wet.setObjectName(QStringLiteral("need.wet"));
    m_case.setObjectName(QStringLiteral("need.case"));
    m_circumstances.addRow(tr("place"), flags);
    m_hot = entry(QStringLiteral("hot"), Quantity::Temperature, nullptr, 0,
                  [this](double v) { m_need.hot_degC = v > 0 ? std::optional(v) : std::nullopt; });
    m_hot->setZeroText(tr("not asked"));
    m_hot->setValue(0);
    m_circumstances.addRow(tr("&gets as hot as"), m_hot);
    m_cable = entry(QStringLiteral("cable"), Quantity::Length, nullptr, 0, [this](double v) { m_need.cable_m = v; });
    m_cable->setZeroText(tr("none"));
    m_cable->setValue(0);
    m_circumstances.addRow(tr("ca&ble"), m_cable);
    m_count.setObjectName(QStringLiteral("need.count"));
    m_count.setRange(1, 100);
    m_circumstances.addRow(tr("&how many"), &m_count);
    connect(&m_medium, &QComboBox::activated, this, &NeedForm::readRest);
    connect(&m_supplies, &QLineEdit::editingFinished, this, &NeedForm::readSupplies);
    connect(&m_count, &QSpinBox::valueChanged, this, &NeedForm::readRest);
}

void NeedForm::buildFree() {
    m_onlyFree.setObjectName(QStringLiteral("need.onlyFree"));
    m_analogPins.setRange(0, 64);
    m_analogPins.setValue(2);
    m_digitalPins.setRange(0, 64);
    m_digitalPins.setValue(2);
    m_i2c.setChecked(true);
    m_oneWire.setChecked(true);
    m_oneWire.setToolTip(tr("A line that carries several on one cable"));
    m_converter.addItem(tr("what the part suggests"), QString());
    for (const ConverterPart& converter : m_catalogue.converters())
        if (converter.kind == "adc") m_converter.addItem(qs(converter.title), qs(converter.id));
    m_converter.setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_converter.setMinimumContentsLength(8);
    m_analogPins.setObjectName(QStringLiteral("need.analogPins"));
    m_converter.setObjectName(QStringLiteral("need.converter"));
    m_i2c.setObjectName(QStringLiteral("need.i2c"));
    m_freeForm.addRow(tr("&analog pins"), &m_analogPins);
    m_freeForm.addRow(tr("their con&verter"), &m_converter);
    m_freeForm.addRow(tr("&digital pins"), &m_digitalPins);
    auto* lines = new QWidget;
    auto* row = new QHBoxLayout(lines);
    row->setContentsMargins(0, 0, 0, 0);
    for (QCheckBox* box : {&m_i2c, &m_oneWire, &m_spi}) {
        row->addWidget(box);
        connect(box, &QCheckBox::toggled, this, &NeedForm::readRest);
    }
    row->addStretch();
    m_freeForm.addRow(tr("lines"), lines);
    connect(&m_onlyFree, &QCheckBox::toggled, this, &NeedForm::readRest);
    connect(&m_analogPins, &QSpinBox::valueChanged, this, &NeedForm::readRest);
    connect(&m_digitalPins, &QSpinBox::valueChanged, this, &NeedForm::readRest);
    connect(&m_converter, &QComboBox::activated, this, &NeedForm::readRest);
}

void NeedForm::setNeed(const Need& need) {
    m_isFilling = true;
    m_need = need;
    for (int i = 0; i < m_quantities.count(); ++i) {
        const auto& quantities = kinds()[static_cast<std::size_t>(i)].quantities;
        bool same = quantities.size() == need.wishes.size();
        for (std::size_t k = 0; same && k < quantities.size(); ++k) same = quantities[k] == need.wishes[k].quantity;
        if (same) m_quantities.setCurrentIndex(i);
    }
    const std::string_view medium = mediumName(need.medium);
    m_medium.setCurrentIndex(
        m_medium.findData(QString::fromUtf8(medium.data(), static_cast<qsizetype>(medium.size()))));
    QStringList supplies;
    for (const double voltage : need.supplies_V) supplies << qs(plainNumber(voltage, 4)) + QStringLiteral(" V");
    m_supplies.setText(supplies.join(QStringLiteral(", ")));
    m_interval->setValue(need.interval_s);
    m_hot->setValue(need.hot_degC.value_or(0));
    m_battery.setChecked(need.isBattery);
    m_wet.setChecked(need.isWet);
    m_case.setChecked(need.isInCase);
    m_cable->setValue(need.cable_m);
    m_count.setValue(need.count);
    m_onlyFree.setChecked(need.free.has_value());
    if (need.free) {
        m_analogPins.setValue(need.free->analogPins);
        m_digitalPins.setValue(need.free->digitalPins);
        m_converter.setCurrentIndex(std::max(0, m_converter.findData(qs(need.free->converter))));
        m_i2c.setChecked(need.free->i2c);
        m_oneWire.setChecked(need.free->oneWire);
        m_spi.setChecked(need.free->spi);
    }
    m_freeBox.setVisible(need.free.has_value());
    buildWishes();
    m_isFilling = false;
    emit changed();
}

void NeedForm::chooseQuantities() {
    std::vector<Wish> wishes;
    for (const Quantity quantity : kinds()[static_cast<std::size_t>(m_quantities.currentIndex())].quantities) {
        Wish wish = usualWish(quantity);
        for (const Wish& old : m_need.wishes)  // what was said already stays
            if (old.quantity == quantity) wish = old;
        wishes.push_back(wish);
    }
    m_need.wishes = wishes;
    buildWishes();
    emit changed();
}

void NeedForm::readSupplies() {
    std::vector<double> voltages;
    static const QRegularExpression separators(QStringLiteral("[,;]|\\band\\b"));
    for (const QString& part : m_supplies.text().split(separators, Qt::SkipEmptyParts)) {
        if (part.trimmed().isEmpty()) continue;
        const auto voltage = readValue(part.trimmed().toStdString(), Quantity::Voltage);
        if (!voltage || !(voltage->canonical > 0)) {
            // The last good list holds.
            markRefused(m_supplies, voltage ? tr("A voltage above 0 V") : qs(voltage.error().message()));
            return;
        }
        voltages.push_back(voltage->canonical);
    }
    markRefused(m_supplies, {});
    if (voltages == m_need.supplies_V) return;
    m_need.supplies_V = voltages;
    emit changed();
}

void NeedForm::readRest() {
    if (m_isFilling) return;
    m_need.medium = mediumFromName(m_medium.currentData().toString().toStdString()).value_or(Medium::Any);
    m_need.isBattery = m_battery.isChecked();
    m_need.isWet = m_wet.isChecked();
    m_need.isInCase = m_case.isChecked();
    m_need.count = m_count.value();
    m_need.free.reset();
    if (m_onlyFree.isChecked())
        m_need.free = FreePlaces{m_analogPins.value(),  m_converter.currentData().toString().toStdString(),
                                 m_digitalPins.value(), m_i2c.isChecked(),
                                 m_oneWire.isChecked(), m_spi.isChecked()};
    m_freeBox.setVisible(m_onlyFree.isChecked());
    emit changed();
}

}  // namespace fg::gui
