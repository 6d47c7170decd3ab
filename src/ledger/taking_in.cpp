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

/// How often the ledger has records that say just the same, looked up a job and day at a time.
class Alike {
public:
    explicit Alike(Ledger& l) : ledger(l) {}
    Result<std::size_t> count(const StitchOut& record, const std::string& row) {
        auto [day, isNew] = days.try_emplace({record.job, record.date});
        if (isNew) {
            constexpr int all = 1'000'000;
            RecordQuery query;
            query.job = q(record.job);
            query.from = query.to = q(record.date);
            const auto there = ledger.find(query, all);
            if (!there) return there.error();
            for (const StitchOut& r : *there) ++day->second[formatRecordsCsv({bare(r)})];
        }
        const auto found = day->second.find(row);
        return found == day->second.end() ? 0 : found->second;
    }

private:
    Ledger& ledger;
    std::map<std::pair<std::string, std::string>, std::map<std::string, std::size_t>> days;
};

} // namespace

Result<std::size_t> takeIn(Ledger& ledger, const std::vector<StitchOut>& records) {
    std::vector<StitchOut> fresh;
    // Rows of a file may look alike; each stands for a stitch-out of its own.
    std::map<std::string, std::size_t> met;
    Alike alike(ledger);
    for (const StitchOut& r : records) {
        if (r.uid.starts_with(rowUid)) {
            const std::string row = formatRecordsCsv({bare(r)});
            const auto there = alike.count(r, row);
            if (!there) return there.error();
            if (met[row]++ < *there) continue;
        }
        fresh.push_back(r);
    }
    const auto ids = ledger.add(fresh);
    if (!ids) return ids.error();
    return ids->size();
}

} // namespace rapt
