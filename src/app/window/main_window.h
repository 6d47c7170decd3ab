#pragma once
// The window: work order, cloth, readout and thread line, and the menus.

#include "app/canvas/cloth_view.h"
#include "app/window/thread_line.h"
#include "app/window/work_order.h"
#include "ledger/lettering_book.h"

#include <QLabel>
#include <QMainWindow>
#include <QSplitter>
#include <QStackedWidget>

class QAbstractItemView;

namespace rapt::app {

class MachineRun;

class ComposeStage;
class LedgerStage;
class ShelfPanel;
class RegisterStage;
class RunStrip;
class StageView;
class StitchOutStage;

class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(Library library, QWidget* parent = nullptr);

    Session& session() { return state; }
    ClothView& cloth() { return *clothView; }
    ShelfPanel& shelf() { return *shelfPanel; }
    ComposeStage& composeStage() { return *composeView; }
    ThreadLine& threadLineView() { return *threadLine; }
    RegisterStage& registerStage() { return *registerView; }
    StitchOutStage& stitchOutStage() { return *stitchOutView; }
    LedgerStage& ledgerStage() { return *ledgerView; }
    /// Of the stage that is looked at.
    StageView& stageView() const;

    /// Opens a file; says in a message why it cannot. True if it was opened.
    bool openFile(const QString& path);
    /// Offers jobs that an earlier run left behind
    /// (all of them, or those of one file).
    void offerRecovery(const QString& ofFile = {});
    void setDark(bool dark);

protected:
    void closeEvent(QCloseEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void buildLayout();
    void addStage(StageView* stage);
    void openMade(const Job& job);
    void openAsItWas(const Job& job);
    void keepOutcome();
    void showStage();
    void showCentre();
    void tellPerson(const QString& title, const QString& words);
    bool mayLeaveMachines();
    bool mayLeave(MachineRun& sews);
    void showTitle();
    void showStatus();
    void restoreState();

    // main_menus.cpp
    void buildMenus();
    void buildJobMenu();
    void buildEditMenu();
    void buildPieceMenu();
    void buildClothMenu();
    void buildViewMenu();
    void buildHelpMenu();
    QAction* add(QMenu* menu, const QString& text, const QKeySequence& keys,
                 std::function<void()> act, const QString& iconName = {});
    /// An action that needs a selection.
    QAction* addForSelection(QMenu* menu, const QString& text, const QKeySequence& keys,
                             std::function<void()> act, const QString& iconName = {});
    void refreshActions();
    void rebuildRecent();
    void turnSelection(double degrees);
    void moveInOrder(int by);
    void ungroup();
    void toggleLock();
    void toggleHidden();
    void mirrorCopies();
    void bringFromShelf(const QString& path, Vec2 at);

    // main_files.cpp
    bool mayLeave();
    void finishTyping();
    void showContextMenu(QPoint at);
    QAbstractItemView* otherListWithFocus() const;
    bool copySelection();
    void paste();
    bool save();
    bool saveAs();
    bool saveTo(const QString& path);
    void newJob();
    void openAsked();
    void noteRecent(const QString& path);
    void noteLettering(const QString& path);
    void lookUpLettering();
    void complain(const QString& title, const Error& error);
    /// An edit was refused because a piece is sewn: a copy of it can be changed instead.
    void offerCopy(const QString& reason, const QString& piece);

    Session state;
    LetteringBook lettered;
    std::optional<QString> letteredProblem; ///< why the book cannot be used
    ClothView* clothView;
    WorkOrder* workOrder;
    ThreadLine* threadLine;
    QStackedWidget* readout;
    ComposeStage* composeView = nullptr;
    RegisterStage* registerView = nullptr;
    StitchOutStage* stitchOutView = nullptr;
    LedgerStage* ledgerView = nullptr;
    QStackedWidget* centre; ///< the cloth, or what a page shows instead
    QSplitter* columns = nullptr;
    QMenu *editMenu = nullptr, *pieceMenu = nullptr;
    QAction* lineAction = nullptr; ///< whether the thread line is wanted
    RunStrip* runStrip;
    class QSystemTrayIcon* tray = nullptr; ///< for messages of the desktop
    ShelfPanel* shelfPanel = nullptr;
    QAction* shelfAction = nullptr;
    QLabel* status;
    QAction* undoAction = nullptr;
    QAction* redoAction = nullptr;
    QAction* darkAction = nullptr;
    QList<QAction*> selectionActions;
    QMenu* recentMenu = nullptr;
};

} // namespace rapt::app
