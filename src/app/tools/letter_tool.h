#pragma once
// Lettering on the cloth: typing, the caret, and single letters moved, turned and sized by grips.

#include "app/canvas/tool.h"
#include "app/document/session.h"

namespace rapt::app {

class LetterTool : public Tool {
public:
    LetterTool(ToolHost& h, Session& s) : Tool(h), session(s) {}

    bool press(const Pointer& pointer) override;
    void drag(const Pointer& pointer) override;
    void release(const Pointer& pointer) override;
    void cancel() override { grip = Grip::none, moved = false; }
    bool key(const QKeyEvent& event) override;
    bool ownsText() const override { return true; }
    void putDown() override;
    void paint(QPainter& painter) override;
    Qt::CursorShape cursor() const override { return Qt::CrossCursor; }

private:
    enum class Grip { none, place, turn, size };

    bool pressGrip(const Pointer& pointer);
    void typeText(const std::string& text);
    void beginWords(const std::string& text);
    void changeText(std::size_t from, std::size_t to, const std::string& text);
    void moveCaret(std::size_t to);
    bool moveKey(const QKeyEvent& event);
    void nudge(const QKeyEvent& event);
    LetterChange draggedLetter() const;
    const PlacedLetter* cursorLetter() const;
    void paintFrame(QPainter& painter, const Lettering& words, const PlacedLetter& letter,
                    const Affine& map) const;
    void paintCaret(QPainter& painter, Vec2 foot, Vec2 top) const;

    Session& session;
    Grip grip = Grip::none;
    bool moved = false;
    Pointer from, now;
    std::optional<Vec2> newWordsAt; ///< where typing will begin new words, cloth frame
};

} // namespace rapt::app
