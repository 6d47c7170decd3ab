#pragma once
// A damaged ledger file: set aside, and what can be read of it saved. Internal to the ledger.

#include "base/result.h"

#include <QString>

namespace rapt {

struct Salvaged {
    QString keptAs; ///< where the damaged file is now
    qint64 records = 0;
    bool fromCopy = false; ///< nothing could be read; they are from the daily copy
};

/// Sets the file aside and makes a new one with every row that can still be read.
Result<Salvaged> salvageLedger(const QString& file);

/// Where the daily copy of a ledger file is.
QString dailyCopyOf(const QString& file);
/// Renews it if it is older than a day; a failure is nobody's concern, the ledger itself is whole.
void renewDailyCopy(const QString& file);

} // namespace rapt
