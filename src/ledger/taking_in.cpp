#include "ledger/taking_in.h"

#include "record/record_csv.h"

#include <map>

namespace rapt {
namespace {

QString q(const std::string& text) { return QString::fromStdString(text); }

/// A record without what only tells where it lies.
StitchOut bare(StitchOut record) {
    record.id = 0;
    record.uid.clear();
    record.revision = 1;
    return record;
}

/// How many records of the ledger say just the same.
Result<std::size_t> alike(Ledger& ledger, const StitchOut& record) {
    constexpr int all = 1'000'000;
    RecordQuery query;
    query.job = q(record.job);
    query.from = query.to = q(record.date);
    const auto same = ledger.find(query, all);
    if (!same) return same.error();
    const StitchOut wanted = bare(record);
    return static_cast<std::size_t>(std::count_if(
        same->begin(), same->end(), [&](const StitchOut& r) { return bare(r) == wanted; }));
}

} // namespace

Result<std::size_t> takeIn(Ledger& ledger, const std::vector<StitchOut>& records) {
    std::vector<StitchOut> fresh;
    // Rows of a file may look alike; each stands for a stitch-out of its own.
    std::map<std::string, std::size_t> met;
    for (const StitchOut& r : records) {
        if (r.uid.starts_with(rowUid)) {
            const auto there = alike(ledger, r);
            if (!there) return there.error();
            if (met[formatRecordsCsv({bare(r)})]++ < *there) continue;
        }
        fresh.push_back(r);
    }
    const auto ids = ledger.add(fresh);
    if (!ids) return ids.error();
    return ids->size();
}

} // namespace rapt
