#pragma once

#include "theme/theme.h"
#include "window/main_window.h"

#include <gtest/gtest.h>
#include <QApplication>
#include <QElapsedTimer>
#include <QProcess>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QtTest/QTest>

namespace fg::gui::test {

/// The demo's gauges as they are wired, without what later calibrations did to them: what is expected of them is worked
/// out by hand from the circuit alone.
inline Bench wiredDemo() {
    Bench bench = BenchActions::demoBench().value();
    for (const Journal::Entry& entry : bench.journal.entries())
        if (entry->calibration) bench.find(entry->gauge)->spec.correction = {};
    bench.journal = {};
    bench.find(1)->spec.reading.wanted = 0;
    return bench;
}

/// A workbench and its window over a bench in a folder of its own.
class Bed {
  public:
    Bed() : workbench(Catalogue::read(Catalogue::standardFolders())), window(workbench) {
        window.show();
        (void)QTest::qWaitForWindowExposed(&window);
        (void)QTest::qWaitFor([&] { return window.isFurnished(); });
    }
    ~Bed() { workbench.feed().setSource(nullptr); }

    void openDemo() { ASSERT_TRUE(workbench.bench().createFile(benchPath(), wiredDemo())); }
    [[nodiscard]] QString benchPath() const { return m_folder.filePath(QStringLiteral("a.fairgauge")); }
    void keepFolder() { m_folder.setAutoRemove(false); }

    /// The widget of that object name; a missing one fails the test.
    template <class Widget>
    Widget* find(const std::string& name) {
        auto* found = window.findChild<Widget*>(QString::fromStdString(name));
        if (!found) throw std::runtime_error("no widget " + name);
        return found;
    }

  private:
    QTemporaryDir m_folder;

  public:
    Workbench workbench;
    MainWindow window;
};

/// Replaces a field's text and presses Enter.
inline void typeInto(QLineEdit* edit, const QString& text) {
    edit->setFocus();
    edit->selectAll();
    QTest::keyClicks(edit, text);
    QTest::keyClick(edit, Qt::Key_Return);
}

template <class Condition>
bool waitUntil(Condition condition, int timeout_ms = 40000) {
    return QTest::qWaitFor(condition, timeout_ms);
}

/// fair-gauge-sim as a process with its pseudo-terminal.
class Simulator {
  public:
    explicit Simulator(const QStringList& arguments) {
        m_process.start(QStringLiteral(FAIRGAUGE_SIM), arguments);
        m_process.waitForStarted();
        if (m_process.waitForReadyRead(5000)) m_terminal = QString::fromLocal8Bit(m_process.readLine()).trimmed();
    }
    Simulator(std::initializer_list<const char*> arguments)
        : Simulator([&] {
              QStringList list;
              for (const char* argument : arguments) list << QString::fromLatin1(argument);
              return list;
          }()) {}
    ~Simulator() { stop(); }
    [[nodiscard]] QString terminal() const { return m_terminal; }
    void stop() {
        m_process.kill();
        m_process.waitForFinished();
    }

  private:
    QProcess m_process;
    QString m_terminal;
};

}  // namespace fg::gui::test
