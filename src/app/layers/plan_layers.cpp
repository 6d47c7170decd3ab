#include "app/layers/plan_layers.h"

#include "app/canvas/paint_kit.h"
#include "app/layers/hooping_overlay.h"
#include "app/layers/register_overlay.h"
#include "app/theme/theme.h"
#include "letter/faces.h"

namespace rapt::app {

HoopingsLayer::HoopingsLayer(Session& s) : session(s) {
    connect(&session, &Session::hoopingChanged, this, &Layer::changed);
}

bool HoopingsLayer::isShown() const {
    return session.stage() == Stage::divide || session.stage() == Stage::registration ||
           session.stage() == Stage::stitchOut;
}

void HoopingsLayer::paint(QPainter& painter, const Canvas& canvas) {
    paintHoopings(painter, canvas.map, session, canvas.labels);
}

SeenPointsLayer::SeenPointsLayer(Session& s) : session(s) {
    connect(&session, &Session::chosenReady, this, &Layer::changed);
}

void SeenPointsLayer::paint(QPainter& painter, const Canvas& canvas) {
    paintRegistration(painter, canvas.map, session, canvas.labels);
}

void FieldLayer::paint(QPainter& painter, const Canvas& canvas) {
    const auto field = session.field();
    if (!field) return;
    QColor line = theme().ink2;
    line.setAlpha(150);
    painter.setPen(QPen(line, 1, Qt::DashDotDotLine));
    painter.setBrush(Qt::NoBrush);
    const QRectF box = canvas.map.toPixels(field->box());
    if (field->hoop.shape == Hoop::Shape::oval)
        painter.drawEllipse(box);
    else
        painter.drawRect(box);
    QColor paper = theme().panel;
    paper.setAlpha(210);
    canvas.labels.add({box.bottomLeft(), box.bottomLeft() + QPointF(1, -22),
                       tr("field %1").arg(QString::fromStdString(field->hoop.name)), paper,
                       theme().ink2});
}

Affine wordsMap(const Session& session) {
    const Piece* piece = session.job().piece(session.selection.ids()[0]);
    return piece->pose.affine().then(session.copyMapOfSelection());
}

ColumnsLayer::ColumnsLayer(Session& s) : session(s) {
    connect(&session.letters, &LetterState::cursorChanged, this, &Layer::changed);
    connect(&session, &Session::chosenReady, this, &Layer::changed);
}

bool ColumnsLayer::isShown() const {
    return session.tool() == ToolKind::letter && session.letters.cursor().columns &&
           session.selection.words();
}

void ColumnsLayer::paint(QPainter& painter, const Canvas& canvas) {
    const Lettering& words = *session.selection.words();
    const StitchedLettering* set = session.letters.setting();
    const auto face = openFace(words.face);
    if (!set || !face) return;
    const Affine map = wordsMap(session);
    const LetterCursor& cursor = session.letters.cursor();
    const auto px = [&](Vec2 p) { return canvas.map.toPixels(map(p)); };
    std::vector<std::pair<QPointF, QColor>> badges; // of the chosen letter, painted last
    const QColor tints[] = {theme().tide, theme().kite, theme().note, theme().stop, theme().ink2};
    for (const PlacedLetter& l : set->setting.letters) {
        int number = 0;
        for (const LetterPart& part : letterParts(l, *face, words))
            for (const Column& c : part.columns) {
                const bool chosen = l.index == cursor.letter && number == cursor.column;
                QColor tint = tints[number % 5];
                tint.setAlpha(chosen ? 255 : 150);
                painter.setPen(QPen(tint, chosen ? 2 : 1));
                for (std::size_t i = 0; i < c.rungs.size(); i += 2)
                    painter.drawLine(px(c.rungs[i].left), px(c.rungs[i].right));
                QPolygonF middle;
                for (const Rung& r : c.rungs) middle << px(r.middle());
                painter.setPen(QPen(tint.darker(140), chosen ? 3 : 1.6));
                painter.drawPolyline(middle);
                if (l.index == cursor.letter && !middle.isEmpty())
                    badges.push_back({middle[middle.size() / 2], tint});
                ++number;
            }
    }
    for (std::size_t i = 0; i < badges.size(); ++i) {
        const auto& [at, tint] = badges[i];
        painter.setPen(QPen(tint.darker(140), 1));
        painter.setBrush(theme().panel);
        painter.drawEllipse(at, 9, 9);
        painter.setPen(theme().ink);
        painter.drawText(QRectF(at - QPointF(9, 9), QSizeF(18, 18)), Qt::AlignCenter,
                         QString::number(i + 1));
    }
}

void NeedleLayer::paint(QPainter& painter, const Canvas& canvas) {
    const Derived* derived = session.checked();
    if (!derived) return;
    const auto& stitches = derived->stitched().list.stitches;
    for (std::size_t i = std::min(*session.playback.head(), stitches.size()); i-- > 0;) {
        if (stitches[i].op != Op::stitch && stitches[i].op != Op::jump) continue;
        const QPointF at = canvas.map.toPixels(stitches[i].at());
        painter.setBrush(Qt::NoBrush);
        for (const QPen& pen : {QPen(theme().panel, 4), QPen(theme().kite, 2)}) {
            painter.setPen(pen);
            painter.drawEllipse(at, 7, 7);
        }
        painter.drawLine(at - QPointF(0, 3), at + QPointF(0, 3));
        painter.drawLine(at - QPointF(3, 0), at + QPointF(3, 0));
        return;
    }
}

} // namespace rapt::app
