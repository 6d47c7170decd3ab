// Opening, saving, recent files, and what an earlier run left behind.

#include "app/window/main_window.h"

#include "app/compose/compose_stage.h"
#include "app/ledger/ledger_stage.h"
#include "app/letter/lettered_dialog.h"
#include "job/edit_lettering.h"

#include "app/kit/questions.h"
#include "formats/job_file.h"

#include <QElapsedTimer>
#include <QFileInfo>
#include <QLineEdit>
#include <QMenu>
#include <QMessageBox>
#include <QSettings>
#include <QThread>

namespace rapt::app {
namespace {

constexpr int mostRecent = 8, longestWaitMs = 5000;

} // namespace

void MainWindow::complain(const QString& title, const Error& error) {
    QMessageBox box(QMessageBox::Warning, title, QString::fromStdString(error.line()),
                    QMessageBox::Ok, this);
    box.exec();
}

void MainWindow::offerCopy(const QString& reason, const QString& piece) {
    if (findChild<QMessageBox*>("sewnStays")) return; // it is said already
    auto* box = new QMessageBox(QMessageBox::Information, tr("What is sewn stays"), reason + '.',
                                QMessageBox::NoButton, this);
    box->setObjectName("sewnStays");
    box->setAttribute(Qt::WA_DeleteOnClose);
    auto* copy =
        piece.isEmpty() ? nullptr : box->addButton(tr("Make a copy"), QMessageBox::AcceptRole);
    auto* leave = box->addButton(tr("Leave it"), QMessageBox::RejectRole);
    box->setDefaultButton(leave);
    connect(box, &QMessageBox::buttonClicked, this, [this, copy, piece](QAbstractButton* b) {
        if (!copy || b != copy) return;
        const std::size_t before = state.job().pieces.size();
        state.document.apply(duplicatePieces({piece.toStdString()}, {10, 10}));
        if (state.job().pieces.size() > before)
            state.selection.choose({state.job().pieces.back().id});
    });
    box->open();
}

bool MainWindow::openFile(const QString& path) {
    const Status opened = state.document.open(path);
    if (!opened) {
        complain(tr("This file cannot be opened"), opened.error());
        return false;
    }
    state.selection.choose({});
    clothView->zoomToFit();
    if (!state.document.path().isEmpty()) noteRecent(path);
    return true;
}

/// A job that was made of this one gets a file of its own and is opened.
void MainWindow::openMade(const Job& job) {
    const QString path =
        askSaveName(this, tr("Save the new job"), QString::fromStdString(job.name) + ".rapt",
                    tr("Jobs (*.rapt)"));
    if (path.isEmpty()) return;
    const Status written = writeJobFile(path.toStdString(), job);
    if (!written) {
        QMessageBox::warning(this, tr("The job was not saved"),
                             QString::fromStdString(written.error().line()));
        return;
    }
    if (mayLeave()) openFile(path);
}

/// A job out of a record has no file yet.
void MainWindow::openAsItWas(const Job& job) {
    if (!mayLeave()) return;
    state.document.resetRecovered(job, {});
    state.selection.choose({});
    clothView->zoomToFit();
}

void MainWindow::keepOutcome() {
    state.setStage(Stage::ledger);
    ledgerView->keepThis();
}

bool MainWindow::mayLeave() {
    finishTyping();
    if (!state.document.isChanged()) return true;
    QMessageBox box(
        QMessageBox::Question, tr("Save the changes?"),
        tr("%1 has changes that are not saved.").arg(QString::fromStdString(state.job().name)),
        QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, this);
    box.setDefaultButton(QMessageBox::Save);
    const int answer = box.exec();
    if (answer == QMessageBox::Save) return save();
    return answer == QMessageBox::Discard;
}

void MainWindow::newJob() {
    if (!mayLeave()) return;
    state.document.reset(Job{}, {});
    clothView->zoomToFit();
}

void MainWindow::openAsked() {
    if (!mayLeave()) return;
    const QString path = askOpenName(this, tr("Open a job or a design"),
                                     tr("Jobs and stitch lists (*.rapt *.stitch.csv)"));
    if (!path.isEmpty()) openFile(path);
}

/// What is typed and not confirmed yet counts, too; a size that is still worked out is waited for.
void MainWindow::finishTyping() {
    auto* typing = qobject_cast<QLineEdit*>(QApplication::focusWidget());
    if (typing && typing->isModified() && isAncestorOf(typing)) {
        typing->clearFocus();
        typing->setFocus();
    }
    QElapsedTimer waited;
    waited.start();
    while (state.isLooking() && waited.elapsed() < longestWaitMs) {
        QApplication::processEvents(QEventLoop::ExcludeUserInputEvents);
        QThread::msleep(2);
    }
}

bool MainWindow::save() {
    finishTyping();
    return state.document.path().isEmpty() ? saveAs() : saveTo(state.document.path());
}

bool MainWindow::saveAs() {
    const QString old = state.document.path();
    const QString path =
        askSaveName(this, tr("Save the job"),
                    old.isEmpty() ? QString::fromStdString(state.job().name) + ".rapt" : old,
                    tr("Jobs (*.rapt)"));
    return !path.isEmpty() && saveTo(path);
}

bool MainWindow::saveTo(const QString& path) {
    const Status saved = state.document.saveTo(path);
    if (!saved) {
        complain(tr("The job could not be saved"), saved.error());
        return false;
    }
    state.recovery.writeNow();
    noteRecent(path);
    noteLettering(path);
    return true;
}

/// Text, face and size of what the saved job letters can be found again later.
void MainWindow::noteLettering(const QString& path) {
    std::vector<LetteredWords> words;
    for (const LetteringRecord& r : letteringRecords(state.job()))
        words.push_back({QString::fromStdString(r.text), QString::fromStdString(r.face),
                         r.capHeightMm, QString::fromStdString(state.job().name), path,
                         QDate::currentDate()});
    if (!letteredProblem) letteredProblem = lettered.keep(path, words);
}

void MainWindow::lookUpLettering() {
    if (letteredProblem)
        return complain(tr("Nothing can be looked up"), badInput(letteredProblem->toStdString()));
    LetteredDialog dialog(lettered, this);
    if (dialog.exec() != QDialog::Accepted || dialog.chosen().face.isEmpty()) return;
    const LetteredWords chosen = dialog.chosen();
    const auto use = [chosen](Lettering& l) {
        l.face = chosen.face.toStdString();
        l.capHeightMm = chosen.capHeightMm;
    };
    use(state.letters.look);
    if (state.selection.words())
        state.document.apply(changeLettering(
            state.selection.ids()[0], "Face and size of before",
            [use, k = sizeFactor(*state.job().piece(state.selection.ids()[0]))](Lettering& l) {
                use(l);
                l.capHeightMm /= k;
            }));
    composeView->showPage(ComposeStage::letter);
}

void MainWindow::noteRecent(const QString& path) {
    QSettings settings;
    QStringList recent = settings.value("recent").toStringList();
    recent.removeAll(path);
    recent.prepend(path);
    settings.setValue("recent", recent.mid(0, mostRecent));
    rebuildRecent();
}

void MainWindow::rebuildRecent() {
    recentMenu->clear();
    for (const QString& path : QSettings().value("recent").toStringList())
        recentMenu->addAction(path, this, [this, path] {
            if (mayLeave()) openFile(path);
        });
    recentMenu->setEnabled(!recentMenu->isEmpty());
}

void MainWindow::offerRecovery(const QString& ofFile) {
    for (RecoveredJob& left : Recovery::leftBehind()) {
        if (!ofFile.isEmpty() && QFileInfo(left.originalPath) != QFileInfo(ofFile)) continue;
        const QString name = QString::fromStdString(left.job.name);
        QMessageBox box(QMessageBox::Question, tr("Unsaved work was found"),
                        tr("%1 was changed and not saved when Rapt Thimble ended. Take it up "
                           "again?")
                            .arg(name),
                        QMessageBox::NoButton, this);
        box.addButton(tr("Take it up"), QMessageBox::AcceptRole);
        auto* discard = box.addButton(tr("Throw it away"), QMessageBox::DestructiveRole);
        auto* later = box.addButton(tr("Ask again later"), QMessageBox::RejectRole);
        box.exec();
        if (box.clickedButton() == later) continue;
        if (box.clickedButton() == discard) {
            Recovery::remove(left);
            continue;
        }
        state.document.resetRecovered(std::move(left.job), left.originalPath);
        // The old copy goes only when this run has its own.
        state.recovery.writeNow();
        Recovery::remove(left);
        clothView->zoomToFit();
        return;
    }
}

} // namespace rapt::app
