#pragma once
// Pictures of the window, as `./thimble shots` takes them.

#include "app/window/main_window.h"

#include <QDir>
#include <functional>

namespace rapt::app {

/// Lets the window work until nothing is being drawn or worked out any more.
void settle(MainWindow& window);
/// Puts the pointer over a place of the cloth.
void hover(MainWindow& window, Vec2 mm);
/// Presses the button of that name, if there is one.
void click(MainWindow& window, const char* name);

/// Pictures of one window, named and counted.
class Album {
public:
    Album(MainWindow& w, const QString& f) : window(w), folder(f) { QDir().mkpath(folder); }

    /// Opens a stage, prepares it, waits until all is drawn, and takes a picture.
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

/// Register: a scan under the stitches, the trust map, a correction that does not fit, a guided
/// chain, drawing and practice.
void shootRegistering(Album& album);

/// Stitch-out: sheets, hand-over, a run that broke, the queue.
void shootStitchOut(Album& album);

/// Ledger: records, lessons, estimate.
void shootLedger(Album& album);

} // namespace rapt::app
