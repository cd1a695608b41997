#include "journal/journal_page.h"
#include "theme/theme.h"
#include "widgets/text.h"

#include <QDateTime>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>
#include <span>

namespace fg::gui {
namespace {

constexpr std::size_t kMostShown = 300;

/// UTC as the journal has it, in the local time of whoever reads it; a date alone as it stands.
QString localTime(const std::string& time) {
    const QDateTime at = QDateTime::fromString(qs(time), Qt::ISODate);
    return time.size() > 10 && at.isValid() ? at.toLocalTime().toString(QStringLiteral("yyyy-MM-dd  HH:mm")) : qs(time);
}

QString titleOf(EntryKind kind) {
    switch (kind) {
        case EntryKind::Note:
            return JournalPage::tr("Note");
        case EntryKind::Piece:
            return JournalPage::tr("Piece");
        case EntryKind::Photograph:
            return JournalPage::tr("Photograph");
        case EntryKind::Setting:
            return JournalPage::tr("Setting");
        case EntryKind::Calibration:
            return JournalPage::tr("Calibration");
    }
    return {};
}

}  // namespace

JournalPage::JournalPage(Workbench& workbench, QWidget* parent)
    : QWidget(parent), m_workbench(workbench), m_table({tr("When"), tr("Gauge"), tr("Kind"), tr("Entry")}, {}, 3) {
    setObjectName(QStringLiteral("journal"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(px(22), px(16), px(22), px(14));
    column->setSpacing(px(8));
    column->addWidget(&m_title);
    column->addWidget(&m_intro);
    buildSearch(*column);
    m_table.setObjectName(QStringLiteral("journal.table"));
    m_table.setAccessibleName(tr("Entries, newest first"));
    m_table.setSelectionMode(QAbstractItemView::SingleSelection);
    m_table.setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table.setWordWrap(true);
    m_scroll.setWidget(&m_table);
    m_scroll.setWidgetResizable(true);
    m_scroll.setFrameShape(QFrame::NoFrame);
    column->addWidget(&m_scroll, 1);
    buildNew(*column);
    connect(&m_workbench, &Workbench::gaugesChanged, this, [this] {
        if (isVisible()) fill();
    });
    connect(&Theme::instance(), &Theme::changed, this, [this] {
        if (isVisible()) fill();
    });
}

void JournalPage::buildSearch(QVBoxLayout& column) {
    m_search.setObjectName(QStringLiteral("journal.search"));
    m_search.setPlaceholderText(tr("words: lid, 0x76, 2026-05 …"));
    m_search.setAccessibleName(tr("Search the journal"));
    m_search.setClearButtonEnabled(true);
    m_gauge.setObjectName(QStringLiteral("journal.gauge"));
    m_gauge.setAccessibleName(tr("Entries of which gauge"));
    m_kind.setObjectName(QStringLiteral("journal.kind"));
    m_kind.setAccessibleName(tr("Kind of entry"));
    m_remove.setObjectName(QStringLiteral("journal.remove"));
    m_remove.setText(tr("&Remove"));
    m_remove.setToolTip(tr("The chosen entry; Undo brings it back"));
    auto* row = new QHBoxLayout;
    row->addWidget(&m_search, 3);
    row->addWidget(&m_gauge, 1);
    row->addWidget(&m_remove);
    column.addLayout(row);
    column.addWidget(&m_count);
    connect(&m_search, &QLineEdit::textChanged, this, &JournalPage::fill);
    connect(&m_gauge, &QComboBox::activated, this, &JournalPage::fill);
    connect(&m_remove, &QPushButton::clicked, this, &JournalPage::removeChosen);
}

void JournalPage::buildNew(QVBoxLayout& column) {
    m_newGauge.setObjectName(QStringLiteral("journal.newGauge"));
    for (const EntryKind kind : {EntryKind::Note, EntryKind::Piece, EntryKind::Photograph})
        m_kind.addItem(titleOf(kind), static_cast<int>(kind));
    m_text.setObjectName(QStringLiteral("journal.text"));
    m_text.setPlaceholderText(tr("lid replaced; address strapped to 0x77; bought in May"));
    m_file.setObjectName(QStringLiteral("journal.file"));
    m_file.setPlaceholderText(tr("path of a picture; it stays where it is"));
    m_photograph.setText(tr("&Find the picture…"));
    m_add.setObjectName(QStringLiteral("journal.add"));
    m_add.setText(tr("&Write it down"));
    m_add.setProperty("first", true);
    column.addWidget(&m_newTitle);
    m_form.addRow(tr("&Kind"), &m_kind);
    m_form.addRow(tr("&About"), &m_newGauge);
    m_form.addRow(tr("&Entry"), &m_text);
    m_form.addRow(tr("Photo&graph"), &m_file);
    column.addWidget(&m_form);
    auto* row = new QHBoxLayout;
    row->addWidget(&m_add);
    row->addWidget(&m_photograph);
    row->addStretch();
    column.addLayout(row);
    connect(&m_add, &QPushButton::clicked, this, &JournalPage::add);
    connect(&m_text, &QLineEdit::returnPressed, this, &JournalPage::add);
    connect(&m_photograph, &QPushButton::clicked, this, &JournalPage::choosePhotograph);
    const auto showFile = [this] {
        const bool isPhotograph = m_kind.currentData().toInt() == static_cast<int>(EntryKind::Photograph);
        m_form.setRowVisible(m_file, isPhotograph);
        m_photograph.setVisible(isPhotograph);
    };
    connect(&m_kind, &QComboBox::currentIndexChanged, this, showFile);
    showFile();
}

void JournalPage::dressAll() {
    dress(m_title, Theme::instance().text(20, true), colours().ink);
    m_title.setText(tr("Journal"));
    dress(m_intro, Theme::instance().text(13), colours().ink2);
    m_intro.setText(tr("What was done and when: changes and calibrations are kept by themselves, the rest is yours."));
    dress(m_count, Theme::instance().text(13), colours().ink2);
    dress(m_newTitle, Theme::instance().caption(), colours().ink2);
    m_newTitle.setText(tr("A new entry"));
}

void JournalPage::fillGauges() {
    for (QComboBox* box : {&m_gauge, &m_newGauge}) {
        const QVariant before = box->currentData();
        box->clear();
        box->addItem(box == &m_gauge ? tr("all of the bench") : tr("the bench as a whole"), qint64{0});
        for (const GaugeView& view : m_workbench.views()) box->addItem(qs(view.spec().name), qint64{view.id()});
        box->setCurrentIndex(std::max(0, box->findData(before)));
    }
}

void JournalPage::fill() {
    dressAll();
    fillGauges();
    const auto found =
        m_workbench.bench().bench().journal.search(m_search.text().toStdString(), m_gauge.currentData().toLongLong());
    m_table.setFont(Theme::instance().text(13));
    m_table.clearRows();
    m_ids.clear();
    const std::size_t shown = std::min(found.size(), kMostShown);
    for (const Journal::Entry& entry : std::span(found).first(shown)) {
        QString text = qs(entry->text);
        if (!entry->file.empty()) text += (text.isEmpty() ? QString() : QStringLiteral("  ")) + qs(entry->file);
        m_table.addRow({localTime(entry->time), entry->name.empty() ? tr("the bench") : qs(entry->name),
                        titleOf(entry->kind), text});
        m_table.item(m_table.rowCount() - 1, 3)->setToolTip(text);
        m_ids.push_back(entry->id);
    }
    m_table.settle();
    const std::size_t all = m_workbench.bench().bench().journal.entries().size();
    m_count.setText(all == 0              ? tr("Nothing is written down yet.")
                    : found.size() == all ? tr("%1 entries.").arg(all)
                                          : tr("%1 of %2 entries.").arg(found.size()).arg(all));
    if (shown < found.size())
        m_count.setText(m_count.text() + tr(" The newest %1 are shown: more words find older ones.").arg(shown));
    m_table.setVisible(!found.empty());
}

void JournalPage::add() {
    JournalEntry entry;
    entry.kind = static_cast<EntryKind>(m_kind.currentData().toInt());
    entry.text = m_text.text().trimmed().toStdString();
    if (entry.kind == EntryKind::Photograph) entry.file = m_file.text().trimmed().toStdString();
    if (entry.text.empty() && entry.file.empty()) return m_count.setText(tr("Write something first."));
    entry.gauge = m_newGauge.currentData().toLongLong();
    if (entry.gauge != 0) entry.name = m_newGauge.currentText().toStdString();
    entry.time = QDateTime::currentDateTimeUtc().toString(Qt::ISODate).toStdString();
    if (!m_workbench.bench().change(tr("Write into the journal"), [&](Bench& bench) { bench.journal.add(entry); }))
        return;
    m_text.clear();
    m_file.clear();
    fill();
}

void JournalPage::choosePhotograph() {
    const QString path =
        QFileDialog::getOpenFileName(this, tr("A photograph"), {}, tr("Pictures (*.png *.jpg *.jpeg);;All files (*)"));
    if (!path.isEmpty()) m_file.setText(path);
}

void JournalPage::removeChosen() {
    const int row = m_table.currentRow();
    if (row < 0 || static_cast<std::size_t>(row) >= m_ids.size()) return;
    const std::int64_t id = m_ids[static_cast<std::size_t>(row)];
    m_workbench.bench().change(tr("Remove an entry of the journal"), [&](Bench& bench) { bench.journal.remove(id); });
    fill();
}

void JournalPage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    fill();
    m_search.setFocus();
}

void JournalPage::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return emit done();
    QWidget::keyPressEvent(event);
}

}  // namespace fg::gui
