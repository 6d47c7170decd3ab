#pragma once
// The simulated machine's socket: JSON lines, for its own user only (docs/machine-protocol.md).

#include "standins/machine.h"

#include <QElapsedTimer>
#include <QLocalServer>
#include <QTimer>

class QLocalSocket;

namespace rapt::machine {

/// Answers everyone who is connected and lets the machine's time go on.
class MachineServer : public QObject {
    Q_OBJECT
public:
    explicit MachineServer(standins::MachineSetup setup, QObject* parent = nullptr);

    /// Listens at that path; false with `error()` if it cannot. A socket that nobody listens at is
    /// replaced; a machine that still answers there is not.
    bool listen(const QString& path);
    QString error() const { return problem; }

signals:
    void nextTurn(); ///< somebody has more to say

private:
    void accept();
    /// `begun` is the message that is not whole yet.
    void read(QLocalSocket* socket, QByteArray& begun);
    void take(QLocalSocket* socket, const QByteArray& line);
    void refuse(QLocalSocket* socket, const QString& reason);
    void tick();

    standins::SimulatedMachine machine;
    QLocalServer server;
    QTimer timer;
    QElapsedTimer clock;
    QString problem;
};

} // namespace rapt::machine
