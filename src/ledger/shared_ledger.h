#pragma once
// The ledger of a bench: a file, or a server that several benches share. Records are safe here
// before they are sent, so that none is lost while the server is away, and none is doubled.

#include "ledger/ledger.h"

#include <QElapsedTimer>

namespace rapt {

class SharedLedger {
public:
    /// Opens it. A damaged file is set aside and what can be read of it saved (see `notice`); a
    /// server that does not answer is asked again later. Fails for everything else that is wrong.
    Status open(const LedgerPlace& place);
    const LedgerPlace& place() const { return at; }
    /// What a person should know of it, in words; empty if all is well.
    QString notice() const;
    /// Records that are not on the server yet.
    qint64 waiting();
    bool isAway() const { return away; }

    /// Keeps a record with its files. Nothing instead of an id while the server is away or does not
    /// take it: then it is kept here and sent later.
    Result<std::optional<qint64>> add(const StitchOut& record,
                                      const std::vector<LedgerFile>& files = {});
    /// Sends what waits, if the server answers. Gives how many records went; what the server does
    /// not take stays here and does not keep others back.
    Result<qint64> send();

    /// Does something with the ledger: the server's, or the file. Fails while the server is away.
    /// A file that turns out to be damaged is mended, and it is done once more.
    template<class Work>
    auto with(Work work) -> decltype(work(std::declval<Ledger&>())) {
        if (const Status ready = reach(); !ready) return ready.error();
        auto result = work(main);
        if (result || !mend()) return result;
        return work(main);
    }

private:
    Status reach();
    bool mend();
    Status salvage();
    Status openUnsent();
    Status sendThese(const std::vector<StitchOut>& records);

    LedgerPlace at;
    Ledger main;                    ///< the server's, or the file
    std::unique_ptr<Ledger> unsent; ///< only with a server
    bool away = false;
    QElapsedTimer tried;
    QString said;
    QString refusal; ///< why the server did not take a record
};

} // namespace rapt
