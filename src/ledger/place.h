#pragma once
// Where a ledger is: a SQLite file, or a database on a PostgreSQL server.

#include "base/result.h"

#include <QMap>
#include <QString>

namespace rapt {

struct LedgerPlace {
    bool onServer = false;
    QString file;                 ///< of SQLite
    QString host, database, user; ///< of the server; host: a name, or the folder of its socket
    int port = 5432;
    QString
        password; ///< only out of the environment; else libpq asks PGPASSWORD and its pgpass file
    QMap<QString, QString> options; ///< of the line to the server, as libpq names them

    /// As it may be shown and logged: never with a password.
    QString words() const;
    friend bool operator==(const LedgerPlace&, const LedgerPlace&) = default;
};

/// Reads `sqlite:FILE` or `postgresql://[USER[:PASSWORD]@]HOST[:PORT]/DATABASE[?host=FOLDER&…]`;
/// after the question mark may stand sslmode, sslrootcert, sslcert, sslkey and connect_timeout, and
/// nothing else. Without `passwordAllowed` (text that is kept in a settings file) one with a
/// password is refused.
Result<LedgerPlace> parseLedgerPlace(const QString& text, bool passwordAllowed);

/// $RAPT_LEDGER if it is set, else `setting` if it is not empty, else ledger.sqlite in the user's
/// data folder.
Result<LedgerPlace> ledgerPlace(const QString& setting = {});

} // namespace rapt
