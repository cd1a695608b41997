#pragma once

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

  signals:
    void bytes(const QByteArray& bytes);
    /// What is wrong with it now; empty when it works.
    void stateChanged(const QString& problem);
    /// It goes under another name now, and why.
    void renamed(const QString& name, const QString& why);
};

}  // namespace fg::gui
