#pragma once
// Records of stitch-outs in a database: kept, found, changed, with the files that belong to them.
// Used on the thread that made it.

#include "ledger/database.h"
#include "record/stitch_out.h"

#include <QByteArray>
#include <functional>
#include <memory>

namespace rapt {

/// A file that belongs to a record, kept once for all that have the same content.
struct LedgerFile {
    QString hash; ///< SHA-256, hexadecimal
    QString kind; ///< job, picture or photo
    QByteArray bytes;
};
/// With its hash.
LedgerFile ledgerFile(const QString& kind, const QByteArray& bytes);

/// What is looked for; empty parts do not narrow.
struct RecordQuery {
    QString text{}; ///< words, each of which must begin one of the record's
    QString job{}, fabric{}, outcome{}, machine{};
    QString jobId{};      ///< with `job`: also the job of that identity, whatever its name was
    QString from{}, to{}; ///< days, both included
    std::optional<double> sizeMm{}; ///< the longer side, within a tenth
    QString sortBy{};               ///< a column; newest first without
    bool ascending = true;
    friend bool operator==(const RecordQuery&, const RecordQuery&) = default;
};

/// The last record of a page, where the next begins.
struct PageEnd {
    QString date;
    qint64 id = 0;
    qint64 rowsBefore = 0; ///< counted from the first record, for other orders than newest first
};

class Ledger {
public:
    Ledger();
    ~Ledger();
    Ledger(Ledger&&) noexcept;
    Ledger& operator=(Ledger&&) noexcept;

    /// Opens or makes it, and brings it up to date. Fails as LedgerPlace's database does.
    Status open(const LedgerPlace& place);
    const LedgerPlace& place() const;
    Trouble trouble() const;

    /// Keeps records and their files, all or none. Records whose uid is there already are left
    /// out. Gives the ids of the others. Fails (badInput) for a record that cannot be.
    Result<std::vector<qint64>> add(const std::vector<StitchOut>& records,
                                    const std::vector<LedgerFile>& files = {});
    /// Replaces the record of that uid. Fails (cannotDo) if somebody changed it since its revision,
    /// or took it out.
    Status change(const StitchOut& record, const std::vector<LedgerFile>& files = {});
    Status remove(const std::vector<QString>& uids);

    /// In the query's order, what is not known last; so many at most, after the end of a page. Only
    /// `columns`, or all.
    Result<std::vector<StitchOut>> find(const RecordQuery& query, int most,
                                        const std::optional<PageEnd>& after = {},
                                        const QStringList& columns = {});
    /// In the order they were added, after that id.
    Result<std::vector<StitchOut>> addedAfter(qint64 id, int most);
    Result<qint64> count(const RecordQuery& query);
    /// Nothing if there is none.
    Result<std::optional<StitchOut>> record(const QString& uid);
    /// Empty if it is not there.
    Result<QByteArray> file(const QString& hash);
    /// Hashes, kinds and sizes of all files.
    struct FileFact {
        QString hash, kind;
        qint64 bytes = 0;
    };
    Result<std::vector<FileFact>> files();
    Status addFiles(const std::vector<LedgerFile>& files);
    Status removeFiles(const std::vector<QString>& hashes);

private:
    struct Clause;
    Result<Clause> clauseOf(const RecordQuery& query);
    Status insertFiles(const std::vector<LedgerFile>& files);
    std::unique_ptr<Database> db;
};

/// Everything of one ledger into another that does not have it yet. Gives how many records came
/// over; `progress` gets how many were read.
Result<qint64> copyLedger(Ledger& from, Ledger& to,
                          const std::function<void(qint64)>& progress = {});

} // namespace rapt
