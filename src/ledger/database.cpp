#include "ledger/database.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QSqlError>
#include <QUuid>
#include <libpq-fe.h>

namespace rapt {
namespace {

/// The line to a server: dead ones are noticed within some 20 seconds.
QString lineTo(const LedgerPlace& place) {
    QMap<QString, QString> options{{"connect_timeout", "5"},  {"application_name", "rapt-thimble"},
                                   {"keepalives_idle", "10"}, {"keepalives_interval", "3"},
                                   {"keepalives_count", "3"}, {"tcp_user_timeout", "20000"}};
    options.insert(place.options);
    QStringList line;
    for (auto o = options.cbegin(); o != options.cend(); ++o) line << o.key() + '=' + o.value();
    return line.join(';');
}

/// Whether a server takes connections there. When one cannot be opened the driver tells why in
/// words of any language only.
bool takesConnections(const LedgerPlace& place) {
    const QByteArray host = place.host.toUtf8(), port = QByteArray::number(place.port);
    const char* keys[] = {"host", "port", "dbname", "connect_timeout", nullptr};
    const QByteArray database = place.database.toUtf8();
    const char* values[] = {host.constData(), port.constData(), database.constData(), "5", nullptr};
    return PQpingParams(keys, values, 0) == PQPING_OK;
}

Trouble troubleOf(const QSqlError& error, const LedgerPlace& place) {
    if (place.onServer) {
        // SQLSTATE: connection exceptions and the operator's shutdown. Without one nothing came
        // from a server.
        const QString code = error.nativeErrorCode();
        const bool away = error.type() == QSqlError::ConnectionError
                              ? !takesConnections(place)
                              : code.isEmpty() || code.startsWith("08") || code.startsWith("57P");
        return away ? Trouble::away : Trouble::other;
    }
    // SQLITE_CORRUPT and SQLITE_NOTADB.
    const QString code = error.nativeErrorCode();
    return code == "11" || code == "26" || code == "267" || code == "523" ? Trouble::damaged
                                                                          : Trouble::other;
}

/// What the driver says, on one line.
QString plainReason(const QSqlError& error) {
    QString text = error.databaseText().isEmpty() ? error.driverText() : error.databaseText();
    return text.section('\n', 0, 0).trimmed();
}

} // namespace

Database::Database(const char* purpose)
    : name(purpose + QUuid::createUuid().toString(QUuid::WithoutBraces)) {}

Database::~Database() {
    if (QSqlDatabase::contains(name)) QSqlDatabase::removeDatabase(name);
}

Error Database::failed(const QSqlError& error) {
    last = troubleOf(error, place);
    const QString reason = plainReason(error);
    const std::string where = place.words().toStdString();
    // Class 28 of SQLSTATE; of lines that could not be opened there are only words.
    const bool noEntry = reason.contains("password") || reason.contains("authentication") ||
                         error.nativeErrorCode().startsWith("28");
    if (place.onServer && last != Trouble::away && noEntry)
        return badInput("the ledger's server refuses the password; put the right one into "
                        "~/.pgpass or PGPASSWORD",
                        {}, where);
    if (last == Trouble::away)
        return badInput("the ledger's server does not answer: " + reason.toStdString(), {}, where);
    if (last == Trouble::damaged) return badInput("the ledger is damaged", {}, where);
    return badInput("the ledger refuses: " + reason.toStdString(), {}, where);
}

Status Database::open(const LedgerPlace& at) {
    place = at;
    if (QSqlDatabase::contains(name)) QSqlDatabase::removeDatabase(name);
    const QString driver = place.onServer ? "QPSQL" : "QSQLITE";
    if (!QSqlDatabase::isDriverAvailable(driver))
        return badInput("Qt's driver " + driver.toStdString() + " is not installed (Debian: " +
                        (place.onServer ? "libqt6sql6-psql)" : "libqt6sql6-sqlite)"));
    QSqlDatabase db = QSqlDatabase::addDatabase(driver, name);
    if (place.onServer) {
        db.setHostName(place.host);
        db.setPort(place.port);
        db.setDatabaseName(place.database);
        db.setUserName(place.user);
        if (!place.password.isEmpty()) db.setPassword(place.password);
        db.setConnectOptions(lineTo(place));
    } else {
        QDir().mkpath(QFileInfo(place.file).absolutePath());
        db.setDatabaseName(place.file);
        db.setConnectOptions("QSQLITE_BUSY_TIMEOUT=20000");
    }
    if (!db.open()) return failed(db.lastError());
    if (place.onServer) {
        if (auto limit = run("SET statement_timeout = '60s'"); !limit) return limit.error();
        return done();
    }
    // A record must be on the disk before we say that it is kept.
    if (auto full = run("PRAGMA synchronous = FULL"); !full) return full.error();
    return done();
}

Result<QSqlQuery> Database::run(const QString& sql, const QVariantList& values) {
    QSqlQuery query(QSqlDatabase::database(name, false));
    query.setForwardOnly(true);
    if (values.isEmpty()) {
        if (!query.exec(sql)) return failed(query.lastError());
        return query;
    }
    if (!query.prepare(sql)) return failed(query.lastError());
    if (const Status done = run(query, values); !done) return done.error();
    return query;
}

Result<QSqlQuery> Database::prepared(const QString& sql) {
    QSqlQuery query(QSqlDatabase::database(name, false));
    query.setForwardOnly(true);
    if (!query.prepare(sql)) return failed(query.lastError());
    return query;
}

Status Database::run(QSqlQuery& statement, const QVariantList& values) {
    for (qsizetype i = 0; i < values.size(); ++i)
        statement.bindValue(static_cast<int>(i), values[i]);
    if (!statement.exec()) return failed(statement.lastError());
    return done();
}

Status Database::ended(QSqlQuery& statement) {
    while (statement.next()) {
    }
    if (const QSqlError error = statement.lastError(); error.isValid()) return failed(error);
    return done();
}

} // namespace rapt
