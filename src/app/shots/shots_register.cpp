// Pictures of Register.

#include "app/register/register_stage.h"
#include "app/shots/album.h"
#include "registration/guided.h"

#include <QAbstractButton>
#include <QDir>
#include <QFileInfo>
#include <QMouseEvent>

namespace rapt::app {
namespace {

void press(MainWindow& window, const char* name) {
    if (auto* button = window.findChild<QAbstractButton*>(name)) button->click();
}

void takePicture(MainWindow& window) {
    click(window, "takePicture");
    settle(window);
    click(window, "takeProposed");
    settle(window);
}

/// Divided by the chain, in the first frame owned.
void planChain(MainWindow& window) {
    window.session().setStage(Stage::divide);
    DivideState::Choices choices = window.session().dividing.choices();
    choices.method = Method::chain;
    window.session().dividing.choose(choices);
    settle(window);
    click(window, "plan");
    settle(window);
}

void shootChain(Album& album, RegisterStage& stage) {
    MainWindow& window = album.window;
    Session& session = window.session();
    // What was seen above belongs to another plan.
    window.openFile(session.document.path());
    planChain(window);
    album.shoot(Stage::registration, "27-chain", [&] {
        session.setHooping(1);
        stage.showPage(RegisterStage::scan);
        press(window, "stepDone");
        click(window, "takePicture");
        settle(window);
        press(window, "stepDone");
        press(window, "allSteps");
        click(window, "takePicture");
    });
    press(window, "allSteps");
    session.registering.dropProposed();
}

/// Cloth that lies so far off that the field cannot follow.
void shootMiss(Album& album, RegisterStage& stage) {
    MainWindow& window = album.window;
    Session& session = window.session();
    album.shoot(Stage::registration, "26-does-not-fit", [&] {
        session.setHooping(0);
        const Hooping& h = session.job().hoopings[0];
        std::vector<Observation> far;
        for (const Mark& m : h.marks) {
            const Vec2 planned = h.pose.affine().inverse()(m.at);
            const Affine lies = Pose{7, -4.5, 2.6, false, 1, 1}.affine();
            far.push_back(pointSeen(h, m, lies(planned), "needle", 0.1));
        }
        session.document.apply(addObservations(1, far));
        stage.showPage(RegisterStage::fit);
    });
    session.document.undo();
}

void shootTracing(Album& album, RegisterStage& stage) {
    MainWindow& window = album.window;
    Session& session = window.session();
    const QString path = QFileInfo(session.document.path()).dir().filePath("cotton-square.rapt");
    if (!QFileInfo::exists(path) || !window.openFile(path)) return;
    session.setStage(Stage::divide);
    settle(window);
    click(window, "plan");
    settle(window);
    album.shoot(Stage::registration, "5-register", [&] {
        takePicture(window);
        session.registering.setFade(0.5);
        stage.showPage(RegisterStage::fit);
    });
    click(window, "sewCorrected");
    album.shoot(Stage::registration, "29-trace", [&] {
        stage.showPage(RegisterStage::trace);
        settle(window);
        session.showPlace({0, 0});
        settle(window);
        session.threads.drawing.thread.color = {186, 158, 60};
        press(window, "traceRegion");
        session.registering.askRegion({3, 4});
        settle(window);
        press(window, "traceFreehand");
        session.registering.setFade(0.5);
    });
    session.setTool(ToolKind::select);
}

} // namespace

void shootRegistering(Album& album) {
    MainWindow& window = album.window;
    Session& session = window.session();
    RegisterStage& stage = window.registerStage();
    const QString before = session.document.path();
    album.shoot(Stage::registration, "25-trust", [&] {
        window.setDark(true);
        session.setHooping(static_cast<int>(session.job().hoopings.size()) - 1);
        takePicture(window);
        stage.showPage(RegisterStage::fit);
        press(window, "trustMap");
    });
    window.setDark(false);
    shootMiss(album, stage);
    stage.showPage(RegisterStage::scan);
    shootChain(album, stage);
    shootTracing(album, stage);
    stage.showPage(RegisterStage::scan);
    window.openFile(before);
}

} // namespace rapt::app
