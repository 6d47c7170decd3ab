#include "app/ledger/ledger_state.h"

#include <QSettings>

namespace rapt::app {
namespace {

constexpr int sendEveryMs = 20'000;
constexpr const char* key = "ledger/place";

} // namespace

LedgerState::LedgerState() : worker(new QObject) {
    thread.setObjectName("ledger");
    worker->moveToThread(&thread);
    thread.start();
    again.setInterval(sendEveryMs);
    connect(&again, &QTimer::timeout, this, &LedgerState::sendAgain);
    open();
}

LedgerState::~LedgerState() {
    // Connections end on the thread that made them.
    QMetaObject::invokeMethod(
        worker, [this] { ledger.reset(); }, Qt::BlockingQueuedConnection);
    thread.quit();
    thread.wait();
    delete worker;
}

QString LedgerState::setting() { return QSettings().value(key).toString(); }

Status LedgerState::setSetting(const QString& text) {
    if (const auto place = ledgerPlace(text); !place) return place.error();
    QSettings().setValue(key, text);
    open();
    emit changed();
    return done();
}

void LedgerState::open() {
    const auto place = ledgerPlace(setting());
    ++waiting;
    QMetaObject::invokeMethod(worker, [this, place] {
        ledger = std::make_unique<SharedLedger>();
        opened = place ? ledger->open(*place) : Status(place.error());
        const QString told =
            opened ? ledger->notice() : QString::fromStdString(opened.error().line());
        QMetaObject::invokeMethod(this, [this, told] {
            --waiting;
            tell(told);
        });
    });
    if (place && place->onServer)
        again.start();
    else
        again.stop();
}

void LedgerState::tell(const QString& told) {
    if (told.isEmpty() && unsentRecords == 0 && noticed.isEmpty()) return;
    if (told == noticed) return;
    noticed = told;
    emit noticeChanged();
}

void LedgerState::sendAgain() {
    ask(
        this,
        [](SharedLedger& l) -> Result<std::pair<qint64, qint64>> {
            const auto sent = l.send();
            return std::pair(sent ? *sent : 0, l.waiting());
        },
        [this](const Result<std::pair<qint64, qint64>>& counts) {
            if (!counts) return;
            unsentRecords = counts->second;
            if (counts->first > 0) emit changed();
        });
}

void LedgerState::changedSomething() {
    if (again.isActive()) sendAgain();
    emit changed();
}

} // namespace rapt::app
