#pragma once
// The threads, and the lines of the datum over them.

#include "app/canvas/layer.h"
#include "app/document/session.h"
#include "app/raster/stitch_tiles.h"

namespace rapt::app {

class MachineRun;

class StitchLayer : public Layer {
    Q_OBJECT
public:
    explicit StitchLayer(Session& session);
    void paint(QPainter& painter, const Canvas& canvas) override;
    bool isSettled() const override {
        return tiles.isSettled() && sewnTiles.isSettled() && runTiles.isSettled();
    }

private:
    void takeStitches();
    void takeSewn(std::size_t hoopings);
    const MachineRun* shownRun() const;
    void takeRun(const MachineRun& run);
    void paintRun(QPainter& painter, const Canvas& canvas, const MachineRun& run);

    Session& session;
    StitchTiles tiles, sewnTiles, runTiles;
    std::shared_ptr<const StitchedJob> shown;
    std::shared_ptr<const PlannedLists> sewnOf;
    std::size_t sewnUpTo = SIZE_MAX;
    std::shared_ptr<const StitchList> runOf; ///< list of the run that is shown
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
