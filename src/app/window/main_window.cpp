#include "app/window/main_window.h"
#include "app/stitchout/sewing_state.h"

#include "base/paths.h"

#include "app/brief/brief_stage.h"
#include "app/compose/compose_stage.h"
#include "app/divide/divide_stage.h"
#include "app/divide/self_hooper.h"
#include "app/ledger/ledger_stage.h"
#include "app/register/register_stage.h"
#include "app/shelf/shelf_panel.h"
#include "app/stitchout/stitchout_stage.h"
#include "app/theme/theme.h"
#include "app/weigh/weigh_stage.h"
#include "app/window/run_strip.h"

#include <QCloseEvent>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
#include <QScrollArea>
#include <QSettings>
#include <QSystemTrayIcon>
#include <QUrl>

namespace rapt::app {
namespace {

constexpr int readoutWidth = 356, leastReadout = 320;

} // namespace

MainWindow::MainWindow(Library library, QWidget* parent)
    : QMainWindow(parent), state(std::move(library)), clothView(new ClothView(state)),
      workOrder(new WorkOrder(state)), threadLine(new ThreadLine(state)),
      readout(new QStackedWidget), status(new QLabel) {
    setAcceptDrops(true);
    setMinimumSize(960, 640);
    buildLayout();
    buildMenus();
    connect(&state, &Session::stageChanged, this, &MainWindow::showStage);
    new SelfHooper(state, this);
    connect(&state.selection, &Selection::changed, this, &MainWindow::refreshActions);
    connect(&state, &Session::viewChanged, this, &MainWindow::showStatus);
    connect(&state.document, &Document::fileChanged, this, &MainWindow::showTitle);
    connect(&state.document, &Document::fileChanged, this, &MainWindow::refreshActions);
    connect(clothView, &ClothView::pointerMoved, this,
            [this](Vec2 mm) { workOrder->showPointer(mm); });
    connect(composeView, &ComposeStage::shelfAsked, this, [this] { shelfAction->trigger(); });
    connect(shelfPanel, &ShelfPanel::sent, this,
            [this](const QString& path) { bringFromShelf(path, {}); });
    connect(shelfPanel, &ShelfPanel::replaceAsked, this,
            [this](const QString& path) { composeView->replaceSelected(path); });
    connect(clothView, &ClothView::designDropped, this, &MainWindow::bringFromShelf);
    connect(clothView, &ClothView::zoomed, this, &MainWindow::showStatus);
    connect(clothView, &ClothView::contextAsked, this, [this](QPointF px) {
        const PieceSpan* hit = clothView->spanAt(px);
        if (hit && !state.selection.contains(hit->source)) state.selection.choose({hit->source});
        showContextMenu(clothView->mapToGlobal(px.toPoint()));
    });
    connect(composeView, &ComposeStage::contextAsked, this, &MainWindow::showContextMenu);
    connect(clothView, &ClothView::pointerLeft, workOrder, &WorkOrder::hidePointer);
    restoreState();
    state.sewing.findMachines(state.library);
    state.document.reset(Job{}, {});
    showStage();
    showTitle();
    showStatus();
    refreshActions();
    clothView->setFocus();
}

void MainWindow::buildLayout() {
    addStage(new BriefStage(state));
    addStage(composeView = new ComposeStage(state));
    addStage(new WeighStage(state));
    auto* divide = new DivideStage(state);
    connect(divide, &DivideStage::jobMade, this, &MainWindow::openMade);
    addStage(divide);
    addStage(registerView = new RegisterStage(state));
    addStage(stitchOutView = new StitchOutStage(state));
    addStage(ledgerView = new LedgerStage(state));
    connect(ledgerView, &LedgerStage::jobAsked, this, &MainWindow::openAsItWas);
    connect(composeView, &ComposeStage::lookUpAsked, this, &MainWindow::lookUpLettering);
    letteredProblem = lettered.open(QString::fromStdString(userDataFolder()) + "/ledger.sqlite");
    shelfPanel = new ShelfPanel(state);
    shelfPanel->hide();
    centre = new QStackedWidget;
    centre->addWidget(clothView);
    connect(&state.sewing, &SewingState::happened, this, &MainWindow::tellPerson);
    connect(&state.document, &Document::refused, this, &MainWindow::offerCopy);
    connect(&state.recovery, &Recovery::failed, this, [this](const QString& reason) {
        complain(tr("The recovery copy cannot be written"), badInput(reason.toStdString()));
    });
    readout->setMinimumWidth(leastReadout);
    columns = new QSplitter;
    columns->setHandleWidth(1);
    columns->setChildrenCollapsible(false);
    columns->addWidget(centre);
    columns->addWidget(readout);
    columns->setStretchFactor(0, 1);
    columns->setSizes({10'000, readoutWidth});
    auto* upper = new QHBoxLayout;
    upper->setSpacing(0);
    upper->addWidget(shelfPanel);
    upper->addWidget(columns, 1);
    auto* right = new QVBoxLayout;
    right->setSpacing(0);
    right->addLayout(upper, 1);
    right->addWidget(hairLine());
    right->addWidget(runStrip = new RunStrip(state));
    right->addWidget(threadLine);
    auto* middle = new QWidget;
    auto* all = new QHBoxLayout(middle);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    all->addWidget(workOrder);
    auto* rule = new QWidget;
    rule->setFixedWidth(1);
    rule->setStyleSheet("background: palette(mid);");
    all->addWidget(rule);
    all->addLayout(right, 1);
    setCentralWidget(middle);
}

void MainWindow::addStage(StageView* stage) {
    auto* area = new QScrollArea;
    area->setWidgetResizable(true);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area->setFocusPolicy(Qt::NoFocus);
    area->setWidget(stage);
    readout->addWidget(area);
    connect(stage, &StageView::centreChanged, this, &MainWindow::showCentre);
}

void MainWindow::bringFromShelf(const QString& path, Vec2 at) {
    state.setStage(Stage::compose);
    composeView->bringIn(path, at);
}

void MainWindow::showStage() {
    shelfPanel->setVisible(shelfAction && shelfAction->isChecked() &&
                           state.stage() == Stage::compose);
    readout->setCurrentIndex(static_cast<int>(state.stage()));
    showCentre();
    refreshActions();
}

StageView& MainWindow::stageView() const {
    return *static_cast<StageView*>(static_cast<QScrollArea*>(readout->currentWidget())->widget());
}

/// The cloth, or what the page that is looked at shows instead; the thread line belongs to the
/// cloth.
void MainWindow::showCentre() {
    if (!columns || !lineAction) return; // not built yet
    QWidget* own = stageView().centre();
    if (own && centre->indexOf(own) < 0) centre->addWidget(own);
    centre->setCurrentWidget(own ? own : clothView);
    threadLine->setVisible(!own && lineAction->isChecked());
}

/// What a machine has to say is said by the desktop too, and by a sound if the person wants it.
void MainWindow::tellPerson(const QString& title, const QString& words) {
    QApplication::alert(this);
    QSettings settings;
    if (settings.value("machine/sound", true).toBool()) QApplication::beep();
    if (!settings.value("machine/notify", true).toBool() || isActiveWindow() ||
        !QSystemTrayIcon::isSystemTrayAvailable())
        return;
    if (!tray) {
        tray = new QSystemTrayIcon(windowIcon(), this);
        tray->show();
    }
    tray->showMessage(title, words);
}

/// A machine that sews goes on without the window; the person says whether it should.
bool MainWindow::mayLeaveMachines() {
    for (MachineRun* run : state.sewing.machines())
        if (run->state() == MachineRun::State::sewing && !mayLeave(*run)) return false;
    return true;
}

bool MainWindow::mayLeave(MachineRun& sews) {
    MachineRun* run = &sews;
    QMessageBox question(QMessageBox::Question, tr("A machine is sewing"),
                         tr("%1 is sewing hooping %2 of %3.")
                             .arg(run->name())
                             .arg(run->record().hooping)
                             .arg(QString::fromStdString(run->record().job)),
                         QMessageBox::Cancel, this);
    question.setInformativeText(tr("It can go on sewing: it is found again at the next start. Do "
                                   "not leave a machine alone that nobody watches."));
    auto* leave = question.addButton(tr("Let it sew"), QMessageBox::AcceptRole);
    auto* stop = question.addButton(tr("Stop it"), QMessageBox::DestructiveRole);
    leave->setObjectName("letSew");
    stop->setObjectName("stopSewing");
    question.exec();
    if (question.clickedButton() == stop) {
        run->stop();
        // It must have heard of it before the wire goes.
        run->wire().finish();
    }
    return question.clickedButton() == leave || question.clickedButton() == stop;
}

void MainWindow::showTitle() {
    setWindowTitle(QString("%1 — Rapt Thimble[*]").arg(QString::fromStdString(state.job().name)));
    setWindowModified(state.document.isChanged());
}

void MainWindow::showStatus() {
    // On paper at 96 dots an inch: how much smaller than life the cloth is shown.
    const double life = clothView->map().scale * 25.4 / 96;
    const QString scale =
        life >= 1 ? QString("%1:1").arg(life, 0, 'f', 1) : QString("1:%1").arg(1 / life, 0, 'f', 1);
    status->setText(QString("%1 · %2 · %3   ")
                        .arg(state.unit() == LengthUnit::inch ? tr("inches") : tr("mm"), scale,
                             theme().dark ? tr("dark") : tr("light")));
}

void MainWindow::setDark(bool dark) {
    applyTheme(dark ? Theme::darkOne() : Theme::light());
    if (darkAction) darkAction->setChecked(dark);
    for (QAction* action : findChildren<QAction*>())
        if (const QString name = action->property("iconName").toString(); !name.isEmpty())
            action->setIcon(icon(name));
    QSettings().setValue("window/dark", dark);
    emit state.viewChanged();
    showStatus();
    update();
}

void MainWindow::restoreState() {
    QSettings settings;
    resize(1280, 800);
    restoreGeometry(settings.value("window/geometry").toByteArray());
    columns->restoreState(settings.value("window/columns").toByteArray());
    if (settings.value("window/dark", false).toBool()) setDark(true);
    if (settings.value("window/inches", false).toBool()) state.setUnit(LengthUnit::inch);
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (!mayLeave() || !mayLeaveMachines()) {
        event->ignore();
        return;
    }
    QSettings settings;
    settings.setValue("window/geometry", saveGeometry());
    settings.setValue("window/columns", columns->saveState());
    settings.setValue("window/inches", state.unit() == LengthUnit::inch);
    state.recovery.discard();
    event->accept();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
    for (const QUrl& url : event->mimeData()->urls()) {
        const QString path = url.toLocalFile();
        if (path.endsWith(".rapt")) {
            if (mayLeave()) openFile(path);
            return;
        }
        composeView->bringIn(path);
    }
}

} // namespace rapt::app
