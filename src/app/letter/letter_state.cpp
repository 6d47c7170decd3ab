#include "app/letter/letter_state.h"

namespace rapt::app {

LetterState::LetterState(const Selection& s)
    : selection(s), sewn([](const WordsKey& lettering) { return stitchLettering(*lettering); }) {
    look.face = "lato";
    look.capHeightMm = 15;
    connect(&sewn, &LookupSignals::ready, this, &LetterState::settingReady);
}

Lettering LetterState::newWords(const std::string& text, const Fabric* fabric) const {
    Lettering made = look;
    made.text = text;
    made.letters.clear();
    made.line = {};
    if (fabric) {
        made.pullMm = fabric->pullMm;
        made.pitchMm = fabric->pitchFor(made.pitchMm);
        made.mostLayers = fabric->maxLayers;
    }
    return made;
}

void LetterState::setCursor(const LetterCursor& cursor) {
    if (cursor == where) return;
    where = cursor;
    emit cursorChanged();
}

const Result<StitchedLettering>* LetterState::settingOrProblem() {
    const Piece* piece = selection.single();
    const auto* content = piece ? std::get_if<LetteringContent>(&piece->content) : nullptr;
    return content ? sewn.find(content->lettering) : nullptr;
}

const StitchedLettering* LetterState::setting() {
    const auto* set = settingOrProblem();
    return set && *set ? &**set : nullptr;
}

} // namespace rapt::app
