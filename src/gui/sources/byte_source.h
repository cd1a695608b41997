#pragma once

#include <QByteArray>
#include <QObject>
#include <QString>

namespace fg::gui {

/// A transport that delivers bytes of the line protocol.
class ByteSource : public QObject {
    Q_OBJECT
  public:
    using QObject::QObject;
    virtual void start() = 0;
    /// For the status bar: "Simulated bench", "/dev/ttyUSB0, 115200".
    [[nodiscard]] virtual QString name() const = 0;
    /// What is wrong with it; empty when it works.
    [[nodiscard]] virtual QString problem() const { return {}; }

  signals:
    void bytes(const QByteArray& bytes);
    void stateChanged();
};

}  // namespace fg::gui
