#include "app/stitchout/handover_page.h"
#include "app/stitchout/run_words.h"

#include "app/kit/questions.h"
#include "app/raster/thread_raster.h"
#include "formats/stick_folder.h"

#include <QDir>
#include <QSettings>
#include <QtConcurrent>

namespace rapt::app {
namespace {

constexpr QSize pictureSize(72, 56);

QString sizeText(std::int64_t bytes) { return QString("%1 kB").arg((bytes + 999) / 1000); }

} // namespace

HandoverPage::HandoverPage(Session& s)
    : Page(s), toStick(new QRadioButton(tr("To a stick"))),
      toMachine(new QRadioButton(tr("To the machine"))), where(quietLabel({})), there(wordsLabel()),
      result(wordsLabel()), removeOlder(new QCheckBox(tr("Take the earlier version away"))),
      files(new RowsTable({tr("File"), tr("Hooping"), tr("Size"), tr("What happens")},
                          "handoverFiles")) {
    auto* middle = makeCentre();
    middle->addWidget(headLabel(tr("What lies there, and what will")));
    files->setPictureSize(pictureSize);
    middle->addWidget(files, 1);
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
    connect(drawing.get(), &Errands::busyChanged, this, &HandoverPage::showFiles);
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
    if (!receiver || !plannedFor) return showFiles();
    const auto made = planHandover(session.job(), plannedFor->open, plannedFor->machine,
                                   session.library, *receiver, removeOlder->isChecked());
    if (!made) {
        there->setText(QString::fromStdString(made.error().line()));
        return showFiles();
    }
    plan = *made;
    orderPictures();
    showFiles();
    const std::size_t ours = plan->outdated.size();
    const std::size_t same = static_cast<std::size_t>(
        std::count_if(receiver->there.begin(), receiver->there.end(), [&](const StoredDesign& d) {
            return std::any_of(plannedFor->tasks.begin(), plannedFor->tasks.end(),
                               [&](const auto& task) { return d.mark == task->mark; });
        }));
    QStringList lines;
    if (same > 0 && same == plan->files.size() && same == ours)
        lines << tr("They are there already, as they are now.");
    else
        lines << tr("%n {file|files} will be written.", nullptr,
                    static_cast<int>(plan->files.size()));
    lines << tr("Room for %1 designs, %2.")
                 .arg(receiver->places - static_cast<int>(receiver->there.size()))
                 .arg(QLocale::c().formattedDataSize(receiver->freeBytes, 1,
                                                     QLocale::DataSizeSIFormat));
    there->setText(lines.join("\n"));
    removeOlder->setVisible(ours > same);
    give->setEnabled(!working);
}

/// Pictures of the hoopings, drawn in the background once for each set of lists.
void HandoverPage::orderPictures() {
    if (picturedFor == plannedFor) return;
    picturedFor = plannedFor;
    pictures.clear();
    drawing->ask(
        session.inThisJob(),
        [h = plannedFor](std::stop_token stop) {
            std::vector<QImage> drawn;
            for (const HoopingList& list : h->lists) {
                if (stop.stop_requested()) break;
                drawn.push_back(
                    framedPicture(threadPicture(list.list, 2 * pictureSize.width()), pictureSize));
            }
            return drawn;
        },
        [this](const std::vector<QImage>& drawn) { pictures = drawn; });
}

/// What will be written, then what lies there: what of it goes, and what stays.
void HandoverPage::showFiles() {
    std::vector<TableRow> rows;
    const auto isWritten = [&](const std::string& file) {
        return plan && std::any_of(plan->files.begin(), plan->files.end(),
                                   [&](const HandoverFile& f) { return f.file == file; });
    };
    const auto stored = [&](const std::string& file) -> const StoredDesign* {
        if (receiver)
            for (const StoredDesign& d : receiver->there)
                if (d.file == file) return &d;
        return nullptr;
    };
    if (plan && plannedFor)
        for (const HandoverFile& f : plan->files) {
            const StoredDesign* before = stored(f.file);
            const bool same = before && f.hooping < plannedFor->tasks.size() &&
                              before->mark == plannedFor->tasks[f.hooping]->mark;
            rows.push_back({QString::fromStdString(f.file),
                            {QString::fromStdString(f.file), QString::number(f.hooping + 1),
                             sizeText(static_cast<std::int64_t>(f.text.size())),
                             same     ? tr("there already, the same")
                             : before ? tr("written over its earlier version")
                                      : tr("written")},
                            {},
                            {},
                            f.hooping < pictures.size() ? pictures[f.hooping] : QImage()});
        }
    if (receiver)
        for (const StoredDesign& d : receiver->there) {
            if (isWritten(d.file)) continue;
            const bool goes = plan && removeOlder->isChecked() &&
                              std::find(plan->outdated.begin(), plan->outdated.end(), d.file) !=
                                  plan->outdated.end();
            rows.push_back(
                {QString::fromStdString(d.file),
                 {QString::fromStdString(d.file),
                  d.job.empty() ? QString() : QString::number(d.hooping), sizeText(d.bytes),
                  goes            ? tr("taken away: an earlier version")
                  : d.job.empty() ? tr("stays; not from here")
                                  : tr("stays, of %1").arg(QString::fromStdString(d.job))}});
        }
    files->setRows(rows);
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
