#include "window/help.h"

#include "theme/theme.h"

#include <QDialog>
#include <QDialogButtonBox>
#include <QLabel>
#include <QVBoxLayout>

namespace fg::gui {
namespace {

void showText(QWidget* parent, const QString& title, const QString& html) {
    auto* dialog = new QDialog(parent);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(title);
    auto* text = new QLabel(html);
    text->setTextFormat(Qt::RichText);
    text->setWordWrap(true);
    text->setMinimumWidth(px(420));
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close);
    auto* column = new QVBoxLayout(dialog);
    column->addWidget(text);
    column->addWidget(buttons);
    QObject::connect(buttons, &QDialogButtonBox::rejected, dialog, &QDialog::close);
    dialog->open();
}

}  // namespace

void showKeys(QWidget* parent) {
    QString rows;
    const auto row = [&](const char* keys, const QString& what) {
        rows += QStringLiteral("<tr><td><b>%1</b>&nbsp;&nbsp;&nbsp;</td><td>%2</td></tr>")
                    .arg(QString::fromUtf8(keys), what);
    };
    row("Ctrl+1 … Ctrl+7", QObject::tr("choose a stage, World to Reading"));
    row("Enter, F2 or a digit", QObject::tr("on a tile: type a value there"));
    row("T", QObject::tr("try a value, from the World tile"));
    row("H", QObject::tr("the gauge as code"));
    row("Esc", QObject::tr("take an entry back; back to live"));
    row("Alt+1 … Alt+9", QObject::tr("choose a gauge"));
    row("Ctrl+N", QObject::tr("new gauge"));
    row("Ctrl+Shift+P", QObject::tr("choose a part by what is needed; Space takes one into the comparison"));
    row("Ctrl+R, R, M", QObject::tr("the recorder; record or stop; set a marker"));
    row("Arrows, + −, Home", QObject::tr("in the recorder's plot: cursor, zoom, all of it; Shift and drag selects"));
    row("Ctrl+L", QObject::tr("the source's lines as they come, and who listens to which channel"));
    row("Ctrl+J", QObject::tr("the journal: what was done and when"));
    row("Ctrl+B", QObject::tr("the bench: arrows and Enter move a gauge"));
    row("Ctrl+Z, Ctrl+Shift+Z", QObject::tr("undo, redo"));
    row("Ctrl+O, Ctrl+Shift+S", QObject::tr("open a bench, save a copy"));
    row("Ctrl+E", QObject::tr("export this gauge"));
    row("Ctrl+Shift+B", QObject::tr("Night bench, Paper"));
    row("F1, F10, Ctrl+Q", QObject::tr("these keys, the menus, quit"));
    showText(
        parent, QObject::tr("Keys"),
        QStringLiteral("<table>%1</table><p>%2</p>")
            .arg(
                rows,
                QObject::tr(
                    "Values are written as on parts and in data sheets: 4k7, 3V3, 100n, 0x3FF, 0b1010, 61 °C, 142F.")));
}

void showAbout(QWidget* parent) {
    showText(parent, QObject::tr("About Fair Gauge"),
             QObject::tr("<p><b>Fair Gauge %1</b></p><p>Turns raw counts into calibrated physical units, and back, "
                         "with every step shown.</p>"
                         "<p>Free software under the GNU General Public License, version 3 or later. The fonts B612 "
                         "and B612 Mono are under the "
                         "SIL Open Font License 1.1.</p>"
                         "<p><b>Fair Gauge informs; it does not protect.</b> Where heat, mains, pressure, vacuum, "
                         "batteries, wet places or "
                         "people's health are involved, an independent cut-out, a relief valve or "
                         "licensed work is needed, and local codes come first.</p>")
                 .arg(QStringLiteral(FAIRGAUGE_VERSION)));
}

}  // namespace fg::gui
