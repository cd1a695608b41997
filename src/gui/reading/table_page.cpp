#include "reading/table_page.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/text.h"

#include <QApplication>
#include <QClipboard>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QSaveFile>
#include <QVBoxLayout>

namespace fg::gui {
namespace {}  // namespace

void SpanTableModel::show(std::vector<SpanCells> rows, const QStringList& heads) {
    beginResetModel();
    m_rows = std::move(rows);
    m_heads = heads;
    endResetModel();
}

int SpanTableModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(m_rows.size());
}

int SpanTableModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(m_heads.size());
}

QVariant SpanTableModel::data(const QModelIndex& index, int role) const {
    if (role == Qt::DisplayRole)
        return qs(m_rows[static_cast<std::size_t>(index.row())][static_cast<std::size_t>(index.column())]);
    if (role == Qt::TextAlignmentRole) return QVariant(Qt::AlignRight | Qt::AlignVCenter);
    if (role == Qt::FontRole) return Theme::instance().text(13);
    return {};
}

QVariant SpanTableModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation == Qt::Horizontal && role == Qt::DisplayRole) return m_heads.value(section);
    if (role == Qt::TextAlignmentRole) return QVariant(Qt::AlignRight | Qt::AlignVCenter);
    return {};
}

TablePage::TablePage(Workbench& workbench, QWidget* parent) : QWidget(parent), m_workbench(workbench) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, px(4), 0, 0);
    column->setSpacing(px(6));
    m_step.setObjectName(QStringLiteral("table.step"));
    m_copy.setObjectName(QStringLiteral("table.copy"));
    m_write.setObjectName(QStringLiteral("table.write"));
    m_table.setObjectName(QStringLiteral("table.rows"));
    m_copy.setText(tr("Copy as CSV"));
    m_write.setText(tr("Write a CSV file…"));
    m_form.setWidths(80, 150, 20);  // beside two buttons
    m_form.addRow(tr("&Step"), &m_step);
    auto* row = new QHBoxLayout;
    row->addWidget(&m_form, 1);
    row->addWidget(&m_copy);
    row->addWidget(&m_write);
    column->addLayout(row);
    column->addWidget(&m_note);
    m_note.setWordWrap(true);
    m_table.setModel(&m_model);
    m_table.setMinimumHeight(px(300));
    m_table.verticalHeader()->hide();
    m_table.setShowGrid(false);
    m_table.setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table.horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    m_table.verticalHeader()->setDefaultSectionSize(px(24));
    m_table.horizontalHeader()->setHighlightSections(false);
    column->addWidget(&m_table, 1);
    m_step.onCommit = [this](double value) -> Expected<void> {
        const GaugeView* view = m_workbench.current();
        if (!view || !view->path()) return {};
        if (const auto rows = spanTable(view->spec(), *view->path(), value); !rows) return tl::unexpected(rows.error());
        m_stepValue = value;
        fill();
        return {};
    };
    connect(&m_copy, &QPushButton::clicked, this, [this] { QApplication::clipboard()->setText(m_csv); });
    connect(&m_write, &QPushButton::clicked, this, &TablePage::write);
}

void TablePage::showSpec(const GaugeView& view) {
    if (m_gauge != view.id() || !(m_stepValue > 0)) {
        m_gauge = view.id();
        m_stepValue = niceStep(view.spec().reading.span.width());
    }
    m_step.setSuffix(qs(view.spec().readingUnit().symbol));
    m_step.setValue(m_stepValue);
    dress(m_note, Theme::instance().text(12), colours().ink2);
    fill();
}

void TablePage::fill() {
    const GaugeView* view = m_workbench.current();
    const auto rows =
        view && view->path() ? spanTable(view->spec(), *view->path(), m_stepValue) : Expected<std::vector<SpanRow>>{};
    for (QWidget* part : std::initializer_list<QWidget*>{&m_table, &m_copy, &m_write})
        part->setEnabled(view && view->path() && rows);
    if (view && view->digital())
        return m_note.setText(tr("A digital part gives its value itself: there are no codes to tabulate."));
    if (view && view->made() && !view->path())
        return m_note.setText(tr("This gauge has no codes of its own to tabulate."));
    if (!view || !view->path())
        return m_note.setText(tr("There is nothing to tabulate until the gauge can be computed."));
    if (!rows) return m_note.setText(qs(rows.error().message()));
    std::vector<SpanCells> cells;
    for (const SpanRow& row : *rows) cells.push_back(spanCells(*view->path(), row, 5));
    const QString unit = qs(view->spec().readingUnit().symbol);
    m_model.show(std::move(cells), {unit, qs(canonicalUnit(view->path()->converter().input()).symbol), tr("code"),
                                    tr("hex"), tr("binary"), tr("the code is, %1").arg(unit), tr("limit")});
    constexpr int kBinary = 4;
    m_table.horizontalHeader()->setSectionResizeMode(kBinary, QHeaderView::ResizeToContents);
    m_csv = qs(spanTableCsv(view->spec(), *view->path(), *rows));
    m_note.setText(
        tr("%1 rows. A whole code stands for its own value, not for the one that was asked.").arg(rows->size()));
}

void TablePage::write() {
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Write the table"),
                                     tr("%1.csv").arg(qs(m_workbench.current()->spec().name)), tr("CSV (*.csv)"));
    if (path.isEmpty()) return;
    QSaveFile file(path);
    const bool written = file.open(QIODevice::WriteOnly) && file.write(m_csv.toUtf8()) >= 0 && file.commit();
    m_note.setText(written ? tr("Written to %1.").arg(path)
                           : tr("%1 could not be written: %2.").arg(path, file.errorString()));
}

}  // namespace fg::gui
