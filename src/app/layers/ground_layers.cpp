#include "app/layers/ground_layers.h"

#include "app/layers/cloth_ground.h"
#include "app/layers/register_overlay.h"

namespace rapt::app {

void GroundLayer::paint(QPainter& painter, const Canvas& canvas) {
    paintCloth(painter, canvas.map, session.job().cloth, canvas.visible);
}

ScanLayer::ScanLayer(Session& s) : session(s) {
    connect(&session, &Session::chosenReady, this, &Layer::changed);
}

bool ScanLayer::isShown() const { return session.stage() == Stage::registration && session.scan(); }

void ScanLayer::paint(QPainter& painter, const Canvas& canvas) {
    paintScan(painter, canvas.map, session);
}

void ArtworkLayer::paint(QPainter& painter, const Canvas& canvas) {
    // It is there to be drawn over; from then on the cloth counts.
    if (session.stage() == Stage::brief || session.stage() == Stage::compose)
        picture.paint(painter, canvas.map, session.job());
    paintZones(painter, canvas.map, session.job().cloth);
    paintGuides(painter, canvas.map, session.job().cloth);
}

} // namespace rapt::app
