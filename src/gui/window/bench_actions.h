#pragma once

#include "model/workbench.h"

#include <QObject>
#include <QWidget>

namespace fg::gui {

/// What the menus do with files: new, open, save a copy, import and export of gauges. Errors go to failed().
class BenchActions final : public QObject {
    Q_OBJECT
  public:
    BenchActions(Workbench& workbench, QWidget* window);

    void newBench();
    void openBench();
    void saveCopy();
    void importGauge();
    void exportGauge();
    /// Every paper of the bench into a folder: PDF, HTML and Markdown.
    void askForPapers();
    [[nodiscard]] Expected<void> writePapersInto(const QString& folder);
    /// Print previews of the bench sheet and of the chosen gauge's sheet.
    /// The program for the board that sends the bench's raw values.
    void showSender();
    void printBench();
    void printGauge();

    /// The folder for benches the user did not place: $XDG_DATA_HOME/fair-gauge, made when missing.
    [[nodiscard]] static QString defaultFolder();

    /// Opens the bench there, or makes it with `content` when there is none. Used at start.
    [[nodiscard]] Expected<void> openOrCreate(const QString& path, const Bench& content = {});

    /// The gauges of the demo workshop.
    [[nodiscard]] static Expected<Bench> demoBench();
    /// The demo at that path, with its recorded day; an earlier one there is opened as it is.
    [[nodiscard]] Expected<void> openDemo(const QString& path);
    /// Folder with the demo's gauge files.
    [[nodiscard]] static std::string demoFolder();

  signals:
    void failed(const QString& message);

  private:
    [[nodiscard]] std::string benchName() const;
    void report(const Expected<void>& result);
    Workbench& m_workbench;
    QWidget* m_window;
};

}  // namespace fg::gui
