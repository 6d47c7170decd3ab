#include "app/ledger/last_time.h"

#include "app/ledger/record_model.h"

namespace rapt::app {
namespace {

struct LastOnCloth {
    std::optional<StitchOut> newest, trouble; ///< trouble: the newest that did not come out well
    qint64 all = 0, good = 0;
};

Result<LastOnCloth> lastOn(Ledger& l, const QString& fabric) {
    LastOnCloth last;
    RecordQuery query;
    query.fabric = fabric;
    const QStringList columns{"date", "job", "outcome", "note", "cause", "peak_layers"};
    const auto newest = l.find(query, 30, {}, columns);
    if (!newest) return newest.error();
    if (newest->empty()) return last;
    last.newest = newest->front();
    for (const StitchOut& r : *newest)
        if (!last.trouble && (r.outcome == "mended" || r.outcome == "spoilt")) last.trouble = r;
    const auto all = l.count(query);
    query.outcome = "good";
    const auto good = l.count(query);
    if (!all || !good) return (all ? good : all).error();
    last.all = *all;
    last.good = *good;
    return last;
}

QString line(const StitchOut& r) {
    QString words = QString("%1, %2: %3")
                        .arg(QString::fromStdString(r.date), QString::fromStdString(r.job),
                             outcomeWords(r.outcome));
    if (r.peakLayers) words += QString(" at %1 layers").arg(*r.peakLayers, 0, 'f', 1);
    if (!r.note.empty()) words += ". " + QString::fromStdString(r.note).simplified();
    return words;
}

} // namespace

LastTime::LastTime(Session& s, QWidget* parent) : QLabel(parent), session(s) {
    setObjectName("lastTime");
    setWordWrap(true);
    setTextFormat(Qt::PlainText);
    setProperty("quiet", true);
    connect(&session.document, &Document::changed, this, [this] {
        if (session.job().brief.fabric != shownFor) look();
    });
    connect(&session.ledger, &LedgerState::changed, this, &LastTime::look);
    hide();
    look();
}

void LastTime::look() {
    shownFor = session.job().brief.fabric;
    const QString fabric = QString::fromStdString(shownFor);
    session.ledger.ask(
        this,
        [fabric](SharedLedger& l) {
            return l.with([&](Ledger& records) { return lastOn(records, fabric); });
        },
        [this, fabric](const Result<LastOnCloth>& last) {
            if (QString::fromStdString(shownFor) != fabric) return;
            QString words;
            if (last && last->newest) {
                words = tr("Last time on this cloth: %1\n%2 of %3 came out well.")
                            .arg(line(*last->newest))
                            .arg(last->good)
                            .arg(last->all);
                if (last->trouble && last->newest->outcome == "good")
                    words += tr(" Last trouble: %1").arg(line(*last->trouble));
            }
            setText(words);
            setVisible(!words.isEmpty());
        });
}

} // namespace rapt::app
