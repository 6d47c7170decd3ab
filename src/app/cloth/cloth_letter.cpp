// Lettering on the cloth: typing, the caret, and single letters moved, turned and sized by handles.

#include "app/cloth/cloth_view.h"
#include "app/theme/theme.h"
#include "job/edit_lettering.h"
#include "letter/caret.h"
#include "letter/faces.h"

#include <QKeyEvent>
#include <numbers>

namespace rapt::app {
namespace {

constexpr double gripPx = 9;
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

const PlacedLetter* ClothView::cursorLetter() const {
    const StitchedLettering* set = session.selectedSetting();
    if (!set) return nullptr;
    for (const PlacedLetter& l : set->setting.letters)
        if (l.index == session.letterCursor().letter && !l.glyphs.empty()) return &l;
    return nullptr;
}

Affine ClothView::wordsMap() const {
    const Piece* piece = session.job().piece(session.selection()[0]);
    return piece->pose.affine().then(session.copyMapOfSelection());
}

void ClothView::pressWithLetters(QPointF px) {
    const Lettering* words = session.selectedWords();
    if (const PlacedLetter* letter = words ? cursorLetter() : nullptr) {
        const LetterGrips grips = gripsOf(*letter, *words, wordsMap(), view);
        heldGrip = QLineF(grips.turn, px).length() <= gripPx   ? LetterGrip::turn
                   : QLineF(grips.size, px).length() <= gripPx ? LetterGrip::size
                                                               : LetterGrip::none;
        if (heldGrip != LetterGrip::none) {
            drag = Drag::letter;
            return;
        }
    }
    const PieceSpan* span = spanAt(px);
    const bool onWords = span && letteringOf(session.job(), span->source);
    const bool inFrame = words && session.selectedSetting() &&
                         letterAt(session.selectedSetting()->setting, *words,
                                  wordsMap().inverse()(view.toMm(px))) >= 0;
    if (!onWords && !inFrame) {
        session.select({});
        session.setLetterCursor({});
        newWordsAt = view.toMm(px);
        update();
        return;
    }
    newWordsAt.reset();
    if (onWords && !inFrame) session.selectSingly({span->source}, span->copy);
    words = session.selectedWords();
    const StitchedLettering* set = session.selectedSetting();
    if (!words || !set) return;
    const Vec2 at = wordsMap().inverse()(view.toMm(px));
    Session::LetterCursor cursor = session.letterCursor();
    cursor.caret = static_cast<int>(byteNear(set->setting, *words, at));
    cursor.letter = letterAt(set->setting, *words, at);
    cursor.column = -1;
    session.setLetterCursor(cursor);
    session.document.endMerge();
    if (cursor.letter < 0) return;
    heldGrip = LetterGrip::place;
    drag = Drag::letter;
}

/// What the drag makes of the held letter.
LetterChange ClothView::draggedLetter() const {
    const Lettering* words = session.selectedWords();
    const PlacedLetter* letter = cursorLetter();
    LetterChange change;
    if (!words || !letter) return change;
    if (const LetterChange* old = words->change(letter->index)) change = *old;
    change.letter = letter->index;
    const LetterGrips grips = gripsOf(*letter, *words, wordsMap(), view);
    const auto rounded = [](double v, double step) { return std::round(v / step) * step; };
    if (heldGrip == LetterGrip::turn) {
        change.turnDeg =
            rounded(change.turnDeg + degreesBetween(grips.foot, dragStart, dragNow), 1);
    } else if (heldGrip == LetterGrip::size) {
        const double before = QLineF(grips.foot, dragStart).length(),
                     now = QLineF(grips.foot, dragNow).length();
        change.scale =
            std::clamp(rounded(change.scale * (before > 1 ? now / before : 1), 0.01), 0.2, 5.0);
    } else {
        const Affine back = wordsMap().inverse();
        const Vec2 by = back(view.toMm(dragNow)) - back(view.toMm(dragStart));
        const Turn t = turnOf(letter->rotationDeg);
        change.dxMm = rounded(change.dxMm + by.x * t.cosine + by.y * t.sine, 0.1);
        change.dyMm = rounded(change.dyMm - by.x * t.sine + by.y * t.cosine, 0.1);
    }
    return change;
}

void ClothView::dropLetter() {
    if (!dragMoved || !cursorLetter()) return;
    const LetterChange change = draggedLetter();
    const char* name = heldGrip == LetterGrip::turn   ? "Turn a letter"
                       : heldGrip == LetterGrip::size ? "Size a letter"
                                                      : "Nudge a letter";
    session.document.apply(changeLettering(session.selection()[0], name, [change](Lettering& l) {
        l.changeOf(change.letter) = change;
    }));
}

void ClothView::typeText(const std::string& text) {
    if (newWordsAt && !session.selectedWords()) {
        const Lettering words = session.newWords(text);
        Pose pose;
        pose.x = newWordsAt->x;
        pose.y = newWordsAt->y;
        Piece piece = letteringPiece(words, pose);
        piece.id = unusedId(session.job(), piece.id);
        const std::string id = piece.id;
        Edit edit = addPiece(std::move(piece));
        edit.name = "Letter";
        newWordsAt.reset();
        // Chosen first: choosing ends a burst of typing.
        session.selectSingly({id});
        session.document.apply(edit, "typing");
        session.setLetterCursor({static_cast<int>(text.size()), -1, -1, false});
        return;
    }
    if (!session.selectedWords()) return;
    const auto caret = static_cast<std::size_t>(std::max(0, session.letterCursor().caret));
    changeText(caret, caret, text);
}

/// Replaces bytes of the selected words; the caret comes to stand after what is new.
void ClothView::changeText(std::size_t from, std::size_t to, const std::string& text) {
    const Lettering* words = session.selectedWords();
    if (!words) return;
    from = std::min(from, words->text.size());
    to = std::min(to, words->text.size());
    std::string changed = words->text;
    changed.replace(from, to - from, text);
    if (changed.empty()) {
        newWordsAt = Vec2{session.job().piece(session.selection()[0])->pose.x,
                          session.job().piece(session.selection()[0])->pose.y};
        session.document.apply(deletePieces(session.selection()));
        return;
    }
    session.document.apply(changeLettering(session.selection()[0], "Type",
                                           [changed](Lettering& l) { l.text = changed; }),
                           "typing");
    Session::LetterCursor cursor = session.letterCursor();
    cursor.caret = static_cast<int>(from + text.size());
    cursor.letter = -1;
    session.setLetterCursor(cursor);
}

/// While words are typed, Delete and the like belong to the text and not to the menus.
bool ClothView::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && session.tool() == Tool::letter) {
        const auto& key = *static_cast<QKeyEvent*>(event);
        if (!(key.modifiers() & Qt::ControlModifier)) {
            event->accept();
            return true;
        }
    }
    return QWidget::event(event);
}

bool ClothView::keyWithLetters(const QKeyEvent& event) {
    const Lettering* words = session.selectedWords();
    const auto caret = static_cast<std::size_t>(std::max(0, session.letterCursor().caret));
    const auto moveCaret = [&](std::size_t to) {
        Session::LetterCursor cursor = session.letterCursor();
        cursor.caret = static_cast<int>(to);
        session.setLetterCursor(cursor);
        session.document.endMerge();
        return true;
    };
    const bool alt = event.modifiers() & Qt::AltModifier;
    switch (event.key()) {
    case Qt::Key_Escape:
        newWordsAt.reset();
        session.setTool(Tool::select);
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
        return moveCaret(0);
    case Qt::Key_End:
        return words ? moveCaret(words->text.size()) : true;
    case Qt::Key_Left:
    case Qt::Key_Right:
    case Qt::Key_Up:
    case Qt::Key_Down:
        if (alt && cursorLetter()) {
            nudgeLetter(event);
            return true;
        }
        if (!words) return true;
        if (event.key() == Qt::Key_Left) return moveCaret(previousCharacter(words->text, caret));
        if (event.key() == Qt::Key_Right) return moveCaret(nextCharacter(words->text, caret));
        return true;
    default:
        break;
    }
    const QString text = event.text();
    if (text.isEmpty() || !text[0].isPrint() || (event.modifiers() & Qt::ControlModifier))
        return false;
    typeText(text.toStdString());
    return true;
}

void ClothView::nudgeLetter(const QKeyEvent& event) {
    const int letter = session.letterCursor().letter;
    const double step = event.modifiers() & Qt::ShiftModifier ? 1 : 0.1;
    const double dx = event.key() == Qt::Key_Left ? -step : event.key() == Qt::Key_Right ? step : 0;
    const double dy = event.key() == Qt::Key_Up ? -step : event.key() == Qt::Key_Down ? step : 0;
    session.document.apply(changeLettering(session.selection()[0], "Nudge a letter",
                                           [=](Lettering& l) {
                                               LetterChange& c = l.changeOf(letter);
                                               c.dxMm += dx;
                                               c.dyMm += dy;
                                           }),
                           "nudge letter");
}

void ClothView::paintLetters(QPainter& painter) {
    if (newWordsAt && !session.selectedWords()) {
        const QPointF foot = view.toPixels(*newWordsAt);
        painter.setPen(QPen(theme().kite, 2));
        painter.drawLine(foot, foot - QPointF(0, session.words.capHeightMm * view.scale));
        painter.setPen(QPen(theme().kite, 1, Qt::DashLine));
        painter.drawLine(foot - QPointF(60, 0), foot + QPointF(60, 0));
        return;
    }
    const Lettering* words = session.selectedWords();
    const StitchedLettering* set = session.selectedSetting();
    if (!words || !set) return;
    const Affine map = wordsMap();
    if (session.letterCursor().columns) paintColumns(painter, *words, *set, map);
    painter.setBrush(Qt::NoBrush);
    for (const LetterJoin& join : set->setting.joins) {
        if (join.closed) continue;
        for (const PlacedLetter& l : set->setting.letters)
            if (l.index == join.right) {
                const QPointF at =
                    view.toPixels(map(l.at - Vec2{l.advanceMm / 2, words->capHeightMm * 0.2}));
                painter.setPen(QPen(theme().caution, 2));
                painter.drawEllipse(at, 9, 9);
            }
    }
    if (const auto caret =
            caretBefore(set->setting, *words,
                        static_cast<std::size_t>(std::max(0, session.letterCursor().caret)))) {
        painter.setPen(QPen(theme().panel, 4));
        painter.drawLine(view.toPixels(map(caret->foot)), view.toPixels(map(caret->top)));
        painter.setPen(QPen(theme().kite, 2));
        painter.drawLine(view.toPixels(map(caret->foot)), view.toPixels(map(caret->top)));
    }
    if (const PlacedLetter* letter = cursorLetter())
        paintLetterFrame(painter, *words, *letter, map);
}

void ClothView::paintLetterFrame(QPainter& painter, const Lettering& words,
                                 const PlacedLetter& letter, const Affine& map) {
    PlacedLetter shown = letter;
    Lettering moved = words;
    if (drag == Drag::letter && dragMoved) {
        const LetterChange change = draggedLetter();
        moved.changeOf(change.letter) = change;
        shown.scale = change.scale;
    }
    const LetterGrips grips = gripsOf(shown, moved, map, view);
    painter.setPen(QPen(theme().tide, 1.4, Qt::DashLine));
    painter.setBrush(Qt::NoBrush);
    painter.drawPolygon(grips.frame);
    painter.drawLine((grips.frame[2] + grips.frame[3]) / 2, grips.turn);
    painter.setPen(QPen(theme().panel, 1.2));
    painter.setBrush(theme().kite);
    painter.drawEllipse(grips.turn, gripHalfPx, gripHalfPx);
    painter.drawRect(QRectF(grips.size - QPointF(gripHalfPx, gripHalfPx),
                            QSizeF(2 * gripHalfPx, 2 * gripHalfPx)));
}

/// The rows of every column, the chosen one strongly.
void ClothView::paintColumns(QPainter& painter, const Lettering& words,
                             const StitchedLettering& set, const Affine& map) {
    const auto face = openFace(words.face);
    if (!face) return;
    const Session::LetterCursor& cursor = session.letterCursor();
    std::vector<std::pair<QPointF, QColor>> badges; // of the chosen letter, painted last
    const QColor tints[] = {theme().tide, theme().kite, theme().note, theme().stop, theme().ink2};
    for (const PlacedLetter& l : set.setting.letters) {
        int number = 0;
        for (const LetterPart& part : letterParts(l, *face, words))
            for (const Column& c : part.columns) {
                const bool chosen = l.index == cursor.letter && number == cursor.column;
                QColor tint = tints[number % 5];
                tint.setAlpha(chosen ? 255 : 150);
                painter.setPen(QPen(tint, chosen ? 2 : 1));
                for (std::size_t i = 0; i < c.rungs.size(); i += 2)
                    painter.drawLine(view.toPixels(map(c.rungs[i].left)),
                                     view.toPixels(map(c.rungs[i].right)));
                QPolygonF middle;
                for (const Rung& r : c.rungs) middle << view.toPixels(map(r.middle()));
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

} // namespace rapt::app
