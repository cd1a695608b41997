#include "widgets/paper_file.h"

#include "files/output_file.h"
#include "widgets/text.h"

#include <QBuffer>
#include <QPdfWriter>
#include <QPrinter>
#include <QPrintPreviewDialog>
#include <QTextDocument>

namespace fg::gui {
namespace {

std::string pdfOf(const Paper& paper) {
    QTextDocument document;
    document.setHtml(qs(htmlOf(paper)));
    QBuffer buffer;
    buffer.open(QIODevice::WriteOnly);
    QPdfWriter writer(&buffer);
    writer.setTitle(qs(paper.title));
    document.print(&writer);
    return buffer.data().toStdString();
}

}  // namespace

Expected<void> writePaper(const Paper& paper, const QString& path) {
    const auto ends = [&](const char* ending) { return path.endsWith(QLatin1String(ending), Qt::CaseInsensitive); };
    const auto out = OutputFile::open(path.toStdString());
    if (!out) return tl::unexpected(out.error());
    (*out)->write(ends(".pdf") ? pdfOf(paper) : ends(".html") || ends(".htm") ? htmlOf(paper) : markdownOf(paper));
    return (*out)->commit();
}

void previewPaper(const Paper& paper, QWidget* parent) {
    QTextDocument document;
    document.setHtml(qs(htmlOf(paper)));
    QPrinter printer;
    printer.setDocName(qs(paper.title));
    QPrintPreviewDialog preview(&printer, parent);
    preview.setObjectName(QStringLiteral("printPreview"));
    QObject::connect(&preview, &QPrintPreviewDialog::paintRequested, &preview,
                     [&](QPrinter* to) { document.print(to); });
    preview.exec();
}

}  // namespace fg::gui
