#pragma once
// Compose: the pieces in sewing order, and what can be done with the chosen ones.

#include "app/compose/intake.h"
#include "app/compose/piece_tree.h"
#include "app/kit/stage_view.h"

namespace rapt::app {

class DrawPage;
class LetterPage;

class ComposeStage : public StageView {
    Q_OBJECT
public:
    enum Tab { size, place, stitch, copies, outline, threads, draw, letter };

    explicit ComposeStage(Session& session, QWidget* parent = nullptr);

    /// Asks for a stitch list or a drawing and adds it.
    void bringIn();
    /// Adds the stitch list or the drawing of a file, its middle at a place on the cloth.
    void bringIn(const QString& path, Vec2 at = {});
    /// The same of an SVG or a picture that is no file.
    void bringInDrawn(const QByteArray& bytes, const QString& name) {
        intake.addDrawn(bytes, name, {});
    }
    /// The design of a file in place of the one selected piece's; pose, copies and order stay.
    void replaceSelected(const QString& path);
    void replaceAsked();

    /// Shows actions of the window as a row of buttons above the list.
    void addTools(const QList<QAction*>& actions);
    bool isPieceList(const QAbstractItemView& view) const { return &view == &pieces->view(); }
    DrawPage& drawPage() { return *drawing; }
    LetterPage& letterPage() { return *lettering; }

signals:
    void shelfAsked();
    void lookUpAsked();
    void contextAsked(QPoint at); ///< on the screen, for the pieces that are chosen

protected:
    void refresh() override;
    void onPage(int page) override;
    void judge() override;

private:
    void buildHead();
    void buildPages();

    QHBoxLayout* tools;
    PieceTree* pieces;
    Intake intake;
    DrawPage* drawing = nullptr;
    LetterPage* lettering = nullptr;
};

} // namespace rapt::app
