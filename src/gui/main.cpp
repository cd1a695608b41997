#include "theme/theme.h"
#include "widgets/text.h"
#include "window/main_window.h"

#include <cstdio>
#include <future>
#include <QApplication>
#include <QCommandLineParser>
#include <QFileInfo>
#include <QSettings>
#include <string_view>

namespace {

using namespace fg;
using namespace fg::gui;

/// The bench to begin with: the demo, the one named, the last one, or a first one of the user's own.
QString firstBench(const QCommandLineParser& arguments) {
    if (arguments.isSet(QStringLiteral("demo")))
        return BenchActions::defaultFolder() + QStringLiteral("/Violin workshop.fairgauge");
    if (!arguments.positionalArguments().isEmpty()) return arguments.positionalArguments().constFirst();
    const QString last = QSettings().value(QStringLiteral("lastBench")).toString();
    if (!last.isEmpty() && QFileInfo::exists(last)) return last;
    return BenchActions::defaultFolder() + QStringLiteral("/My bench.fairgauge");
}

void describe(QCommandLineParser& arguments) {
    arguments.setApplicationDescription(
        QStringLiteral("Turns raw counts and bus readings into calibrated physical units."));
    arguments.addHelpOption();
    arguments.addVersionOption();
    arguments.addPositionalArgument(QStringLiteral("bench"), QStringLiteral("bench file to open"),
                                    QStringLiteral("[bench.fairgauge]"));
    arguments.addOption(
        {QStringLiteral("demo"), QStringLiteral("open the workshop demo with live values from the simulated bench")});
    arguments.addOption(
        {QStringLiteral("port"), QStringLiteral("listen to a board on this serial port"), QStringLiteral("device")});
    arguments.addOption({QStringLiteral("baud"), QStringLiteral("speed of the serial port"), QStringLiteral("baud"),
                         QStringLiteral("115200")});
}

/// Help and version need no display: they are answered before anything asks for one.
void answerWithoutDisplay(int argc, char** argv) {
    for (int i = 1; i < argc; ++i) {
        const std::string_view one = argv[i];
        if (one != "-h" && one != "--help" && one != "--help-all" && one != "-v" && one != "--version") continue;
        QCoreApplication application(argc, argv);
        QCoreApplication::setApplicationName(QStringLiteral("fair-gauge"));
        QCoreApplication::setApplicationVersion(QStringLiteral(FAIRGAUGE_VERSION));
        QCommandLineParser arguments;
        describe(arguments);
        arguments.process(application);  // ends the program
    }
}

}  // namespace

int main(int argc, char** argv) {
    answerWithoutDisplay(argc, argv);
    // Read beside the toolkit's own start, which takes about as long.
    auto catalogue = std::async(std::launch::async | std::launch::deferred,
                                [] { return Catalogue::read(Catalogue::standardFolders()); });
    QApplication application(argc, argv);
    QApplication::setApplicationName(QStringLiteral("fair-gauge"));
    QApplication::setOrganizationName(QStringLiteral("fair-gauge"));
    QApplication::setApplicationDisplayName(QStringLiteral("Fair Gauge"));
    QApplication::setApplicationVersion(QStringLiteral(FAIRGAUGE_VERSION));
    QApplication::setDesktopFileName(QStringLiteral("fair-gauge"));

    QCommandLineParser arguments;
    describe(arguments);
    arguments.process(application);

    Theme::instance().install();
    Theme::instance().setNight(QSettings().value(QStringLiteral("night"), false).toBool());
    Theme::instance().setTextScale(QSettings().value(QStringLiteral("textScale"), 1.0).toDouble());

    Workbench workbench(std::move(catalogue));
    const QString path = firstBench(arguments);
    workbench.bench().readAhead(path);
    MainWindow window(workbench);
    window.restoreGeometry(QSettings().value(QStringLiteral("geometry")).toByteArray());

    // Behind the first paint, so that a slow disk shows as an empty frame and not as a program that does not start.
    QObject::connect(&window, &MainWindow::framed, &window, [&] {
        const auto opened = arguments.isSet(QStringLiteral("demo")) ? window.benchActions().openDemo(path)
                                                                    : window.benchActions().openOrCreate(path);
        if (opened)
            QSettings().setValue(QStringLiteral("lastBench"), workbench.bench().filePath());
        else
            window.showMessage(qs(opened.error().message()));
        for (const Error& problem : workbench.catalogue().problems()) window.showMessage(qs(problem.message()));
        if (arguments.isSet(QStringLiteral("port")))
            window.useSerial(arguments.value(QStringLiteral("port")), arguments.value(QStringLiteral("baud")).toInt());
        else if (arguments.isSet(QStringLiteral("demo")))
            window.useSimulation();
    });
    window.show();
    return QApplication::exec();
}
