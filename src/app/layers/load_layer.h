#pragma once
// The thread load on the cloth: as it is, and following what is dragged or played.

#include "app/canvas/layer.h"
#include "app/document/session.h"
#include "app/layers/load_overlay.h"
#include "load/live_load.h"

#include <QFutureWatcher>

namespace rapt::app {

class LoadLayer : public Layer {
    Q_OBJECT
public:
    explicit LoadLayer(Session& session);
    bool isShown() const override { return session.stage() == Stage::weigh; }
    void paint(QPainter& painter, const Canvas& canvas) override;
    bool isSettled() const override { return !drawing.isRunning() && !building.isRunning(); }

    /// The chosen pieces stand moved by so much (cloth frame); nothing: where they are.
    void follow(const std::optional<Affine>& change);
    /// The map that follows a drag or the playhead; null while there is none.
    const LoadMap* liveMap() const { return live ? &live->load.map() : nullptr; }

private:
    struct Live {
        explicit Live(const Box& area) : load(area) {}
        LiveLoad load;
        LoadOverlay overlay;
        std::shared_ptr<const StitchedJob> of;
        int version = 0;
        Affine change;     ///< of what is dragged, so far
        Playhead done = 0; ///< so many records lie on it
        void addUpTo(Playhead end);
    };
    void draw();
    void build(const Derived& derived, Playhead end);
    void keepUp();
    void move(const Affine& change);
    void takeLoad();

    Session& session;
    std::shared_ptr<const LoadOverlay> overlay;
    QFutureWatcher<std::shared_ptr<const LoadOverlay>> drawing;
    bool stale = true;             ///< it is drawn when it is looked at
    int version = 0;               ///< of the stitches, the limits and the kind that are shown
    std::optional<Affine> dragged; ///< where the chosen pieces stand
    std::shared_ptr<Live> live;
    QFutureWatcher<std::shared_ptr<Live>> building;
};

} // namespace rapt::app
