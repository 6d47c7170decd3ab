#include "app/compose/compose_stage.h"

#include "app/compose/copies_page.h"
#include "app/compose/draw_page.h"
#include "app/compose/outline_page.h"
#include "app/compose/place_page.h"
#include "app/compose/size_page.h"
#include "app/compose/stitch_page.h"
#include "app/compose/threads_page.h"
#include "app/letter/letter_page.h"

#include <QAction>
#include <QToolButton>

namespace rapt::app {
namespace {

/// Where the settings of a tool are.
ComposeStage::Tab pageOf(ToolKind tool) {
    return tool == ToolKind::letter || tool == ToolKind::drawPath ? ComposeStage::letter
                                                                  : ComposeStage::draw;
}

} // namespace

ComposeStage::ComposeStage(Session& s, QWidget* parent)
    : StageView(s, parent), tools(new QHBoxLayout), pieces(new PieceTree(s)), intake(s, this) {
    buildHead();
    buildPages();
    connect(&intake, &Intake::failed, this, &ComposeStage::complain);
    connect(&session, &Session::toolChanged, this, &ComposeStage::refreshIfShown);
}

void ComposeStage::buildHead() {
    auto* head = new QHBoxLayout;
    head->addWidget(headLabel(tr("Pieces, in sewing order")));
    head->addStretch();
    auto* shelf = new QPushButton(tr("Shelf"));
    shelf->setObjectName("openShelf");
    shelf->setToolTip(tr("Designs to choose from (Ctrl+L)"));
    connect(shelf, &QPushButton::clicked, this, &ComposeStage::shelfAsked);
    head->addWidget(shelf);
    auto* bring = new QPushButton(tr("Bring in…"));
    bring->setToolTip(tr("Add a stitch list or an SVG drawing (Ctrl+I)"));
    connect(bring, &QPushButton::clicked, this, [this] { bringIn(); });
    head->addWidget(bring);
    column->addLayout(head);
    tools->setSpacing(2);
    column->addLayout(tools);
    connect(pieces, &PieceTree::contextAsked, this, &ComposeStage::contextAsked);
    column->addWidget(pieces);
}

void ComposeStage::buildPages() {
    const auto add = [this](const QString& title, Page* page) { addPage(title, "tab", page, 0); };
    add(tr("Size"), new SizePage(session));
    add(tr("Place"), new PlacePage(session));
    add(tr("Stitch"), new StitchPage(session));
    add(tr("Copies"), new CopiesPage(session));
    add(tr("Outline"), new OutlinePage(session));
    add(tr("Thread"), new ThreadsPage(session));
    add(tr("Draw"), drawing = new DrawPage(session));
    add(tr("Letter"), lettering = new LetterPage(session));
    connect(lettering, &LetterPage::lookUpAsked, this, &ComposeStage::lookUpAsked);
    column->addStretch();
    showPage(size);
}

void ComposeStage::onPage(int page) {
    if (page != pageOf(session.tool()) && session.tool() != ToolKind::select)
        session.setTool(ToolKind::select);
}

void ComposeStage::addTools(const QList<QAction*>& actions) {
    for (QAction* action : actions) {
        auto* button = new QToolButton;
        button->setDefaultAction(action);
        button->setIconSize({18, 18});
        button->setFocusPolicy(Qt::TabFocus);
        button->setAccessibleName(action->text().remove('&'));
        button->setToolTip(
            QString("%1 (%2)").arg(action->text().remove('&'), action->shortcut().toString()));
        tools->addWidget(button);
    }
    tools->addStretch();
}

void ComposeStage::refresh() {
    if (session.tool() != ToolKind::select && tabs->checkedId() != pageOf(session.tool())) {
        showPage(pageOf(session.tool()));
        return;
    }
    pieces->refresh();
    StageView::refresh();
}

void ComposeStage::judge() {
    const Job& job = session.job();
    if (job.pieces.empty()) {
        judgement->say(tr("The cloth is empty."),
                       tr("Take a design from the shelf, bring in a stitch list or a drawing, or "
                          "draw."));
        return;
    }
    Box box;
    int off = 0;
    if (const Derived* c = session.checked()) {
        for (const PieceSpan& span : c->stitched().spans) box.add(span.extents);
        for (const Finding& f : c->findings()) off += f.kind == "off-cloth";
    }
    const QString extent =
        QString("%1 × %2").arg(session.lengthText(box.width()), session.lengthText(box.height()));
    if (off > 0)
        judgement->say(off == 1 ? tr("One piece reaches over the edge of the cloth.")
                                : tr("%1 pieces reach over the edge of the cloth.").arg(off),
                       tr("The layout measures %1, the cloth %2 × %3.")
                           .arg(extent, session.lengthText(job.cloth.widthMm, 0),
                                session.lengthText(job.cloth.heightMm, 0)));
    else
        judgement->say(
            tr("Everything lies on the cloth."),
            tr("The layout measures %1. Nearest hem: %2.")
                .arg(extent,
                     session.lengthText(std::min(
                         {box.minX - job.cloth.box().minX, job.cloth.box().maxX - box.maxX,
                          box.minY - job.cloth.box().minY, job.cloth.box().maxY - box.maxY}))));
}

void ComposeStage::bringIn() {
    const QString path =
        askOpenName(window(), tr("Bring in a design"),
                    tr("Stitch lists, drawings, pictures (*.stitch.csv *.svg *.png "
                       "*.jpg *.jpeg)"));
    if (!path.isEmpty()) bringIn(path);
}

void ComposeStage::bringIn(const QString& path, Vec2 at) { intake.add(path, at); }

void ComposeStage::replaceAsked() {
    const QString path = askOpenName(window(), tr("Replace by a design"),
                                     tr("Stitch lists and drawings (*.stitch.csv *.svg)"));
    if (!path.isEmpty()) replaceSelected(path);
}

void ComposeStage::replaceSelected(const QString& path) {
    if (const Piece* piece = session.selection.single())
        intake.replace(piece->id, path);
    else
        complain(tr("Nothing to replace"), tr("Choose the one piece that is to be replaced."));
}

} // namespace rapt::app
