#pragma once
// What the chosen pieces look like and come near to while they are dragged.

#include "app/canvas/tool.h"
#include "app/document/session.h"
#include "place/clearance.h"
#include "place/snapping.h"

#include <QImage>
#include <memory>

namespace rapt::app {

/// Made once a drag, at the present zoom. Interface thread.
class PieceDrag {
public:
    PieceDrag(const Session& session, const ToolHost& host);

    /// Measures bare gaps with the chosen pieces moved by so much (cloth frame, of the copy that is
    /// held).
    void measure(const Affine& change);
    /// The shift that lets an edge catch a line near it, if lines are caught.
    Vec2 catchLines(const Box& moved, bool keepX, bool keepY);
    void catchNothing() { caught = {}; }

    void paint(QPainter& painter, const Affine& change) const;
    /// What lies near, in words.
    QStringList words() const;

private:
    void makeGhost();
    void paintGap(QPainter& painter) const;

    const Session& session;
    const ToolHost& host;
    QImage ghost;
    Box ghostArea;
    std::vector<Affine> places;                 ///< of the copies, from copy 1
    std::shared_ptr<const StitchedJob> over;    ///< what `clearance` measures in
    std::unique_ptr<const Clearance> clearance; ///< null while nothing is known
    std::vector<SnapLine> lines;
    Snap caught;
    std::optional<Gap> gap;
    std::optional<double> fieldGap;
};

} // namespace rapt::app
