#pragma once

#include "digital/bytes_view.h"
#include "digital/register_panel.h"
#include "sheets/sheet.h"

#include <QPlainTextEdit>
#include <QPushButton>

namespace fg::gui {

/// The Converter stage of a digital part: its bytes as read, a place to paste others, what the device says of them, and
/// its registers by meaning.
class BytesSheet final : public Sheet {
    Q_OBJECT
  public:
    explicit BytesSheet(Workbench& workbench, QWidget* parent = nullptr);

  protected:
    void showSpec(const GaugeView& view) override;
    void showValues(const GaugeView& view) override;

  private:
    void tryPasted();
    void keepCalibration();

    BytesView m_bytes;
    QLabel* m_status = nullptr;
    QPlainTextEdit m_paste;
    QPushButton m_try;
    QPushButton m_keep;
    QLabel* m_answer = nullptr;
    QLabel* m_registersTitle = nullptr;
    RegisterPanel m_registers;
};

}  // namespace fg::gui
