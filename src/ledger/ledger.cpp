#include "ledger/ledger.h"

#include "ledger/database.h"

#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>

namespace rapt {
namespace {

constexpr const char* schema = "CREATE TABLE IF NOT EXISTS stitch_out ("
                               "id INTEGER PRIMARY KEY, date TEXT NOT NULL, job TEXT NOT NULL, "
                               "cloth TEXT NOT NULL, hoop TEXT NOT NULL, outcome TEXT NOT NULL, "
                               "note TEXT NOT NULL)";

std::optional<QString> problemOf(const QSqlQuery& query) {
    return QString("The ledger cannot be written: %1").arg(query.lastError().text());
}

} // namespace

Ledger::Ledger() : connection(newConnection("ledger-")) {}

Ledger::~Ledger() { closeDatabase(connection); }

std::optional<QString> Ledger::open(const QString& path) {
    return openDatabase(connection, path, schema);
}

std::optional<QString> Ledger::add(const StitchOutRecord& r) {
    QSqlQuery query(QSqlDatabase::database(connection));
    query.prepare("INSERT INTO stitch_out (date, job, cloth, hoop, outcome, note) "
                  "VALUES (?, ?, ?, ?, ?, ?)");
    for (const QString& value :
         {r.date.toString(Qt::ISODate), r.job, r.cloth, r.hoop, r.outcome, r.note})
        query.addBindValue(value.isNull() ? QString("") : value);
    return query.exec() ? std::nullopt : problemOf(query);
}

std::optional<QString> Ledger::remove(qint64 id) {
    QSqlQuery query(QSqlDatabase::database(connection));
    query.prepare("DELETE FROM stitch_out WHERE id = ?");
    query.addBindValue(id);
    return query.exec() ? std::nullopt : problemOf(query);
}

std::vector<StitchOutRecord> Ledger::records() const {
    std::vector<StitchOutRecord> list;
    QSqlQuery query(QSqlDatabase::database(connection));
    query.exec("SELECT id, date, job, cloth, hoop, outcome, note FROM stitch_out "
               "ORDER BY date DESC, id DESC");
    while (query.next())
        list.push_back(
            {query.value(0).toLongLong(), QDate::fromString(query.value(1).toString(), Qt::ISODate),
             query.value(2).toString(), query.value(3).toString(), query.value(4).toString(),
             query.value(5).toString(), query.value(6).toString()});
    return list;
}

QStringList Ledger::outcomes() { return {"good", "good with mending", "second quality", "lost"}; }

} // namespace rapt
