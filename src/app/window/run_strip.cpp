#include "app/window/run_strip.h"
#include "app/stitchout/run_words.h"
#include "app/stitchout/sewing_state.h"

#include "app/kit/readout_parts.h"
#include "estimate/timing.h"

namespace rapt::app {

RunStrip::RunStrip(Session& s, QWidget* parent)
    : QWidget(parent), session(s), words(new QLabel), bar(new QProgressBar),
      look(new QPushButton(tr("Look"))), stop(new QPushButton(tr("Stop"))) {
    words->setObjectName("runStrip");
    bar->setTextVisible(false);
    bar->setFixedSize(160, 8);
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(12, 3, 12, 3);
    line->addWidget(words, 1);
    line->addWidget(bar);
    line->addWidget(look);
    line->addWidget(stop);
    connect(look, &QPushButton::clicked, this, [this] { session.setStage(Stage::stitchOut); });
    connect(stop, &QPushButton::clicked, this, [this] {
        if (MachineRun* run = busy()) run->stop();
    });
    connect(&session.sewing, &SewingState::changed, this, &RunStrip::refresh);
    connect(&session.sewing, &SewingState::advanced, this, &RunStrip::refresh);
    hide();
}

MachineRun* RunStrip::busy() const {
    if (MachineRun* run = session.sewing.sewing()) return run;
    for (MachineRun* run : session.sewing.machines())
        if (run->record().standing() && run->isConnected()) return run;
    return nullptr;
}

void RunStrip::refresh() {
    const MachineRun* run = busy();
    setVisible(run);
    if (run) show(*run);
}

void RunStrip::show(const MachineRun& run) {
    const RunRecord& known = run.record();
    bar->setVisible(run.task());
    if (!run.task()) {
        // A run of a job that is not open: the machine's own words are all that is known.
        words->setText(tr("%1 sews %2").arg(run.name(), run.status()["design"].toString()));
        return;
    }
    bar->setRange(0, std::max(1, static_cast<int>(known.of)));
    bar->setValue(static_cast<int>(known.sewn));
    const QString job = QString::fromStdString(known.job);
    if (run.state() == MachineRun::State::sewing) {
        words->setText(tr("%1 sews %2, hooping %3: %4 left")
                           .arg(run.name(), job)
                           .arg(known.hooping)
                           .arg(QString::fromStdString(formatDuration(run.secondsLeft()))));
    } else {
        const RunEvent* event = known.standing();
        words->setText(tr("⚠ %1 stands. %2 after stitch %L3 of %4, hooping %5")
                           .arg(run.name(), event ? titleOf(event->kind) : QString())
                           .arg(known.sewn)
                           .arg(job)
                           .arg(known.hooping));
    }
    stop->setVisible(run.state() == MachineRun::State::sewing);
}

} // namespace rapt::app
