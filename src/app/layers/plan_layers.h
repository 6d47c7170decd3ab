#pragma once
// Hoops, seen points, the field, the rows of letters and the needle, over the threads.

#include "app/canvas/layer.h"
#include "app/document/session.h"

namespace rapt::app {

/// Hoops on the cloth with their marks, in the stages that look at a plan.
class HoopingsLayer : public Layer {
    Q_OBJECT
public:
    explicit HoopingsLayer(Session& session);
    bool isShown() const override;
    void paint(QPainter& painter, const Canvas& canvas) override;

private:
    Session& session;
};

/// What was seen of the chosen hooping, what is proposed, and how far it is to be trusted.
class SeenPointsLayer : public Layer {
    Q_OBJECT
public:
    explicit SeenPointsLayer(Session& session);
    bool isShown() const override { return session.stage() == Stage::registration; }
    void paint(QPainter& painter, const Canvas& canvas) override;

private:
    Session& session;
};

/// The field that pieces are fitted to, while something is chosen.
class FieldLayer : public Layer {
    Q_OBJECT
public:
    explicit FieldLayer(const Session& s) : session(s) {}
    bool isShown() const override {
        return session.stage() == Stage::compose && !session.selection.ids().empty();
    }
    void paint(QPainter& painter, const Canvas& canvas) override;

private:
    const Session& session;
};

/// The rows of every column of the chosen words, the chosen one strongly.
class ColumnsLayer : public Layer {
    Q_OBJECT
public:
    explicit ColumnsLayer(Session& session);
    bool isShown() const override;
    void paint(QPainter& painter, const Canvas& canvas) override;

private:
    Session& session;
};

/// Where the needle is while the stitch-out is played.
class NeedleLayer : public Layer {
    Q_OBJECT
public:
    explicit NeedleLayer(const Session& s) : session(s) {}
    bool isShown() const override { return session.playback.head().value_or(0) > 0; }
    void paint(QPainter& painter, const Canvas& canvas) override;

private:
    const Session& session;
};

/// From the frame of the selected words to the cloth frame.
Affine wordsMap(const Session& session);

} // namespace rapt::app
