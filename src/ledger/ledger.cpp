#include "ledger/ledger.h"

#include "ledger/schema.h"
#include "record/columns.h"

#include <QCryptographicHash>
#include <QSet>
#include <fmt/format.h>

namespace rapt {
namespace {

QString q(const std::string& text) { return QString::fromStdString(text); }

/// A cell as the database takes it.
QVariant valueOf(const StitchOut& record, std::size_t column) {
    const std::string cell = cellOf(record, column);
    switch (recordColumns()[column].kind) {
    case CellKind::number:
        return cell.empty() ? QVariant(QMetaType::fromType<double>())
                            : QVariant(q(cell).toDouble());
    case CellKind::integer:
        return q(cell).toLongLong();
    default:
        return cell.empty() ? QString("") : q(cell);
    }
}

std::string cellText(const QVariant& value, CellKind kind) {
    if (value.isNull()) return {};
    if (kind == CellKind::number) return fmt::format("{}", value.toDouble());
    if (kind == CellKind::integer) return fmt::format("{}", value.toLongLong());
    return value.toString().toStdString();
}

std::vector<std::size_t> columnsNamed(const QStringList& names) {
    std::vector<std::size_t> columns;
    for (std::size_t c = 0; c < recordColumns().size(); ++c)
        if (names.isEmpty() || names.contains(q(recordColumns()[c].name))) columns.push_back(c);
    return columns;
}

QString listOf(const std::vector<std::size_t>& columns) {
    QStringList names;
    for (const std::size_t c : columns) names << q(recordColumns()[c].name);
    return names.join(", ");
}

StitchOut recordAt(const QSqlQuery& row, const std::vector<std::size_t>& columns) {
    StitchOut record;
    for (std::size_t i = 0; i < columns.size(); ++i)
        // A cell that another version wrote otherwise stays empty; the rest is still worth seeing.
        (void)setCell(record, columns[i],
                      cellText(row.value(static_cast<int>(i)), recordColumns()[columns[i]].kind));
    return record;
}

/// All but the id, which the database gives.
const std::vector<std::size_t>& writtenColumns() {
    static const std::vector<std::size_t> list = [] {
        std::vector<std::size_t> columns = columnsNamed({});
        std::erase_if(columns, [](std::size_t c) { return recordColumns()[c].name == "id"; });
        return columns;
    }();
    return list;
}

QString marks(qsizetype n) { return QString("?, ").repeated(n).chopped(2); }

/// All terms, each the beginning of a word.
QString matchOf(const std::vector<std::string>& terms, bool onServer) {
    QStringList words;
    for (const std::string& t : terms)
        words << (onServer ? "'" + q(t) + "':*" : '"' + q(t) + "\"*");
    return words.join(onServer ? " & " : " AND ");
}

Result<std::vector<StitchOut>> recordsOf(Database& db, const QString& sql,
                                         const QVariantList& values,
                                         const std::vector<std::size_t>& columns) {
    std::vector<StitchOut> records;
    const Status read = db.each(
        sql, values, [&](const QSqlQuery& row) { records.push_back(recordAt(row, columns)); });
    if (!read) return read.error();
    return records;
}

constexpr qint64 fewMatches = 3000;
constexpr int copyPage = 200;

} // namespace

LedgerFile ledgerFile(const QString& kind, const QByteArray& bytes) {
    return {QCryptographicHash::hash(bytes, QCryptographicHash::Sha256).toHex(), kind, bytes};
}

Ledger::Ledger() : db(std::make_unique<Database>("ledger-")) {}
Ledger::~Ledger() = default;
Ledger::Ledger(Ledger&&) noexcept = default;
Ledger& Ledger::operator=(Ledger&&) noexcept = default;

const LedgerPlace& Ledger::place() const { return db->at(); }
Trouble Ledger::trouble() const { return db->trouble(); }

Status Ledger::open(const LedgerPlace& place) {
    const Status opened = db->open(place);
    return opened ? bringUpToDate(*db) : opened;
}

Status Ledger::insertFiles(const std::vector<LedgerFile>& files) {
    for (const LedgerFile& f : files) {
        auto kept = db->run("INSERT INTO file (hash, kind, bytes) VALUES (?, ?, ?) "
                            "ON CONFLICT (hash) DO NOTHING",
                            {f.hash, f.kind, f.bytes});
        if (!kept) return kept.error();
    }
    return done();
}

Result<std::vector<qint64>> Ledger::add(const std::vector<StitchOut>& records,
                                        const std::vector<LedgerFile>& files) {
    for (const StitchOut& r : records)
        if (const auto problem = problemOf(r)) return badInput(*problem, "record " + r.job);
    const auto& columns = writtenColumns();
    const QString sql =
        QString(
            "INSERT INTO record (%1, words) VALUES (%2) ON CONFLICT (uid) DO NOTHING RETURNING id")
            .arg(listOf(columns), marks(static_cast<qsizetype>(columns.size()) + 1));
    std::vector<qint64> ids;
    const Status kept = db->together([&]() -> Status {
        if (const Status filed = insertFiles(files); !filed) return filed;
        auto statement = db->prepared(sql);
        if (!statement) return statement.error();
        for (const StitchOut& r : records) {
            QVariantList values;
            for (const std::size_t c : columns) values << valueOf(r, c);
            values << q(searchWords(r));
            if (const Status ran = db->run(*statement, values); !ran) return ran;
            if (statement->next()) ids.push_back(statement->value(0).toLongLong());
            if (const Status ended = db->ended(*statement); !ended) return ended;
            statement->finish();
        }
        return done();
    });
    if (!kept) return kept.error();
    return ids;
}

Status Ledger::change(const StitchOut& record, const std::vector<LedgerFile>& files) {
    if (const auto problem = problemOf(record)) return badInput(*problem, "record " + record.job);
    StitchOut next = record;
    ++next.revision;
    QStringList parts;
    QVariantList values;
    for (const std::size_t c : writtenColumns()) {
        parts << q(recordColumns()[c].name) + " = ?";
        values << valueOf(next, c);
    }
    values << q(searchWords(next)) << q(record.uid) << qlonglong(record.revision);
    return db->together([&]() -> Status {
        if (const Status filed = insertFiles(files); !filed) return filed;
        auto changed = db->run("UPDATE record SET " + parts.join(", ") +
                                   ", words = ? WHERE uid = ? AND revision = ?",
                               values);
        if (!changed) return changed.error();
        if (changed->numRowsAffected() == 1) return done();
        return cannotDo("the record was changed or taken out meanwhile; look at it again", {},
                        "record " + record.job);
    });
}

Status Ledger::remove(const std::vector<QString>& uids) {
    return db->together([&]() -> Status {
        for (const QString& uid : uids)
            if (auto gone = db->run("DELETE FROM record WHERE uid = ?", {uid}); !gone)
                return gone.error();
        return done();
    });
}

struct Ledger::Clause {
    QString sql; ///< begins with WHERE, or empty
    QVariantList values;
};

Result<Ledger::Clause> Ledger::clauseOf(const RecordQuery& query) {
    QStringList parts;
    QVariantList values;
    const auto terms = searchTerms(query.text.toStdString());
    if (!terms.empty()) {
        const QString match = matchOf(terms, db->onServer());
        values << match;
        if (db->onServer()) {
            parts << "to_tsvector('simple', words) @@ to_tsquery('simple', ?)";
        } else {
            // Few matches are fetched and sorted; of many the newest are picked out in order.
            auto n = db->run(QString("SELECT count(*) FROM (SELECT 1 FROM record_words WHERE "
                                     "record_words MATCH ? LIMIT %1)")
                                 .arg(fewMatches),
                             {match});
            if (!n) return n.error();
            const bool few = n->next() && n->value(0).toLongLong() < fewMatches;
            parts << QString("%1id IN (SELECT rowid FROM record_words WHERE record_words MATCH ?)")
                         .arg(few ? "" : "+");
        }
    } else if (!query.text.trimmed().isEmpty()) {
        parts << "1 = 0"; // signs alone are in no word
    }
    const auto narrow = [&](const QString& value, const QString& sql) {
        if (value.isEmpty()) return;
        parts << sql;
        values << value;
    };
    if (query.jobId.isEmpty()) {
        narrow(query.job, "job = ?");
    } else {
        // Records of older versions know the name alone.
        parts << "(job_id = ? OR (job_id = '' AND job = ?))";
        values << query.jobId << query.job;
    }
    narrow(query.fabric, "fabric = ?");
    narrow(query.outcome, "outcome = ?");
    narrow(query.machine, "machine = ?");
    narrow(query.from, "date >= ?");
    narrow(query.to, "date <= ?");
    if (query.sizeMm) {
        parts
            << "(CASE WHEN width_mm > height_mm THEN width_mm ELSE height_mm END) BETWEEN ? AND ?";
        values << 0.9 * *query.sizeMm << 1.1 * *query.sizeMm;
    }
    return Clause{parts.isEmpty() ? QString() : " WHERE " + parts.join(" AND "), values};
}

Result<std::vector<StitchOut>> Ledger::find(const RecordQuery& query, int most,
                                            const std::optional<PageEnd>& after,
                                            const QStringList& names) {
    auto clause = clauseOf(query);
    if (!clause) return clause.error();
    QString order = "date DESC, id DESC", skip;
    if (!query.sortBy.isEmpty()) {
        const auto sorted = columnsNamed({query.sortBy});
        if (sorted.empty()) return badInput("records have no '" + query.sortBy.toStdString() + "'");
        const QString by = listOf(sorted);
        order = QString("%1 IS NULL, %1 %2, ").arg(by, query.ascending ? "ASC" : "DESC") + order;
        if (after) skip = QString(" OFFSET %1").arg(after->rowsBefore);
    } else if (after) {
        clause->sql +=
            (clause->sql.isEmpty() ? " WHERE " : " AND ") + QString("(date, id) < (?, ?)");
        clause->values << after->date << after->id;
    }
    const auto columns = columnsNamed(names);
    return recordsOf(*db,
                     QString("SELECT %1 FROM record%2 ORDER BY %3 LIMIT %4%5")
                         .arg(listOf(columns), clause->sql, order)
                         .arg(most)
                         .arg(skip),
                     clause->values, columns);
}

Result<std::vector<StitchOut>> Ledger::addedAfter(qint64 id, int most) {
    const auto columns = columnsNamed({});
    return recordsOf(*db,
                     QString("SELECT %1 FROM record WHERE id > ? ORDER BY id LIMIT %2")
                         .arg(listOf(columns))
                         .arg(most),
                     {id}, columns);
}

Result<qint64> Ledger::count(const RecordQuery& query) {
    RecordQuery words;
    words.text = query.text;
    words.sortBy = query.sortBy;
    words.ascending = query.ascending;
    const auto terms = searchTerms(query.text.toStdString());
    if (!db->onServer() && !terms.empty() && query == words) {
        // The index counts by itself.
        auto row = db->run("SELECT count(*) FROM record_words WHERE record_words MATCH ?",
                           {matchOf(terms, false)});
        if (!row) return row.error();
        return row->next() ? row->value(0).toLongLong() : 0;
    }
    const auto clause = clauseOf(query);
    if (!clause) return clause.error();
    auto row = db->run("SELECT count(*) FROM record" + clause->sql, clause->values);
    if (!row) return row.error();
    return row->next() ? row->value(0).toLongLong() : 0;
}

Result<std::optional<StitchOut>> Ledger::record(const QString& uid) {
    const auto columns = columnsNamed({});
    auto row = db->run("SELECT " + listOf(columns) + " FROM record WHERE uid = ?", {uid});
    if (!row) return row.error();
    return row->next() ? std::optional(recordAt(*row, columns)) : std::nullopt;
}

Result<QByteArray> Ledger::file(const QString& hash) {
    auto row = db->run("SELECT bytes FROM file WHERE hash = ?", {hash});
    if (!row) return row.error();
    return row->next() ? row->value(0).toByteArray() : QByteArray();
}

Result<std::vector<Ledger::FileFact>> Ledger::files() {
    std::vector<FileFact> facts;
    const Status read = db->each(
        "SELECT hash, kind, length(bytes) FROM file ORDER BY hash", {}, [&](QSqlQuery& row) {
            facts.push_back(
                {row.value(0).toString(), row.value(1).toString(), row.value(2).toLongLong()});
        });
    if (!read) return read.error();
    return facts;
}

Status Ledger::addFiles(const std::vector<LedgerFile>& files) {
    return db->together([&] { return insertFiles(files); });
}

Status Ledger::removeFiles(const std::vector<QString>& hashes) {
    return db->together([&]() -> Status {
        for (const QString& hash : hashes)
            if (auto gone = db->run("DELETE FROM file WHERE hash = ?", {hash}); !gone)
                return gone.error();
        return done();
    });
}

Result<qint64> copyLedger(Ledger& from, Ledger& to, const std::function<void(qint64)>& progress) {
    auto facts = from.files();
    if (!facts) return facts.error();
    auto there = to.files();
    if (!there) return there.error();
    QSet<QString> known;
    for (const Ledger::FileFact& f : *there) known.insert(f.hash);
    for (const Ledger::FileFact& f : *facts) {
        if (known.contains(f.hash)) continue;
        const auto bytes = from.file(f.hash);
        if (!bytes) return bytes.error();
        if (const Status added = to.addFiles({{f.hash, f.kind, *bytes}}); !added)
            return added.error();
    }
    qint64 read = 0, copied = 0, last = 0;
    while (true) {
        auto page = from.addedAfter(last, copyPage);
        if (!page) return page.error();
        if (page->empty()) return copied;
        last = page->back().id;
        const auto ids = to.add(*page);
        if (!ids) return ids.error();
        copied += static_cast<qint64>(ids->size());
        read += static_cast<qint64>(page->size());
        if (progress) progress(read);
    }
}

} // namespace rapt
