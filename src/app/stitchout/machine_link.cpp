#include "app/stitchout/machine_link.h"

#include "base/paths.h"

#include <QJsonDocument>

namespace rapt::app {
namespace {

constexpr qint64 mostLineBytes = 64'000'000;

QJsonObject refusal(const QString& reason) { return {{"ok", false}, {"reason", reason}}; }

} // namespace

MachineLink::MachineLink(QObject* parent) : QObject(parent) {
    clock.start();
    timer.setInterval(250);
    connect(&timer, &QTimer::timeout, this, &MachineLink::lookAtClock);
    connect(&socket, &QLocalSocket::connected, this, [this] {
        if (!isOwnPeer(static_cast<int>(socket.socketDescriptor())))
            return close(tr("Another user answers in the machine's place."));
        wasOpen = true;
        timer.start();
        emit opened();
    });
    connect(&socket, &QLocalSocket::readyRead, this, &MachineLink::read);
    connect(&socket, &QLocalSocket::disconnected, this, [this] {
        timer.stop();
        const auto left = std::exchange(waiting, {});
        for (const Waiting& w : left)
            if (w.reply) w.reply(refusal(tr("the machine is gone")));
        if (std::exchange(wasOpen, false))
            emit lost(parting.isNull() ? tr("The machine is gone.") : parting);
    });
}

/// Who asked may be gone already: nobody is told.
MachineLink::~MachineLink() {
    socket.disconnect(this);
    socket.abort();
}

void MachineLink::open(const QString& path) {
    if (socket.state() != QLocalSocket::UnconnectedState) return;
    parting = QString();
    socket.connectToServer(path);
}

void MachineLink::close(const QString& reason) {
    parting = reason.isNull() ? QString("") : reason;
    socket.abort();
}

void MachineLink::finish() {
    if (isOpen() && socket.bytesToWrite() > 0) socket.waitForBytesWritten(500);
}

void MachineLink::ask(QJsonObject request, Reply reply) {
    if (!isOpen()) {
        if (reply) reply(refusal(tr("no machine is connected")));
        return;
    }
    request["id"] = ++lastId;
    waiting.insert(lastId, {std::move(reply), clock.elapsed()});
    socket.write(QJsonDocument(request).toJson(QJsonDocument::Compact) + '\n');
}

void MachineLink::read() {
    while (isOpen() && socket.canReadLine()) take(socket.readLine(mostLineBytes + 2));
    if (socket.bytesAvailable() > mostLineBytes) close(tr("The machine talks without end."));
}

void MachineLink::take(const QByteArray& line) {
    QJsonParseError error;
    const QJsonDocument document = QJsonDocument::fromJson(line, &error);
    if (!document.isObject())
        return close(tr("The machine talks nonsense: %1.").arg(error.errorString()));
    const QJsonObject message = document.object();
    if (message.contains("event")) {
        emit told(message);
        return;
    }
    const auto found = waiting.constFind(message["id"].toInt());
    if (found == waiting.constEnd()) {
        if (!message["ok"].toBool(true)) close(message["reason"].toString());
        return;
    }
    const Reply reply = found->reply;
    waiting.erase(found);
    if (reply) reply(message);
}

void MachineLink::lookAtClock() {
    for (const Waiting& w : waiting)
        if (clock.elapsed() - w.since > patienceMs)
            return close(tr("The machine does not answer."));
}

} // namespace rapt::app
