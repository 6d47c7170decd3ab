#include "app/window/shots.h"

#include "app/divide/offers.h"
#include "app/letter/letter_page.h"
#include "app/shelf/shelf_panel.h"
#include "app/stages/compose_stage.h"
#include "app/stages/divide_stage.h"
#include "app/stages/register_stage.h"
#include "app/stages/weigh_stage.h"
#include "app/window/main_window.h"
#include "job/edit_weigh.h"

#include <QApplication>
#include <QComboBox>
#include <QDir>
#include <QElapsedTimer>
#include <QFileInfo>
#include <QListView>
#include <QMouseEvent>
#include <QPlainTextEdit>
#include <QTableWidget>
#include <QThread>

namespace rapt::app {
namespace {

constexpr qint64 longestMs = 20'000;

bool isOffering(MainWindow& window) {
    const auto* offers = window.findChild<FrameOffers*>();
    return offers && window.session().stage() == Stage::divide && offers->isBusy();
}

/// Lets the window work until nothing is being drawn or worked out any more.
void settle(MainWindow& window) {
    QElapsedTimer clock;
    clock.start();
    int quiet = 0;
    while (quiet < 8 && clock.elapsed() < longestMs) {
        QApplication::processEvents(QEventLoop::AllEvents, 20);
        QThread::msleep(5);
        window.cloth().repaint();
        const bool settled = window.cloth().isSettled() &&
                             !window.session().derivation.isSeeking() &&
                             !window.registerStage().isReading() && !window.session().isLooking() &&
                             !isOffering(window);
        quiet = settled ? quiet + 1 : 0;
    }
}

void hover(MainWindow& window, Vec2 mm) {
    const QPointF px = window.cloth().map().toPixels(mm);
    QMouseEvent move(QEvent::MouseMove, px, window.cloth().mapToGlobal(px), Qt::NoButton,
                     Qt::NoButton, Qt::NoModifier);
    QApplication::sendEvent(&window.cloth(), &move);
}

void click(MainWindow& window, const char* name) {
    if (auto* button = window.findChild<QPushButton*>(name)) button->click();
}

class Album {
public:
    Album(MainWindow& w, const QString& f) : window(w), folder(f) { QDir().mkpath(folder); }

    void shoot(Stage stage, const QString& name, const std::function<void()>& prepare = {}) {
        window.session().setStage(stage);
        window.cloth().zoomToFit();
        settle(window);
        if (prepare) prepare();
        settle(window);
        const QString path = folder + "/" + name + ".png";
        good = good && window.grab().save(path);
        names << name + ".png";
    }

    MainWindow& window;
    QString folder;
    QStringList names;
    bool good = true;
};

/// The shelf, and linked copies: of jobs that lie beside the one that is open.
void shootComposing(Album& album) {
    MainWindow& window = album.window;
    Session& session = window.session();
    const QDir folder = QFileInfo(session.document.path()).dir();
    album.shoot(Stage::compose, "9-shelf", [&] {
        click(window, "openShelf");
        while (!window.shelf().model().isSettled())
            QApplication::processEvents(QEventLoop::AllEvents, 20);
        window.cloth().zoomToFit();
        if (auto* cards = window.findChild<QListView*>("shelfCards"))
            cards->setCurrentIndex(cards->model()->index(2, 0));
    });
    click(window, "openShelf");
    album.shoot(Stage::compose, "14-threads", [&] {
        if (session.job().pieces.size() > 2) session.selection.choose({session.job().pieces[2].id});
        window.composeStage().showPage(ComposeStage::threads);
        if (auto* table = window.findChild<QTableWidget*>("threadTable")) table->selectRow(1);
    });
    if (QFileInfo::exists(folder.filePath("felt-tags.rapt")) &&
        window.openFile(folder.filePath("felt-tags.rapt")))
        album.shoot(Stage::compose, "10-copies", [&] {
            session.selection.choose({session.job().pieces[0].id});
            window.composeStage().showPage(ComposeStage::copies);
        });
    if (QFileInfo::exists(folder.filePath("cotton-square.rapt")) &&
        window.openFile(folder.filePath("cotton-square.rapt")))
        album.shoot(Stage::compose, "11-draw", [&] {
            session.selection.choose({session.job().pieces[0].id});
            window.composeStage().showPage(ComposeStage::draw);
            click(window, "toolPoints");
            session.showPlace({-78, -72});
        });
}

/// Weighing: findings with their remedies, mending compared with before, the stitch-out played.
void shootWeighing(Album& album) {
    MainWindow& window = album.window;
    Session& session = window.session();
    const QString path = QFileInfo(session.document.path()).dir().filePath("mending-patch.rapt");
    if (!QFileInfo::exists(path) || !window.openFile(path)) return;
    const auto showPage = [&](WeighStage::Page page) {
        window.findChild<WeighStage*>()->showPage(page);
    };
    album.shoot(Stage::weigh, "3-weigh", [&] {
        showPage(WeighStage::findings);
        if (const Derived* c = session.checked())
            if (const auto peak = c->load().summary().peakLayersAt) hover(window, *peak);
    });
    album.shoot(Stage::weigh, "21-pieces", [&] {
        showPage(WeighStage::pieces);
        session.selection.chooseSingly({"small"});
        window.threadLineView().transport().toStart();
        if (const auto d = session.derived(); d && d->isWhole())
            session.playback.setHead(
                placeAt(d->time(), d->stitched().list, 0.62 * d->time().totalSeconds));
    });
    session.playback.setHead({});
    // Mended: the small kite laid afresh, what lies below gives way.
    session.document.apply(setKeep("small", Keep::spacing));
    session.document.apply(setRelief({"ember"}, Relief{}));
    album.shoot(Stage::weigh, "20-mend", [&] {
        showPage(WeighStage::mend);
        session.selection.chooseSingly({"small"});
        session.weighing.setParting(0.31);
    });
    session.weighing.setParting({});
    session.document.undo();
    session.document.undo();
}

/// Lettering: on the cloth, round a neck, its columns, and a list of names.
void shootLettering(Album& album) {
    MainWindow& window = album.window;
    Session& session = window.session();
    const QDir folder = QFileInfo(session.document.path()).dir();
    const auto open = [&](const char* file) {
        return QFileInfo::exists(folder.filePath(file)) && window.openFile(folder.filePath(file));
    };
    const auto showLetters = [&](const char* piece, LetterPage::Sub sub) {
        session.selection.chooseSingly({piece});
        window.composeStage().showPage(ComposeStage::letter);
        window.composeStage().letterPage().showSub(sub);
    };
    if (open("library-title.rapt")) {
        album.shoot(Stage::compose, "16-lettering", [&] {
            showLetters("script", LetterPage::words);
            session.setTool(ToolKind::letter);
            session.letters.setCursor({12, 9, -1, false});
        });
        session.setTool(ToolKind::select);
    }
    if (open("guides-collar.rapt"))
        album.shoot(Stage::compose, "18-neckline",
                    [&] { showLetters("words", LetterPage::neckline); });
}

/// The marking plan of what is planned, a ground that must be cut, and a batch.
void shootDividing(Album& album) {
    MainWindow& window = album.window;
    auto* stage = window.findChild<DivideStage*>();
    const QDir folder = QFileInfo(window.session().document.path()).dir();
    const QString before = window.session().document.path();
    album.shoot(Stage::divide, "22-marks", [&] { stage->showPage(DivideStage::marks); });
    if (window.openFile(folder.filePath("reading-corner-hanging.rapt"))) {
        stage->showPage(DivideStage::plan);
        album.shoot(Stage::divide, "23-cut", [&] {
            click(window, "plan");
            settle(window);
            window.session().dividing.setStepping(true);
            window.session().setHooping(1);
        });
        window.session().dividing.setStepping(false);
    }
    if (window.openFile(folder.filePath("book-tag.rapt")))
        album.shoot(Stage::divide, "24-batch", [&] { stage->showPage(DivideStage::batch); });
    stage->showPage(DivideStage::plan);
    window.openFile(before);
}

} // namespace

QStringList takeShots(MainWindow& window, const QString& folder) {
    window.setDark(false);
    window.resize(1280, 800);
    window.show();
    settle(window);
    Session& session = window.session();
    Album album(window, folder);
    album.shoot(Stage::brief, "1-brief");
    album.shoot(Stage::compose, "2-compose", [&] {
        if (session.job().pieces.size() > 1) session.selection.choose({session.job().pieces[1].id});
    });
    session.selection.choose({});
    album.shoot(Stage::divide, "4-divide", [&] {
        settle(window);
        click(window, "plan");
    });
    album.shoot(Stage::registration, "5-register", [&] {
        session.setHooping(static_cast<int>(session.job().hoopings.size()) - 1);
        click(window, "takePicture");
    });
    album.shoot(Stage::stitchOut, "6-stitch-out");
    album.shoot(Stage::ledger, "7-ledger", [&] {
        if (session.ledgerCount() == 0) {
            if (auto* outcome = window.findChild<QComboBox*>("outcome"))
                outcome->setCurrentText("good with mending");
            if (auto* note = window.findChild<QPlainTextEdit*>("note"))
                note->setPlainText(
                    "Green tail broke twice where it crosses the kite; move it 3 mm.");
            click(window, "record");
        }
    });
    window.setDark(true);
    album.shoot(Stage::divide, "8-divide-dark");
    window.setDark(false);
    shootDividing(album);
    shootComposing(album);
    shootLettering(album);
    shootWeighing(album);
    return album.good ? album.names : QStringList();
}

} // namespace rapt::app
