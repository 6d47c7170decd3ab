#pragma once
// The ledger's SQLite file, opened under a connection of one's own. Internal to the ledger.

#include <QString>
#include <optional>

namespace rapt {

/// A connection name that nobody else has.
QString newConnection(const char* purpose);
/// Opens the file, making it and its folder when missing, and makes the table if it is not there.
/// Gives the reason if that fails.
std::optional<QString> openDatabase(const QString& connection, const QString& path,
                                    const char* schema);
void closeDatabase(const QString& connection);

} // namespace rapt
