// What a live board costs: the real window on the workshop's bench with a source that sends lines measured beforehand,
// so that the board itself costs nothing. Prints the share of one core that the process used over some seconds, beside
// what is wanted; with "record" while all gauges are recorded.
// usage: live_bench LINES_A_SECOND [SECONDS] [record]

#include "live_sources/byte_source.h"
#include "ratio.h"
#include "simulation/virtual_board.h"
#include "theme/theme.h"
#include "window/main_window.h"

#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <QApplication>
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTimer>

namespace {

class PreparedSource final : public fg::gui::ByteSource {
  public:
    PreparedSource(std::vector<QByteArray> lines, double linesASecond) : m_lines(std::move(lines)), m_timer(this) {
        // No faster than a timer runs well; several lines at once beyond that.
        constexpr double kMostTicks = 50;
        m_perTick = linesASecond > kMostTicks ? static_cast<int>(linesASecond / kMostTicks) : 1;
        m_timer.setTimerType(Qt::PreciseTimer);
        m_timer.setInterval(static_cast<int>(1000 * m_perTick / linesASecond));
        connect(&m_timer, &QTimer::timeout, this, [this] {
            for (int i = 0; i < m_perTick; ++i) emit bytes(m_lines[m_next++ % m_lines.size()]);
        });
    }
    void start() override { m_timer.start(); }
    [[nodiscard]] QString name() const override { return QStringLiteral("Prepared lines"); }

  private:
    std::vector<QByteArray> m_lines;
    std::size_t m_next = 0;
    int m_perTick = 1;
    QTimer m_timer;
};

}  // namespace

int main(int argc, char** argv) {
    const double linesASecond = argc > 1 ? std::atof(argv[1]) : 4, seconds = argc > 2 ? std::atof(argv[2]) : 6;
    const bool isRecorded = argc > 3 && std::strcmp(argv[3], "record") == 0;
    QApplication application(argc, argv);
    fg::gui::Theme::instance().install();
    fg::gui::Workbench workbench(fg::Catalogue::read(fg::Catalogue::standardFolders()));
    fg::gui::MainWindow window(workbench);
    const QTemporaryDir folder;
    const auto demo = fg::gui::BenchActions::demoBench();
    if (!demo) return 1;
    window.resize(1280, 800);
    window.show();
    QObject::connect(&window, &fg::gui::MainWindow::framed, [&] {
        if (!window.benchActions().openOrCreate(folder.filePath(QStringLiteral("bench.fairgauge")), *demo))
            std::_Exit(1);
        auto parts =
            fg::readVirtualBoard(fg::Catalogue::standardFolders().front().string() + "/demo", workbench.catalogue());
        if (!parts) std::_Exit(1);
        fg::VirtualBoard board(std::move(*parts), workbench.catalogue());
        std::vector<QByteArray> lines;
        for (int i = 0; i < 500; ++i) lines.push_back(QByteArray::fromStdString(board.measure(10)));
        workbench.feed().setSource(std::make_unique<PreparedSource>(std::move(lines), linesASecond));
        if (isRecorded && !window.recorder().start(QStringLiteral("Bench"))) std::_Exit(1);
    });
    QElapsedTimer clock;
    double before_s = 0;
    QTimer::singleShot(3000, [&] {
        clock.start();
        before_s = fg::bench::processor_s();
    });
    QTimer::singleShot(3000 + static_cast<int>(1000 * seconds), [&] {
        const double share = (fg::bench::processor_s() - before_s) / (1e-3 * static_cast<double>(clock.elapsed()));
        if (workbench.feed().engine().status().frames < static_cast<std::uint64_t>(0.8 * linesASecond * seconds))
            std::_Exit(1);
        std::printf("share  window, %3.0f lines a second, %zu gauges%s   %5.1f %% of a core   (wanted: under %d %%)\n",
                    linesASecond, workbench.views().size(), isRecorded ? ", recorded" : "", 100 * share,
                    isRecorded          ? 10
                    : linesASecond > 10 ? 8
                                        : 2);
        std::fflush(stdout);
        std::_Exit(0);
    });
    return QApplication::exec();
}
