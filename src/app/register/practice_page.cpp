#include "app/register/practice_page.h"

#include "app/panels/plain_table.h"
#include "registration/guided.h"

#include <QDateTime>
#include <QRandomGenerator>
#include <QtConcurrent>

namespace rapt::app {

PracticePage::PracticePage(Session& s)
    : ComposePage(s), cards(new QCheckBox(tr("with locator cards on the marks"))),
      words(wordsLabel()), own(quietLabel({})), table(new QTableWidget) {
    beginButton = mainButton(tr("Misplace the cloth unseen"));
    beginButton->setObjectName("practise");
    connect(beginButton, &QPushButton::clicked, this, &PracticePage::begin);
    cards->setObjectName("practiseCards");
    column->addWidget(beginButton);
    column->addWidget(cards);
    words->setObjectName("practiceWords");
    column->addWidget(words);
    revealButton = button(tr("Show the next place"), "reveal", [this] { revealNext(); });
    endButton = button(tr("End practice"), "endPractice", [this] { end(); });
    column->addLayout(sideBySide({revealButton, endButton}));
    makePlain(*table, {tr("Place"), tr("You are off by mm")}, 7);
    table->setObjectName("revealed");
    table->setAccessibleName(tr("How far off"));
    column->addWidget(table);
    column->addWidget(own);
    column->addStretch();
    connect(&misplacing, &QFutureWatcherBase::finished, this, &PracticePage::misplaced);
}

void PracticePage::begin() {
    if (session.hooping() < 0 || misplacing.isRunning()) return;
    hoopingAsked = session.hooping() + 1;
    session.registering.begin();
    misplacing.setFuture(QtConcurrent::run(
        [job = session.job(), library = session.library, hooping = hoopingAsked,
         seed = QRandomGenerator::global()->generate64(), withCards = cards->isChecked()] {
            return std::make_shared<const Result<PracticeScene>>(
                misplaceUnseen(job, library, hooping, seed, withCards));
        }));
    refresh();
}

void PracticePage::misplaced() {
    const auto scene = misplacing.result();
    session.registering.end();
    if (!*scene) {
        emit failed(tr("The cloth could not be laid"),
                    QString::fromStdString(scene->error().line()));
        return refresh();
    }
    const auto png = encodePng((*scene)->picture);
    if (!png || hoopingAsked > static_cast<int>(session.job().hoopings.size())) return;
    if (!hidden) {
        const Registration* r = session.job().registration(hoopingAsked);
        kept = r ? std::optional(*r) : std::nullopt;
        const auto scan = r ? session.job().members.find(r->scan) : session.job().members.end();
        keptScan = scan == session.job().members.end() ? nullptr : scan->second;
    }
    hidden = (*scene)->hidden;
    places.clear();
    shown = 0;
    Registration fresh;
    fresh.hooping = hoopingAsked;
    fresh.scan = "scans/practice.png";
    fresh.plan = planStamp(session.job(), hoopingAsked);
    Edit edit = setRegistration(fresh, std::make_shared<const std::string>(*png));
    edit.name = "Misplace the cloth for practice";
    session.document.apply(edit);
}

/// Point by point; all of them are kept when the last was shown.
void PracticePage::revealNext() {
    const auto answer = correctionOf(session.job(), hidden->hooping);
    const auto derived = session.derived();
    if (!answer || !derived) return;
    const auto index = static_cast<std::size_t>(hidden->hooping) - 1;
    if (places.empty()) {
        const Box sewn = derived->planned && index < derived->hoopings().size()
                             ? derived->hoopings()[index].extents
                             : Box();
        places = reveal(session.job(), *hidden, *answer, sewn);
    }
    shown = std::min(shown + 1, places.size());
    if (shown == places.size()) {
        PracticeTry attempt;
        attempt.id = QDateTime::currentDateTime().toString("yyyy-MM-ddTHH:mm:ss.zzz").toStdString();
        attempt.method = session.job().registration(hidden->hooping)->observations.front().by;
        for (const Revealed& p : places) attempt.errorsMm.push_back(p.errorMm);
        const Status saved = session.addPractice(attempt);
        if (!saved)
            emit failed(tr("The result was not kept"),
                        QString::fromStdString(saved.error().line()));
        hidden.reset();
    }
    refresh();
}

/// What there was before comes back.
void PracticePage::end() {
    Registration before = kept.value_or(Registration{});
    before.hooping = hoopingAsked;
    Edit edit = setRegistration(before, keptScan);
    edit.name = "End practice";
    session.document.apply(edit);
    hidden.reset();
    places.clear();
    kept.reset();
    shown = 0;
    refresh();
}

void PracticePage::refresh() {
    const Registration* r = session.job().registration(hoopingAsked);
    const bool practising = r && r->scan == "scans/practice.png";
    const bool answered = hidden && correctionOf(session.job(), hidden->hooping).has_value();
    beginButton->setEnabled(session.hooping() >= 0 && !misplacing.isRunning());
    revealButton->setEnabled(answered);
    endButton->setEnabled(practising);
    if (misplacing.isRunning())
        words->setText(tr("The cloth is being laid…"));
    else if (hidden && !answered)
        words->setText(tr("The cloth lies up to 6 mm and 3° off. Find it by any way you like: "
                          "read the picture again under Scan, or points under Points."));
    else if (hidden)
        words->setText(tr("You have an answer. See, place by place, how far off it is."));
    else if (!places.empty())
        words->setText(tr("That was all. It was kept with your other tries."));
    else
        words->setText(tr("Nobody sees where the cloth lies until you say so."));
    table->setRowCount(static_cast<int>(shown));
    for (std::size_t i = 0; i < shown; ++i) {
        table->setItem(static_cast<int>(i), 0,
                       new QTableWidgetItem(QString::fromStdString(places[i].name)));
        auto* off = new QTableWidgetItem(QString::number(places[i].errorMm, 'f', 2));
        off->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        table->setItem(static_cast<int>(i), 1, off);
    }
    const Practice& p = session.library.practice;
    own->setText(p.cases() == 0
                     ? tr("Forecasts use the starting value, %1 mm for a place found by hand.")
                           .arg(p.placingSigmaMm(), 0, 'f', 2)
                     : tr("You place to %1 mm (each way, from %2 places). Forecasts use it.")
                           .arg(p.placingSigmaMm(), 0, 'f', 2)
                           .arg(p.cases()));
}

} // namespace rapt::app
