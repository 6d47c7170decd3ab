#include "ledger/schema.h"

#include "record/columns.h"

#include <QDate>
#include <QHash>

namespace rapt {
namespace {

constexpr int oldestServer = 120000;

QString columnSql(const RecordColumn& column, bool onServer) {
    const QString name = QString::fromStdString(column.name);
    if (name == "id")
        return onServer ? "id BIGSERIAL PRIMARY KEY" : "id INTEGER PRIMARY KEY AUTOINCREMENT";
    if (name == "uid") return "uid TEXT NOT NULL UNIQUE";
    switch (column.kind) {
    case CellKind::number:
        return name + " DOUBLE PRECISION";
    case CellKind::integer:
        return name + " BIGINT NOT NULL DEFAULT 1";
    default:
        return name + " TEXT NOT NULL DEFAULT ''";
    }
}

QStringList tablesSql(bool onServer) {
    QStringList columns;
    for (const RecordColumn& c : recordColumns()) columns << columnSql(c, onServer);
    QStringList sql{
        "CREATE TABLE record (" + columns.join(", ") + ", words TEXT NOT NULL DEFAULT '')",
        "CREATE INDEX record_newest ON record (date, id)",
        "CREATE INDEX record_fabric ON record (fabric, date, id)",
        "CREATE INDEX record_outcome ON record (outcome, date, id)",
        "CREATE INDEX record_job ON record (job, date, id)",
        QString("CREATE TABLE file (hash TEXT PRIMARY KEY, kind TEXT NOT NULL, bytes %1 NOT NULL)")
            .arg(onServer ? "BYTEA" : "BLOB"),
    };
    if (onServer)
        return sql
               << "CREATE INDEX record_words ON record USING gin (to_tsvector('simple', words))";
    // The index reads the words where they stand in the records.
    return sql << "CREATE VIRTUAL TABLE record_words USING fts5(words, content='record', "
                  "content_rowid='id', prefix='2 3', tokenize='unicode61 remove_diacritics 0')"
               << "CREATE TRIGGER record_added AFTER INSERT ON record BEGIN "
                  "INSERT INTO record_words(rowid, words) VALUES (new.id, new.words); END"
               << "CREATE TRIGGER record_removed AFTER DELETE ON record BEGIN "
                  "INSERT INTO record_words(record_words, rowid, words) "
                  "VALUES ('delete', old.id, old.words); END"
               << "CREATE TRIGGER record_changed AFTER UPDATE OF words ON record BEGIN "
                  "INSERT INTO record_words(record_words, rowid, words) "
                  "VALUES ('delete', old.id, old.words); "
                  "INSERT INTO record_words(rowid, words) VALUES (new.id, new.words); END";
}

Result<bool> hasTable(Database& db, const QString& table) {
    auto found = db.onServer() ? db.run("SELECT 1 FROM pg_tables WHERE schemaname = ANY "
                                        "(current_schemas(false)) AND tablename = ?",
                                        {table})
                               : db.run("SELECT 1 FROM sqlite_master WHERE name = ?", {table});
    if (!found) return found.error();
    return found->next();
}

/// 0 for a database without our tables.
Result<int> versionOf(Database& db) {
    const auto meta = hasTable(db, "meta");
    if (!meta) return meta.error();
    if (*meta) {
        auto version = db.run("SELECT value FROM meta WHERE key = 'schema'");
        if (!version) return version.error();
        if (version->next()) return version->value(0).toString().toInt();
    }
    const auto old = hasTable(db, "stitch_out");
    if (!old) return old.error();
    return *old ? 1 : 0;
}

/// The outcomes of today by those of before.
QString outcomeOf(const QString& before) {
    static const QHash<QString, QString> known{{"good", "good"},
                                               {"good with mending", "mended"},
                                               {"second quality", "mended"},
                                               {"lost", "spoilt"}};
    return known.value(before, "");
}

Status takeOver(Database& db) {
    auto old =
        db.run("SELECT id, date, job, cloth, hoop, outcome, note FROM stitch_out ORDER BY id");
    if (!old) return old.error();
    while (old->next()) {
        StitchOut r;
        const auto text = [&](int i) { return old->value(i).toString().toStdString(); };
        r.uid = "old-" + text(0) + "-" + text(1);
        r.date = isDate(text(1)) ? text(1) : "1970-01-01";
        r.job = text(2).empty() ? "Untitled" : text(2);
        r.cloth = text(3);
        r.frame = text(4);
        r.outcome = outcomeOf(old->value(5).toString()).toStdString();
        r.note = text(6);
        if (old->value(5).toString() == "second quality" || r.outcome.empty())
            r.note += (r.note.empty() ? "" : "; ") + text(5);
        auto added =
            db.run("INSERT INTO record (uid, date, job, cloth, frame, outcome, note, words) "
                   "VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
                   {QString::fromStdString(r.uid), QString::fromStdString(r.date),
                    QString::fromStdString(r.job), QString::fromStdString(r.cloth),
                    QString::fromStdString(r.frame), QString::fromStdString(r.outcome),
                    QString::fromStdString(r.note), QString::fromStdString(searchWords(r))});
        if (!added) return added.error();
    }
    if (const Status read = db.ended(*old); !read) return read;
    old->finish();
    if (auto renamed = db.run("ALTER TABLE stitch_out RENAME TO stitch_out_1"); !renamed)
        return renamed.error();
    return done();
}

Status makeTables(Database& db, int version) {
    for (const QString& sql : tablesSql(db.onServer()))
        if (auto made = db.run(sql); !made) return made.error();
    if (auto made =
            db.run("CREATE TABLE IF NOT EXISTS meta (key TEXT PRIMARY KEY, value TEXT NOT NULL)");
        !made)
        return made.error();
    if (version == 1)
        if (const Status taken = takeOver(db); !taken) return taken;
    auto noted = db.run("INSERT INTO meta (key, value) VALUES ('schema', ?)",
                        {QString::number(ledgerSchema)});
    if (!noted) return noted.error();
    return done();
}

/// From schema 2 on.
Status addJobIdentity(Database& db) {
    for (const QString& sql :
         {QString("ALTER TABLE record ADD COLUMN job_id TEXT NOT NULL "
                  "DEFAULT ''"),
          QString("UPDATE meta SET value = '%1' WHERE key = 'schema'").arg(ledgerSchema)})
        if (auto changed = db.run(sql); !changed) return changed.error();
    return done();
}

Status checkServer(Database& db) {
    auto version = db.run("SHOW server_version_num");
    if (!version) return version.error();
    if (version->next() && version->value(0).toString().toInt() < oldestServer)
        return cannotDo("the ledger's server is PostgreSQL " +
                            std::to_string(version->value(0).toString().toInt() / 10000) +
                            "; it takes 12 or later",
                        {}, db.at().words().toStdString());
    return done();
}

} // namespace

Status bringUpToDate(Database& db) {
    if (db.onServer())
        if (const Status fit = checkServer(db); !fit) return fit;
    auto version = versionOf(db);
    if (!version) return version.error();
    if (*version > ledgerSchema)
        return cannotDo("the ledger was made by a later version of Rapt Thimble (its schema is " +
                            std::to_string(*version) + ", this one knows " +
                            std::to_string(ledgerSchema) + "); nothing was changed",
                        {}, db.at().words().toStdString());
    if (*version == ledgerSchema) return done();
    return db.together([&]() -> Status {
        // Another bench may be at it at this moment.
        if (db.onServer())
            if (auto locked = db.run("SELECT pg_advisory_xact_lock(7282615)"); !locked)
                return locked.error();
        version = versionOf(db);
        if (!version) return version.error();
        if (*version >= ledgerSchema) return done();
        return *version == 2 ? addJobIdentity(db) : makeTables(db, *version);
    });
}

} // namespace rapt
