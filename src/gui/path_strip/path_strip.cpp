#include "path_strip/path_strip.h"

#include "theme/theme.h"

#include <QHBoxLayout>
#include <QPainter>

namespace fg::gui {

PathStrip::PathStrip(Workbench& workbench, QWidget* parent) : QWidget(parent) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    for (const Stage stage : kStages) {
        auto* tile = new StageTile(workbench, stage, this);
        m_tiles[static_cast<std::size_t>(stage)] = tile;
        row->addWidget(tile, stage == Stage::Reading ? 196 : 138);
    }
    const auto resize = [this] {
        setFixedHeight(px(84));
        // At large text no more than what seven of them have in a window of 1280.
        for (StageTile* tile : m_tiles) tile->setMinimumWidth(std::min(px(96), 138));
    };
    resize();
    const auto showThose = [this, &workbench] {
        const GaugeView* view = workbench.current();
        for (const Stage stage : kStages) tile(stage)->setVisible(!view || view->has(stage));
        update();
    };
    connect(&workbench, &Workbench::currentChanged, this, showThose);
    connect(&workbench, &Workbench::gaugesChanged, this, showThose);
    connect(&Theme::instance(), &Theme::changed, this, resize);
}

void PathStrip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(colours().ink2, 1.4));
    for (std::size_t i = 0; i + 1 < m_tiles.size(); ++i) {
        if (m_tiles[i]->isHidden()) continue;
        const double x = m_tiles[i]->geometry().right() + 2.5, y = height() / 2.0;
        painter.drawPolyline(QPolygonF({{x, y - 5}, {x + 5, y}, {x, y + 5}}));
    }
}

}  // namespace fg::gui
