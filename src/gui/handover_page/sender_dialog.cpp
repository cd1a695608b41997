#include "handover_page/sender_dialog.h"

#include "handover/code_set.h"
#include "theme/theme.h"
#include "widgets/text.h"

#include <QClipboard>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QStandardPaths>
#include <QVBoxLayout>

namespace fg::gui {

SenderDialog::SenderDialog(Workbench& workbench, std::string benchName, QWidget* parent)
    : QDialog(parent), m_workbench(workbench), m_benchName(std::move(benchName)) {
    setObjectName(QStringLiteral("sender"));
    setWindowTitle(tr("A program that sends the raw values"));
    resize(px(860), px(640));
    m_language.setObjectName(QStringLiteral("sender.language"));
    m_language.addItem(tr("C99"), static_cast<int>(CodeLanguage::C));
    m_language.addItem(tr("MicroPython"), static_cast<int>(CodeLanguage::MicroPython));
    m_about.setText(
        tr("For the board. It sets the parts up, measures once a second and sends a line that is read here (Source, "
           "Serial port). Fill in its first functions: they are what differs from board to board."));
    m_notes.setObjectName(QStringLiteral("sender.notes"));
    for (QLabel* label : {&m_about, &m_notes}) label->setWordWrap(true);
    m_text.setObjectName(QStringLiteral("sender.text"));
    m_text.setReadOnly(true);
    m_text.setLineWrapMode(QPlainTextEdit::NoWrap);
    m_bind.setObjectName(QStringLiteral("sender.bind"));
    m_bind.setText(tr("&Bind the gauges to these channels"));
    m_copy.setText(tr("&Copy"));
    m_save.setText(tr("&Save into a folder…"));
    auto* head = new QHBoxLayout;
    head->addWidget(&m_about, 1);
    head->addWidget(&m_language);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close);
    buttons->addButton(&m_bind, QDialogButtonBox::ActionRole);
    buttons->addButton(&m_copy, QDialogButtonBox::ActionRole);
    buttons->addButton(&m_save, QDialogButtonBox::ActionRole);
    auto* column = new QVBoxLayout(this);
    column->addLayout(head);
    column->addWidget(&m_text, 1);
    column->addWidget(&m_notes);
    column->addWidget(buttons);
    connect(&m_language, &QComboBox::activated, this, &SenderDialog::write);
    connect(&m_bind, &QPushButton::clicked, this, &SenderDialog::bind);
    connect(&m_copy, &QPushButton::clicked, this,
            [this] { QGuiApplication::clipboard()->setText(m_text.toPlainText()); });
    connect(&m_save, &QPushButton::clicked, this, &SenderDialog::save);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    write();
}

void SenderDialog::write() {
    dress(m_about, Theme::instance().text(13), colours().ink2);
    dress(m_notes, Theme::instance().text(13), colours().ink);
    m_text.setFont(Theme::instance().digits(12));
    m_sender = benchSender(m_workbench.bench().bench(), m_workbench.catalogue(), m_benchName,
                           static_cast<CodeLanguage>(m_language.currentData().toInt()));
    QStringList notes;
    if (!m_sender) {
        notes << tr("There is nothing to send: %1.").arg(qs(m_sender.error().message()));
    } else {
        for (const std::string& note : m_sender->notes) notes << QStringLiteral("• ") + qs(note);
        m_text.setPlainText(qs(m_sender->file.text));
    }
    if (!m_sender) m_text.clear();
    m_notes.setText(notes.join(QLatin1Char('\n')));
    m_notes.setVisible(!notes.isEmpty());
    for (QPushButton* button : {&m_copy, &m_save}) button->setEnabled(m_sender.has_value());
    m_bind.setVisible(m_sender && !m_sender->unbound.empty());
}

void SenderDialog::bind() {
    if (!m_sender) return;
    m_workbench.bench().change(tr("Bind gauges to the sender's channels"),
                               [this](Bench& bench) { bindSent(bench, *m_sender); });
    write();
}

void SenderDialog::saveInto(const QString& folder) {
    if (!m_sender) return;
    const auto written = writeCodeFiles({m_sender->file}, folder.toStdString());
    m_notes.show();
    m_notes.setText(written ? tr("Written: %1/%2").arg(folder, qs(m_sender->file.name))
                            : qs(written.error().message()));
}

void SenderDialog::save() {
    const QString folder =
        QFileDialog::getExistingDirectory(this, tr("Folder for the program"),
                                          QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation));
    if (!folder.isEmpty()) saveInto(folder);
}

}  // namespace fg::gui
