#pragma once
// The threads, and the lines of the datum over them.

#include "app/canvas/layer.h"
#include "app/cloth/stitch_tiles.h"
#include "app/document/session.h"

namespace rapt::app {

class StitchLayer : public Layer {
    Q_OBJECT
public:
    explicit StitchLayer(Session& session);
    void paint(QPainter& painter, const Canvas& canvas) override;
    bool isSettled() const override { return tiles.isSettled() && sewnTiles.isSettled(); }

private:
    void takeStitches();
    void takeSewn();

    Session& session;
    StitchTiles tiles, sewnTiles;
    std::shared_ptr<const StitchedJob> shown;
    std::shared_ptr<const PlannedLists> sewnOf;
    int sewnUpTo = -1;
};

/// To the left of the parting the job as it was before anything was mended.
class ComparisonLayer : public Layer {
    Q_OBJECT
public:
    explicit ComparisonLayer(Session& session);
    bool isShown() const override;
    void paint(QPainter& painter, const Canvas& canvas) override;
    bool isSettled() const override { return tiles.isSettled(); }

private:
    void takeBefore();

    Session& session;
    StitchTiles tiles;
    std::shared_ptr<const class LoadOverlay> overlay;
};

/// Where the cloth is parted, in pixels.
double partingPx(const Session& session, const QRect& visible);

} // namespace rapt::app
