#pragma once
// What lies below and around the threads: the cloth, its places and lines, pictures to draw over.

#include "app/canvas/layer.h"
#include "app/document/session.h"
#include "app/raster/artwork_picture.h"

namespace rapt::app {

/// The cloth in its colour and weave.
class GroundLayer : public Layer {
    Q_OBJECT
public:
    explicit GroundLayer(const Session& s) : session(s) {}
    void paint(QPainter& painter, const Canvas& canvas) override;

private:
    const Session& session;
};

/// The scan of the chosen hooping, below the design.
class ScanLayer : public Layer {
    Q_OBJECT
public:
    explicit ScanLayer(Session& s);
    bool isShown() const override;
    void paint(QPainter& painter, const Canvas& canvas) override;

private:
    Session& session;
};

/// A customer's picture, thick and forbidden places, and the garment's lines.
class ArtworkLayer : public Layer {
    Q_OBJECT
public:
    explicit ArtworkLayer(const Session& s) : session(s) {}
    void paint(QPainter& painter, const Canvas& canvas) override;

private:
    const Session& session;
    ArtworkPicture picture;
};

} // namespace rapt::app
