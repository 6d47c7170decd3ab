#include "app/stitchout/run_page.h"
#include "app/kit/frame_name.h"
#include "app/stitchout/hands_box.h"
#include "app/stitchout/run_words.h"
#include "app/stitchout/sewing_state.h"
#include "app/stitchout/steps_list.h"
#include "divide/sewn_hoopings.h"
#include "estimate/timing.h"

#include <QSignalBlocker>

namespace rapt::app {
namespace {

enum From { fromStart, whereItStopped, threadAgain, fromN };

QString minutes(double seconds) {
    return QString::fromStdString(formatDuration(std::max(0.0, seconds)));
}

} // namespace

RunPage::RunPage(Session& s) : Page(s), hooping(new QComboBox) {
    hooping->setObjectName("runHooping");
    hooping->setAccessibleName(tr("Hooping"));
    column->addLayout(row(tr("Hooping"), hooping));
    column->addWidget(buildMachine());
    column->addWidget(hairLine());
    column->addWidget(steps = new StepsList);
    column->addWidget(runBox = buildRun());
    column->addWidget(hands = new HandsBox([this] { return run(); }));
    column->addStretch();
    connect(steps, &StepsList::confirmed, this, [this](const std::string& id, bool on) {
        if (MachineRun* r = run()) r->confirm(id, on);
    });
    connect(hooping, &QComboBox::activated, this, [this](int i) { session.setHooping(i); });
}

MachineRun* RunPage::run() const {
    const auto machine = session.library.machine(session.job().brief.machine);
    return machine ? &session.sewing.machine(*machine) : nullptr;
}

const Handing* RunPage::handing() {
    const auto* known = session.handing();
    return known && *known ? (**known).get() : nullptr;
}

QWidget* RunPage::buildMachine() {
    auto* box = new QWidget;
    auto* lines = new QVBoxLayout(box);
    lines->setContentsMargins(0, 0, 0, 0);
    machineWords = wordsLabel();
    machineWords->setObjectName("machineWords");
    lines->addWidget(machineWords);
    connectButton = button(tr("Connect"), "connectMachine", [this] {
        if (MachineRun* r = run()) r->isConnected() ? r->disconnectNow() : r->connectNow();
    });
    simulated = button(tr("Start the simulated machine"), "startStandIn", [this] {
        if (MachineRun* r = run()) r->startStandIn();
    });
    lines->addLayout(sideBySide({connectButton, simulated}));
    walkBox = button(tr("Walk its box"), "walkBox", [this] {
        if (MachineRun* r = run()) r->walk("box");
    });
    walkHull = button(tr("Walk its outline"), "walkHull", [this] {
        if (MachineRun* r = run()) r->walk("hull");
    });
    lines->addLayout(sideBySide({walkBox, walkHull}));
    return box;
}

QWidget* RunPage::buildRun() {
    auto* box = new QWidget;
    auto* lines = new QVBoxLayout(box);
    lines->setContentsMargins(0, 0, 0, 0);
    lines->setSpacing(5);
    eventWords = wordsLabel();
    eventWords->setObjectName("eventWords");
    lines->addWidget(eventWords);
    progressWords = wordsLabel();
    progressWords->setObjectName("progressWords");
    lines->addWidget(progressWords);
    progress = new QProgressBar;
    progress->setTextVisible(false);
    progress->setFixedHeight(8);
    lines->addWidget(progress);
    threadWords = wordsLabel();
    threadWords->setObjectName("threadWords");
    lines->addWidget(threadWords);
    from = new QComboBox;
    from->setObjectName("startFrom");
    from->addItems({tr("from the start"), tr("from where it stopped"), tr("this thread once more"),
                    tr("from a stitch:")});
    fromStitch = new QSpinBox;
    fromStitch->setObjectName("startStitch");
    fromStitch->setRange(1, 1);
    auto* where = new QHBoxLayout;
    where->addWidget(from, 1);
    where->addWidget(fromStitch);
    lines->addLayout(where);
    noCrosses = new QCheckBox(tr("without the basting crosses at its end"));
    noCrosses->setObjectName("noCrosses");
    lines->addWidget(noCrosses);
    startButton = button(tr("Start"), "startRun", [this] { start(); });
    startButton->setProperty("main", true);
    resumeButton = button(tr("Go on"), "resumeRun", [this] { goOn(); });
    resumeButton->setProperty("main", true);
    stopButton = button(tr("Stop"), "stopRun", [this] {
        if (MachineRun* r = run()) r->stop();
    });
    lines->addLayout(sideBySide({startButton, resumeButton, stopButton}));
    keepSewn = button(tr("Keep it as sewn"), "keepSewn", [this] { keepWhatIsSewn(); });
    keepSewn->setToolTip(tr("Its stitches stay as they are: planning, edits and hand-over leave "
                            "them alone. Not for work that is sewn on several items."));
    lines->addWidget(keepSewn);
    lines->addLayout(buildSteppers());
    connect(from, &QComboBox::activated, this, &RunPage::refresh);
    connect(noCrosses, &QCheckBox::clicked, this, &RunPage::refresh);
    return box;
}

QHBoxLayout* RunPage::buildSteppers() {
    auto* back = new QHBoxLayout;
    back->setSpacing(4);
    const auto stepper = [&](const QString& text, const QString& help, const char* name, int by,
                             const char* unit) {
        QPushButton* b = button(text, name, [this, by, unit] { step(by, unit); });
        b->setToolTip(help);
        b->setAccessibleName(help);
        b->setStyleSheet("padding-left: 2px; padding-right: 2px;");
        back->addWidget(b, QLatin1String(unit) == QLatin1String("thread") ? 3 : 2);
        stepButtons << b;
    };
    stepper(tr("« thread"), tr("Back to the start of the thread"), "backThread", -1, "thread");
    stepper(tr("‹ 10"), tr("Ten stitches back"), "backTen", -10, "stitch");
    stepper(tr("‹ 1"), tr("One stitch back"), "backOne", -1, "stitch");
    stepper(tr("1 ›"), tr("One stitch on"), "onOne", 1, "stitch");
    stepper(tr("10 ›"), tr("Ten stitches on"), "onTen", 10, "stitch");
    stepper(tr("thread »"), tr("On to the next thread"), "onThread", 1, "thread");
    return back;
}

void RunPage::refresh() {
    const Handing* h = handing();
    MachineRun* r = run();
    // What is on the machine can be stopped and gone on with whatever is worked out meanwhile.
    setEnabled(r && (h || r->task()));
    hooping->setEnabled(h != nullptr);
    noCrosses->setEnabled(h != nullptr);
    steps->setEnabled(h != nullptr);
    if (h && r) {
        fillHoopings(*h);
        takeTask(*h);
        fillSteps(*h);
    }
    if (r && r->task()) {
        if (std::exchange(anywayFor, r->task()->mark) != r->task()->mark) startsAnyway = false;
        fillRun();
    }
    if (h && r) return;
    startButton->setEnabled(false);
    machineWords->setText(session.job().hoopings.empty() ? tr("Plan the hoopings in Divide first.")
                                                         : tr("It is being worked out."));
}

void RunPage::fillHoopings(const Handing& h) {
    const QSignalBlocker quiet(hooping);
    hooping->clear();
    for (std::size_t i = 0; i < h.lists.size(); ++i)
        hooping->addItem(tr("%1 of %2, %3")
                             .arg(i + 1)
                             .arg(h.lists.size())
                             .arg(frameName(session.library, session.job().hoopings[i].hoop)));
    hooping->setCurrentIndex(session.hooping());
}

void RunPage::takeTask(const Handing& h) {
    const auto index = static_cast<std::size_t>(session.hooping());
    if (index >= h.tasks.size()) return;
    auto task = h.tasks[index];
    if (std::exchange(crossesOf, task) != task) uncrossed = withoutCrosses(*task);
    noCrosses->setVisible(uncrossed != nullptr);
    if (uncrossed && noCrosses->isChecked()) task = uncrossed;
    // What is being sewn is not taken off the machine by looking elsewhere.
    run()->setTask(task);
}

void RunPage::fillSteps(const Handing& h) {
    const MachineRun& r = *run();
    steps->show(stepsBefore(session.job(), static_cast<std::size_t>(session.hooping()), h.lists,
                            h.needles, session.library),
                r.record().steps, startsAnyway);
    const bool before = r.record().sewn == 0 || r.record().finished;
    steps->setVisible(before && r.state() != MachineRun::State::sewing);
}

/// The hooping of this job that is on the machine, or null.
const Hooping* RunPage::sewnHooping() {
    const MachineRun* r = run();
    const auto& all = session.job().hoopings;
    if (!r || !r->task() || r->task()->jobId != session.job().identity.text) return nullptr;
    const auto index = static_cast<std::size_t>(r->task()->hooping - 1);
    return index < all.size() ? &all[index] : nullptr;
}

void RunPage::keepWhatIsSewn() {
    const auto derived = session.derived();
    if (!sewnHooping() || !derived || !derived->planned) return;
    const RunRecord& known = run()->record();
    const auto index = static_cast<std::size_t>(known.hooping - 1);
    const auto& lists = derived->hoopings();
    if (index >= lists.size()) return;
    // A task that began where an earlier one ended counts from there.
    const Hooping& h = session.job().hoopings[index];
    const std::size_t before = h.sewn == 0 ? 0 : lists[index].stitches - known.of;
    session.document.apply(
        markSewn(known.hooping, known.finished ? allSewn : before + known.sewn, lists[index]));
}

void RunPage::fillRun() {
    fillMachine();
    fillStart();
    hands->fill(*run());
    const QString words = wordsAfterStop(session, *run());
    eventWords->setText(words);
    eventWords->setVisible(!words.isEmpty());
    advance();
}

void RunPage::fillMachine() {
    const MachineRun& r = *run();
    const bool connected = r.isConnected();
    machineWords->setText(
        r.trouble().isEmpty()
            ? tr("<b>%1</b>, %2").arg(r.name(), wordsOf(r.state()))
            : tr("<b>%1</b>, %2. %3").arg(r.name(), wordsOf(r.state()), r.trouble()));
    connectButton->setText(connected ? tr("Disconnect") : tr("Connect"));
    simulated->setVisible(!connected);
    for (QPushButton* b : {walkBox, walkHull}) {
        b->setVisible(connected && r.state() != MachineRun::State::sewing);
        b->setEnabled(r.state() != MachineRun::State::off);
    }
}

/// Where it may start or go on, and the buttons for it.
void RunPage::fillStart() {
    const MachineRun& r = *run();
    const RunRecord& known = r.record();
    const bool connected = r.isConnected();
    const bool sews = r.state() == MachineRun::State::sewing;
    const bool begun = known.sewn > 0 && !known.finished;
    {
        const QSignalBlocker quiet(from);
        fromStitch->setRange(1, std::max(1, static_cast<int>(known.of)));
        if (begun && from->currentIndex() == fromStart) from->setCurrentIndex(whereItStopped);
        if (!begun && from->currentIndex() == whereItStopped) from->setCurrentIndex(fromStart);
    }
    from->setVisible(!sews && connected);
    fromStitch->setVisible(from->currentIndex() == fromN);
    const bool canStart = connected && !sews && r.state() != MachineRun::State::off;
    startButton->setVisible(!sews && (!begun || from->currentIndex() != whereItStopped));
    const bool anyway = startsAnyway && !steps->open().isEmpty();
    const Hooping* kept = sewnHooping();
    const bool sewn = kept && kept->sewn == allSewn;
    startButton->setEnabled(canStart && !sewn);
    startButton->setText(sewn             ? tr("Hooping %1 is sewn").arg(known.hooping)
                         : known.finished ? tr("Sew it once more")
                         : anyway         ? tr("Start all the same")
                                          : tr("Start hooping %1").arg(known.hooping));
    keepSewn->setVisible(kept && !sewn && !sews && (known.finished || begun));
    keepSewn->setText(known.finished ? tr("Keep it as sewn")
                                     : tr("Keep what is sewn, up to stitch %L1").arg(known.sewn));
    resumeButton->setVisible(begun && !sews && from->currentIndex() == whereItStopped);
    const bool mended = r.status()["mended"].toBool(true);
    resumeButton->setEnabled(canStart && mended);
    resumeButton->setToolTip(mended ? QString() : tr("First say below that it is mended."));
    stopButton->setVisible(sews);
    for (QPushButton* b : stepButtons) b->setVisible(begun && connected && !sews);
}

void RunPage::advance() {
    const MachineRun* r = run();
    if (!r || !r->task()) return;
    const RunRecord& known = r->record();
    const RunTask& task = *r->task();
    progress->setRange(0, std::max(1, static_cast<int>(known.of)));
    progress->setValue(static_cast<int>(known.sewn));
    progress->setVisible(known.sewn > 0);
    progressWords->setVisible(known.sewn > 0);
    threadWords->setVisible(known.sewn > 0 && !known.finished);
    progressWords->setText(tr("Stitch %L1 of %L2; %3 left of this hooping.")
                               .arg(known.sewn)
                               .arg(known.of)
                               .arg(minutes(r->secondsLeft())));
    if (known.sewn >= known.of) return;
    const Handing* h = handing();
    const auto wordsFor = [&](std::size_t penetration) {
        const Thread* t =
            task.list->find(task.list->stitches[task.points->record(penetration)].thread);
        QString name = t ? QString::fromStdString(t->name) : QString();
        for (std::size_t n = 0; h && t && n < h->needles.start.size(); ++n)
            if (h->needles.start[n] && h->needles.start[n]->thread.sameThread(*t))
                return tr("%1 on needle %2").arg(name).arg(n + 1);
        return name;
    };
    const std::size_t next = nextThread(*task.list, *task.points, known.sewn);
    threadWords->setText(
        next < known.of
            ? tr("%1, %2 more; then %3.")
                  .arg(wordsFor(known.sewn), minutes(r->secondsLeftOfThread()), wordsFor(next))
            : tr("%1, the last thread.").arg(wordsFor(known.sewn)));
}

std::size_t RunPage::startPlace() const {
    const MachineRun& r = *run();
    switch (from->currentIndex()) {
    case threadAgain:
        return threadStart(*r.task()->list, *r.task()->points, r.record().sewn);
    case fromN:
        return static_cast<std::size_t>(fromStitch->value()) - 1;
    default:
        return 0;
    }
}

void RunPage::start() {
    MachineRun* r = run();
    if (!r || !r->task()) return;
    if (!steps->open().isEmpty() && !startsAnyway) {
        startsAnyway = true;
        refresh();
        return;
    }
    startsAnyway = false;
    r->setSpeed(hands->speed());
    r->begin(startPlace());
}

void RunPage::goOn() {
    if (MachineRun* r = run()) {
        r->setSpeed(hands->speed());
        r->resume();
    }
}

/// The next stitch to be sewn is moved; the machine follows when it goes on.
void RunPage::step(int by, const char* unit) {
    MachineRun* r = run();
    if (!r || !r->task()) return;
    const RunTask& task = *r->task();
    const bool already = from->currentIndex() == fromN;
    std::size_t at = already ? static_cast<std::size_t>(fromStitch->value()) - 1 : r->record().sewn;
    if (QLatin1String(unit) == QLatin1String("thread"))
        at = by > 0 ? nextThread(*task.list, *task.points, at)
                    : threadStart(*task.list, *task.points, at);
    else
        at = static_cast<std::size_t>(std::clamp(static_cast<long long>(at) + by, 0LL,
                                                 static_cast<long long>(r->record().of) - 1));
    from->setCurrentIndex(fromN);
    fillRun();
    fromStitch->setValue(static_cast<int>(at) + 1);
}

} // namespace rapt::app
