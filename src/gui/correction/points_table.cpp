#include "correction/points_table.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "units/value_text.h"
#include "widgets/text.h"

#include <cmath>
#include <QKeyEvent>

namespace fg::gui {

PointsTable::PointsTable(QWidget* parent)
    : SheetTable({QString(), tr("Point"), tr("Reference"), tr("± U"), tr("Formula read"), tr("Wanted"),
                  tr("Left after fit"), QStringLiteral("\u2003") + tr("Set aside")},
                 {Reference, U, Read, Wanted, Left}, Reason, parent) {
    setObjectName(QStringLiteral("correction.points"));
    setAccessibleName(tr("Points of the calibration"));
    setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                    QAbstractItemView::AnyKeyPressed);
    connect(this, &QTableWidget::itemChanged, this, &PointsTable::changed);
}

void PointsTable::show(const GaugeSpec& spec, const std::vector<CalibrationPoint>& points,
                       const CalibrationStudy& study) {
    m_isFilling = true;
    m_spec = spec;
    m_points = points;
    setHorizontalHeaderItem(Left, new QTableWidgetItem(study.isCheck ? tr("Found off by") : tr("Left after fit")));
    const Unit& unit = spec.readingUnit();
    setFont(Theme::instance().text(13));
    // At large text the reason for setting a point aside needs the room more.
    constexpr double kLargeText = 1.3;
    setColumnHidden(Wanted, Theme::instance().textScale() > kLargeText);
    setRowCount(static_cast<int>(points.size()));
    const auto difference = [&](double canonical) {
        return qs(signedDigits(unit.differenceFromCanonical(canonical), study.decimals));
    };
    for (std::size_t i = 0; i < points.size(); ++i) {
        const CalibrationPoint& point = points[i];
        const int row = static_cast<int>(i);
        const auto put = [&](int column, const QString& text, bool isTyped) {
            auto* item = new QTableWidgetItem(text);
            Qt::ItemFlags flags = Qt::ItemIsSelectable | Qt::ItemIsEnabled;
            if (isTyped) flags |= Qt::ItemIsEditable;
            item->setFlags(flags);
            const bool isText = column == Note || column == Reason;
            item->setTextAlignment((isText ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
            item->setForeground(point.setAside.empty() ? colours().ink : colours().ink2);
            setItem(row, column, item);
            return item;
        };
        auto* used = put(Used, {}, false);
        used->setFlags(Qt::ItemIsSelectable | Qt::ItemIsEnabled | Qt::ItemIsUserCheckable);
        used->setCheckState(point.setAside.empty() ? Qt::Checked : Qt::Unchecked);
        put(Note, point.note.empty() ? tr("point %1").arg(row + 1) : qs(point.note), true);
        put(Reference, qs(plainNumber(unit.fromCanonical(point.reference), 7)), true);
        auto* u = put(U,
                      point.u > 0          ? qs(plainNumber(unit.differenceFromCanonical(statedOf(point.u)), 3))
                      : isUnchecked(point) ? tr("unchecked")
                                           : tr("not given"),
                      true);
        u->setToolTip(qs(point.stated));
        put(Read, qs(plainNumber(unit.fromCanonical(point.reading), 7)), true);
        if (i < study.points.size()) {
            put(Wanted, difference(study.points[i].wanted), false);
            auto* left = put(Left, difference(study.isCheck ? -study.points[i].left : study.points[i].left), false);
            QFont bold = font();
            bold.setBold(point.setAside.empty());
            left->setFont(bold);
        }
        put(Reason, qs(point.setAside), true);
    }
    settle();
    m_isFilling = false;
}

void PointsTable::changed(QTableWidgetItem* item) {
    if (m_isFilling || !item) return;
    const auto row = static_cast<std::size_t>(item->row());
    if (row >= m_points.size()) return;
    if (item->column() == Used) {
        // Ticked again it is used; unticked it waits for the reason, which is what sets it aside.
        if (item->checkState() == Qt::Checked) {
            if (onChange) (void)onChange(row, [](CalibrationPoint& point) { point.setAside.clear(); });
        } else if (m_points[row].setAside.empty()) {
            m_isFilling = true;
            item->setCheckState(Qt::Checked);
            m_isFilling = false;
            setCurrentCell(item->row(), Reason);
            editItem(this->item(item->row(), Reason));
        }
        return;
    }
    const auto done = commit(row, item->column(), item->text().trimmed().toStdString());
    if (done) return;
    m_isFilling = true;
    item->setBackground(colours().brassWash);
    item->setToolTip(qs(done.error().message()));
    m_isFilling = false;
}

Expected<void> PointsTable::commit(std::size_t row, int column, const std::string& text) {
    if (!onChange) return {};
    const Unit& unit = m_spec.readingUnit();
    if (column == Note) return onChange(row, [&](CalibrationPoint& point) { point.note = text; });
    if (column == Reason) return onChange(row, [&](CalibrationPoint& point) { point.setAside = text; });
    if (column == U) {
        if (text.empty())
            return onChange(row, [](CalibrationPoint& point) {
                point.u = 0;
                point.stated.clear();
            });
        const auto value = readDifference(text, m_spec.quantity, &unit);
        if (!value) return tl::unexpected(value.error());
        if (!(*value >= 0)) return fail(ErrorCode::Range, "U", text, "0 or more");
        return onChange(row, [&](CalibrationPoint& point) {
            point.u = standardOf(StatedAs::Expanded, *value);
            point.stated.clear();
        });
    }
    const auto value = readValue(text, m_spec.quantity, &unit);
    if (!value) return tl::unexpected(value.error());
    return onChange(row, [&](CalibrationPoint& point) {
        (column == Reference ? point.reference : point.reading) = value->canonical;
    });
}

void PointsTable::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Delete && currentRow() >= 0 && onRemove && state() != QAbstractItemView::EditingState)
        return onRemove(static_cast<std::size_t>(currentRow()));
    SheetTable::keyPressEvent(event);
}

}  // namespace fg::gui
