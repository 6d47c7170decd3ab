#include "ledger/salvage.h"

#include "ledger/ledger.h"
#include "ledger/lettering_book.h"

#include <QDateTime>
#include <QFile>
#include <QFileInfo>
#include <QSqlField>
#include <QSqlRecord>

namespace rapt {
namespace {

/// Ids that are tried beyond the last one that could be read.
constexpr qint64 mostMisses = 20'000;

qint64 lastRow(Database& damaged, const QString& table) {
    for (const QString& sql : {"SELECT max(rowid) FROM " + table,
                               "SELECT seq FROM sqlite_sequence WHERE name = '" + table + "'"}) {
        auto row = damaged.run(sql);
        if (row && row->next() && row->value(0).toLongLong() > 0) return row->value(0).toLongLong();
    }
    return 0;
}

Status putRow(Database& fresh, const QString& table, const QSqlRecord& row) {
    QStringList names;
    QVariantList values;
    for (int i = 0; i < row.count(); ++i) {
        names << row.fieldName(i);
        values << row.value(i);
    }
    auto put = fresh.run(
        QString("INSERT OR IGNORE INTO %1 (%2) VALUES (%3)")
            .arg(table, names.join(", "), QString("?, ").repeated(names.size()).chopped(2)),
        values);
    if (!put) return put.error();
    return done();
}

/// Row by row, as a torn page hides only its own.
qint64 saveRows(Database& damaged, Database& fresh, const QString& table) {
    const qint64 last = lastRow(damaged, table);
    qint64 saved = 0, misses = 0;
    for (qint64 id = 1; last > 0 ? id <= last : misses < mostMisses; ++id) {
        auto row = damaged.run("SELECT * FROM " + table + " WHERE rowid = ?", {id});
        const bool read = row && row->next() && putRow(fresh, table, row->record());
        saved += read;
        misses = read ? 0 : misses + 1;
    }
    return saved;
}

} // namespace

namespace {

/// True if the file was a ledger of ours: its tables are named in it, or there is a daily copy. A
/// file that somebody else made is never moved or written to.
bool isOurs(const QString& file) {
    if (QFile::exists(dailyCopyOf(file))) return true;
    QFile read(file);
    if (!read.open(QIODevice::ReadOnly)) return false;
    constexpr qint64 lookedAt = 4'000'000;
    const QByteArray bytes = read.read(lookedAt);
    for (const char* table : {"record", "stitch_out", "lettering"})
        for (const char* words : {"CREATE TABLE ", "CREATE TABLE IF NOT EXISTS "})
            if (bytes.contains(QByteArray(words) + table)) return true;
    return false;
}

} // namespace

QString dailyCopyOf(const QString& file) { return file + ".daily"; }

void renewDailyCopy(const QString& file) {
    const QString copy = dailyCopyOf(file), aside = copy + ".new";
    const QFileInfo known(copy);
    if (known.exists() && known.lastModified().secsTo(QDateTime::currentDateTime()) < 86'400)
        return;
    QFile::remove(aside);
    LedgerPlace place;
    place.file = file;
    Database db("copy-");
    if (!db.open(place) || !db.run("VACUUM INTO ?", {aside})) return;
    QFile::remove(copy);
    QFile::rename(aside, copy);
}

Result<Salvaged> salvageLedger(const QString& file) {
    if (!isOurs(file))
        return badInput("is no ledger; it is left as it is. Is the place right?", {},
                        file.toStdString());
    Salvaged result;
    result.keptAs =
        file + ".damaged-" + QDateTime::currentDateTime().toString("yyyyMMdd-HHmmss-zzz");
    if (!QFile::rename(file, result.keptAs))
        return badInput("the damaged ledger cannot be set aside", {}, file.toStdString());
    // What an interrupted change left belongs to the file.
    QFile::rename(file + "-journal", result.keptAs + "-journal");
    LedgerPlace place;
    place.file = file;
    Ledger made;
    if (const Status opened = made.open(place); !opened) return opened.error();
    LetteringBook book;
    book.open(file);
    Database fresh("salvage-"), damaged("damaged-");
    if (const Status opened = fresh.open(place); !opened) return opened.error();
    place.file = result.keptAs;
    if (damaged.open(place)) {
        const Status saved = fresh.together([&]() -> Status {
            saveRows(damaged, fresh, "file");
            saveRows(damaged, fresh, "lettering");
            result.records = saveRows(damaged, fresh, "record");
            return done();
        });
        if (!saved) return saved.error();
    }
    if (result.records == 0 && QFile::exists(dailyCopyOf(file))) {
        Ledger copy;
        place.file = dailyCopyOf(file);
        if (copy.open(place))
            if (const auto copied = copyLedger(copy, made); copied) {
                result.records = *copied;
                result.fromCopy = *copied > 0;
            }
    }
    return result;
}

} // namespace rapt
