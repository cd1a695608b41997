#include "correction/sides_page.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/refused.h"
#include "widgets/text.h"

namespace fg::gui {

SidesPage::SidesPage(Workbench& workbench, QWidget* parent) : CorrectionPage(workbench, parent) {
    addText(
        tr("Bring them to the same place, tick those that are there, and wait until all are steady. En is the "
           "difference over what both state "
           "together: within ± 1 they agree."));
    m_list.setObjectName(QStringLiteral("sides.list"));
    m_list.setAccessibleName(tr("Gauges of this quantity"));
    m_pairs.setObjectName(QStringLiteral("sides.pairs"));
    m_pairs.setAccessibleName(tr("Pairs"));
    m_other.setObjectName(QStringLiteral("sides.other"));
    m_other.setPlaceholderText(tr("value ± U"));
    body().addWidget(&m_list);
    m_form.addRow(tr("&Another instrument"), &m_other, nullptr, tr("what it shows, and its U (k = 2) behind ±"));
    body().addWidget(&m_form);
    m_pairsTitle = addCaption(tr("Pair by pair"));
    body().addWidget(&m_pairs);
    m_verdict = addText({});
    m_verdict->setObjectName(QStringLiteral("sides.verdict"));
    m_keep.setObjectName(QStringLiteral("sides.keep"));
    m_keep.setText(tr("&Keep in the journal"));
    auto* row = new QHBoxLayout;
    row->addWidget(&m_keep);
    row->addStretch();
    body().addLayout(row);
    body().addStretch();
    connect(&m_keep, &QPushButton::clicked, this, &SidesPage::keep);
    connect(&m_other, &QLineEdit::textChanged, this, &SidesPage::compare);
    connect(&m_list, &QTableWidget::itemChanged, this, [this](QTableWidgetItem* item) {
        if (m_isFilling || item->column() != 0) return;
        const std::int64_t id = item->data(Qt::UserRole).toLongLong();
        if (item->checkState() == Qt::Checked)
            m_joined.insert(id);
        else
            m_joined.erase(id);
        compare();
    });
}

void SidesPage::showSpec(const GaugeView& view) {
    dressLabels();
    if (m_gauge != view.id()) {
        m_gauge = view.id();
        m_joined = {view.id()};
        m_other.clear();
    }
    m_isFilling = true;
    m_list.setFont(Theme::instance().text(13));
    m_pairs.setFont(Theme::instance().text(13));
    m_list.clearRows();
    for (const GaugeView& other : workbench().views()) {
        if (other.spec().quantity != view.spec().quantity) continue;
        m_list.addRow({QString(), qs(other.spec().name), QString(), QString()});
        QTableWidgetItem* item = m_list.item(m_list.rowCount() - 1, 0);
        item->setData(Qt::UserRole, qint64{other.id()});
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
        item->setCheckState(m_joined.count(other.id()) > 0 ? Qt::Checked : Qt::Unchecked);
    }
    m_isFilling = false;
    compare();
    m_list.settle();
}

void SidesPage::showValues(const GaugeView&) { compare(); }

void SidesPage::keep() {
    if (!view()) return;
    const Unit& unit = view()->spec().readingUnit();
    const auto agreement = agreementOf(m_readings, unit);
    if (!agreement) return;
    JournalEntry entry{0, timeNow(), view()->id(), view()->spec().name, EntryKind::Note, {}, {}, {}};
    entry.text = sideBySideText(m_readings, *agreement, unit);
    workbench().bench().change(tr("Keep the comparison"), [&](Bench& bench) { bench.journal.add(entry); });
}

void SidesPage::compare() {
    if (!view() || m_isFilling) return;
    const Unit& unit = view()->spec().readingUnit();
    std::vector<SideReading> readings;
    m_isFilling = true;
    for (int row = 0; row < m_list.rowCount(); ++row) {
        const std::int64_t id = m_list.item(row, 0)->data(Qt::UserRole).toLongLong();
        const auto& views = workbench().views();
        const auto it = std::find_if(views.begin(), views.end(), [&](const GaugeView& one) { return one.id() == id; });
        const bool isThere = it != views.end() && it->evaluation() && it->origin() != Origin::Example &&
                             !it->isStale() && std::isfinite(it->evaluation()->reading()) &&
                             it->evaluation()->at(Stage::Reading).clip == Clip::None;
        m_list.setText(row, 2, isThere ? qs(it->textAt(Stage::Reading).joined()) : tr("nothing now"));
        const double expanded = isThere && it->budget() && it->budget()->sensorStated
                                    ? unit.differenceFromCanonical(it->budget()->expanded)
                                    : 0;
        m_list.setText(row, 3, expanded > 0 ? tr("± %1").arg(qs(significantDigits(expanded, 2))) : tr("not given"));
        if (isThere && m_joined.count(id) > 0)
            readings.push_back({it->spec().name, unit.fromCanonical(it->evaluation()->reading()), expanded});
    }
    m_isFilling = false;
    QString refused;
    if (!m_other.text().trimmed().isEmpty()) {
        const auto other = sideReadingOf(m_other.text().toStdString(), view()->spec().quantity, unit);
        if (other)
            readings.push_back({tr("another instrument").toStdString(), other->reading, other->expanded});
        else
            refused = qs(other.error().message());
    }
    markRefused(m_other, refused);
    const auto agreement = agreementOf(readings, unit);
    m_pairs.clearRows();
    m_pairs.setVisible(agreement.has_value());
    m_pairsTitle->setVisible(agreement.has_value());
    m_keep.setEnabled(agreement.has_value());
    m_readings = readings;
    if (!agreement)
        return m_verdict->setText(
            !refused.isEmpty() ? refused
            : readings.size() < 2
                ? tr("It takes two that read something now: tick another gauge, or type what another instrument "
                     "shows.")
                : qs(agreement.error().message()));
    for (const PairAgreement& pair : agreement->pairs)
        m_pairs.addRow({tr("%1 – %2").arg(qs(readings[pair.first].name), qs(readings[pair.second].name)),
                        tr("%1 %2").arg(qs(signedDigits(pair.difference, 2)), qs(unit.symbol)),
                        pair.error ? qs(signedDigits(*pair.error, 2)) : tr("not known")});
    m_pairs.settle();
    m_verdict->setText(qs(agreement->verdict));
}

}  // namespace fg::gui
