#include "digital/bytes_view.h"
#include "paint/marks.h"
#include "theme/theme.h"
#include "widgets/text.h"

#include <fmt/format.h>
#include <algorithm>
#include <QPainter>

namespace fg::gui {
namespace {

constexpr double kTitle = 132, kCell = 27, kBytesRow = 24;
constexpr int kMostColumns = 16;

/// "0x88 calibration", "scratchpad".
QString titleOf(const RawBlock& block, const DigitalPath* path) {
    QString what = qs(block.name);
    if (path)
        for (const BlockSpec& spec : path->part().device->blocks(path->options()))
            if (spec.address && block.address == spec.address) what = qs(spec.name);
    return block.address    ? qs(fmt::format("0x{:02X}  ", *block.address)) + what
           : what.isEmpty() ? QObject::tr("bytes")
                            : what;
}

}  // namespace

BytesView::BytesView(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("bytes.view"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

int BytesView::columns() const {
    return std::clamp(static_cast<int>((std::max(width(), px(500)) - px(kTitle)) / px(kCell)), 4, kMostColumns);
}

QSize BytesView::sizeHint() const {
    int rows = 0;
    for (const RawBlock& block : m_raw.blocks())
        rows += std::max(1, (static_cast<int>(block.bytes.size()) + columns() - 1) / columns());
    return {px(500), rows * px(kBytesRow) + px(4)};
}

void BytesView::show(const RawData& raw, const DigitalPath* path) {
    const bool resized = raw.blocks().size() != m_raw.blocks().size();
    m_raw = raw;
    m_titles.clear();
    QString spoken;
    for (const RawBlock& block : raw.blocks()) {
        m_titles.push_back(titleOf(block, path));
        spoken += m_titles.back() + QStringLiteral(": ");
        for (const std::uint8_t byte : block.bytes) spoken += qs(fmt::format("{:02X} ", byte));
    }
    setAccessibleName(tr("Bytes"));
    setAccessibleDescription(spoken);
    if (resized) updateGeometry();
    update();
}

void BytesView::light(const std::vector<ByteRef>& bytes) {
    m_lit = bytes;
    update();
}

bool BytesView::isLit(std::size_t block, std::size_t byte) const {
    return std::any_of(m_lit.begin(), m_lit.end(), [&](const ByteRef& one) {
        return one.block == block && byte >= one.first && byte < one.first + one.count;
    });
}

void BytesView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Palette& p = colours();
    double y = 0;
    for (std::size_t b = 0; b < m_raw.blocks().size(); ++b) {
        painter.setFont(Theme::instance().text(12));
        painter.setPen(p.ink2);
        painter.drawText(QPointF(0, y + px(16)),
                         painter.fontMetrics().elidedText(m_titles[b], Qt::ElideRight, px(kTitle - 8)));
        const auto& bytes = m_raw.blocks()[b].bytes;
        painter.setFont(Theme::instance().digits(15));
        for (std::size_t i = 0; i < std::max<std::size_t>(bytes.size(), 1); ++i) {
            const int column = static_cast<int>(i) % columns();
            if (i > 0 && column == 0) y += px(kBytesRow);
            if (i >= bytes.size()) break;
            const QRectF cell(px(kTitle) + column * px(kCell), y + 1, px(kCell) - 1, px(kBytesRow) - 2);
            const bool lit = isLit(b, i);
            if (lit) painter.fillRect(cell, p.brassWash);
            if (lit) paintRule(painter, cell.left(), cell.right(), cell.bottom(), p.brass);
            painter.setPen(lit || m_lit.empty() ? p.ink : p.ink2);
            painter.drawText(cell, Qt::AlignCenter, qs(fmt::format("{:02X}", bytes[i])));
        }
        y += px(kBytesRow);
    }
}

}  // namespace fg::gui
