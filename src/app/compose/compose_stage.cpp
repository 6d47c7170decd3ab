#include "app/compose/compose_stage.h"

#include "app/compose/copies_page.h"
#include "app/compose/draw_page.h"
#include "app/compose/drawing_dialog.h"
#include "app/compose/outline_page.h"
#include "app/compose/place_page.h"
#include "app/compose/size_page.h"
#include "app/compose/stitch_page.h"
#include "app/compose/threads_page.h"
#include "app/letter/letter_page.h"
#include "app/theme/theme.h"
#include "formats/stitch_csv.h"
#include "job/edit_threads.h"
#include "svg/to_shapes.h"
#include "thread/measures.h"

#include <QAction>
#include <QFileInfo>
#include <QPainter>
#include <QSignalBlocker>
#include <QToolButton>
#include <fmt/format.h>

namespace rapt::app {
namespace {

/// The threads of a piece as a strip of colours.
QPixmap swatches(const std::vector<Thread>& threads) {
    QPixmap pixmap(44, 16);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    const int n = static_cast<int>(std::min<std::size_t>(5, threads.size()));
    for (int i = 0; i < n; ++i)
        painter.drawPixmap(i * 9, 2, threadSwatch(threads[static_cast<std::size_t>(i)], 9));
    return pixmap;
}

/// What is special about a piece, in few words.
QString remarksOf(const Job& job, const Piece& p) {
    QStringList words;
    if (const Repeat* r = job.repeatOf(p.id)) words << QString("×%1").arg(r->copies());
    if (p.outline) words << (p.outline->cut ? QObject::tr("cut line") : QObject::tr("basted"));
    if (!p.group.empty() && !p.name.starts_with(p.group))
        words << QObject::tr("in %1").arg(QString::fromStdString(p.group));
    if (p.locked) words << QObject::tr("locked");
    if (p.hidden) words << QObject::tr("hidden, not sewn");
    return words.isEmpty() ? QString() : "   " + words.join(", ");
}

/// The content of a file with one design or drawing in it, and its name.
struct Incoming {
    std::string name;
    PieceContent content;
};

Result<Incoming> readDesign(const QString& path, const std::string& id) {
    Result<StitchList> read = readStitchFile(path.toStdString());
    if (!read) return read.error();
    const std::string base = QFileInfo(path).fileName().section('.', 0, 0).toStdString();
    const std::string name = read->name.empty() ? base : read->name;
    // A member name of its own, so that two files of one name do not become one.
    return Incoming{name, DesignContent{fmt::format("designs/{}.stitch.csv", id),
                                        std::make_shared<const StitchList>(std::move(*read))}};
}

/// Where the settings of a tool are.
ComposeStage::Tab pageOf(ToolKind tool) {
    return tool == ToolKind::letter || tool == ToolKind::drawPath ? ComposeStage::letter
                                                                  : ComposeStage::draw;
}

bool isDrawing(const QString& path) { return isDrawingName(path.toStdString()); }

} // namespace

ComposeStage::ComposeStage(Session& s, QWidget* parent)
    : StageView(s, parent), tools(new QHBoxLayout), list(new QListWidget) {
    buildHead();
    buildPages();
    connect(list, &QListWidget::itemSelectionChanged, this, &ComposeStage::takeListSelection);
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
    list->setSelectionMode(QAbstractItemView::ExtendedSelection);
    list->setIconSize({44, 16});
    list->setAccessibleName(tr("Pieces"));
    list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list->setTextElideMode(Qt::ElideRight);
    list->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(list, &QWidget::customContextMenuRequested, this,
            [this](QPoint at) { emit contextAsked(list->viewport()->mapToGlobal(at)); });
    column->addWidget(list);
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
    refreshList();
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

void ComposeStage::refreshList() {
    const QSignalBlocker quiet(list);
    list->clear();
    list->setFixedHeight(
        std::clamp(24 * static_cast<int>(session.job().pieces.size()) + 8, 56, 128));
    for (const Piece& p : session.job().pieces) {
        auto* entry =
            new QListWidgetItem(QString::fromStdString(p.name) + remarksOf(session.job(), p), list);
        entry->setData(Qt::UserRole, QString::fromStdString(p.id));
        entry->setIcon(swatches(threadsOf(p)));
        entry->setToolTip(entry->text());
        if (p.hidden) entry->setForeground(theme().ink2);
        entry->setSelected(session.selection.contains(p.id));
        if (session.selection.contains(p.id)) list->scrollToItem(entry);
    }
}

void ComposeStage::takeListSelection() {
    std::vector<std::string> ids;
    for (const QListWidgetItem* entry : list->selectedItems())
        ids.push_back(entry->data(Qt::UserRole).toString().toStdString());
    session.selection.chooseSingly(std::move(ids));
}

void ComposeStage::bringIn() {
    const QString path =
        askOpenName(window(), tr("Bring in a design"),
                    tr("Stitch lists, drawings, pictures (*.stitch.csv *.svg *.png "
                       "*.jpg *.jpeg)"));
    if (path.isEmpty()) return;
    const Status added = bringIn(path);
    if (!added)
        complain(tr("This file cannot be brought in"),
                 QString::fromStdString(added.error().line()));
}

Status ComposeStage::bringIn(const QString& path, Vec2 at) {
    if (isDrawing(path)) {
        readInDrawing(path, at);
        return done();
    }
    const std::string base = QFileInfo(path).fileName().section('.', 0, 0).toStdString();
    const std::string id = unusedId(session.job(), base);
    Result<Incoming> in = readDesign(path, id);
    if (!in) return in.error();
    const Box box = extentsOf(*std::get<DesignContent>(in->content).list);
    Piece piece;
    piece.id = id;
    piece.name = in->name;
    piece.content = std::move(in->content);
    if (!box.empty()) {
        piece.pose.x = at.x - box.centre().x;
        piece.pose.y = at.y - box.centre().y;
    }
    session.document.apply(addPiece(piece));
    session.selection.chooseSingly({id});
    return done();
}

void ComposeStage::readInDrawing(const QString& path, Vec2 at) {
    constexpr std::chrono::milliseconds patience{30};
    reading->ask(
        session.inThisJob(),
        [file = path.toStdString()](std::stop_token stop) { return readDrawingFile(file, stop); },
        [this, path, at](const Result<Drawing>& drawn) {
            const Status added = drawn ? bringInDrawing(*drawn, path, at) : Status(drawn.error());
            if (!added)
                complain(tr("This file cannot be brought in"),
                         QString::fromStdString(added.error().line()));
        },
        patience);
}

Status ComposeStage::bringInDrawing(const Drawing& drawn, const QString& path, Vec2 at) {
    const std::string base = QFileInfo(path).fileName().section('.', 0, 0).toStdString();
    DrawingDialog dialog(session, drawn, QString::fromStdString(base), window());
    if (dialog.exec() != QDialog::Accepted) return done();
    std::vector<std::string> told = dialog.drawing().unsupported, unsupported = told;
    std::vector<Piece> pieces = piecesOf(dialog.drawing(), session.importOptions(), unsupported);
    if (pieces.empty()) return nothingToSew(unsupported, path.toStdString());
    // What the dialog showed is not said again.
    unsupported.erase(unsupported.begin(),
                      unsupported.begin() + static_cast<std::ptrdiff_t>(told.size()));
    Box box;
    for (const Piece& p : pieces)
        for (const ShapePart& part : std::get<ShapeContent>(p.content).shape->parts)
            box.add(boundsOf(part.lines));
    std::vector<Edit> edits;
    std::vector<std::string> ids;
    Job trial = session.job();
    for (Piece& p : pieces) {
        if (pieces.size() == 1) p.name = base;
        p.id = unusedId(trial, pieces.size() == 1 ? base : p.id);
        p.pose.x = at.x - box.centre().x;
        p.pose.y = at.y - box.centre().y;
        if (pieces.size() > 1) p.group = base;
        ids.push_back(p.id);
        edits.push_back(addPiece(p));
        trial = edits.back().change(std::move(trial));
    }
    session.document.apply(together("Add " + base, std::move(edits)));
    session.selection.chooseSingly(ids);
    if (!unsupported.empty()) {
        QStringList words;
        for (std::size_t i = 0; i < unsupported.size() && i < 12; ++i)
            words << QString::fromStdString(unsupported[i]);
        complain(tr("Not everything was taken over"), words.join('\n'));
    }
    return done();
}

void ComposeStage::replaceAsked() {
    const QString path = askOpenName(window(), tr("Replace by a design"),
                                     tr("Stitch lists and drawings (*.stitch.csv *.svg)"));
    if (!path.isEmpty()) replaceSelected(path);
}

void ComposeStage::replaceSelected(const QString& path) {
    const Piece* piece = session.selection.ids().size() == 1
                             ? session.job().piece(session.selection.ids()[0])
                             : nullptr;
    if (!piece) {
        complain(tr("Nothing to replace"), tr("Choose the one piece that is to be replaced."));
        return;
    }
    Result<Incoming> in = cannotDo("");
    if (isDrawing(path)) {
        const auto drawn = readDrawingFile(path.toStdString());
        if (!drawn) {
            in = drawn.error();
        } else {
            // All of the drawing becomes the parts of this one piece.
            std::vector<std::string> left;
            Shape shape;
            for (const Piece& p : piecesOf(*drawn, session.importOptions(), left)) {
                const auto& parts = std::get<ShapeContent>(p.content).shape->parts;
                shape.parts.insert(shape.parts.end(), parts.begin(), parts.end());
            }
            if (shape.parts.empty())
                in = nothingToSew(left, path.toStdString());
            else
                in = Incoming{{}, ShapeContent{std::make_shared<const Shape>(std::move(shape))}};
        }
    } else {
        in = readDesign(path, unusedId(session.job(), piece->id));
    }
    if (!in)
        complain(tr("This file cannot be brought in"), QString::fromStdString(in.error().line()));
    else
        session.document.apply(replaceContent(piece->id, std::move(in->content)));
}

} // namespace rapt::app
