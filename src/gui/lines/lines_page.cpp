#include "lines/lines_page.h"

#include "engine/binding.h"
#include "path/said_path.h"
#include "recording/recording_csv.h"
#include "theme/theme.h"
#include "widgets/text.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>

namespace fg::gui {
namespace {

constexpr int kEvery_ms = 500;

QString signOf(SeenKind kind) {
    switch (kind) {
        case SeenKind::Values:
            return QStringLiteral("    ");
        case SeenKind::Header:
            return LinesPage::tr("names   ");
        case SeenKind::Comment:
            return LinesPage::tr("comment ");
        case SeenKind::Junk:
            return LinesPage::tr("not understood  ");
    }
    return {};
}

}  // namespace

LinesPage::LinesPage(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      m_workbench(workbench),
      m_channels({tr("Channel"), tr("Value"), tr("Age"), tr("Gauge")}, {1, 2}, 3) {
    setObjectName(QStringLiteral("lines"));
    m_lines.setObjectName(QStringLiteral("lines.list"));
    m_lines.setAccessibleName(tr("Lines as they come, newest last"));
    m_lines.setSelectionMode(QAbstractItemView::NoSelection);
    m_channels.setObjectName(QStringLiteral("lines.channels"));
    m_channels.setAccessibleName(tr("Channels"));
    m_channels.setSelectionBehavior(QAbstractItemView::SelectRows);
    m_channels.setSelectionMode(QAbstractItemView::SingleSelection);
    m_gauge.setObjectName(QStringLiteral("lines.gauge"));
    m_gauge.setAccessibleName(tr("Gauge that listens to the channel"));
    m_bind.setObjectName(QStringLiteral("lines.bind"));
    m_bind.setText(tr("&Listen to this channel"));
    m_bind.setProperty("first", true);
    m_reason.setObjectName(QStringLiteral("lines.reason"));
    m_reason.setWordWrap(true);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(px(22), px(16), px(22), px(14));
    column->setSpacing(px(8));
    column->addWidget(&m_title);
    column->addWidget(&m_intro);
    auto* row = new QHBoxLayout;
    row->setSpacing(px(16));
    auto* left = new QVBoxLayout;
    left->addWidget(&m_linesTitle);
    left->addWidget(&m_lines, 1);
    auto* right = new QVBoxLayout;
    right->addWidget(&m_channelsTitle);
    m_scroll.setWidget(&m_channels);
    m_scroll.setWidgetResizable(true);
    m_scroll.setFrameShape(QFrame::NoFrame);
    right->addWidget(&m_scroll, 1);
    right->addWidget(&m_gauge);
    right->addWidget(&m_reason);
    right->addWidget(&m_bind);
    m_saidUnit.setObjectName(QStringLiteral("lines.saidUnit"));
    m_saidUnit.setAccessibleName(tr("Unit in which the board writes"));
    m_saidOf.setObjectName(QStringLiteral("lines.saidOf"));
    m_saidOf.setAccessibleName(tr("Gauge beside which it is shown"));
    m_takeSaid.setObjectName(QStringLiteral("lines.takeSaid"));
    m_takeSaid.setText(tr("&Take it as what the board says"));
    m_saidTitle.setWordWrap(true);
    m_saidTitle.setTextFormat(Qt::PlainText);
    right->addWidget(&m_saidTitle);
    auto* saidRow = new QHBoxLayout;
    saidRow->addWidget(&m_saidUnit);
    saidRow->addWidget(&m_saidOf, 1);
    right->addLayout(saidRow);
    right->addWidget(&m_takeSaid);
    row->addLayout(left, 1);
    row->addLayout(right, 1);
    column->addLayout(row, 1);
    m_tick.setInterval(kEvery_ms);
    connect(&m_tick, &QTimer::timeout, this, &LinesPage::refresh);
    connect(&m_channels, &QTableWidget::cellClicked, this, [this](int at, int) { chooseChannel(m_names.value(at)); });
    connect(&m_gauge, &QComboBox::activated, this,
            [this] { m_reason.setText(m_gauge.currentData(Qt::UserRole + 1).toString()); });
    connect(&m_bind, &QPushButton::clicked, this, &LinesPage::bind);
    connect(&m_saidUnit, &QComboBox::activated, this, &LinesPage::fillSaidGauges);
    connect(&m_takeSaid, &QPushButton::clicked, this, &LinesPage::takeSaid);
    connect(&m_workbench, &Workbench::gaugesChanged, this, [this] {
        if (isVisible()) fillGuesses();
    });
}

void LinesPage::fillLines() {
    const std::vector<SeenLine> lines = m_workbench.feed().engine().lastLines();
    const bool isAtEnd = m_lines.count() == 0 || m_lines.currentRow() < 0;
    m_lines.clear();
    for (const SeenLine& line : lines) {
        auto* item = new QListWidgetItem(signOf(line.kind) + qs(line.text), &m_lines);
        if (line.kind == SeenKind::Junk) item->setForeground(colours().ink);
        if (line.kind != SeenKind::Junk) item->setForeground(colours().ink2);
        QFont font = Theme::instance().digits(12, line.kind == SeenKind::Junk);
        item->setFont(font);
    }
    if (isAtEnd) m_lines.scrollToBottom();
}

void LinesPage::fillChannels() {
    const auto channels = m_workbench.feed().engine().channels();
    m_names.clear();
    m_channels.setFont(Theme::instance().text(13));
    m_channels.clearRows();
    for (const ChannelState& channel : channels) {
        QStringList gauges;
        for (const GaugeView& view : m_workbench.views())
            if (view.spec().channel == channel.name) gauges << qs(view.spec().name);
        const QString value =
            qs(rawText(channel.raw)) + (channel.unit.empty() ? QString() : QStringLiteral(" ") + qs(channel.unit));
        const double age_s = std::max(0.0, m_workbench.feed().moment().engine_s - channel.time_s);
        m_channels.addRow({qs(channel.name), value.left(40), tr("%1 s").arg(age_s, 0, 'f', 0),
                           !gauges.isEmpty()       ? gauges.join(QStringLiteral(", "))
                           : !channel.unit.empty() ? tr("what the board says")
                                                   : tr("none listens")});
        m_names << qs(channel.name);
    }
    m_channels.settle();
    if (const qsizetype at = m_names.indexOf(m_chosen); at >= 0) m_channels.selectRow(static_cast<int>(at));
}

void LinesPage::fillGuesses() {
    m_gauge.clear();
    const auto raw = m_workbench.feed().engine().lastRaw(m_chosen.toStdString());
    const auto channels = m_workbench.feed().engine().channels();
    std::string unit;
    for (const ChannelState& channel : channels)
        if (qs(channel.name) == m_chosen) unit = channel.unit;
    const bool isChosen = !m_chosen.isEmpty() && raw;
    m_gauge.setVisible(isChosen);
    m_bind.setVisible(isChosen);
    fillSaid(unit, isChosen && std::holds_alternative<double>(raw->first));
    if (!isChosen) return m_reason.setText(tr("Click a channel to choose the gauge that listens to it."));
    for (const BindingGuess& guess : bindingGuesses(m_chosen.toStdString(), raw->first, unit,
                                                    m_workbench.bench().bench(), m_workbench.catalogue())) {
        const BenchGauge* gauge = m_workbench.bench().bench().find(guess.gauge);
        m_gauge.addItem(qs(gauge->spec.name), qint64{guess.gauge});
        m_gauge.setItemData(m_gauge.count() - 1, qs(guess.reason), Qt::UserRole + 1);
    }
    m_bind.setEnabled(m_gauge.count() > 0);
    m_bind.setVisible(unit.empty());
    m_gauge.setVisible(unit.empty());
    m_reason.setText(m_gauge.count() > 0 ? m_gauge.itemData(0, Qt::UserRole + 1).toString()
                     : unit.empty()
                         ? tr("No gauge of this bench could have sent such a value.")
                         : tr("The board has worked this reading out itself; a gauge with a sensor listens to raw "
                              "values."));
}

void LinesPage::fillSaid(const std::string& unit, bool isNumber) {
    for (QWidget* widget : std::initializer_list<QWidget*>{&m_saidTitle, &m_saidUnit, &m_saidOf, &m_takeSaid})
        widget->setVisible(isNumber);
    if (!isNumber) return;
    m_saidTitle.setText(unit.empty() ? tr("Or is it a reading that the board has worked out? It writes no unit:")
                                     : tr("Taken as it is, alone or beside the gauge that reads the same from raw:"));
    m_saidUnit.clear();
    for (const Unit* one : unitsSaid(unit)) {
        m_saidUnit.addItem(qs(one->symbol), qs(one->id));
        m_saidUnit.setItemData(m_saidUnit.count() - 1, static_cast<int>(one->quantity), Qt::UserRole + 1);
    }
    m_takeSaid.setEnabled(m_saidUnit.count() > 0);
    if (m_saidUnit.count() == 0)
        m_saidTitle.setText(tr("“%1” is no unit of a temperature, humidity, pressure or light.").arg(qs(unit)));
    fillSaidGauges();
}

void LinesPage::fillSaidGauges() {
    m_saidOf.clear();
    m_saidOf.addItem(tr("a gauge of its own"), 0);
    const auto quantity = static_cast<Quantity>(m_saidUnit.currentData(Qt::UserRole + 1).toInt());
    for (const GaugeView& view : m_workbench.views())
        if (view.spec().quantity == quantity && !SaidPath::applies(view.spec()))
            m_saidOf.addItem(tr("beside “%1”").arg(qs(view.spec().name)), qint64{view.id()});
}

void LinesPage::takeSaid() {
    const auto quantity = static_cast<Quantity>(m_saidUnit.currentData(Qt::UserRole + 1).toInt());
    const auto unit = unitFromId(m_saidUnit.currentData().toString().toStdString(), quantity);
    if (m_chosen.isEmpty() || !unit) return;
    m_workbench.bench().change(tr("Take %1 as what the board says").arg(m_chosen), [&](Bench& bench) {
        addSaid(bench, m_chosen.toStdString(), **unit, m_saidOf.currentData().toLongLong());
    });
    fillChannels();
}

void LinesPage::refresh() {
    dress(m_title, Theme::instance().text(20, true), colours().ink);
    m_title.setText(tr("Lines as they come"));
    dress(m_intro, Theme::instance().text(13), colours().ink2);
    const Engine::Status status = m_workbench.feed().engine().status();
    m_intro.setText(!m_workbench.feed().hasSource() ? tr("There is no source: the menu Source brings lines.")
                    : status.looksLikeWrongSpeed
                        ? tr("Nearly every line is junk: most likely the line has another speed.")
                        : tr("%1 lines understood, %2 not.").arg(status.frames).arg(status.junk));
    for (QLabel* label : {&m_linesTitle, &m_channelsTitle}) dress(*label, Theme::instance().caption(), colours().ink2);
    m_linesTitle.setText(tr("The last lines"));
    m_channelsTitle.setText(tr("Channels and who listens"));
    dress(m_reason, Theme::instance().text(13), colours().ink2);
    fillLines();
    fillChannels();
}

void LinesPage::chooseChannel(const QString& name) {
    m_chosen = name;
    fillChannels();
    fillGuesses();
}

void LinesPage::bind() {
    const qint64 id = m_gauge.currentData().toLongLong();
    if (m_chosen.isEmpty() || id == 0) return;
    m_workbench.bench().changeGauge(id, tr("%1 listens to %2").arg(m_gauge.currentText(), m_chosen),
                                    [this](GaugeSpec& spec) { spec.channel = m_chosen.toStdString(); });
    fillChannels();
}

void LinesPage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
    fillGuesses();
    m_tick.start();
    m_channels.setFocus();
}

void LinesPage::hideEvent(QHideEvent* event) {
    m_tick.stop();
    QWidget::hideEvent(event);
}

bool LinesPage::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        event->accept();
        return true;
    }
    return QWidget::event(event);
}

void LinesPage::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return emit done();
    QWidget::keyPressEvent(event);
}

}  // namespace fg::gui
