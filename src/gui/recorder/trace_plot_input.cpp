// Mouse, wheel and keys of the plot.

#include "recorder/trace_plot.h"
#include "theme/theme.h"

#include <algorithm>
#include <cmath>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QWheelEvent>

namespace fg::gui {

void TracePlot::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    emit resized();
}

void TracePlot::zoom(double factor, Micros about_us) {
    const auto scaled = [&](Micros edge_us) {
        return about_us + static_cast<Micros>(static_cast<double>(edge_us - about_us) * factor);
    };
    emit spanWanted({scaled(m_span.from_us), scaled(m_span.to_us)});
}

void TracePlot::wheelEvent(QWheelEvent* event) {
    const double turns = event->angleDelta().y() / 120.0;
    if (turns == 0) return event->ignore();
    constexpr double kStep = 0.8;
    zoom(turns > 0 ? kStep : 1 / kStep, timeAt(event->position().x()));
    event->accept();
}

void TracePlot::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    setFocus();
    m_pressed = event->position();
    m_spanPressed = m_span;
    m_isDragging = false;
    m_isSelecting = event->modifiers().testFlag(Qt::ShiftModifier);
}

void TracePlot::mouseMoveEvent(QMouseEvent* event) {
    if (!m_pressed) return;
    const double moved = event->position().x() - m_pressed->x();
    constexpr double kStart = 4;
    if (!m_isDragging && std::abs(moved) < kStart) return;
    m_isDragging = true;
    if (m_isSelecting) {
        const Micros a = timeAt(m_pressed->x()), b = timeAt(event->position().x());
        return emit selectionWanted(TimeSpan{std::min(a, b), std::max(a, b)});
    }
    const double length_us = static_cast<double>(m_spanPressed.to_us - m_spanPressed.from_us);
    const auto back_us = static_cast<Micros>(moved / area().width() * length_us);
    emit spanWanted({m_spanPressed.from_us - back_us, m_spanPressed.to_us - back_us});
}

void TracePlot::mouseReleaseEvent(QMouseEvent* event) {
    if (m_pressed && !m_isDragging) {
        if (m_isSelecting)
            emit selectionWanted(std::nullopt);
        else if (event->modifiers().testFlag(Qt::ControlModifier))
            emit otherWanted(timeAt(event->position().x()));
        else
            emit cursorWanted(timeAt(event->position().x()));
    }
    m_pressed.reset();
}

void TracePlot::keyPressEvent(QKeyEvent* event) {
    const Micros length_us = m_span.to_us - m_span.from_us;
    const Micros middle_us = m_span.from_us + length_us / 2, at_us = m_cursor.value_or(middle_us);
    constexpr double kStep = 0.7;
    const Micros step_us = std::max<Micros>(1, length_us / 200);
    const Micros page_us = length_us / 2;
    switch (event->key()) {
        case Qt::Key_Left:
            return emit cursorWanted(at_us - step_us);
        case Qt::Key_Right:
            return emit cursorWanted(at_us + step_us);
        case Qt::Key_PageUp:
            return emit spanWanted({m_span.from_us - page_us, m_span.to_us - page_us});
        case Qt::Key_PageDown:
            return emit spanWanted({m_span.from_us + page_us, m_span.to_us + page_us});
        case Qt::Key_Plus:
            return zoom(kStep, at_us);
        case Qt::Key_Minus:
            return zoom(1 / kStep, at_us);
        case Qt::Key_D:
            return emit otherWanted(m_other ? std::nullopt : std::optional(at_us));
        case Qt::Key_Home:
            return emit spanWanted(m_whole);
        default:
            QWidget::keyPressEvent(event);
    }
}

}  // namespace fg::gui
