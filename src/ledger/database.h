#pragma once
// One connection to a ledger's database, of either kind. Internal to the ledger; used on the
// thread that made it.

#include "ledger/place.h"

#include <QSqlDatabase>
#include <QSqlQuery>
#include <QVariant>

namespace rapt {

/// Why a statement failed, as far as it decides what to do.
enum class Trouble {
    other,
    away,    ///< the server does not answer (any more)
    damaged, ///< the file is no database, or torn
};

class Database {
public:
    explicit Database(const char* purpose);
    ~Database();
    Database(const Database&) = delete;
    Database& operator=(const Database&) = delete;

    /// Opens it; a file and its folder are made when missing. Of a server waits 5 s at most.
    Status open(const LedgerPlace& place);
    bool onServer() const { return place.onServer; }
    const LedgerPlace& at() const { return place; }

    /// Runs a statement with its values. Fails (badInput) with the reason; see `trouble`.
    Result<QSqlQuery> run(const QString& sql, const QVariantList& values = {});
    /// The same statement for many rows: made once, then run with the values of each.
    Result<QSqlQuery> prepared(const QString& sql);
    Status run(QSqlQuery& statement, const QVariantList& values);
    /// Gives each row of an answer to `take`. Fails also when reading breaks off half way, where
    /// `QSqlQuery::next` alone says no more than after the last row.
    template<class Take>
    Status each(const QString& sql, const QVariantList& values, Take take) {
        auto rows = run(sql, values);
        if (!rows) return rows.error();
        while (rows->next()) take(*rows);
        return ended(*rows);
    }
    /// Runs a statement to its end, past rows that nobody asked for: one that gives rows back
    /// may fail after the first of them (SQLite then has undone all that was done together).
    Status ended(QSqlQuery& statement);
    /// Runs what is done between as one: all of it happens, or nothing.
    template<class Work>
    Status together(Work work) {
        if (auto begun = run(onServer() ? "BEGIN" : "BEGIN IMMEDIATE"); !begun)
            return begun.error();
        Status done = work();
        if (done) {
            if (auto ended = run("COMMIT"))
                return rapt::done();
            else
                done = ended.error();
        }
        const Trouble was = last;
        (void)run("ROLLBACK");
        last = was;
        return done;
    }
    /// Of the last statement that failed.
    Trouble trouble() const { return last; }

private:
    Error failed(const QSqlError& error);

    LedgerPlace place;
    QString name;
    Trouble last = Trouble::other;
};

} // namespace rapt
