#pragma once
// Lettering to stitches. Columns of a glyph are remembered by face, size and changes, so that words
// are set again while they are typed. Any thread.

#include "letter/setting.h"
#include "letter/sewing.h"

namespace rapt {

/// One stretch of letters that the thread should hold together, and other doubts of a lettering.
struct LetterWarning {
    enum class Kind { fineStroke, smallCounter, openJoin } kind = Kind::fineStroke;
    std::string text;            ///< one sentence
    double value = 0, limit = 0; ///< mm
    int letter = -1;             ///< index of the first one concerned
};

/// Stitches of words, and what to mind.
struct StitchedLettering {
    StitchList list; ///< piece frame
    Setting setting;
    std::vector<LetterWarning> warnings;
    double satinShare = 1; ///< of the covered area that is satin and not runs or fills
    int parts = 0;         ///< connected parts
    int columns = 0;
};

/// The columns of one glyph at a cap height, glyph frame; remembered.
std::shared_ptr<const std::vector<LetterPart>> glyphColumns(const std::shared_ptr<const Face>& face,
                                                            std::uint32_t glyph,
                                                            const ColumnOptions& options);

/// The columns of a placed letter in the piece frame, in the order of the glyphs.
std::vector<LetterPart> letterParts(const PlacedLetter& letter,
                                    const std::shared_ptr<const Face>& face,
                                    const Lettering& lettering);

/// Sets and sews. Letters follow each other as they are read; a part begins near where the last
/// one ended and ends near the next; the thread is cut only between parts that do not touch.
Result<StitchedLettering> stitchLettering(const Lettering& lettering,
                                          const std::shared_ptr<const Face>& face, bool joined);
/// The same with the face looked up by the lettering's id.
Result<StitchedLettering> stitchLettering(const Lettering& lettering);

/// The least cap height at which a face sews well: its thin strokes come to one thread's width, its
/// small letters' counters stay open, and the cloth's own least letter height is kept.
double leastGoodCapMm(const std::shared_ptr<const Face>& face, double threadWidthMm,
                      double fabricLeastMm);

} // namespace rapt
