#include "ledger/shared_ledger.h"

#include "base/paths.h"
#include "ledger/salvage.h"

#include <QCryptographicHash>
#include <QFile>
#include <QFileInfo>
#include <QUuid>

namespace rapt {
namespace {

constexpr int askAgainMs = 15'000;
constexpr int sendAtOnce = 50;
constexpr qint64 checkedUpTo = 64'000'000; ///< bytes of a file that is looked through when opened

QString unsentFileOf(const QByteArray& mark) {
    return QString::fromStdString(userDataFolder()) + "/ledger-unsent-" + mark + ".sqlite";
}

/// The same for all that was ever sent to that server. What older versions kept under a name of
/// Qt's hash goes on under this one.
QString unsentFile(const LedgerPlace& server) {
    const QString words =
        QString("%1 %2 %3 %4").arg(server.host).arg(server.port).arg(server.database, server.user);
    const QString file = unsentFileOf(
        QCryptographicHash::hash(words.toUtf8(), QCryptographicHash::Sha256).toHex().first(32));
    const QString before =
        unsentFileOf(QByteArray::number(static_cast<qulonglong>(qHash(words)), 16));
    if (!QFile::exists(file) && QFile::exists(before)) QFile::rename(before, file);
    return file;
}

bool looksWhole(const QString& file) {
    if (QFileInfo(file).size() > checkedUpTo) return true;
    LedgerPlace place;
    place.file = file;
    Database db("check-");
    if (!db.open(place)) return db.trouble() != Trouble::damaged;
    auto check = db.run("PRAGMA quick_check(1)");
    if (!check) return db.trouble() != Trouble::damaged;
    return !check->next() || check->value(0).toString() == "ok";
}

} // namespace

Status SharedLedger::salvage() {
    main = Ledger();
    const auto saved = salvageLedger(at.file);
    if (!saved) return saved.error();
    said = QString("The ledger's file was damaged. It is kept as %1; %2 record%3 %4.")
               .arg(QFileInfo(saved->keptAs).fileName())
               .arg(saved->records)
               .arg(saved->records == 1 ? "" : "s")
               .arg(saved->fromCopy ? "were taken from the daily copy"
                                    : "could be read and are in a new one");
    return main.open(at);
}

Status SharedLedger::open(const LedgerPlace& place) {
    at = place;
    said.clear();
    main = Ledger();
    unsent.reset();
    away = false;
    if (!place.onServer) {
        if (QFileInfo::exists(place.file) && !looksWhole(place.file)) return salvage();
        const Status opened = main.open(place);
        if (opened || main.trouble() != Trouble::damaged) return opened;
        return salvage();
    }
    if (const Status opened = openUnsent(); !opened) return opened;
    const Status reached = reach();
    if (!reached && !away) return reached;
    if (!away) (void)send();
    return done();
}

/// The file in which records wait; damaged, it is saved as a ledger's file is.
Status SharedLedger::openUnsent() {
    LedgerPlace here;
    here.file = unsentFile(at);
    unsent = std::make_unique<Ledger>();
    if (!QFileInfo::exists(here.file) || looksWhole(here.file)) {
        const Status opened = unsent->open(here);
        if (opened || unsent->trouble() != Trouble::damaged) return opened;
        *unsent = Ledger();
    }
    const auto saved = salvageLedger(here.file);
    if (!saved) return saved.error();
    said = QString("The file of records that wait for the server was damaged. It is kept as %1; %2 "
                   "of them could be read and are sent.")
               .arg(QFileInfo(saved->keptAs).fileName())
               .arg(saved->records);
    return unsent->open(here);
}

/// The server is asked again after a while.
Status SharedLedger::reach() {
    if (!at.onServer) return done();
    if (main.place() == at && !away) return done();
    const Error error =
        badInput("the ledger's server does not answer; records are kept here until it does", {},
                 at.words().toStdString());
    if (away && tried.isValid() && tried.elapsed() < askAgainMs) return error;
    tried.start();
    main = Ledger();
    const Status opened = main.open(at);
    away = !opened && main.trouble() == Trouble::away;
    if (opened) return done();
    main = Ledger();
    return away ? Status(error) : opened;
}

/// After a failure: true if it is worth trying once more.
bool SharedLedger::mend() {
    if (!at.onServer) return main.trouble() == Trouble::damaged && salvage();
    if (main.trouble() != Trouble::away) return false;
    // The line may only have been cut; it is opened anew once.
    away = true;
    tried.invalidate();
    return bool(reach());
}

QString SharedLedger::notice() const {
    if (at.onServer && away)
        return "The ledger's server does not answer. Records are kept here and sent when it does.";
    if (!refusal.isEmpty())
        return "The ledger's server does not take every record (" + refusal +
               "). What it does not take is kept here and tried again.";
    return said;
}

qint64 SharedLedger::waiting() {
    if (!unsent) return 0;
    const auto n = unsent->count({});
    return n ? *n : 0;
}

Result<std::optional<qint64>> SharedLedger::add(const StitchOut& given,
                                                const std::vector<LedgerFile>& files) {
    StitchOut record = given;
    if (record.uid.empty())
        record.uid = QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
    const auto first = [](const std::vector<qint64>& ids) {
        return ids.empty() ? std::optional<qint64>() : std::optional(ids.front());
    };
    if (!at.onServer) {
        const auto ids = with([&](Ledger& l) { return l.add({record}, files); });
        if (!ids) return ids.error();
        renewDailyCopy(at.file);
        return first(*ids);
    }
    if (const auto kept = unsent->add({record}, files); !kept) return kept.error();
    // Where the server says no, the record waits here, and `notice` says why.
    (void)send();
    if (away) return std::optional<qint64>();
    const auto there =
        with([&](Ledger& l) { return l.record(QString::fromStdString(record.uid)); });
    if (!there || !*there) return std::optional<qint64>();
    return std::optional<qint64>((*there)->id);
}

Status SharedLedger::sendThese(const std::vector<StitchOut>& records) {
    std::vector<LedgerFile> files;
    std::vector<QString> uids, hashes;
    for (const StitchOut& r : records) {
        uids.push_back(QString::fromStdString(r.uid));
        for (const auto& [hash, kind] :
             {std::pair(r.jobFile, "job"), {r.picture, "picture"}, {r.photo, "photo"}}) {
            if (hash.empty()) continue;
            const auto bytes = unsent->file(QString::fromStdString(hash));
            if (!bytes) return bytes.error();
            if (!bytes->isEmpty()) files.push_back(ledgerFile(kind, *bytes));
        }
    }
    for (const LedgerFile& f : files) hashes.push_back(f.hash);
    // What was sent before its receipt was lost is there already and is left out.
    const auto added = with([&](Ledger& l) { return l.add(records, files); });
    if (!added) return added.error();
    if (const Status gone = unsent->remove(uids); !gone) return gone;
    (void)unsent->removeFiles(hashes);
    return done();
}

Result<qint64> SharedLedger::send() {
    if (!unsent) return qint64(0);
    refusal.clear();
    qint64 sent = 0, after = 0;
    while (true) {
        const auto records = unsent->addedAfter(after, sendAtOnce);
        if (!records) return records.error();
        if (records->empty()) return sent;
        after = records->back().id;
        Status went = sendThese(*records);
        if (went) {
            sent += static_cast<qint64>(records->size());
            continue;
        }
        // One that the server does not take must not keep the others back.
        for (std::size_t i = 0; i < records->size() && !away; ++i) {
            went = sendThese({(*records)[i]});
            if (went)
                ++sent;
            else
                refusal = QString::fromStdString(went.error().reason);
        }
        if (away) return went.error();
    }
}

} // namespace rapt
