#pragma once
// What lettering needs of the window: the look of the next words, where the person types, and the
// chosen words as set and sewn.

#include "app/document/selection.h"
#include "app/kit/lookup.h"
#include "letter/stitching.h"
#include "library/library.h"

namespace rapt::app {

struct LetterCursor {
    int caret = 0;        ///< before this letter of the text (spaces and line ends count)
    int letter = -1;      ///< the one that is nudged; −1 for none
    int column = -1;      ///< of that letter; −1 for none
    bool columns = false; ///< the columns are shown
    friend bool operator==(const LetterCursor&, const LetterCursor&) = default;
};

/// Interface thread; the setting is worked out off it.
class LetterState : public QObject {
    Q_OBJECT
public:
    explicit LetterState(const Selection& selection);

    Lettering look; ///< of the next words
    /// Words of a text in that look, on a straight line, for a fabric if one is known.
    Lettering newWords(const std::string& text, const Fabric* fabric) const;

    const LetterCursor& cursor() const { return where; }
    void setCursor(const LetterCursor& cursor);

    /// The chosen lettering as set and sewn, or why it cannot be; null without one, and while it is
    /// being worked out (settingReady follows).
    const Result<StitchedLettering>* settingOrProblem();
    /// The same without problems.
    const StitchedLettering* setting();
    bool isBusy() const { return sewn.isBusy(); }

signals:
    void cursorChanged();
    void settingReady();

private:
    const Selection& selection;
    LetterCursor where;
    using WordsKey = std::shared_ptr<const Lettering>;
    Lookup<WordsKey, Result<StitchedLettering>> sewn;
};

} // namespace rapt::app
