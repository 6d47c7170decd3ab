#include "app/register/practice_page.h"

#include "app/kit/plain_table.h"
#include "registration/guided.h"

#include <QDateTime>
#include <QRandomGenerator>

namespace rapt::app {

namespace {

constexpr const char* practiceScan = "scans/practice.png";

} // namespace

PracticePage::PracticePage(Session& s)
    : Page(s), cards(new QCheckBox(tr("with locator cards on the marks"))), words(wordsLabel()),
      own(quietLabel({})), table(new QTableWidget) {
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
    connect(misplacing.get(), &Errands::busyChanged, this, &PracticePage::refresh);
    // Undone, it is over.
    connect(&session.document, &Document::changed, this, [this] {
        if (!going || !session.holds(going->job)) return;
        const Registration* now = session.job().registration(going->before.hooping);
        if (now ? *now == going->before : !going->hadOne) going.reset();
    });
    session.document.setWritten([this](const Job& job) { return withoutPractice(job); });
}

void PracticePage::begin() {
    if (session.hooping() < 0 || misplacing->isBusy()) return;
    end(); // another practice: what was there before the first one is what comes back
    const int hooping = session.hooping() + 1;
    misplacing->ask(
        session.atThisHooping(),
        [job = session.job(), library = session.library, hooping,
         seed = QRandomGenerator::global()->generate64(), withCards = cards->isChecked()](
            std::stop_token) { return misplaceUnseen(job, library, hooping, seed, withCards); },
        [this, hooping](const Result<PracticeScene>& scene) { misplaced(scene, hooping); });
}

void PracticePage::misplaced(const Result<PracticeScene>& scene, int hooping) {
    if (!scene)
        return emit failed(tr("The cloth could not be laid"),
                           QString::fromStdString(scene.error().line()));
    const auto png = encodePng(scene->picture);
    if (!png || hooping > static_cast<int>(session.job().hoopings.size())) return;
    going = Going{session.inThisJob(), scene->hidden, {}, {}};
    going->before.hooping = hooping;
    if (const Registration* r = session.job().registration(hooping)) {
        going->before = *r;
        going->hadOne = true;
        const auto scan = session.job().members.find(r->scan);
        if (scan != session.job().members.end()) going->scanBefore = scan->second;
    }
    places.clear();
    shown = 0;
    Registration fresh;
    fresh.hooping = hooping;
    fresh.scan = practiceScan;
    fresh.plan = planStamp(session.job(), hooping);
    Edit edit = setRegistration(fresh, std::make_shared<const std::string>(*png));
    edit.name = "Misplace the cloth for practice";
    session.document.apply(edit);
}

Job PracticePage::withoutPractice(const Job& job) const {
    if (!going || !session.holds(going->job)) return job;
    Job real = setRegistration(going->before, going->scanBefore).change(job);
    real.members.erase(practiceScan);
    return real;
}

/// Point by point; all of them are kept when the last was shown.
void PracticePage::revealNext() {
    if (!going) return;
    const HiddenCloth& hidden = going->hidden;
    const auto answer = correctionOf(session.job(), hidden.hooping);
    const auto derived = session.derived();
    if (!answer || !derived) return;
    const auto index = static_cast<std::size_t>(hidden.hooping) - 1;
    if (places.empty()) {
        const Box sewn = derived->planned && index < derived->hoopings().size()
                             ? derived->hoopings()[index].extents
                             : Box();
        places = reveal(session.job(), hidden, *answer, sewn);
    }
    shown = std::min(shown + 1, places.size());
    if (shown == places.size()) {
        PracticeTry attempt;
        attempt.id = QDateTime::currentDateTime().toString("yyyy-MM-ddTHH:mm:ss.zzz").toStdString();
        attempt.method = session.job().registration(hidden.hooping)->observations.front().by;
        for (const Revealed& p : places) attempt.errorsMm.push_back(p.errorMm);
        const Status saved = session.addPractice(attempt);
        if (!saved)
            emit failed(tr("The result was not kept"),
                        QString::fromStdString(saved.error().line()));
        going->revealed = true;
    }
    refresh();
}

/// What there was before comes back.
void PracticePage::end() {
    if (!going) return;
    Edit edit{"End practice", [this](const Job& job) { return withoutPractice(job); }};
    session.document.apply(edit);
    going.reset();
    places.clear();
    shown = 0;
    refresh();
}

void PracticePage::refresh() {
    if (going && !session.holds(going->job)) {
        going.reset();
        places.clear();
        shown = 0;
    }
    const bool hidden = going && !going->revealed;
    const bool answered = hidden && correctionOf(session.job(), going->hidden.hooping).has_value();
    beginButton->setEnabled(session.hooping() >= 0 && !misplacing->isBusy());
    revealButton->setEnabled(answered);
    endButton->setEnabled(going.has_value());
    if (misplacing->isBusy())
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
