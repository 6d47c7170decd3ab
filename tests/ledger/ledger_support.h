#pragma once
// Records and ledgers for tests.

#include "support.h"

#include "ledger/shared_ledger.h"

namespace rapt::test {

inline StitchOut recordNamed(const std::string& job, const std::string& date = "2026-05-04") {
    StitchOut r;
    r.uid = "uid of " + job + " " + date;
    r.job = job;
    r.date = date;
    r.fabric = "canvas";
    r.outcome = "good";
    return r;
}

inline LedgerPlace fileAt(const QString& path) {
    LedgerPlace place;
    place.file = path;
    return place;
}

inline QStringList jobsOf(const std::vector<StitchOut>& records) {
    QStringList names;
    for (const StitchOut& r : records) names << QString::fromStdString(r.job);
    return names;
}

} // namespace rapt::test
