#include "ledger/database.h"

#include <QDir>
#include <QFileInfo>
#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QUuid>

namespace rapt {

QString newConnection(const char* purpose) {
    return purpose + QUuid::createUuid().toString(QUuid::WithoutBraces);
}

std::optional<QString> openDatabase(const QString& connection, const QString& path,
                                    const char* schema) {
    QDir().mkpath(QFileInfo(path).absolutePath());
    QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", connection);
    db.setDatabaseName(path);
    if (!db.open())
        return QString("The ledger %1 cannot be opened: %2").arg(path, db.lastError().text());
    QSqlQuery query(db);
    // A record must be on the disk before we say that it is kept.
    query.exec("PRAGMA synchronous = FULL");
    if (!query.exec(schema))
        return QString("The ledger %1 cannot be used: %2").arg(path, query.lastError().text());
    return std::nullopt;
}

void closeDatabase(const QString& connection) {
    if (QSqlDatabase::contains(connection)) QSqlDatabase::removeDatabase(connection);
}

} // namespace rapt
