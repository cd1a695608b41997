#pragma once

#include <optional>
#include <QByteArray>
#include <QObject>
#include <QString>

namespace fg::gui {

/// A transport that delivers bytes of the line protocol. Made in the window's thread, started and deleted in one of its
/// own: what it holds of Qt's objects must be its children.
class ByteSource : public QObject {
    Q_OBJECT
  public:
    using QObject::QObject;
    virtual void start() = 0;
    /// For the status bar: "Simulated bench", "/dev/ttyUSB0, 115200". Asked before it is started.
    [[nodiscard]] virtual QString name() const = 0;
    /// How fast its clock runs: above 1 for what is played faster than it was. Asked before it is started, as the next.
    [[nodiscard]] virtual double speed() const { return 1; }
    /// What its clock's zero was, where it plays what was: microseconds since 1970-01-01T00:00:00Z.
    [[nodiscard]] virtual std::optional<qint64> origin_us() const { return std::nullopt; }

  signals:
    void bytes(const QByteArray& bytes);
    /// The same with the time at which it came, by the source's own clock (see speed()).
    void timedBytes(const QByteArray& bytes, double at_s);
    /// What is wrong with it now; empty when it works.
    void stateChanged(const QString& problem);
    /// It goes under another name now, and why.
    void renamed(const QString& name, const QString& why);
};

}  // namespace fg::gui
