#include "welcome/new_gauge_page.h"
#include "paint/marks.h"
#include "path/default_gauge.h"
#include "path/derived_path.h"
#include "path/digital_path.h"
#include "sensors/family.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/text.h"

#include <algorithm>
#include <array>
#include <QGridLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QVBoxLayout>

namespace fg::gui {
namespace {

struct Choice {
    QString id, title, detail, words;
    Quantity quantity;
    QString reading = {};  ///< of a digital part
};

/// The catalogue, then the formula families for a part that nobody has heard of.
std::vector<Choice> choices(const Catalogue& catalogue) {
    std::vector<Choice> list;
    for (const Part& part : catalogue.parts()) {
        QString words = qs(part.id) + QLatin1Char(' ') + qs(part.title);
        for (const std::string& alias : part.aliases) words += QLatin1Char(' ') + qs(alias);
        list.push_back({qs(part.id), qs(part.title), qs(part.source), words, part.quantity});
    }
    for (const DevicePart& part : catalogue.devices())
        for (const std::string& reading : part.readings) {
            const Quantity quantity = defaultDeviceGauge(part, reading).quantity;
            if (!isMeasurand(quantity)) continue;
            QString words = qs(part.id) + QLatin1Char(' ') + qs(part.title) + QLatin1Char(' ') + qs(reading) +
                            QLatin1Char(' ') + qs(part.interface);
            for (const std::string& alias : part.aliases) words += QLatin1Char(' ') + qs(alias);
            list.push_back({qs(part.id), QStringLiteral("%1: %2").arg(qs(part.title), qs(reading)), qs(part.source),
                            words, quantity, qs(reading)});
        }
    constexpr std::array measurands{Quantity::Temperature, Quantity::RelativeHumidity, Quantity::Pressure,
                                    Quantity::Illuminance};
    for (const Quantity quantity : measurands) {
        const QString name = QString::fromUtf8(quantityName(quantity).data());
        list.push_back({QStringLiteral("linear-voltage"),
                        QObject::tr("A straight line of my own: so many volts per unit, %1").arg(name),
                        QObject::tr("Slope and offset are entered on the Sensor sheet."),
                        QStringLiteral("own linear line slope mV ") + name, quantity});
    }
    for (const Law* law : laws()) {
        QString words = QStringLiteral("derived follows ") + qs(law->id()) + QLatin1Char(' ') + qs(law->title());
        QStringList taken;
        for (const LawInput& input : law->inputs()) taken << qs(input.label).toLower();
        list.push_back({qs(law->id()), QObject::tr("follows from other gauges: %1").arg(qs(law->title())),
                        QObject::tr("From %1. %2").arg(taken.join(QStringLiteral(", ")), qs(law->source())), words,
                        law->output().quantity, QStringLiteral("derived")});
    }
    for (const RunningKind& kind : runningKinds())
        for (const Quantity quantity : measurands) {
            const auto output = outputOf(kind, quantity);
            if (!output) continue;
            const QString name = QString::fromUtf8(quantityName(quantity).data());
            list.push_back({qs(kind.id), QObject::tr("follows from another gauge: %1, %2").arg(qs(kind.title), name),
                            qs(kind.source),
                            QStringLiteral("derived follows trend average minimum maximum ") + qs(kind.id) +
                                QLatin1Char(' ') + qs(kind.title) + QLatin1Char(' ') + name,
                            *output, QStringLiteral("derived:") + name});
        }
    return list;
}

}  // namespace

NewGaugePage::NewGaugePage(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      m_workbench(workbench),
      m_create(tr("&Make this gauge")),
      m_cancel(tr("Cancel")),
      m_demo(tr("Look at the &workshop demo instead")),
      m_choose(tr("Choose &by what I need…")) {
    setObjectName(QStringLiteral("newGauge"));
    m_search.setObjectName(QStringLiteral("newGauge.search"));
    m_search.setPlaceholderText(tr("tmp36, thermistor, 10 mV …"));
    m_search.setClearButtonEnabled(true);
    m_search.installEventFilter(this);
    m_quantity.setObjectName(QStringLiteral("newGauge.quantity"));
    m_quantity.addItem(tr("any quantity"), -1);
    for (const Quantity quantity :
         {Quantity::Temperature, Quantity::RelativeHumidity, Quantity::Pressure, Quantity::Illuminance,
          Quantity::WoodMoisture, Quantity::VapourDensity, Quantity::Height, Quantity::TemperatureRate,
          Quantity::HumidityRate, Quantity::PressureRate})
        m_quantity.addItem(QString::fromUtf8(quantityName(quantity).data()).replace(QLatin1Char('_'), QLatin1Char(' ')),
                           static_cast<int>(quantity));
    m_list.setObjectName(QStringLiteral("newGauge.list"));
    m_list.setAccessibleName(tr("Parts"));
    m_name.setObjectName(QStringLiteral("newGauge.name"));
    m_name.setPlaceholderText(tr("what it measures: Glue pot, Shop window …"));
    m_create.setObjectName(QStringLiteral("newGauge.create"));
    m_create.setProperty("first", true);
    m_intro.setWordWrap(true);
    m_detail.setWordWrap(true);

    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(px(30), px(24), px(30), px(20));
    column->setSpacing(px(10));
    column->addWidget(&m_title);
    column->addWidget(&m_intro);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(px(12));
    grid->setVerticalSpacing(px(8));
    grid->setColumnStretch(1, 1);
    const auto row = [&](int at, const QString& text, QWidget* entry) {
        auto* label = new QLabel(text);
        label->setBuddy(entry);
        grid->addWidget(label, at, 0);
        grid->addWidget(entry, at, 1);
    };
    row(0, tr("A sensor I &have"), &m_search);
    row(1, tr("A &quantity I need"), &m_quantity);
    grid->addWidget(&m_list, 2, 1);
    grid->addWidget(&m_detail, 3, 1);
    row(4, tr("Call &it"), &m_name);
    grid->setRowStretch(2, 1);
    column->addLayout(grid, 1);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(&m_create);
    buttons->addWidget(&m_choose);
    buttons->addWidget(&m_cancel);
    buttons->addStretch();
    buttons->addWidget(&m_demo);
    column->addLayout(buttons);

    connect(&m_search, &QLineEdit::textChanged, this, &NewGaugePage::fill);
    connect(&m_quantity, &QComboBox::currentIndexChanged, this, &NewGaugePage::fill);
    connect(&m_list, &QListWidget::currentRowChanged, this, &NewGaugePage::showChosen);
    connect(&m_list, &QListWidget::itemActivated, this, &NewGaugePage::create);
    connect(&m_search, &QLineEdit::returnPressed, this, &NewGaugePage::create);
    connect(&m_name, &QLineEdit::returnPressed, this, &NewGaugePage::create);
    connect(&m_create, &QPushButton::clicked, this, &NewGaugePage::create);
    connect(&m_cancel, &QPushButton::clicked, this, &NewGaugePage::done);
    m_choose.setObjectName(QStringLiteral("newGauge.choose"));
    connect(&m_choose, &QPushButton::clicked, this, &NewGaugePage::chooseWanted);
    connect(&m_demo, &QPushButton::clicked, this, &NewGaugePage::demoWanted);
}

void NewGaugePage::begin() {
    const bool empty = m_workbench.views().empty();
    dress(m_title, Theme::instance().text(20, true), colours().ink);
    m_title.setText(empty ? tr("An empty bench") : tr("New gauge"));
    m_intro.setText(
        tr("A gauge is one measuring chain, from the world to a reading. Type what is printed on the part you hold, or "
           "take the quantity "
           "you need and look through the list. Everything can be changed afterwards."));
    dress(m_intro, Theme::instance().text(13), colours().ink2);
    dress(m_detail, Theme::instance().text(13), colours().ink2);
    m_cancel.setVisible(!empty);
    m_demo.setVisible(empty);
    m_search.clear();
    m_name.clear();
    m_quantity.setCurrentIndex(0);
    fill();
    m_search.setFocus();
}

void NewGaugePage::fill() {
    m_list.clear();
    const QStringList words = m_search.text().simplified().split(QLatin1Char(' '), Qt::SkipEmptyParts);
    const int quantity = m_quantity.currentData().toInt();
    std::vector<Choice> all = choices(m_workbench.catalogue());
    // What is printed on the part comes before parts that only have it in their name.
    std::stable_partition(all.begin(), all.end(), [&](const Choice& choice) {
        return choice.id.compare(m_search.text().trimmed(), Qt::CaseInsensitive) == 0;
    });
    for (const Choice& choice : all) {
        if (quantity >= 0 && quantity != static_cast<int>(choice.quantity)) continue;
        const bool fits = std::all_of(words.begin(), words.end(), [&](const QString& word) {
            return choice.words.contains(word, Qt::CaseInsensitive);
        });
        if (!fits) continue;
        auto* item = new QListWidgetItem(QStringLiteral("%1   %2").arg(choice.id, choice.title), &m_list);
        item->setData(Qt::UserRole, choice.id);
        item->setData(Qt::UserRole + 1, static_cast<int>(choice.quantity));
        item->setData(Qt::UserRole + 2, choice.detail);
        item->setData(Qt::UserRole + 3, choice.reading);
    }
    m_list.setCurrentRow(m_list.count() > 0 ? 0 : -1);
    showChosen();
}

void NewGaugePage::showChosen() {
    const QListWidgetItem* item = m_list.currentItem();
    m_create.setEnabled(item != nullptr);
    m_detail.setText(
        item ? item->data(Qt::UserRole + 2).toString()
             : tr("Nothing in the catalogue has “%1”. Clear the search and take a straight line of your own.")
                   .arg(m_search.text()));
}

void NewGaugePage::create() {
    const QListWidgetItem* item = m_list.currentItem();
    if (!item) return;
    const auto quantity = static_cast<Quantity>(item->data(Qt::UserRole + 1).toInt());
    const std::string id = item->data(Qt::UserRole).toString().toStdString();
    const QString reading = item->data(Qt::UserRole + 3).toString();
    const QString name = m_name.text().trimmed();
    if (reading.startsWith(QStringLiteral("derived"))) {
        const auto of = quantityFromName(reading.section(QLatin1Char(':'), 1).toStdString());
        auto derived = defaultDerivedGauge(id, of.value_or(Quantity::Temperature));
        if (!derived) return;
        derived->name = name.isEmpty() ? m_workbench.freeName(id) : name.toStdString();
        m_workbench.addGauge(*derived);
        m_workbench.selectStage(Stage::Sensor);
        return emit done();
    }
    const DevicePart* device = m_workbench.catalogue().findDevicePart(id);
    const auto part = device ? Expected<Part>() : m_workbench.catalogue().partOrFamily(id, quantity);
    if (!part) return;
    GaugeSpec spec = device ? defaultDeviceGauge(*device, reading.toStdString()) : defaultGauge(*part);
    spec.name = name.isEmpty() ? m_workbench.freeName(id) : name.toStdString();
    m_workbench.addGauge(spec);
    m_workbench.selectStage(Stage::Sensor);
    emit done();
}

bool NewGaugePage::eventFilter(QObject* object, QEvent* event) {
    // Esc closes this page before it may mean "back to live" to the window.
    if (object == &m_search && event->type() == QEvent::ShortcutOverride &&
        static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        event->accept();
        return true;
    }
    // The list can be walked without leaving the search.
    if (object == &m_search && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        const int step = key == Qt::Key_Down ? 1 : key == Qt::Key_Up ? -1 : 0;
        if (step != 0) {
            m_list.setCurrentRow(std::clamp(m_list.currentRow() + step, 0, std::max(0, m_list.count() - 1)));
            return true;
        }
        if (key == Qt::Key_Escape && !m_workbench.views().empty()) return emit done(), true;
    }
    return QWidget::eventFilter(object, event);
}

void NewGaugePage::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), colours().sheet);
    paintFrame(painter, rect(), colours().line);
}

}  // namespace fg::gui
