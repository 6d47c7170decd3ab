#pragma once
// Runs the command as a process.

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>

namespace rapt::test {

/// What a run of `rapt` gave.
struct Ran {
    int status;
    QByteArray out, err;
    QJsonObject json() const { return QJsonDocument::fromJson(out).object(); }
};

inline Ran ran(const QStringList& arguments) {
    QProcess process;
    process.start(RAPT_BIN, arguments);
    if (!process.waitForFinished(60'000)) qFatal("rapt did not end");
    return {process.exitCode(), process.readAllStandardOutput(), process.readAllStandardError()};
}

} // namespace rapt::test
