#pragma once
// The ledger's tables, and how older ledgers become today's. Internal to the ledger.

#include "ledger/database.h"

namespace rapt {

/// 1: the table of outcomes alone, in SQLite files; 2: jobs by their names alone.
inline constexpr int ledgerSchema = 3;

/// Brings the database to today's schema, whole or not at all. Fails (cannotDo) for one of a later
/// version and for servers before PostgreSQL 12; then nothing was changed.
Status bringUpToDate(Database& db);

} // namespace rapt
