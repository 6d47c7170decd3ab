#pragma once
// Clearing out a ledger by a rule, with a look at what would go.

#include "ledger/ledger.h"

namespace rapt {

struct PruneRule {
    QString before;        ///< only records before this day
    bool goodOnly = true;  ///< those with trouble teach the most
    bool filesOnly = true; ///< jobs, pictures and photos go, the records stay
};

struct Prunable {
    std::vector<QString> uids;  ///< records that the rule meets, with files if only these go
    std::vector<QString> files; ///< that no other record needs
    qint64 bytes = 0;           ///< of these files
    QString oldest, newest;     ///< days
};

/// What would go. Changes nothing.
Result<Prunable> prunable(Ledger& ledger, const PruneRule& rule);
/// Takes it out.
Status prune(Ledger& ledger, const PruneRule& rule, const Prunable& what);

} // namespace rapt
