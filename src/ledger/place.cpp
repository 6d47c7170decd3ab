#include "ledger/place.h"

#include "base/paths.h"

#include <QUrl>
#include <QUrlQuery>

namespace rapt {

QString LedgerPlace::words() const {
    if (!onServer) return file;
    return QString("%1 on %2").arg(database, host.isEmpty() ? QString("this computer") : host);
}

namespace {

/// What stands after the question mark. An option that is not honoured must not seem to be.
Status takeOptions(const QUrlQuery& query, LedgerPlace& place) {
    static const QStringList passedOn{"sslmode", "sslrootcert", "sslcert", "sslkey",
                                      "connect_timeout"};
    for (const auto& [key, value] : query.queryItems(QUrl::FullyDecoded)) {
        bool good = !value.isEmpty();
        // They go to the driver in one text, where these divide them.
        for (const QChar c : value) good &= !c.isSpace() && !QString(";'\\").contains(c);
        if (key == "host")
            place.host = value;
        else if (key == "port")
            place.port = value.toInt(&good);
        else if (passedOn.contains(key))
            place.options[key] = value;
        else
            return badInput("the ledger's place has the option '" + key.toStdString() +
                            "'; known are host, port, " + passedOn.join(", ").toStdString());
        if (!good || place.port < 1 || place.port > 65'535)
            return badInput("the ledger's place gives " + key.toStdString() +
                            " a value that cannot be");
    }
    return done();
}

} // namespace

Result<LedgerPlace> parseLedgerPlace(const QString& text, bool passwordAllowed) {
    LedgerPlace place;
    if (text.startsWith("sqlite:")) {
        place.file = text.mid(7);
        if (place.file.isEmpty()) return badInput("the ledger's place sqlite: names no file");
        return place;
    }
    const QUrl url(text, QUrl::StrictMode);
    if (!url.isValid() || (url.scheme() != "postgresql" && url.scheme() != "postgres"))
        return badInput("the ledger's place must be sqlite:FILE or postgresql://HOST/DATABASE");
    place.onServer = true;
    place.host = url.host();
    place.port = url.port(5432);
    if (const Status taken = takeOptions(QUrlQuery(url), place); !taken) return taken.error();
    place.user = url.userName();
    place.password = url.password();
    place.database = url.path().mid(1);
    if (place.database.isEmpty())
        return badInput("the ledger's place names no database: postgresql://HOST/DATABASE");
    if (!place.password.isEmpty() && !passwordAllowed)
        return badInput("a password is not kept in the settings; put it into ~/.pgpass or set "
                        "PGPASSWORD");
    return place;
}

Result<LedgerPlace> ledgerPlace(const QString& setting) {
    const QString environment = qEnvironmentVariable("RAPT_LEDGER");
    if (!environment.isEmpty()) return parseLedgerPlace(environment, true);
    if (!setting.isEmpty()) return parseLedgerPlace(setting, false);
    LedgerPlace place;
    place.file = QString::fromStdString(userDataFolder()) + "/ledger.sqlite";
    return place;
}

} // namespace rapt
