#include "app/compose/intake.h"

#include "app/compose/drawing_dialog.h"
#include "formats/stitch_csv.h"
#include "job/groups.h"
#include "svg/to_shapes.h"
#include "thread/measures.h"

#include <QFileInfo>
#include <fmt/format.h>

namespace rapt::app {
namespace {

std::string baseOf(const QString& path) {
    return QFileInfo(path).fileName().section('.', 0, 0).toStdString();
}

/// A member name of its own, so that two files of one name do not become one.
PieceContent designOf(const std::string& id, StitchList list) {
    return DesignContent{fmt::format("designs/{}.stitch.csv", id),
                         std::make_shared<const StitchList>(std::move(list))};
}

} // namespace

Intake::Intake(Session& s, QWidget* w) : session(s), over(w) {}

void Intake::add(const QString& path, Vec2 at) { ask({path, at}); }

void Intake::addDrawn(const QByteArray& bytes, const QString& name, Vec2 at) {
    ask({name, at, {}, bytes});
}

void Intake::replace(const std::string& piece, const QString& path) { ask({path, {}, piece}); }

void Intake::ask(Asked asked) {
    if (std::exchange(opened, session.document.opened()) != session.document.opened())
        waiting.clear();
    waiting.push_back(std::move(asked));
    if (waiting.size() == 1) next();
}

Result<Intake::Incoming> Intake::read(const Asked& asked, std::stop_token stop) {
    const std::string file = asked.path.toStdString();
    Incoming incoming;
    if (!asked.drawn.isEmpty() || isDrawingName(file)) {
        auto drawn = asked.drawn.isEmpty() ? readDrawingFile(file, stop)
                                           : readDrawing(asked.drawn.toStdString(), file, stop);
        if (!drawn) return drawn.error();
        incoming.drawing = std::move(*drawn);
    } else {
        auto list = readStitchFile(file);
        if (!list) return list.error();
        incoming.list = std::move(*list);
    }
    return incoming;
}

void Intake::next() {
    constexpr std::chrono::milliseconds patience{30};
    const Asked asked = waiting.front();
    reading->ask(
        session.inThisJob(), [asked](std::stop_token stop) { return read(asked, stop); },
        [this, asked](Result<Incoming> in) {
            const Status taken = in ? take(asked, std::move(*in)) : Status(in.error());
            if (!taken)
                emit failed(tr("This file cannot be brought in"),
                            QString::fromStdString(taken.error().line()));
            if (!waiting.empty()) waiting.pop_front();
            if (!waiting.empty()) next();
        },
        patience);
}

Status Intake::take(const Asked& asked, Incoming incoming) {
    if (asked.replaces.empty())
        return incoming.list ? addDesign(asked, std::move(*incoming.list))
                             : addDrawing(asked, *incoming.drawing);
    if (!session.job().piece(asked.replaces))
        return cannotDo("the piece that it was to replace is gone");
    auto content = contentOf(asked, std::move(incoming));
    if (!content) return content.error();
    session.document.apply(replaceContent(asked.replaces, std::move(*content)));
    return done();
}

Status Intake::addDesign(const Asked& asked, StitchList list) {
    const Box box = extentsOf(list);
    Piece piece;
    piece.id = unusedId(session.job(), baseOf(asked.path));
    piece.name = list.name.empty() ? baseOf(asked.path) : list.name;
    piece.content = designOf(piece.id, std::move(list));
    if (!box.empty()) {
        piece.pose.x = asked.at.x - box.centre().x;
        piece.pose.y = asked.at.y - box.centre().y;
    }
    session.document.apply(addPiece(piece));
    session.selection.chooseSingly({piece.id});
    return done();
}

Status Intake::addDrawing(const Asked& asked, const Drawing& drawn) {
    const std::string base = baseOf(asked.path);
    DrawingDialog dialog(session, drawn, QString::fromStdString(base), over->window());
    if (dialog.exec() != QDialog::Accepted) return done();
    std::vector<std::string> told = dialog.drawing().unsupported, unsupported = told;
    std::vector<Piece> pieces = piecesOf(dialog.drawing(), session.importOptions(), unsupported);
    if (pieces.empty()) return nothingToSew(unsupported, asked.path.toStdString());
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
        p.pose.x = asked.at.x - box.centre().x;
        p.pose.y = asked.at.y - box.centre().y;
        if (pieces.size() > 1) p.group = groupName(base);
        ids.push_back(p.id);
        edits.push_back(addPiece(p));
        trial = edits.back().change(std::move(trial));
    }
    session.document.apply(together("Add " + base, std::move(edits)));
    session.selection.chooseSingly(ids);
    if (unsupported.empty()) return done();
    constexpr std::size_t most = 12;
    QStringList words;
    for (const std::string& u : unsupported)
        if (words.size() < static_cast<qsizetype>(most)) words << QString::fromStdString(u);
    if (unsupported.size() > most)
        words << tr("and %n more", nullptr, static_cast<int>(unsupported.size() - most));
    emit failed(tr("Not everything was taken over"), words.join('\n'));
    return done();
}

/// All of a drawing becomes the parts of the one piece that it replaces.
Result<PieceContent> Intake::contentOf(const Asked& asked, Incoming incoming) {
    if (incoming.list)
        return designOf(unusedId(session.job(), asked.replaces), std::move(*incoming.list));
    std::vector<std::string> left;
    Shape shape;
    for (const Piece& p : piecesOf(*incoming.drawing, session.importOptions(), left)) {
        const auto& parts = std::get<ShapeContent>(p.content).shape->parts;
        shape.parts.insert(shape.parts.end(), parts.begin(), parts.end());
    }
    if (shape.parts.empty()) return nothingToSew(left, asked.path.toStdString());
    return PieceContent(ShapeContent{std::make_shared<const Shape>(std::move(shape))});
}

} // namespace rapt::app
