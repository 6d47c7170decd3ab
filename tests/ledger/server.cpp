#include "server.h"

#include <QDir>
#include <QFile>
#include <QThread>
#include <csignal>
#include <netinet/in.h>
#include <pwd.h>
#include <sys/socket.h>
#include <unistd.h>

namespace rapt::test {
namespace {

QString binaries() {
    const QDir all("/usr/lib/postgresql");
    const QStringList versions = all.entryList(QDir::Dirs | QDir::NoDotAndDotDot, QDir::Name);
    return versions.isEmpty() ? QString() : all.filePath(versions.last() + "/bin");
}

/// The server refuses to run as root.
QStringList asItsUser(const QString& program, const QStringList& arguments) {
    QStringList command{program};
    if (geteuid() == 0)
        command = QStringList{"setpriv", "--reuid=postgres", "--regid=postgres", "--clear-groups",
                              program};
    return command + arguments;
}

int freePort() {
    const int s = socket(AF_INET, SOCK_STREAM, 0);
    sockaddr_in at{};
    at.sin_family = AF_INET;
    at.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    socklen_t size = sizeof at;
    bind(s, reinterpret_cast<sockaddr*>(&at), size);
    getsockname(s, reinterpret_cast<sockaddr*>(&at), &size);
    close(s);
    return ntohs(at.sin_port);
}

} // namespace

bool Server::run(const QString& program, const QStringList& arguments) {
    QStringList command = asItsUser(binaries() + "/" + program, arguments);
    QProcess p;
    p.setWorkingDirectory("/");
    p.start(command.takeFirst(), command);
    if (p.waitForFinished(120'000) && p.exitCode() == 0) return true;
    problem = program + ": " + QString::fromUtf8(p.readAllStandardError());
    return false;
}

bool Server::make() {
    if (geteuid() == 0) {
        const passwd* user = getpwnam("postgres");
        if (!user || chown(qPrintable(dir.path()), user->pw_uid, user->pw_gid) != 0) {
            problem = "there is no user postgres";
            return false;
        }
    }
    QFile word(dir.path() + ".word");
    if (!word.open(QIODevice::WriteOnly) || word.write("salt\n") != 5) return false;
    word.setPermissions(word.permissions() | QFile::ReadOther);
    word.close();
    const bool made =
        run("initdb", {"-D", dir.filePath("data"), "-U", "bench", "-A", "scram-sha-256", "--pwfile",
                       word.fileName(), "-E", "UTF8", "--locale", "C", "--no-sync"});
    word.remove();
    return made;
}

bool Server::start() {
    if (binaries().isEmpty()) {
        problem = "PostgreSQL is not installed";
        return false;
    }
    if (port == 0) {
        if (!make()) return false;
        port = freePort();
    }
    QFile::remove(dir.filePath("data/postmaster.pid"));
    QStringList command =
        asItsUser(binaries() + "/postgres",
                  {"-D", dir.filePath("data"), "-p", QString::number(port), "-c",
                   "listen_addresses=127.0.0.1", "-c", "unix_socket_directories=" + dir.path()});
    process.setWorkingDirectory("/");
    process.start(command.takeFirst(), command);
    for (int i = 0; i < 300; ++i) {
        if (run("pg_isready", {"-h", "127.0.0.1", "-p", QString::number(port)})) return true;
        QThread::msleep(100);
    }
    return false;
}

void Server::stop() {
    if (process.state() == QProcess::NotRunning) return;
    // Its children end with it.
    ::kill(static_cast<pid_t>(process.processId()), SIGQUIT);
    process.waitForFinished(20'000);
}

QString Server::url(const QString& database, const QString& word) const {
    return QString("postgresql://bench:%1@127.0.0.1:%2/%3").arg(word).arg(port).arg(database);
}

bool Server::create(const QString& database) {
    QProcess p;
    p.start(binaries() + "/psql", {url("postgres"), "-c", "CREATE DATABASE " + database});
    if (p.waitForFinished(60'000) && p.exitCode() == 0) return true;
    problem = QString::fromUtf8(p.readAllStandardError());
    return false;
}

} // namespace rapt::test
