// Every action of the window, with its shortcut.

#include "app/window/main_window.h"

#include "app/register/scan_page.h"
#include "app/window/clipboard.h"
#include "app/window/command_search.h"
#include "app/window/commands.h"
#include "app/window/keys_dialog.h"
#include "app/window/picture_saver.h"

#include "app/compose/compose_stage.h"
#include "app/compose/draw_page.h"
#include "app/register/register_stage.h"
#include "app/theme/theme.h"
#include "job/edit_copies.h"
#include "job/edit_threads.h"
#include "job/groups.h"

#include <QMenuBar>
#include <QMessageBox>
#include <QSettings>

namespace rapt::app {

QAction* MainWindow::add(QMenu* menu, const QString& text, const QKeySequence& keys,
                         std::function<void()> act, const QString& iconName) {
    auto* action = new QAction(text, this);
    nameCommand(*action, QString(menu->title() + "/" + text).remove('&').remove("…"), keys);
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
    QList<QAction*> toolbar{undoAction, redoAction};
    for (QAction* action : selectionActions)
        if (!action->icon().isNull()) toolbar << action;
    composeView->addTools(toolbar);
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
    auto* pictures = new PictureSaver(state, this);
    connect(pictures, &PictureSaver::failed, this, &MainWindow::complain);
    QMenu* of = menu->addMenu(tr("Picture of the &work"));
    using Kind = PictureSaver::Kind;
    add(of, tr("&Thread, at true scale (PNG)…"), {}, [pictures] { pictures->save(Kind::thread); });
    add(of, tr("Thread as &lines (SVG)…"), {}, [pictures] { pictures->save(Kind::lines); });
    add(of, tr("&Shapes (SVG)…"), {}, [pictures] { pictures->save(Kind::shapes); });
    add(of, tr("&Film of the sewing (APNG)…"), {}, [pictures] { pictures->save(Kind::film); });
    menu->addSeparator();
    add(menu, tr("&Bring in a design…"), QKeySequence("Ctrl+I"), [this] {
        state.setStage(Stage::compose);
        composeView->bringIn();
    });
    add(menu, tr("&Letter on the cloth"), QKeySequence("Ctrl+Shift+L"), [this] {
        state.setStage(Stage::compose);
        composeView->showPage(ComposeStage::letter);
        state.setTool(ToolKind::letter);
        clothView->setFocus();
    });
    add(menu, tr("Lay a &picture under…"), QKeySequence("Ctrl+Shift+I"), [this] {
        state.setStage(Stage::compose);
        composeView->showPage(ComposeStage::draw);
        composeView->drawPage().layPicture();
    });
    menu->addSeparator();
    add(menu, tr("&Keep how it came out…"), QKeySequence("Ctrl+J"), [this] { keepOutcome(); });
    add(menu, tr("&Quit"), QKeySequence("Ctrl+Q"), [this] { close(); });
}

void MainWindow::buildEditMenu() {
    QMenu* menu = editMenu = menuBar()->addMenu(tr("&Edit"));
    undoAction = add(
        menu, tr("&Undo"), QKeySequence::Undo, [this] { state.document.undo(); }, "undo");
    redoAction = add(
        menu, tr("&Redo"), QKeySequence("Ctrl+Shift+Z"), [this] { state.document.redo(); }, "redo");
    menu->addSeparator();
    add(menu, tr("Select &all"), QKeySequence("Ctrl+A"), [this] {
        if (QAbstractItemView* view = otherListWithFocus()) return view->selectAll();
        std::vector<std::string> ids;
        for (const Piece& p : state.job().pieces) ids.push_back(p.id);
        state.selection.choose(std::move(ids));
    });
    add(menu, tr("Select &nothing"), QKeySequence("Ctrl+Shift+A"),
        [this] { state.selection.choose({}); });
    addForSelection(menu, tr("Cu&t"), QKeySequence::Cut, [this] {
        if (!copySelection()) return;
        state.document.apply(deletePieces(state.selection.ids()));
    });
    addForSelection(menu, tr("&Copy"), QKeySequence::Copy, [this] { copySelection(); });
    add(menu, tr("&Paste"), QKeySequence::Paste, [this] { paste(); });
    addForSelection(
        menu, tr("&Duplicate"), QKeySequence("Ctrl+D"),
        [this] {
            state.document.apply(duplicatePieces(state.selection.ids(), {10, 10}));
        },
        "duplicate");
    addForSelection(
        menu, tr("De&lete"), QKeySequence::Delete,
        [this] {
            if (!otherListWithFocus()) state.document.apply(deletePieces(state.selection.ids()));
        },
        "delete");
}

/// What can be done at a place of the cloth or with a line of the list of pieces.
void MainWindow::showContextMenu(QPoint at) {
    QMenu menu(this);
    menu.setObjectName("contextMenu");
    for (QAction* action : editMenu->actions())
        if (action->isSeparator() || selectionActions.contains(action) ||
            action->shortcut() == QKeySequence(QKeySequence::Paste))
            menu.addAction(action);
    menu.addSeparator();
    for (QAction* action : pieceMenu->actions()) menu.addAction(action);
    menu.exec(at);
}

/// A list or table that keys are meant for and that does not hold the pieces.
QAbstractItemView* MainWindow::otherListWithFocus() const {
    auto* view = qobject_cast<QAbstractItemView*>(QApplication::focusWidget());
    return view && isAncestorOf(view) && !composeView->isPieceList(*view) ? view : nullptr;
}

bool MainWindow::copySelection() {
    const Status copied = copyPieces(state);
    if (!copied) complain(tr("It cannot be copied"), copied.error());
    return bool(copied);
}

/// A picture where scans are read, pieces or words elsewhere.
void MainWindow::paste() {
    if (state.stage() == Stage::registration) return registerView->scanPage().paste();
    const auto pasted = pastePieces(state);
    if (!pasted) return complain(tr("It cannot be pasted"), pasted.error());
    if (*pasted) return;
    // What was copied out of a drawing program or a browser.
    const QByteArray drawn = copiedDrawing();
    if (drawn.isEmpty()) return;
    state.setStage(Stage::compose);
    composeView->bringInDrawn(drawn, tr("Pasted drawing"));
}

void MainWindow::turnSelection(double degrees) {
    const Box box = state.selectionBox();
    if (!box.empty())
        state.document.apply(turnPieces(state.selection.ids(), degrees, box.centre()));
}

void MainWindow::moveInOrder(int by) {
    if (state.selection.ids().size() == 1)
        state.document.apply(shiftPiece(state.selection.ids()[0], by));
}

void MainWindow::buildPieceMenu() {
    QMenu* menu = pieceMenu = menuBar()->addMenu(tr("&Piece"));
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
            if (!box.empty())
                state.document.apply(mirrorPieces(state.selection.ids(), box.centre()));
        },
        "mirror");
    addForSelection(menu, tr("Mirrored copies in four &corners"), QKeySequence("Ctrl+Shift+M"),
                    [this] { mirrorCopies(); });
    menu->addSeparator();
    addForSelection(menu, tr("&Group"), QKeySequence("Ctrl+G"), [this] {
        const std::string& within = state.selection.opened();
        state.document.apply(
            groupPieces(state.selection.ids(), within, unusedGroupName(state.job(), within)));
    });
    addForSelection(menu, tr("&Ungroup"), QKeySequence("Ctrl+Shift+G"), [this] { ungroup(); });
    addForSelection(menu, tr("Loc&k or unlock"), QKeySequence("Ctrl+K"), [this] { toggleLock(); });
    addForSelection(menu, tr("&Hide or show"), QKeySequence("Ctrl+H"), [this] { toggleHidden(); });
    addForSelection(menu, tr("&Split by thread"), QKeySequence("Ctrl+Shift+T"), [this] {
        if (state.selection.ids().size() == 1)
            state.document.apply(splitByThread(state.selection.ids()[0]));
    });
    addForSelection(menu, tr("Re&place by a design…"), QKeySequence("Ctrl+Shift+R"),
                    [this] { composeView->replaceAsked(); });
    menu->addSeparator();
    addForSelection(
        menu, tr("Sew &earlier"), QKeySequence("Ctrl+PgUp"), [this] { moveInOrder(-1); },
        "earlier");
    addForSelection(
        menu, tr("Sew l&ater"), QKeySequence("Ctrl+PgDown"), [this] { moveInOrder(1); }, "later");
}

void MainWindow::ungroup() {
    const Selection& chosen = state.selection;
    // A piece that was opened out of its group leaves that one.
    const bool leaves = chosen.group().empty() && !chosen.opened().empty();
    state.document.apply(
        ungroupPieces(chosen.ids(), leaves ? groupAround(chosen.opened()) : chosen.opened()));
}

void MainWindow::toggleLock() {
    const Piece* first = state.job().piece(state.selection.ids()[0]);
    if (first) state.document.apply(setLocked(state.selection.ids(), !first->locked));
}

void MainWindow::toggleHidden() {
    const Piece* first = state.job().piece(state.selection.ids()[0]);
    if (first) state.document.apply(rapt::setHidden(state.selection.ids(), !first->hidden));
}

void MainWindow::mirrorCopies() {
    Repeat repeat;
    repeat.kind = Repeat::Kind::mirror;
    repeat.pieces = state.selection.ids();
    repeat.nearFar = true;
    state.document.apply(setRepeat(repeat));
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
        if (auto* take = registerView->findChild<QPushButton*>("takePicture")) take->click();
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
    shelfAction = add(menu, tr("&Shelf"), QKeySequence("Ctrl+L"), [] {});
    shelfAction->setCheckable(true);
    connect(shelfAction, &QAction::toggled, this, [this](bool on) {
        if (on) state.setStage(Stage::compose);
        showStage();
    });
    QAction* catching = add(menu, tr("&Catch on lines and edges"), QKeySequence("Ctrl+;"), [] {});
    catching->setCheckable(true);
    catching->setChecked(state.catchesLines());
    connect(catching, &QAction::toggled, this, [this](bool on) { state.setCatchesLines(on); });
    QAction* inches = add(menu, tr("&Inches"), QKeySequence("Ctrl+U"), [] {});
    inches->setCheckable(true);
    const auto tick = [this, inches] { inches->setChecked(state.unit() == LengthUnit::inch); };
    tick();
    connect(&state, &Session::viewChanged, inches, tick); // also at the start, from the settings
    connect(inches, &QAction::toggled, this,
            [this](bool on) { state.setUnit(on ? LengthUnit::inch : LengthUnit::millimetre); });
    darkAction = add(menu, tr("&Dark"), QKeySequence("Ctrl+Shift+D"), [] {});
    darkAction->setCheckable(true);
    darkAction->setChecked(theme().dark);
    connect(darkAction, &QAction::triggered, this, [this](bool on) { setDark(on); });
    QAction* line = add(menu, tr("&Thread line"), QKeySequence("Ctrl+T"), [] {});
    line->setCheckable(true);
    line->setChecked(true);
    lineAction = line;
    connect(line, &QAction::toggled, this, &MainWindow::showCentre);
    menu->addSeparator();
    const auto choice = [&](const QString& text, const char* keys, const char* key) {
        QAction* action = add(menu, text, QKeySequence(keys), [] {});
        action->setCheckable(true);
        action->setChecked(QSettings().value(key, true).toBool());
        connect(action, &QAction::toggled, this, [key](bool on) { QSettings().setValue(key, on); });
    };
    choice(tr("Sound when a machine &stops"), "Ctrl+Alt+S", "machine/sound");
    choice(tr("&Messages on the desktop"), "Ctrl+Alt+M", "machine/notify");
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
        QMessageBox box(
            QMessageBox::Information, tr("Keys and mouse"),
            tr("Arrow keys move the selection by 1 mm, with Shift by 10, with Alt by "
               "0.1.\nDrag a piece to move it, with Shift along one axis; it catches on lines "
               "and edges unless Alt is held.\nAlt and a click choose one piece of a "
               "group.\nDrag a "
               "corner to resize it in proportion, with Shift freely; a side for one "
               "direction.\nDrag the round handle to turn it, with Shift in 15° "
               "steps.\nThe wheel zooms; the right or middle button pans; a right click has what "
               "can be done there.\nCtrl+1 to "
               "Ctrl+7 open the seven stages; F3 finds any command; F6 goes to the cloth, F7 to "
               "the "
               "readout.\nOn the thread line Space plays the stitch-out, comma and full "
               "stop step by stitch, Page up and Page down by thread change."),
            QMessageBox::Ok, this);
        box.exec();
    });
    add(menu, tr("&Find a command…"), QKeySequence("F3"), [this] {
        CommandSearch search(*menuBar(), this);
        if (search.exec() != QDialog::Accepted) return;
        if (QAction* action = search.chosen()) action->trigger();
    });
    add(menu, tr("&Change keys…"), {}, [this] { KeysDialog(*menuBar(), this).exec(); });
    add(menu, tr("&About Rapt Thimble"), {}, [this] {
        QMessageBox box(QMessageBox::NoIcon, tr("About Rapt Thimble"),
                        tr("Rapt Thimble %1\nEmbroidery layouts measured, weighed, divided and "
                           "registered.\nGNU General Public License, version 3 or later.\nFace: "
                           "Lato (SIL Open Font License).")
                            .arg(QApplication::applicationVersion()),
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
    for (QAction* action : selectionActions) action->setEnabled(!state.selection.ids().empty());
}

} // namespace rapt::app
