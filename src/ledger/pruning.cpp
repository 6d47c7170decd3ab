#include "ledger/pruning.h"

#include <QHash>
#include <QSet>

namespace rapt {
namespace {

constexpr int page = 1000;
const QStringList needed{"id", "uid", "date", "outcome", "job_file", "picture", "photo"};

QString q(const std::string& text) { return QString::fromStdString(text); }

bool meets(const StitchOut& r, const PruneRule& rule) {
    return q(r.date) < rule.before && (!rule.goodOnly || r.outcome == "good");
}

} // namespace

Result<Prunable> prunable(Ledger& ledger, const PruneRule& rule) {
    Prunable found;
    QSet<QString> going, staying;
    std::optional<PageEnd> end;
    while (true) {
        const auto records = ledger.find({}, page, end, needed);
        if (!records) return records.error();
        if (records->empty()) break;
        end = PageEnd{q(records->back().date), records->back().id};
        for (const StitchOut& r : *records) {
            const bool goes = meets(r, rule);
            bool has = false;
            for (const std::string& hash : {r.jobFile, r.picture, r.photo}) {
                if (hash.empty()) continue;
                has = true;
                (goes ? going : staying).insert(q(hash));
            }
            if (!goes || (rule.filesOnly && !has)) continue;
            found.uids.push_back(q(r.uid));
            found.oldest = q(r.date);
            if (found.newest.isEmpty()) found.newest = q(r.date);
        }
    }
    const auto facts = ledger.files();
    if (!facts) return facts.error();
    for (const Ledger::FileFact& f : *facts)
        if (going.contains(f.hash) && !staying.contains(f.hash)) {
            found.files.push_back(f.hash);
            found.bytes += f.bytes;
        }
    return found;
}

Status prune(Ledger& ledger, const PruneRule& rule, const Prunable& what) {
    if (!rule.filesOnly)
        if (const Status gone = ledger.remove(what.uids); !gone) return gone;
    return ledger.removeFiles(what.files);
}

} // namespace rapt
