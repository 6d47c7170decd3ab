#pragma once
// The wire to one machine: JSON lines over a local socket (docs/machine-protocol.md). Whatever
// comes from there is taken as words, not as truth.

#include <QElapsedTimer>
#include <QHash>
#include <QJsonObject>
#include <QLocalSocket>
#include <QTimer>
#include <functional>

namespace rapt::app {

/// Asks and is told. A machine that does not answer in time, or talks nonsense, is let go.
class MachineLink : public QObject {
    Q_OBJECT
public:
    using Reply = std::function<void(const QJsonObject&)>;
    explicit MachineLink(QObject* parent = nullptr);
    ~MachineLink() override;

    void open(const QString& path);
    void close(const QString& reason = {});
    /// Waits a moment until all that was asked is sent.
    void finish();
    bool isOpen() const { return socket.state() == QLocalSocket::ConnectedState; }
    bool isOpening() const { return socket.state() == QLocalSocket::ConnectingState; }
    /// `reply` gets what came back; `{"ok":false,"reason":…}` where nothing did.
    void ask(QJsonObject request, Reply reply = {});
    /// How long an answer may take.
    void setPatience(int milliseconds) { patienceMs = milliseconds; }

signals:
    void opened();
    /// It is gone; why, in words, or empty if it was closed from here.
    void lost(const QString& reason);
    void told(const QJsonObject& event);

private:
    struct Waiting {
        Reply reply;
        qint64 since = 0;
    };
    void read();
    void take(const QByteArray& line);
    void lookAtClock();

    QLocalSocket socket;
    QHash<int, Waiting> waiting;
    QTimer timer;
    QElapsedTimer clock;
    int lastId = 0;
    int patienceMs = 5000;
    bool wasOpen = false;
    QString parting; ///< why it was closed from here
};

} // namespace rapt::app
