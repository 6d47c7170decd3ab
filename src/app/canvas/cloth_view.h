#pragma once
// The cloth at true scale, the centre of the window: which layers lie on it, and which tool is in
// hand.

#include "app/canvas/canvas.h"
#include "app/document/session.h"

namespace rapt::app {

class ChooseTool;
class LoadLayer;
class PointByPointTool;

class ClothView : public Canvas {
    Q_OBJECT
public:
    explicit ClothView(Session& session, QWidget* parent = nullptr);
    ~ClothView() override;

    /// True when everything visible is drawn as it should be.
    bool isSettled() const { return session.isCurrent() && layersAreSettled(); }
    /// What is sewn uppermost under a pixel; null if there is nothing.
    const PieceSpan* spanAt(QPointF px) const;
    /// The points placed so far by a drawing tool, cloth frame.
    const std::vector<Vec2>& drawnPoints() const;
    /// The map that follows a drag or the playhead; null while there is none.
    const LoadMap* liveMap() const;

signals:
    /// A design was dropped from the shelf.
    void designDropped(const QString& path, Vec2 at);

protected:
    Box boxToFit() const override;
    Tool& tool() const override;
    std::vector<Tool*> toolsBefore() const override;
    void paintEdges(QPainter& painter, QPointF pointer) override;
    QColor surround() const override;

    std::optional<Hit> hitAt(QPointF px) const override;
    void apply(const Edit& edit, const QString& mergeKey) override;
    void follow(const std::optional<Affine>& change) override;

    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void addLayers();
    void listen();
    void takeTool();

    Session& session;
    LoadLayer* load = nullptr;
    std::unique_ptr<ChooseTool> chooseTool;
    std::unique_ptr<PointByPointTool> drawTool, pathTool;
    std::unique_ptr<Tool> pointsTool, letterTool, partingTool, probeTool, frameTool;
    std::unique_ptr<Tool> freehandTool, regionTool, needleTool;
    Tool* inHand = nullptr;
};

} // namespace rapt::app
