// Runs from the start of the process to the first paint and ends without taking anything apart: an empty QMainWindow
// (argument "empty") or the real window on an existing bench (argument: its file; made with the demo gauges when
// missing; a second argument waits until rack, path, sheet and findings are painted). Prints the most memory used, in
// KiB; benchmarks/window.sh times both from outside, in turn, and forms the ratios. With FAIRGAUGE_STEPS set it also
// prints where the time goes.

#include "theme/theme.h"
#include "window/main_window.h"

#include <sys/resource.h>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <future>
#include <memory>
#include <QApplication>
#include <QElapsedTimer>
#include <QFileInfo>
#include <QTimer>

namespace {

/// Ends the program's event loop when the window has painted: for the first time, or for the first time with everything
/// in it. Without closing the window, which would store how it lay: that is after what is measured.
class PaintWatcher final : public QObject {
  public:
    explicit PaintWatcher(bool complete) : m_complete(complete) {}
    bool eventFilter(QObject* object, QEvent* event) override {
        auto* real = qobject_cast<fg::gui::MainWindow*>(object);
        const bool enough = !m_complete || !real || real->isFurnished();
        if (event->type() == QEvent::Paint && enough)
            QMetaObject::invokeMethod(
                qApp, [] { QCoreApplication::exit(); }, Qt::QueuedConnection);
        return QObject::eventFilter(object, event);
    }

  private:
    bool m_complete;
};

}  // namespace

int main(int argc, char** argv) {
    QElapsedTimer timer;
    timer.start();
    const bool steps = std::getenv("FAIRGAUGE_STEPS") != nullptr;
    const auto step = [&](const char* name) {
        if (steps) std::fprintf(stderr, "%6.1f ms  %s\n", static_cast<double>(timer.nsecsElapsed()) / 1e6, name);
    };
    if (argc < 2) return 2;
    const bool empty = std::strcmp(argv[1], "empty") == 0;
    std::future<fg::Catalogue> catalogue;
    if (!empty)
        catalogue = std::async(std::launch::async, [&step] {
            auto read = fg::Catalogue::read(fg::Catalogue::standardFolders());
            step("catalogue read, beside");
            return read;
        });
    QApplication application(argc, argv);
    step("application");
    PaintWatcher watcher(argc > 2);
    std::unique_ptr<QMainWindow> window;
    std::unique_ptr<fg::gui::Workbench> workbench;
    if (empty) {
        window = std::make_unique<QMainWindow>();
        window->resize(1280, 800);
    } else {
        fg::gui::Theme::instance().install();
        step("theme");
        workbench = std::make_unique<fg::gui::Workbench>(std::move(catalogue));
        workbench->bench().readAhead(QString::fromLocal8Bit(argv[1]));
        step("catalogue");
        auto real = std::make_unique<fg::gui::MainWindow>(*workbench);
        step("window");
        QObject::connect(real.get(), &fg::gui::MainWindow::framed,
                         [&step, window = real.get(), path = QString::fromLocal8Bit(argv[1])] {
                             step("frame painted");
                             if (!QFileInfo::exists(path)) {
                                 const auto demo = fg::gui::BenchActions::demoBench();
                                 if (!demo || !window->benchActions().openOrCreate(path, *demo)) std::_Exit(1);
                             } else if (!window->benchActions().openOrCreate(path)) {
                                 std::_Exit(1);
                             }
                             step("bench open");
                             QTimer::singleShot(0, window, [&step] { step("furnished"); });
                         });
        window = std::move(real);
    }
    window->installEventFilter(&watcher);
    window->show();
    step("shown");
    QApplication::exec();
    step("painted");
    rusage usage{};
    ::getrusage(RUSAGE_SELF, &usage);
    std::printf("%ld\n", usage.ru_maxrss);
    std::fflush(stdout);
    std::_Exit(0);
}
