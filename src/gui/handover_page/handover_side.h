#pragma once

#include "handover/code_set.h"

#include <QLabel>
#include <QScrollArea>
#include <QVBoxLayout>
#include <QWidget>

namespace fg::gui {

/// Beside the code: what is to be known about it, the comparisons of the alarm, and what stands in the folder.
class HandoverSide final : public QWidget {
    Q_OBJECT
  public:
    explicit HandoverSide(QWidget* parent = nullptr);
    /// Beside the sheet it scrolls by itself; below it is as high as what stands in it.
    void setBeside(bool isBeside);
    /// Null: nothing was written.
    void show(const Gauge* gauge, const GaugeCode* code);

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    QLabel* addCaption(const QString& text);
    QLabel* addText(const QString& text);
    QScrollArea m_scroll;
    QWidget m_list;
    QVBoxLayout m_items;
};

}  // namespace fg::gui
