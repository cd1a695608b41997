#include "window/bench_actions.h"

#include "bench/gauge_json.h"
#include "calibration/history.h"
#include "files/output_file.h"
#include "handover_page/sender_dialog.h"
#include "recording/recording_csv.h"
#include "reports/bench_papers.h"
#include "units/input_file.h"
#include "units/text_file.h"
#include "widgets/paper_file.h"
#include "widgets/text.h"

#include <array>
#include <QDir>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QStandardPaths>

namespace fg::gui {
namespace {

const auto kBenchFilter = QStringLiteral("Fair Gauge bench (*.fairgauge)");
const auto kGaugeFilter = QStringLiteral("Gauge file (*.json)");

QString withSuffix(const QString& path) {
    return path.isEmpty() || !QFileInfo(path).suffix().isEmpty() ? path : path + QStringLiteral(".fairgauge");
}

}  // namespace

BenchActions::BenchActions(Workbench& workbench, QWidget* window)
    : QObject(window), m_workbench(workbench), m_window(window) {}

QString BenchActions::defaultFolder() {
    const QString folder =
        QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + QStringLiteral("/fair-gauge");
    QDir().mkpath(folder);
    return folder;
}

std::string BenchActions::demoFolder() { return (Catalogue::standardFolders().front() / "demo").string(); }

Expected<Bench> BenchActions::demoBench() {
    Bench bench;
    for (const char* name :
         {"glue-pot", "workshop-air", "drying-cupboard", "bending-iron", "vacuum-clamp", "window-light", "barometer",
          "wood-store", "store-warmth", "soaking-tray", "varnish-cabinet", "wood-moisture"}) {
        auto spec = readGaugeFile(demoFolder() + "/" + name + ".json");
        if (!spec) return tl::unexpected(spec.error());
        bench.add(std::move(*spec));
    }
    const std::string file = demoFolder() + "/bench.json";
    const auto text = readTextFile(file, "a board");
    if (!text) return tl::unexpected(text.error());
    auto board = readBoard(*text, file);
    if (!board) return tl::unexpected(board.error());
    bench.board = std::move(*board);
    const std::string journalFile = demoFolder() + "/journal.json";
    const auto entries = readTextFile(journalFile, "a journal");
    if (!entries) return tl::unexpected(entries.error());
    auto journal = readJournal(*entries, journalFile);
    if (!journal) return tl::unexpected(journal.error());
    bench.journal = std::move(*journal);
    useLastCalibrations(bench);
    return bench;
}

Expected<void> BenchActions::openOrCreate(const QString& path, const Bench& content) {
    return QFileInfo::exists(path) ? m_workbench.bench().openFile(path) : m_workbench.bench().createFile(path, content);
}

Expected<void> BenchActions::openDemo(const QString& path) {
    if (QFileInfo::exists(path)) return m_workbench.bench().openFile(path);
    const auto demo = demoBench();
    if (!demo) return tl::unexpected(demo.error());
    if (const auto created = m_workbench.bench().createFile(path, *demo); !created) return created;
    const std::string day = demoFolder() + "/day.csv";
    auto input = InputFile::open(day, "a recording");
    if (!input) return tl::unexpected(input.error());
    CsvImport what;
    what.source = day;
    const auto imported = importRecording([&](char* bytes, std::size_t count) { return input->read(bytes, count); },
                                          what, m_workbench.bench().bench(), m_workbench.bench().file()->recordings());
    if (!imported) return tl::unexpected(imported.error());
    return {};
}

void BenchActions::report(const Expected<void>& result) {
    if (!result) emit failed(qs(result.error().message()));
}

void BenchActions::newBench() {
    const QString path =
        withSuffix(QFileDialog::getSaveFileName(m_window, tr("New bench"), defaultFolder(), kBenchFilter, nullptr,
                                                QFileDialog::DontConfirmOverwrite));
    if (!path.isEmpty()) report(m_workbench.bench().createFile(path));
}

void BenchActions::openBench() {
    const QString path = QFileDialog::getOpenFileName(m_window, tr("Open a bench"), defaultFolder(), kBenchFilter);
    if (!path.isEmpty()) report(m_workbench.bench().openFile(path));
}

void BenchActions::saveCopy() {
    const QString path =
        withSuffix(QFileDialog::getSaveFileName(m_window, tr("Save a copy"), m_workbench.bench().filePath(),
                                                kBenchFilter, nullptr, QFileDialog::DontConfirmOverwrite));
    if (path.isEmpty()) return;
    BenchModel& bench = m_workbench.bench();
    report(bench.hasFile() ? bench.saveCopy(path) : bench.keepAs(path));
}

void BenchActions::importGauge() {
    const QString path = QFileDialog::getOpenFileName(m_window, tr("Import a gauge"), {}, kGaugeFilter);
    if (path.isEmpty()) return;
    const auto spec = readGaugeFile(path.toStdString());
    if (spec)
        m_workbench.addGauge(*spec);
    else
        report(tl::unexpected(spec.error()));
}

void BenchActions::exportGauge() {
    const GaugeView* view = m_workbench.current();
    if (!view) return;
    const QString path = QFileDialog::getSaveFileName(m_window, tr("Export this gauge"),
                                                      qs(view->spec().name) + QStringLiteral(".json"), kGaugeFilter);
    if (path.isEmpty()) return;
    const auto file = OutputFile::open(path.toStdString());
    if (!file) return report(tl::unexpected(file.error()));
    (*file)->write(writeGauge(view->spec()));
    report((*file)->commit());
}

std::string BenchActions::benchName() const {
    const BenchModel& bench = m_workbench.bench();
    return bench.hasFile() ? QFileInfo(bench.filePath()).completeBaseName().toStdString() : tr("Bench").toStdString();
}

void BenchActions::askForPapers() {
    const QString folder = QFileDialog::getExistingDirectory(m_window, tr("Folder for the papers"), defaultFolder());
    if (!folder.isEmpty()) report(writePapersInto(folder));
}

Expected<void> BenchActions::writePapersInto(const QString& folder) {
    const Bench& bench = m_workbench.bench().bench();
    const Catalogue& catalogue = m_workbench.catalogue();
    if (const auto written = writePapers(bench, catalogue, benchName(), folder.toStdString()); !written)
        return tl::unexpected(written.error());
    for (const NamedPaper& one : papersOf(bench, catalogue, benchName()))
        if (const auto done = writePaper(one.paper, QDir(folder).filePath(qs(one.name + ".pdf"))); !done) return done;
    return {};
}

void BenchActions::showSender() {
    auto* dialog = new SenderDialog(m_workbench, benchName(), m_window);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->open();
}

void BenchActions::printBench() {
    previewPaper(benchSheet(m_workbench.bench().bench(), m_workbench.catalogue(), benchName()), m_window);
}

void BenchActions::printGauge() {
    if (const GaugeView* view = m_workbench.current())
        previewPaper(gaugeSheet(view->effective(), m_workbench.catalogue()), m_window);
}

}  // namespace fg::gui
