#include "app/tools/letter_tool.h"

#include "app/canvas/paint_kit.h"
#include "app/layers/plan_layers.h"
#include "app/theme/theme.h"
#include "job/edit_lettering.h"
#include "letter/caret.h"

#include <numbers>

namespace rapt::app {
namespace {

constexpr double turnLiftPx = 22;
constexpr double gripHalfPx = 4.5;

/// Middle of a letter's baseline, corner for sizing, and grip for turning, in pixels.
struct LetterGrips {
    QPolygonF frame;
    QPointF foot, size, turn;
};

LetterGrips gripsOf(const PlacedLetter& letter, const Lettering& words, const Affine& map,
                    const ViewMap& view) {
    LetterGrips grips;
    for (const Vec2& p : letterFrame(letter, words)) grips.frame << view.toPixels(map(p));
    grips.foot = (grips.frame[0] + grips.frame[1]) / 2;
    grips.size = grips.frame[2];
    const QPointF top = (grips.frame[2] + grips.frame[3]) / 2;
    const QPointF up = top - grips.foot;
    const double size = std::hypot(up.x(), up.y());
    grips.turn = top + (size > 0 ? up / size * turnLiftPx : QPointF(0, -turnLiftPx));
    return grips;
}

double degreesBetween(QPointF about, QPointF from, QPointF to) {
    const QPointF a = from - about, b = to - about;
    return std::atan2(a.x() * b.y() - a.y() * b.x(), a.x() * b.x() + a.y() * b.y()) * 180 /
           std::numbers::pi;
}

} // namespace

const PlacedLetter* LetterTool::cursorLetter() const {
    const StitchedLettering* set = session.letters.setting();
    if (!set) return nullptr;
    for (const PlacedLetter& l : set->setting.letters)
        if (l.index == session.letters.cursor().letter && !l.glyphs.empty()) return &l;
    return nullptr;
}

bool LetterTool::pressGrip(const Pointer& pointer) {
    const Lettering* words = session.selection.words();
    const PlacedLetter* letter = words ? cursorLetter() : nullptr;
    if (!letter) return false;
    const LetterGrips grips = gripsOf(*letter, *words, wordsMap(session), host.map());
    grip = QLineF(grips.turn, pointer.px).length() <= gripReachPx   ? Grip::turn
           : QLineF(grips.size, pointer.px).length() <= gripReachPx ? Grip::size
                                                                    : Grip::none;
    return grip != Grip::none;
}

bool LetterTool::press(const Pointer& pointer) {
    from = now = pointer;
    moved = false;
    grip = Grip::none;
    if (pressGrip(pointer)) return true;
    const Lettering* words = session.selection.words();
    const StitchedLettering* set = session.letters.setting();
    const auto hit = host.hitAt(pointer.px);
    const bool onWords = hit && letteringOf(session.job(), hit->piece);
    const bool inFrame =
        words && set &&
        letterAt(set->setting, *words, wordsMap(session).inverse()(pointer.mm)) >= 0;
    if (!onWords && !inFrame) {
        session.selection.choose({});
        session.letters.setCursor({});
        newWordsAt = pointer.mm;
        return false;
    }
    newWordsAt.reset();
    if (onWords && !inFrame) session.selection.chooseSingly({hit->piece}, hit->copy);
    words = session.selection.words();
    set = session.letters.setting();
    if (!words || !set) return false;
    const Vec2 at = wordsMap(session).inverse()(pointer.mm);
    LetterCursor cursor = session.letters.cursor();
    cursor.caret = static_cast<int>(byteNear(set->setting, *words, at));
    cursor.letter = letterAt(set->setting, *words, at);
    cursor.column = -1;
    session.letters.setCursor(cursor);
    session.document.endMerge();
    if (cursor.letter >= 0) grip = Grip::place;
    return grip != Grip::none;
}

void LetterTool::drag(const Pointer& pointer) {
    now = pointer;
    moved = true;
    host.redraw();
}

/// What the drag makes of the held letter.
LetterChange LetterTool::draggedLetter() const {
    const Lettering* words = session.selection.words();
    const PlacedLetter* letter = cursorLetter();
    LetterChange change;
    if (!words || !letter) return change;
    if (const LetterChange* old = words->change(letter->index)) change = *old;
    change.letter = letter->index;
    const Affine map = wordsMap(session);
    const LetterGrips grips = gripsOf(*letter, *words, map, host.map());
    const auto rounded = [](double v, double step) { return std::round(v / step) * step; };
    if (grip == Grip::turn) {
        change.turnDeg = rounded(change.turnDeg + degreesBetween(grips.foot, from.px, now.px), 1);
    } else if (grip == Grip::size) {
        const double before = QLineF(grips.foot, from.px).length(),
                     after = QLineF(grips.foot, now.px).length();
        change.scale =
            std::clamp(rounded(change.scale * (before > 1 ? after / before : 1), 0.01), 0.2, 5.0);
    } else {
        const Affine back = map.inverse();
        const Vec2 by = back(now.mm) - back(from.mm);
        const Turn t = turnOf(letter->rotationDeg);
        change.dxMm = rounded(change.dxMm + by.x * t.cosine + by.y * t.sine, 0.1);
        change.dyMm = rounded(change.dyMm - by.x * t.sine + by.y * t.cosine, 0.1);
    }
    return change;
}

void LetterTool::release(const Pointer& pointer) {
    now = pointer;
    if (moved && cursorLetter()) {
        const LetterChange change = draggedLetter();
        const char* name = grip == Grip::turn   ? "Turn a letter"
                           : grip == Grip::size ? "Size a letter"
                                                : "Nudge a letter";
        host.apply(changeLettering(session.selection.ids()[0], name,
                                   [change](Lettering& l) { l.changeOf(change.letter) = change; }));
    }
    cancel();
}

void LetterTool::putDown() {
    cancel();
    newWordsAt.reset();
}

void LetterTool::beginWords(const std::string& text) {
    Pose pose;
    pose.x = newWordsAt->x;
    pose.y = newWordsAt->y;
    Piece piece = letteringPiece(session.newWords(text), pose);
    piece.id = unusedId(session.job(), piece.id);
    const std::string id = piece.id;
    Edit edit = addPiece(std::move(piece));
    edit.name = "Letter";
    newWordsAt.reset();
    // Chosen first: choosing ends a burst of typing.
    session.selection.chooseSingly({id});
    host.apply(edit, "typing");
    session.letters.setCursor({static_cast<int>(text.size()), -1, -1, false});
}

void LetterTool::typeText(const std::string& text) {
    if (newWordsAt && !session.selection.words()) return beginWords(text);
    if (!session.selection.words()) return;
    const auto caret = static_cast<std::size_t>(std::max(0, session.letters.cursor().caret));
    changeText(caret, caret, text);
}

/// Replaces bytes of the selected words; the caret comes to stand after what is new.
void LetterTool::changeText(std::size_t begin, std::size_t end, const std::string& text) {
    const Lettering* words = session.selection.words();
    if (!words) return;
    begin = std::min(begin, words->text.size());
    end = std::min(end, words->text.size());
    std::string changed = words->text;
    changed.replace(begin, end - begin, text);
    if (changed.empty()) {
        const Pose& pose = session.job().piece(session.selection.ids()[0])->pose;
        newWordsAt = Vec2{pose.x, pose.y};
        return host.apply(deletePieces(session.selection.ids()));
    }
    host.apply(changeLettering(session.selection.ids()[0], "Type",
                               [changed](Lettering& l) { l.text = changed; }),
               "typing");
    LetterCursor cursor = session.letters.cursor();
    cursor.caret = static_cast<int>(begin + text.size());
    cursor.letter = -1;
    session.letters.setCursor(cursor);
}

void LetterTool::moveCaret(std::size_t to) {
    LetterCursor cursor = session.letters.cursor();
    cursor.caret = static_cast<int>(to);
    session.letters.setCursor(cursor);
    session.document.endMerge();
}

/// Arrows: the caret, or with Alt the chosen letter.
bool LetterTool::moveKey(const QKeyEvent& event) {
    const Lettering* words = session.selection.words();
    // Keys that come faster than words are set mean the letter that was chosen.
    const bool isChosen = words && session.letters.cursor().letter >= 0 &&
                          (cursorLetter() || !session.letters.setting());
    if ((event.modifiers() & Qt::AltModifier) && isChosen) {
        nudge(event);
        return true;
    }
    if (!words) return true;
    const auto caret = static_cast<std::size_t>(std::max(0, session.letters.cursor().caret));
    if (event.key() == Qt::Key_Left) moveCaret(previousCharacter(words->text, caret));
    if (event.key() == Qt::Key_Right) moveCaret(nextCharacter(words->text, caret));
    return true;
}

bool LetterTool::key(const QKeyEvent& event) {
    const Lettering* words = session.selection.words();
    const auto caret = static_cast<std::size_t>(std::max(0, session.letters.cursor().caret));
    switch (event.key()) {
    case Qt::Key_Escape:
        newWordsAt.reset();
        session.setTool(ToolKind::select);
        return true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (words) typeText("\n");
        return true;
    case Qt::Key_Backspace:
        if (words && caret > 0) changeText(previousCharacter(words->text, caret), caret, "");
        return true;
    case Qt::Key_Delete:
        if (words) changeText(caret, nextCharacter(words->text, caret), "");
        return true;
    case Qt::Key_Home:
        moveCaret(0);
        return true;
    case Qt::Key_End:
        if (words) moveCaret(words->text.size());
        return true;
    case Qt::Key_Left:
    case Qt::Key_Right:
    case Qt::Key_Up:
    case Qt::Key_Down:
        return moveKey(event);
    default:
        break;
    }
    const QString text = event.text();
    const QList<uint> signs = text.toUcs4();
    if (signs.isEmpty() || !QChar::isPrint(signs[0]) || (event.modifiers() & Qt::ControlModifier))
        return false;
    typeText(text.toStdString());
    return true;
}

void LetterTool::nudge(const QKeyEvent& event) {
    const int letter = session.letters.cursor().letter;
    const double step = event.modifiers() & Qt::ShiftModifier ? 1 : 0.1;
    const double dx = event.key() == Qt::Key_Left ? -step : event.key() == Qt::Key_Right ? step : 0;
    const double dy = event.key() == Qt::Key_Up ? -step : event.key() == Qt::Key_Down ? step : 0;
    host.apply(changeLettering(session.selection.ids()[0], "Nudge a letter",
                               [=](Lettering& l) {
                                   LetterChange& c = l.changeOf(letter);
                                   c.dxMm += dx;
                                   c.dyMm += dy;
                               }),
               "nudge letter");
}

void LetterTool::paintCaret(QPainter& painter, Vec2 foot, Vec2 top) const {
    paintHalo(painter, QPolygonF({host.map().toPixels(foot), host.map().toPixels(top)}),
              theme().kite, 2);
}

void LetterTool::paint(QPainter& painter) {
    if (newWordsAt && !session.selection.words()) {
        const QPointF foot = host.map().toPixels(*newWordsAt);
        paintCaret(painter, *newWordsAt, *newWordsAt - Vec2{0, session.letters.look.capHeightMm});
        painter.setPen(QPen(theme().kite, 1, Qt::DashLine));
        painter.drawLine(foot - QPointF(60, 0), foot + QPointF(60, 0));
        return;
    }
    const Lettering* words = session.selection.words();
    const StitchedLettering* set = session.letters.setting();
    if (!words || !set) return;
    const Affine map = wordsMap(session);
    painter.setBrush(Qt::NoBrush);
    for (const LetterJoin& join : set->setting.joins) {
        if (join.closed) continue;
        for (const PlacedLetter& l : set->setting.letters)
            if (l.index == join.right) {
                painter.setPen(QPen(theme().caution, 2));
                painter.drawEllipse(host.map().toPixels(map(
                                        l.at - Vec2{l.advanceMm / 2, words->capHeightMm * 0.2})),
                                    9, 9);
            }
    }
    const auto place = static_cast<std::size_t>(std::max(0, session.letters.cursor().caret));
    if (const auto caret = caretBefore(set->setting, *words, place))
        paintCaret(painter, map(caret->foot), map(caret->top));
    if (const PlacedLetter* letter = cursorLetter()) paintFrame(painter, *words, *letter, map);
}

void LetterTool::paintFrame(QPainter& painter, const Lettering& words, const PlacedLetter& letter,
                            const Affine& map) const {
    PlacedLetter shown = letter;
    Lettering changed = words;
    if (grip != Grip::none && moved) {
        const LetterChange change = draggedLetter();
        changed.changeOf(change.letter) = change;
        shown.scale = change.scale;
    }
    const LetterGrips grips = gripsOf(shown, changed, map, host.map());
    painter.setPen(QPen(theme().tide, 1.4, Qt::DashLine));
    painter.setBrush(Qt::NoBrush);
    painter.drawPolygon(grips.frame);
    painter.drawLine((grips.frame[2] + grips.frame[3]) / 2, grips.turn);
    paintRoundGrip(painter, grips.turn, gripHalfPx, theme().kite);
    paintSquareGrip(painter, grips.size, gripHalfPx, theme().kite);
}

} // namespace rapt::app
