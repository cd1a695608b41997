#include "window/serial_dialog.h"

#include "widgets/form.h"

#include <QDialogButtonBox>
#include <QIntValidator>
#include <QPushButton>
#include <QSerialPortInfo>
#include <QVBoxLayout>

namespace fg::gui {

SerialDialog::SerialDialog(QWidget* parent) : QDialog(parent) {
    setWindowTitle(tr("Serial port"));
    m_port.setEditable(true);
    for (const QSerialPortInfo& info : QSerialPortInfo::availablePorts()) m_port.addItem(info.systemLocation());
    m_baud.setEditable(true);
    m_baud.setValidator(new QIntValidator(50, 4000000, this));
    for (const int baud : {9600, 19200, 38400, 57600, 115200, 230400, 460800, 921600})
        m_baud.addItem(QString::number(baud));
    m_baud.setCurrentText(QStringLiteral("115200"));
    auto* form = new Form;
    form->addRow(tr("&Port"), &m_port, nullptr,
                 m_port.count() == 0 ? tr("none found; a path can be typed") : QString());
    form->addRow(tr("&Speed, baud"), &m_baud);
    form->addNote(
        tr("One reading a line: pot=2155 air=153, or columns with a header line, or a JSON object. A wrong speed shows "
           "as junk lines in "
           "the status bar."));
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
    auto* open = buttons->addButton(tr("&Listen"), QDialogButtonBox::AcceptRole);
    open->setDefault(true);
    auto* column = new QVBoxLayout(this);
    column->addWidget(form);
    column->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
}

}  // namespace fg::gui
