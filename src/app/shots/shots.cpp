#include "app/shots/shots.h"
#include "app/stitchout/sewing_state.h"

#include "app/compose/compose_stage.h"
#include "app/divide/divide_stage.h"
#include "app/letter/letter_page.h"
#include "app/register/register_stage.h"
#include "app/shots/album.h"
#include "app/weigh/weigh_stage.h"

#include <QApplication>
#include <QComboBox>
#include <QDir>
#include <QFileInfo>

namespace rapt::app {
namespace {

/// Weighing: findings with their remedies.
void shootWeighing(Album& album) {
    MainWindow& window = album.window;
    Session& session = window.session();
    const QString path = QFileInfo(session.document.path()).dir().filePath("mending-patch.rapt");
    if (!QFileInfo::exists(path) || !window.openFile(path)) return;
    const auto showPage = [&](WeighStage::Tab page) {
        window.findChild<WeighStage*>()->showPage(page);
    };
    album.shoot(Stage::weigh, "3-weigh", [&] {
        showPage(WeighStage::findings);
        if (const Derived* c = session.checked())
            if (const auto peak = c->load().summary().peakLayersAt) hover(window, *peak);
    });
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

/// A ground that must be cut.
void shootDividing(Album& album) {
    MainWindow& window = album.window;
    auto* stage = window.findChild<DivideStage*>();
    const QDir folder = QFileInfo(window.session().document.path()).dir();
    const QString before = window.session().document.path();
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
    shootStitchOut(album);
    shootLedger(album);
    shootRegistering(album);
    shootDividing(album);
    shootLettering(album);
    shootWeighing(album);
    return album.good ? album.names : QStringList();
}

QStringList takeViews(MainWindow& window, const QString& folder, const QStringList& views) {
    window.show();
    Album album(window, folder);
    for (const QString& view : views) {
        const int stage = view.section('.', 0, 0).toInt() - 1;
        if (stage < 0 || stage > static_cast<int>(Stage::ledger)) return {};
        std::fprintf(stderr, "view %s of %s\n", qPrintable(view), qPrintable(views.back()));
        album.shoot(static_cast<Stage>(stage), "view-" + view, [&] {
            if (view.contains('.')) window.stageView().showPage(view.section('.', 1).toInt());
            if (stage == static_cast<int>(Stage::divide) && window.session().job().hoopings.empty())
                click(window, "plan");
        });
    }
    return album.good ? album.names : QStringList();
}

} // namespace rapt::app
