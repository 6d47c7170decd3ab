#include "app/stitchout/handover_page.h"

#include "app/panels/questions.h"
#include "formats/stick_folder.h"

#include <QDir>
#include <QSettings>
#include <QtConcurrent>

namespace rapt::app {

HandoverPage::HandoverPage(Session& s)
    : ComposePage(s), toStick(new QRadioButton(tr("To a stick"))),
      toMachine(new QRadioButton(tr("To the machine"))), where(quietLabel({})), there(wordsLabel()),
      result(wordsLabel()), removeOlder(new QCheckBox(tr("Take the earlier version away"))) {
    toStick->setObjectName("toStick");
    toMachine->setObjectName("toMachine");
    toStick->setChecked(true);
    there->setObjectName("handoverPlan");
    result->setObjectName("handed");
    removeOlder->setObjectName("removeOlder");
    removeOlder->setChecked(true);
    column->addWidget(headLabel(tr("Where to")));
    column->addLayout(sideBySide({toStick, toMachine}));
    choose = button(tr("Choose the stick…"), "chooseStick", [this] {
        const QString chosen = askFolder(window(), tr("Folder of the stick"));
        if (!chosen.isEmpty()) setStick(chosen);
    });
    column->addWidget(choose);
    column->addWidget(where);
    column->addWidget(hairLine());
    column->addWidget(headLabel(tr("What will be written")));
    column->addWidget(there);
    column->addWidget(removeOlder);
    give = button(tr("Hand over"), "handOver", [this] { handOver(); });
    give->setProperty("main", true);
    column->addWidget(give);
    column->addWidget(result);
    column->addWidget(hairLine());
    exportButton = button(tr("Export plain stitch lists…"), "export", [this] { exportAll(); });
    column->addWidget(exportButton);
    column->addStretch();
    for (QRadioButton* b : {toStick, toMachine})
        connect(b, &QRadioButton::clicked, this, [this] {
            result->setText({});
            look();
        });
    connect(removeOlder, &QCheckBox::clicked, this, &HandoverPage::showPlan);
    folder = QSettings().value("handover/stick").toString();
}

const Handing* HandoverPage::handing() {
    const auto* known = session.handing();
    return known && *known ? (**known).get() : nullptr;
}

void HandoverPage::setStick(const QString& chosen) {
    folder = chosen;
    QSettings().setValue("handover/stick", folder);
    toStick->setChecked(true);
    result->setText({});
    look();
}

void HandoverPage::refresh() {
    const auto* known = session.handing();
    const Handing* h = handing();
    choose->setVisible(toStick->isChecked());
    exportButton->setEnabled(h);
    const auto machine = session.library.machine(session.job().brief.machine);
    if (toStick->isChecked())
        where->setText(folder.isEmpty() ? tr("No stick is chosen yet.") : folder);
    else
        where->setText(machine ? tr("%1: %2").arg(QString::fromStdString(machine->name),
                                                  wordsOf(session.sewing.machine(*machine).state()))
                               : QString());
    give->setEnabled(h && plan && !working);
    if (!h) {
        there->setText(known ? QString::fromStdString(known->error().reason)
                             : tr("It is being worked out."));
        removeOlder->hide();
        plan.reset();
        return;
    }
    if (plannedFor.get() != h) look();
}

void HandoverPage::look() {
    plan.reset();
    receiver.reset();
    const auto* known = session.handing();
    if (!known || !*known || working) return;
    plannedFor = **known;
    if (toMachine->isChecked()) {
        MachineRun& run = session.sewing.machine(plannedFor->machine);
        if (run.isConnected())
            MachineHandover::look(run, [this](const Result<Receiver>& r) { takeLooked(r); });
        else
            takeLooked(cannotDo("the machine is not connected; connect it in Run"));
    } else if (folder.isEmpty()) {
        takeLooked(cannotDo("choose the stick first"));
    } else {
        takeLooked(readStick(folder.toStdString(), plannedFor->machine));
    }
}

void HandoverPage::takeLooked(const Result<Receiver>& looked) {
    if (looked) receiver = *looked;
    if (!looked) {
        removeOlder->hide();
        there->setText(QString::fromStdString(looked.error().line()));
    }
    showPlan();
    refresh();
}

void HandoverPage::showPlan() {
    plan.reset();
    if (!receiver || !plannedFor) return;
    const auto made = planHandover(session.job(), plannedFor->lists, plannedFor->machine,
                                   session.library, *receiver, removeOlder->isChecked());
    if (!made) {
        there->setText(QString::fromStdString(made.error().line()));
        return;
    }
    plan = *made;
    QStringList lines;
    for (const HandoverFile& f : plan->files)
        lines << tr("%1  hooping %2, %3 kB")
                     .arg(QString::fromStdString(f.file))
                     .arg(f.hooping + 1)
                     .arg((f.text.size() + 999) / 1000);
    const std::size_t ours = plan->outdated.size();
    std::size_t same = 0;
    for (const StoredDesign& d : receiver->there)
        for (const auto& task : plannedFor->tasks) same += d.mark == task->mark;
    if (same > 0 && same == plan->files.size() && same == ours)
        lines << tr("They are there already, as they are now.");
    else if (ours > 0)
        lines << tr("%1 files of an earlier version are there.").arg(ours);
    if (receiver->there.size() > ours)
        lines << tr("%1 other files are there; they stay.").arg(receiver->there.size() - ours);
    lines << tr("Room for %1 designs, %2.")
                 .arg(receiver->places - static_cast<int>(receiver->there.size()))
                 .arg(QLocale::c().formattedDataSize(receiver->freeBytes, 1,
                                                     QLocale::DataSizeSIFormat));
    there->setText(lines.join("\n"));
    removeOlder->setVisible(ours > same);
    give->setEnabled(!working);
}

void HandoverPage::handOver() {
    if (!plan || !plannedFor) return;
    working = true;
    give->setEnabled(false);
    result->setText(tr("It is being written and read back. Leave the stick in."));
    if (toMachine->isChecked())
        handToMachine();
    else
        handToStick();
}

void HandoverPage::handToStick() {
    const auto remove = removeOlder->isChecked() ? plan->leftOver() : std::vector<std::string>();
    QtConcurrent::run([to = folder.toStdString(), what = *plan, remove]() -> QString {
        const Status written = writeStick(to, what, remove);
        return written ? QString() : QString::fromStdString(written.error().line());
    }).then(this, [this](const QString& reason) { ended(reason); });
}

void HandoverPage::handToMachine() {
    result->setText(tr("It is being stored and read back."));
    const auto remove = removeOlder->isChecked() ? plan->leftOver() : std::vector<std::string>();
    auto* work = new MachineHandover(session.sewing.machine(plannedFor->machine), *plan,
                                     plannedFor->tasks, remove);
    connect(work, &MachineHandover::done, this, &HandoverPage::ended);
    work->start();
}

void HandoverPage::ended(const QString& reason) {
    working = false;
    if (reason.isEmpty())
        result->setText(toMachine->isChecked()
                            ? tr("✓ Stored on the machine; read back, equal stitch by stitch.")
                            : tr("✓ Written; read back, equal stitch by stitch. The stick may be "
                                 "taken out."));
    else
        result->setText(tr("Not handed over: %1").arg(reason));
    look();
}

void HandoverPage::exportAll() {
    const Handing* h = handing();
    const QString to = askFolder(window(), tr("Folder for the stitch lists"));
    if (to.isEmpty() || !h) return;
    QStringList others;
    for (const std::string& name : foreignFiles(session.job(), h->lists.size(), to.toStdString()))
        others << QString::fromStdString(name);
    if (!mayReplace(window(), to, others)) return;
    const auto names = exportHoopings(session.job(), h->lists, to.toStdString());
    if (!names)
        return emit failed(tr("The export failed"), QString::fromStdString(names.error().line()));
    result->setText(tr("%1 stitch lists written to %2.").arg(names->size()).arg(to));
}

} // namespace rapt::app
