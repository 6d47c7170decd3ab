#include "app/stages/stitchout_stage.h"

#include "base/file_io.h"
#include "base/paths.h"
#include "divide/hooping_lists.h"
#include "sheets/template_pdf.h"
#include "registration/correction.h"

#include <QFileInfo>

namespace rapt::app {

StitchOutStage::StitchOutStage(Session& s, QWidget* parent)
    : StageView(s, parent), files(wordsLabel()), exportButton(mainButton(tr("Export hoopings…"))),
      templateButton(new QPushButton(tr("Template as PDF…"))),
      mirror(new QCheckBox(tr("Mirrored, for marking from behind"))), paper(new QComboBox),
      doneNote(wordsLabel()) {
    exportButton->setObjectName("export");
    templateButton->setObjectName("template");
    doneNote->setObjectName("done");
    paper->addItems({tr("A4"), tr("Letter")});
    column->addWidget(headLabel(tr("Stitch lists, one a hooping")));
    column->addWidget(files);
    column->addWidget(exportButton);
    column->addWidget(hairLine());
    column->addWidget(headLabel(tr("Template at true scale")));
    column->addLayout(row(tr("Paper"), paper));
    column->addWidget(mirror);
    column->addWidget(templateButton);
    column->addWidget(doneNote);
    column->addWidget(hairLine());
    column->addWidget(headLabel(tr("Before the needle moves")));
    column->addWidget(quietLabel(
        tr("Keep hands and hair clear while the frame moves. Wear eye protection on dense or thick "
           "work. Change needles with the power off. Use spray adhesive in moving air, away from "
           "flame. The maker's instructions and local rules come first.")));
    column->addStretch();
    connect(exportButton, &QPushButton::clicked, this, &StitchOutStage::exportAll);
    connect(templateButton, &QPushButton::clicked, this, &StitchOutStage::makeTemplateFile);
}

void StitchOutStage::refresh() {
    const auto derived = session.derived();
    const Job& job = session.job();
    const bool ready =
        derived && derived->planned && !derived->hoopings().empty() && session.isCurrent();
    exportButton->setEnabled(ready);
    templateButton->setEnabled(derived && derived->isWhole() && derived->time().stitches > 0);
    QStringList lines;
    if (ready)
        for (std::size_t i = 0; i < derived->hoopings().size(); ++i) {
            const HoopingList& h = derived->hoopings()[i];
            const Registration* r = job.registration(static_cast<int>(i) + 1);
            const bool moved = r && r->choice == CorrectionChoice::corrected;
            lines << tr("%1: %L2 stitches, %3 × %4%5")
                         .arg(i + 1)
                         .arg(h.stitches)
                         .arg(session.lengthText(h.extents.width(), 0).section(' ', 0, -2),
                              session.lengthText(h.extents.height(), 0),
                              moved ? tr(", corrected") : QString());
        }
    files->setText(lines.isEmpty() ? tr("Plan the hoopings in Divide first.") : lines.join("\n"));
    const Derived* checked = session.checked();
    const bool stops = checked && anyStop(checked->findings());
    const QString time =
        checked ? QString::fromStdString(formatDuration(checked->time().totalSeconds)) : QString();
    if (stops)
        judgement->say(tr("A stop is open: look at Weigh first."),
                       QString::fromStdString(checked->findings()[0].text) + ".");
    else if (!ready)
        judgement->say(tr("Not ready to hand over."),
                       job.hoopings.empty() ? tr("No hoopings are planned yet.")
                                            : tr("The plan no longer suits the layout."));
    else
        judgement->say(tr("Ready to hand over."),
                       tr("%1 of sewing, hoopings and registration not counted.").arg(time));
}

void StitchOutStage::exportAll() {
    const QString folder = askFolder(window(), tr("Folder for the stitch lists"));
    if (folder.isEmpty()) return;
    const auto derived = session.derived();
    const auto lists =
        correctedLists(session.job(), derived->hoopings(), session.library, Corrected::ifChosen);
    if (!lists)
        return complain(tr("The export failed"), QString::fromStdString(lists.error().line()));
    const auto names = exportHoopings(*lists, folder.toStdString());
    if (!names)
        return complain(tr("The export failed"), QString::fromStdString(names.error().line()));
    doneNote->setText(tr("%1 stitch lists written to %2.").arg(names->size()).arg(folder));
}

void StitchOutStage::makeTemplateFile() {
    const QString suggestion = QString::fromStdString(session.job().name) + ".pdf";
    const QString path =
        askSaveName(window(), tr("Template as PDF"), suggestion, tr("PDF (*.pdf)"));
    if (path.isEmpty() || !session.checked()) return;
    const TemplateOptions options{mirror->isChecked(),
                                  paper->currentIndex() == 1 ? Paper::letter : Paper::a4,
                                  dataFolder() + "/faces"};
    const auto document = makeTemplate(
        templateOf(session.job(), session.checked()->stitched().list, session.library), options);
    if (!document)
        return complain(tr("No template"), QString::fromStdString(document.error().line()));
    const Status written = writeWholeFile(path.toStdString(), document->pdf);
    if (!written)
        return complain(tr("No template"), QString::fromStdString(written.error().line()));
    doneNote->setText(document->pages == 1
                          ? tr("Template written to %1, one page.").arg(path)
                          : tr("Template written to %1, %2 pages.").arg(path).arg(document->pages));
}

} // namespace rapt::app
