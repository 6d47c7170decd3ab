#pragma once
// The ledger as the window works with it: on a thread of its own, as a server may take its time.

#include "ledger/shared_ledger.h"

#include <QPointer>
#include <QThread>
#include <QTimer>

namespace rapt::app {

class LedgerState : public QObject {
    Q_OBJECT
public:
    LedgerState();
    ~LedgerState() override;

    /// Where it is by the settings; empty for the file of this computer.
    static QString setting();
    /// Keeps another place and opens it. A place that cannot be is refused in words.
    Status setSetting(const QString& text);

    /// Works on the ledger's thread: `work(SharedLedger&)` gives a Result, with which `then` is
    /// called here, unless `receiver` is gone by then. What is asked is done in order.
    template<class Work, class Then>
    void ask(QObject* receiver, Work work, Then then) {
        ++waiting;
        QMetaObject::invokeMethod(worker, [this, guard = QPointer(receiver), work, then]() mutable {
            using Answer = decltype(work(*ledger));
            auto answer = std::make_shared<Answer>(opened ? work(*ledger) : Answer(opened.error()));
            const QString told = ledger->notice();
            QMetaObject::invokeMethod(this, [this, guard, answer, told, then]() mutable {
                --waiting;
                tell(told);
                if (guard) then(std::move(*answer));
            });
        });
    }
    bool isBusy() const { return waiting > 0; }
    /// What a person should know of it; empty if all is well.
    const QString& notice() const { return noticed; }
    /// Records that are only here as the server is away.
    qint64 unsent() const { return unsentRecords; }

    /// Something was kept, changed or taken out.
    void changedSomething();

signals:
    void changed(); ///< the records
    void noticeChanged();

private:
    void open();
    void tell(const QString& told);
    void sendAgain();

    QThread thread;
    QObject* worker;
    std::unique_ptr<SharedLedger> ledger; ///< of the thread
    Status opened = done();               ///< of the thread
    int waiting = 0;
    QString noticed;
    qint64 unsentRecords = 0;
    QTimer again;
};

} // namespace rapt::app
