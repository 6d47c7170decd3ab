#include "machine/machine_server.h"

#include "base/json_fields.h"

#include <QDir>
#include <QFileInfo>
#include <QLocalSocket>
#include <sys/socket.h>
#include <sys/stat.h>
#include <unistd.h>

namespace rapt::machine {
namespace {

constexpr qint64 mostLineBytes = 48'000'000; ///< of one message
constexpr int tickMs = 16;

/// True if the other end is the same user's process.
bool isOwnUser(const QLocalSocket& socket) {
    ucred peer{};
    socklen_t size = sizeof(peer);
    const int fd = static_cast<int>(socket.socketDescriptor());
    return ::getsockopt(fd, SOL_SOCKET, SO_PEERCRED, &peer, &size) == 0 && peer.uid == ::geteuid();
}

constexpr const char* sharedFolder = "/tmp/rapt-thimble-"; ///< and whose it is

/// A folder of this user's that nobody else may look into; not a link to one.
bool isOwnFolder(const QString& folder) {
    struct stat info {};
    return ::lstat(qPrintable(folder), &info) == 0 && S_ISDIR(info.st_mode) &&
           info.st_uid == ::geteuid() && (info.st_mode & 077) == 0;
}

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
    if (folder.startsWith(sharedFolder) && !isOwnFolder(folder)) {
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
        if (!isOwnUser(*socket)) {
            socket->abort();
            socket->deleteLater();
            continue;
        }
        connect(socket, &QLocalSocket::readyRead, this, [this, socket] { read(socket); });
        read(socket);
    }
}

void MachineServer::read(QLocalSocket* socket) {
    while (socket->state() == QLocalSocket::ConnectedState && socket->canReadLine())
        take(socket, socket->readLine(mostLineBytes + 2));
    if (socket->bytesAvailable() > mostLineBytes)
        refuse(socket, tr("a message is longer than %1 MB").arg(mostLineBytes / 1'000'000));
}

void MachineServer::take(QLocalSocket* socket, const QByteArray& line) {
    if (line.size() > mostLineBytes) return refuse(socket, tr("a message is too long"));
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
        if (socket->bytesToWrite() > 1'000'000) {
            socket->abort();
            continue;
        }
        for (const auto& message : told) socket->write(lineOf(message));
    }
}

} // namespace rapt::machine
