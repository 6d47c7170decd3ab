#include "machine/machine_server.h"

#include "base/json_fields.h"
#include "base/paths.h"

#include <QDir>
#include <QFileInfo>
#include <QLocalSocket>
#include <memory>
#include <sys/stat.h>

namespace rapt::machine {
namespace {

constexpr qsizetype mostLineBytes = 48'000'000; ///< of one message
constexpr qint64 mostUnreadBytes = 1'000'000;   ///< of answers to one client
constexpr qint64 chunkBytes = 1'000'000;        ///< read from one client before the next has a turn
constexpr int messagesATurn = 4, mostClients = 8;
constexpr int tickMs = 16;

constexpr const char* sharedFolder = "/tmp/rapt-thimble-"; ///< and whose it is

/// True if nothing is lost when a socket is made there.
bool isFreeOrSocket(const QString& path) {
    struct stat info {};
    return ::lstat(qPrintable(path), &info) != 0 || S_ISSOCK(info.st_mode);
}

QByteArray lineOf(const nlohmann::json& message) {
    return QByteArray::fromStdString(
               message.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace)) +
           '\n';
}

} // namespace

MachineServer::MachineServer(standins::MachineSetup setup, QObject* parent)
    : QObject(parent), machine(std::move(setup)) {
    server.setSocketOptions(QLocalServer::UserAccessOption);
    connect(&server, &QLocalServer::newConnection, this, &MachineServer::accept);
    connect(&timer, &QTimer::timeout, this, &MachineServer::tick);
    clock.start();
    timer.start(tickMs);
}

bool MachineServer::listen(const QString& path) {
    QLocalSocket probe;
    probe.connectToServer(path);
    if (probe.waitForConnected(300)) {
        problem = tr("a machine answers there already");
        return false;
    }
    const QString folder = QFileInfo(path).absolutePath();
    if (!QFileInfo::exists(folder)) {
        QDir().mkpath(folder);
        QFile::setPermissions(folder, QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
    }
    if (folder.startsWith(sharedFolder) && !isOwnFolder(folder.toStdString())) {
        problem = tr("the folder belongs to somebody else, or others may write to it");
        return false;
    }
    if (!isFreeOrSocket(path)) {
        problem = tr("there is a file of that name, which is no socket");
        return false;
    }
    QLocalServer::removeServer(path);
    if (server.listen(path)) return true;
    problem = server.errorString();
    return false;
}

void MachineServer::accept() {
    while (QLocalSocket* socket = server.nextPendingConnection()) {
        connect(socket, &QLocalSocket::disconnected, socket, &QObject::deleteLater);
        const auto known = server.findChildren<QLocalSocket*>().size();
        if (!isOwnPeer(static_cast<int>(socket->socketDescriptor())) || known > mostClients) {
            socket->abort();
            socket->deleteLater();
            continue;
        }
        socket->setReadBufferSize(chunkBytes);
        const auto begun = std::make_shared<QByteArray>();
        const auto go = [this, socket, begun] { read(socket, *begun); };
        connect(socket, &QLocalSocket::readyRead, this, go);
        connect(socket, &QLocalSocket::bytesWritten, this, go);
        connect(this, &MachineServer::nextTurn, socket, go, Qt::QueuedConnection);
        go();
    }
}

/// A few messages, then it is the next one's turn. Who does not read its answers gets no more.
void MachineServer::read(QLocalSocket* socket, QByteArray& begun) {
    int taken = 0;
    while (socket->state() == QLocalSocket::ConnectedState && socket->bytesAvailable() > 0 &&
           socket->bytesToWrite() <= mostUnreadBytes) {
        if (++taken > messagesATurn) return emit nextTurn();
        const QByteArray more = socket->readLine(chunkBytes + 1);
        begun += more;
        if (begun.size() > mostLineBytes)
            return refuse(socket,
                          tr("a message is longer than %1 MB").arg(mostLineBytes / 1'000'000));
        if (more.endsWith('\n')) take(socket, std::exchange(begun, {}));
    }
}

void MachineServer::take(QLocalSocket* socket, const QByteArray& line) {
    if (line.trimmed().isEmpty()) return;
    const auto request = parseJson(line.toStdString(), "message");
    if (!request) return refuse(socket, QString::fromStdString(request.error().line()));
    if (!request->is_object()) return refuse(socket, tr("a message must be an object"));
    socket->write(lineOf(machine.answer(*request)));
}

void MachineServer::refuse(QLocalSocket* socket, const QString& reason) {
    socket->disconnect(this);
    socket->write(lineOf({{"ok", false}, {"reason", reason.toStdString()}}));
    socket->flush();
    socket->disconnectFromServer();
}

void MachineServer::tick() {
    const auto told = machine.tick(static_cast<double>(clock.restart()) / 1000);
    if (told.empty()) return;
    for (QLocalSocket* socket : server.findChildren<QLocalSocket*>()) {
        if (socket->state() != QLocalSocket::ConnectedState) continue;
        // Whoever does not listen is not waited for.
        if (socket->bytesToWrite() > mostLineBytes + 2 * mostUnreadBytes) {
            socket->abort();
            continue;
        }
        for (const auto& message : told) socket->write(lineOf(message));
    }
}

} // namespace rapt::machine
