#include "app/ledger/record_pane.h"

#include "app/kit/readout_parts.h"
#include "app/ledger/record_model.h"
#include "app/theme/theme.h"
#include "estimate/timing.h"

#include <QScrollArea>

namespace rapt::app {
namespace {

constexpr int pictureSide = 190;

QString text(const std::string& s) { return QString::fromStdString(s); }

QString detailsOf(const StitchOut& r) {
    QStringList lines;
    const auto add = [&](const QString& name, const QString& value) {
        if (!value.isEmpty()) lines << name + ": " + value;
    };
    QString what = outcomeWords(r.outcome);
    for (const Cause& c : causes())
        if (c.id == r.cause) what += ", " + text(c.words);
    if (r.spotX && r.spotY)
        what += QString(" at %1, %2 mm").arg(*r.spotX, 0, 'f', 0).arg(*r.spotY, 0, 'f', 0);
    lines << what;
    if (!r.note.empty()) lines << text(r.note).simplified();
    add(QObject::tr("For"), text(r.customer));
    add(QObject::tr("Cloth"), text(r.cloth));
    QStringList threads;
    for (const ThreadUsed& t : r.threads)
        threads << QString("%1 %2 m")
                       .arg(text(t.name.empty() ? t.color : t.name))
                       .arg(t.lengthM, 0, 'f', 0);
    add(QObject::tr("Threads"), threads.join(", "));
    if (r.peakLayers) add(QObject::tr("Load"), QString("%1 layers").arg(*r.peakLayers, 0, 'f', 1));
    QStringList words;
    for (const WordsSewn& w : r.lettering)
        words << QString("“%1” %2 mm").arg(text(w.text).simplified()).arg(w.capMm, 0, 'f', 0);
    add(QObject::tr("Words"), words.join(", "));
    QStringList gaps;
    for (const double g : r.gapsMm) gaps << QString::number(g);
    if (!gaps.isEmpty()) add(QObject::tr("Joins"), gaps.join(", ") + " mm");
    if (r.secondsTaken && r.secondsEstimated)
        add(QObject::tr("Time"), QObject::tr("%1, estimated %2")
                                     .arg(text(formatDuration(*r.secondsTaken)),
                                          text(formatDuration(*r.secondsEstimated))));
    return lines.join("\n");
}

} // namespace

RecordPane::RecordPane(Session& s, QWidget* parent)
    : QWidget(parent), session(s), picture(new QLabel), title(headLabel({})),
      details(wordsLabel()) {
    auto* across = new QHBoxLayout(this);
    across->setContentsMargins(0, 0, 0, 0);
    across->setSpacing(14);
    picture->setFixedSize(pictureSide, pictureSide);
    picture->setAlignment(Qt::AlignCenter);
    picture->setObjectName("recordPicture");
    across->addWidget(picture, 0, Qt::AlignTop);
    auto* words = new QWidget;
    auto* lines = new QVBoxLayout(words);
    lines->setContentsMargins(0, 0, 0, 0);
    title->setWordWrap(true);
    lines->addWidget(title);
    details->setTextFormat(Qt::PlainText);
    details->setObjectName("recordDetails");
    lines->addWidget(details);
    lines->addStretch();
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidget(words);
    across->addWidget(scroll, 1);
    setFixedHeight(pictureSide);
}

void RecordPane::showRecord(const QString& uid) {
    if (uid != wanted) {
        picture->clear();
        title->clear();
        details->setText({});
    }
    wanted = uid;
    whole.reset();
    emit known();
    if (uid.isEmpty()) return;
    struct Found {
        std::optional<StitchOut> record;
        QImage image;
    };
    session.ledger.ask(
        this,
        [uid](SharedLedger& l) {
            return l.with([&](Ledger& records) -> Result<Found> {
                auto record = records.record(uid);
                if (!record) return record.error();
                Found found{*record, {}};
                const std::string hash = !*record                   ? std::string()
                                         : (*record)->photo.empty() ? (*record)->picture
                                                                    : (*record)->photo;
                if (!hash.empty())
                    if (const auto bytes = records.file(text(hash)))
                        found.image = QImage::fromData(*bytes).scaled(
                            2 * pictureSide, 2 * pictureSide, Qt::KeepAspectRatio,
                            Qt::SmoothTransformation);
                return found;
            });
        },
        [this, uid](const Result<Found>& found) {
            if (uid != wanted) return;
            if (!found) return details->setText(text(found.error().line()));
            whole = found->record;
            if (!whole) return details->setText(tr("It is no longer in the ledger."));
            title->setText(text(whole->job) + "  " + text(whole->date));
            details->setText(detailsOf(*whole));
            if (!found->image.isNull()) {
                QPixmap shown = QPixmap::fromImage(found->image);
                shown.setDevicePixelRatio(2);
                picture->setPixmap(shown);
            }
            emit known();
        });
}

} // namespace rapt::app
