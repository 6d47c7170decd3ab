// Every action of the window, with its shortcut.

#include "app/window/main_window.h"

#include "app/stages/compose_stage.h"
#include "app/stages/register_stage.h"
#include "app/theme/theme.h"

#include <QMenuBar>
#include <QMessageBox>
#include <QSettings>

namespace rapt::app {

QAction* MainWindow::add(QMenu* menu, const QString& text, const QKeySequence& keys,
                         std::function<void()> act, const QString& iconName) {
    auto* action = new QAction(text, this);
    action->setShortcut(keys);
    action->setProperty("iconName", iconName);
    if (!iconName.isEmpty()) action->setIcon(icon(iconName));
    connect(action, &QAction::triggered, this, [act = std::move(act)] { act(); });
    menu->addAction(action);
    return action;
}

QAction* MainWindow::addForSelection(QMenu* menu, const QString& text, const QKeySequence& keys,
                                     std::function<void()> act, const QString& iconName) {
    QAction* action = add(menu, text, keys, std::move(act), iconName);
    selectionActions << action;
    return action;
}

void MainWindow::buildMenus() {
    buildJobMenu();
    buildEditMenu();
    buildPieceMenu();
    buildClothMenu();
    buildViewMenu();
    buildHelpMenu();
    composeView->addTools(QList<QAction*>{undoAction, redoAction} + selectionActions);
    menuBar()->setCornerWidget(status);
    status->setProperty("quiet", true);
    status->setContentsMargins(0, 7, 0, 0);
}

void MainWindow::buildJobMenu() {
    QMenu* menu = menuBar()->addMenu(tr("&Job"));
    add(menu, tr("&New"), QKeySequence::New, [this] { newJob(); });
    add(menu, tr("&Open…"), QKeySequence::Open, [this] { openAsked(); });
    recentMenu = menu->addMenu(tr("Open &recent"));
    rebuildRecent();
    menu->addSeparator();
    add(menu, tr("&Save"), QKeySequence::Save, [this] { save(); });
    add(menu, tr("Save &as…"), QKeySequence("Ctrl+Shift+S"), [this] { saveAs(); });
    menu->addSeparator();
    add(menu, tr("&Bring in a stitch list…"), QKeySequence("Ctrl+I"), [this] {
        state.setStage(Stage::compose);
        composeView->bringIn();
    });
    menu->addSeparator();
    add(menu, tr("&Quit"), QKeySequence("Ctrl+Q"), [this] { close(); });
}

void MainWindow::buildEditMenu() {
    QMenu* menu = menuBar()->addMenu(tr("&Edit"));
    undoAction = add(
        menu, tr("&Undo"), QKeySequence::Undo, [this] { state.document.undo(); }, "undo");
    redoAction = add(
        menu, tr("&Redo"), QKeySequence("Ctrl+Shift+Z"), [this] { state.document.redo(); }, "redo");
    menu->addSeparator();
    add(menu, tr("Select &all"), QKeySequence("Ctrl+A"), [this] {
        std::vector<std::string> ids;
        for (const Piece& p : state.job().pieces) ids.push_back(p.id);
        state.select(std::move(ids));
    });
    add(menu, tr("Select &nothing"), QKeySequence("Ctrl+Shift+A"), [this] { state.select({}); });
    addForSelection(
        menu, tr("&Duplicate"), QKeySequence("Ctrl+D"),
        [this] {
            state.document.apply(duplicatePieces(state.selection(), {10, 10}));
        },
        "duplicate");
    addForSelection(
        menu, tr("De&lete"), QKeySequence::Delete,
        [this] { state.document.apply(deletePieces(state.selection())); }, "delete");
}

void MainWindow::turnSelection(double degrees) {
    const Box box = state.selectionBox();
    if (!box.empty()) state.document.apply(turnPieces(state.selection(), degrees, box.centre()));
}

void MainWindow::moveInOrder(int by) {
    if (state.selection().size() == 1) state.document.apply(shiftPiece(state.selection()[0], by));
}

void MainWindow::buildPieceMenu() {
    QMenu* menu = menuBar()->addMenu(tr("&Piece"));
    addForSelection(
        menu, tr("Turn &left by 15°"), QKeySequence("Ctrl+["), [this] { turnSelection(-15); },
        "turn-left");
    addForSelection(
        menu, tr("Turn &right by 15°"), QKeySequence("Ctrl+]"), [this] { turnSelection(15); },
        "turn-right");
    addForSelection(
        menu, tr("Turn by 90°"), QKeySequence("Ctrl+R"), [this] { turnSelection(90); }, "quarter");
    addForSelection(
        menu, tr("&Mirror left to right"), QKeySequence("Ctrl+M"),
        [this] {
            const Box box = state.selectionBox();
            if (!box.empty()) state.document.apply(mirrorPieces(state.selection(), box.centre()));
        },
        "mirror");
    menu->addSeparator();
    addForSelection(
        menu, tr("Sew &earlier"), QKeySequence("Ctrl+PgUp"), [this] { moveInOrder(-1); },
        "earlier");
    addForSelection(
        menu, tr("Sew l&ater"), QKeySequence("Ctrl+PgDown"), [this] { moveInOrder(1); }, "later");
}

void MainWindow::buildClothMenu() {
    QMenu* menu = menuBar()->addMenu(tr("&Cloth"));
    for (int k = 0; k < stageCount; ++k)
        add(menu, stageName(static_cast<Stage>(k)), QKeySequence(QString("Ctrl+%1").arg(k + 1)),
            [this, k] { state.setStage(static_cast<Stage>(k)); });
    menu->addSeparator();
    add(menu, tr("Next hooping"), QKeySequence("Ctrl+."), [this] {
        const int n = static_cast<int>(state.job().hoopings.size());
        if (n > 0) state.setHooping((state.hooping() + 1) % n);
    });
    add(menu, tr("Photograph with the stand-in camera"), QKeySequence("Ctrl+P"), [this] {
        state.setStage(Stage::registration);
        if (state.hooping() >= 0) registerView->takePicture();
    });
}

void MainWindow::buildViewMenu() {
    QMenu* menu = menuBar()->addMenu(tr("&View"));
    add(
        menu, tr("Zoom to &fit"), QKeySequence("Ctrl+0"), [this] { clothView->zoomToFit(); },
        "fit");
    add(menu, tr("Zoom &in"), QKeySequence("Ctrl++"), [this] { clothView->zoomIn(); });
    add(menu, tr("Zoom &out"), QKeySequence("Ctrl+-"), [this] { clothView->zoomOut(); });
    menu->addSeparator();
    QAction* inches = add(menu, tr("&Inches"), QKeySequence("Ctrl+U"), [] {});
    inches->setCheckable(true);
    inches->setChecked(state.unit() == LengthUnit::inch);
    connect(inches, &QAction::toggled, this,
            [this](bool on) { state.setUnit(on ? LengthUnit::inch : LengthUnit::millimetre); });
    darkAction = add(menu, tr("&Dark"), QKeySequence("Ctrl+Shift+D"), [] {});
    darkAction->setCheckable(true);
    darkAction->setChecked(theme().dark);
    connect(darkAction, &QAction::triggered, this, [this](bool on) { setDark(on); });
    QAction* line = add(menu, tr("&Thread line"), QKeySequence("Ctrl+T"), [] {});
    line->setCheckable(true);
    line->setChecked(true);
    connect(line, &QAction::toggled, threadLine, &QWidget::setVisible);
    menu->addSeparator();
    add(menu, tr("Go to the &cloth"), QKeySequence("F6"), [this] { clothView->setFocus(); });
    add(menu, tr("Go to the &readout"), QKeySequence("F7"), [this] {
        readout->currentWidget()->setFocus();
        readout->currentWidget()->nextInFocusChain()->setFocus();
    });
}

void MainWindow::buildHelpMenu() {
    QMenu* menu = menuBar()->addMenu(tr("&Help"));
    add(menu, tr("&Keys and mouse"), QKeySequence("F1"), [this] {
        QMessageBox box(QMessageBox::Information, tr("Keys and mouse"),
                        tr("Arrow keys move the selection by 1 mm, with Shift by 10, with Alt by "
                           "0.1.\nDrag a piece to move it, with Shift along one axis.\nDrag a "
                           "corner to resize it in proportion, with Shift freely; a side for one "
                           "direction.\nDrag the round handle to turn it, with Shift in 15° "
                           "steps.\nThe wheel zooms; the right or middle button pans.\nCtrl+1 to "
                           "Ctrl+7 open the seven stages; F6 goes to the cloth, F7 to the "
                           "readout."),
                        QMessageBox::Ok, this);
        box.exec();
    });
    add(menu, tr("&About Rapt Thimble"), {}, [this] {
        QMessageBox box(QMessageBox::NoIcon, tr("About Rapt Thimble"),
                        tr("Rapt Thimble 0.1\nEmbroidery layouts measured, weighed, divided and "
                           "registered.\nGNU General Public License, version 3 or later.\nFace: "
                           "Lato (SIL Open Font License)."),
                        QMessageBox::Ok, this);
        box.exec();
    });
}

void MainWindow::refreshActions() {
    undoAction->setEnabled(state.document.canUndo());
    redoAction->setEnabled(state.document.canRedo());
    undoAction->setText(state.document.canUndo() ? tr("&Undo %1").arg(state.document.undoName())
                                                 : tr("&Undo"));
    redoAction->setText(state.document.canRedo() ? tr("&Redo %1").arg(state.document.redoName())
                                                 : tr("&Redo"));
    for (QAction* action : selectionActions) action->setEnabled(!state.selection().empty());
}

} // namespace rapt::app
