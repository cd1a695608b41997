#include "bench_page/wires_page.h"

#include "theme/theme.h"
#include "widgets/text.h"

#include <algorithm>
#include <QCompleter>
#include <QHBoxLayout>
#include <QSignalBlocker>
#include <QVBoxLayout>

namespace fg::gui {
namespace {

constexpr int kToColumn = 3, kColourColumn = 4, kEarlierColumn = 5;

QCompleter* usualColours(QWidget* parent) {
    auto* completer =
        new QCompleter({QObject::tr("black"), QObject::tr("blue"), QObject::tr("brown"), QObject::tr("green"),
                        QObject::tr("grey"), QObject::tr("orange"), QObject::tr("red"), QObject::tr("violet"),
                        QObject::tr("white"), QObject::tr("yellow")},
                       parent);
    completer->setCaseSensitivity(Qt::CaseInsensitive);
    return completer;
}

}  // namespace

WiresPage::WiresPage(QWidget* parent)
    : QWidget(parent),
      m_intro(
          tr("Every wire from the part's pin to the board. Marks go on both ends of a wire: the cable's number, then "
             "its place in the connector. Check supply and ground before you switch on: swapped, most parts are hot at "
             "once, and many are broken.")),
      m_stripName(tr("Printed beside its pins, from left to right")),
      m_table({tr("Mark"), tr("Conductor"), tr("Pin of the part"), tr("To"), tr("Colour"), tr("Order")}, {}, kToColumn),
      m_export(tr("Save all as &CSV…")) {
    m_parts.setObjectName(QStringLiteral("wires.parts"));
    m_parts.setAccessibleName(tr("Part whose wires are shown"));
    for (QComboBox* box : {&m_parts, &m_bodies}) {
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box->setMinimumContentsLength(24);
    }
    m_bodies.setObjectName(QStringLiteral("wires.bodies"));
    m_bodies.setAccessibleName(tr("Body of the part"));
    m_strip.setObjectName(QStringLiteral("wires.strip"));
    m_strip.setAccessibleName(tr("What is printed beside the module's pins"));
    m_strip.setPlaceholderText(tr("VCC GND SCL SDA"));
    m_table.setObjectName(QStringLiteral("wires.table"));
    m_export.setObjectName(QStringLiteral("wires.export"));
    m_problem.setObjectName(QStringLiteral("wires.problem"));
    m_drawing.setObjectName(QStringLiteral("wires.drawing"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(px(6));
    column->addWidget(&m_intro);
    auto* choice = new QHBoxLayout;
    choice->setSpacing(px(8));
    choice->addWidget(&m_parts);
    choice->addWidget(&m_bodies, 1);
    column->addLayout(choice);
    auto* stripRow = new QHBoxLayout;
    stripRow->setSpacing(px(8));
    stripRow->addWidget(&m_stripName);
    stripRow->addWidget(&m_strip, 1);
    column->addLayout(stripRow);
    for (QWidget* widget : std::initializer_list<QWidget*>{&m_problem, &m_view, &m_drawing, &m_table, &m_beside})
        column->addWidget(widget);
    column->addWidget(&m_export, 0, Qt::AlignLeft);
    column->addStretch(1);
    connect(&m_parts, &QComboBox::activated, this, [this](int index) {
        if (index < 0 || index >= static_cast<int>(m_wires.size())) return;
        const PinWires& wires = m_wires[static_cast<std::size_t>(index)];
        m_converter = qs(wires.converter);
        choose(wires.gauge);
    });
    connect(&m_bodies, &QComboBox::activated, this, [this] {
        const std::string body = m_bodies.currentData().toString().toStdString();
        change(tr("Choose the body of %1"), [body](GaugePlace& place) { place.body = body; });
    });
    connect(&m_strip, &QLineEdit::editingFinished, this, [this] {
        const PinWires* const wires = chosen();
        auto strip = readStrip(m_strip.text().toStdString());
        m_strip.setModified(false);
        if (!wires || strip == wires->strip) return;
        change(tr("Set the strip of %1"), [strip = std::move(strip)](GaugePlace& place) { place.strip = strip; });
    });
    connect(&m_export, &QPushButton::clicked, this, &WiresPage::exportWanted);
    connect(&Theme::instance(), &Theme::changed, this, [this] { dressAll(); });
    dressAll();
}

void WiresPage::dressAll() {
    for (QLabel* label : {&m_intro, &m_view, &m_beside, &m_stripName})
        dress(*label, Theme::instance().text(13), colours().ink2);
    dress(m_problem, Theme::instance().text(13, true), colours().ink);
    for (QLabel* label : {&m_intro, &m_view, &m_problem, &m_beside}) label->setWordWrap(true);
    for (QLabel* label : {&m_view, &m_problem, &m_beside}) label->setTextFormat(Qt::PlainText);
}

const PinWires* WiresPage::chosen() const {
    for (const PinWires& one : m_wires)
        if (m_gauge != 0 ? std::find(one.gauges.begin(), one.gauges.end(), m_gauge) != one.gauges.end()
                         : !m_converter.isEmpty() && qs(one.converter) == m_converter)
            return &one;
    return m_wires.empty() ? nullptr : &m_wires.front();
}

void WiresPage::choose(qint64 gauge) {
    m_gauge = gauge;
    showChosen();
}

void WiresPage::change(const QString& label, const std::function<void(GaugePlace&)>& change) {
    if (const PinWires* const wires = chosen())
        emit edited(wires->gauge, qs(wires->converter), label.arg(qs(wires->who)), change);
}

void WiresPage::show(const BenchPlan& plan) {
    m_wires = plan.wires;
    const QSignalBlocker quiet(m_parts);
    m_parts.clear();
    for (const PinWires& one : m_wires)
        m_parts.addItem(tr("%1 (%2)").arg(qs(one.who), qs(one.part)),
                        one.converter.empty() ? QVariant(static_cast<qint64>(one.gauge)) : QVariant(qs(one.converter)));
    showChosen();
}

void WiresPage::showChosen() {
    const PinWires* const wires = chosen();
    for (QWidget* widget : std::initializer_list<QWidget*>{&m_parts, &m_bodies, &m_table, &m_export})
        widget->setVisible(wires != nullptr);
    m_view.setVisible(wires && !wires->drawings.empty());
    m_drawing.setVisible(wires && !wires->drawings.empty());
    m_problem.setVisible(wires && !wires->problem.empty());
    const bool isModule = wires && wires->body == "module";
    m_strip.setVisible(isModule);
    m_stripName.setVisible(isModule);
    if (!wires) {
        m_beside.setText(tr("No gauge hangs on the bench yet."));
        return;
    }
    m_gauge = wires->gauge;
    m_parts.setCurrentIndex(static_cast<int>(wires - m_wires.data()));
    fillBodies(*wires);
    if (!m_strip.hasFocus() || !m_strip.isModified()) {
        QStringList words;
        for (const std::string& word : wires->strip) words << qs(word);
        m_strip.setText(words.join(QLatin1Char(' ')));
    }
    m_problem.setText(qs(wires->problem));
    if (!wires->drawings.empty()) {
        m_drawing.show(wires->drawings.front());
        m_view.setText(qs(wires->drawings.front().title) +
                       (wires->source.empty() ? QString() : tr(". Pins: %1").arg(qs(wires->source))) +
                       QLatin1Char('.'));
    }
    fillTable(*wires);
    QStringList beside;
    for (const std::string& text : wires->beside) beside << qs(text);
    m_beside.setText(beside.join(QLatin1Char('\n')));
}

void WiresPage::fillBodies(const PinWires& wires) {
    const QSignalBlocker quiet(m_bodies);
    m_bodies.clear();
    if (wires.body.empty()) m_bodies.addItem(tr("body not given"), QString());
    for (const BodyChoice& one : wires.bodies) m_bodies.addItem(qs(one.title), qs(one.id));
    m_bodies.setCurrentIndex(std::max(0, m_bodies.findData(qs(wires.body))));
}

QLineEdit* WiresPage::makeColour(std::size_t row, const std::string& conductor) {
    auto* colour = new QLineEdit;
    colour->setObjectName(QStringLiteral("wires.colour%1").arg(row));
    colour->setAccessibleName(tr("Colour of the wire %1").arg(qs(conductor)));
    colour->setPlaceholderText(tr("not chosen"));
    colour->setFrame(false);
    colour->setCompleter(usualColours(colour));
    connect(colour, &QLineEdit::editingFinished, this, [this, colour, row, conductor] {
        const PinWires* const wires = chosen();
        const std::string now = colour->text().trimmed().toStdString();
        colour->setModified(false);
        if (!wires || row >= wires->wires.size() || wires->wires[row].colour == now) return;
        change(tr("Choose a wire's colour at %1"),
               [conductor, now](GaugePlace& place) { place.colours[conductor] = now; });
    });
    return colour;
}

QToolButton* WiresPage::makeEarlier(std::size_t row, const std::string& conductor) {
    auto* earlier = new QToolButton;
    earlier->setObjectName(QStringLiteral("wires.earlier%1").arg(row));
    earlier->setText(tr("↑ earlier"));
    earlier->setAccessibleName(tr("%1 one place earlier in the connector").arg(qs(conductor)));
    earlier->setAutoRaise(true);
    connect(earlier, &QToolButton::clicked, this, [this, row] {
        const PinWires* const wires = chosen();
        if (!wires) return;
        change(tr("Change the connector of %1"),
               [order = movedWire(*wires, row, -1)](GaugePlace& place) { place.order = order; });
    });
    return earlier;
}

/// The same wires as before keep their entries, so that one can go from one colour to the next.
void WiresPage::fillTable(const PinWires& wires) {
    std::vector<std::string> conductors{std::to_string(wires.gauge) + wires.converter};
    for (const Wire& wire : wires.wires) conductors.push_back(wire.conductor);
    if (conductors != m_shown) {
        m_shown = conductors;
        m_table.clearRows();
        for (std::size_t row = 0; row < wires.wires.size(); ++row) {
            m_table.addRow({QString(), QString(), QString(), QString(), QString(), QString()});
            m_table.setCellWidget(static_cast<int>(row), kColourColumn, makeColour(row, wires.wires[row].conductor));
            if (row > 0)
                m_table.setCellWidget(static_cast<int>(row), kEarlierColumn,
                                      makeEarlier(row, wires.wires[row].conductor));
        }
    }
    for (int row = 0; row < m_table.rowCount(); ++row) {
        const Wire& wire = wires.wires[static_cast<std::size_t>(row)];
        m_table.setText(row, 0, qs(wire.mark));
        m_table.setText(row, 1, qs(wire.conductor));
        m_table.setText(row, 2, wire.pin.empty() ? tr("not known") : qs(wire.pin));
        m_table.setText(row, kToColumn, qs(wire.to));
        auto* colour = qobject_cast<QLineEdit*>(m_table.cellWidget(row, kColourColumn));
        if (!colour->hasFocus() || !colour->isModified()) colour->setText(qs(wire.colour));
    }
    m_table.settle();
    m_table.setColumnWidth(kColourColumn, px(110));
    m_table.setColumnWidth(kEarlierColumn, px(86));
}

}  // namespace fg::gui
