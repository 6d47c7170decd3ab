#include "ledger/place.h"

#include "base/paths.h"

#include <QUrl>
#include <QUrlQuery>

namespace rapt {

QString LedgerPlace::words() const {
    if (!onServer) return file;
    return QString("%1 on %2").arg(database, host.isEmpty() ? QString("this computer") : host);
}

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
    if (const QString folder = QUrlQuery(url).queryItemValue("host", QUrl::FullyDecoded);
        !folder.isEmpty())
        place.host = folder;
    place.port = url.port(5432);
    if (const QString port = QUrlQuery(url).queryItemValue("port"); !port.isEmpty())
        place.port = port.toInt();
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
