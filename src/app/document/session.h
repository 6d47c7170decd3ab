#pragma once
// What the window shows of the job: the stage, the selection, units. Nothing here is saved with it.

#include "app/document/derivation.h"
#include "app/document/document.h"
#include "app/document/recovery.h"
#include "app/state/lookup.h"
#include "estimate/playback.h"
#include "geometry/lengths.h"
#include "letter/stitching.h"
#include "load/limits.h"
#include "scan/image.h"
#include "scan/scan_reading.h"
#include "thread/palette.h"

#include <QImage>
#include <optional>

namespace rapt::app {

/// What the mouse does on the cloth in the Compose stage.
enum class ToolKind { select, drawRun, drawSatin, drawFill, editPoints, letter, drawPath };

enum class Stage { brief, compose, weigh, divide, registration, stitchOut, ledger };
inline constexpr int stageCount = 7;

/// Owns the document and what is derived from it; views hold a reference and listen.
class Session : public QObject {
    Q_OBJECT
public:
    explicit Session(Library library, QObject* parent = nullptr);

    Document document;
    Library library; ///< changed by setFabric alone; workers have copies
    Derivation derivation;
    Recovery recovery;

    const Job& job() const { return document.job(); }
    std::shared_ptr<const Derived> derived() const { return derivation.latest(); }
    /// The same once there is something of each part, or null.
    const Derived* checked() const;
    /// True once what is derived belongs to the job as it is now.
    bool isCurrent() const { return !derivation.isBusy(); }

    Stage stage() const { return currentStage; }
    void setStage(Stage stage);

    const std::vector<std::string>& selection() const { return selected; }
    bool isSelected(const std::string& id) const;
    /// Selects pieces and everything that is grouped with them. `copy` is the linked copy that was
    /// pointed at, counted from 1: it is the one that is shown and moved.
    void select(std::vector<std::string> ids, int copy = 1);
    /// Only these, whatever their groups.
    void selectSingly(std::vector<std::string> ids, int copy = 1);
    int selectedCopy() const { return copyPointedAt; }
    /// From copy 1 of the one selected piece to the copy that was pointed at (cloth frame).
    Affine copyMapOfSelection() const;
    /// The edit that moves the selection so that the copy pointed at moves by so much.
    Edit moveSelection(Vec2 by) const;

    ToolKind tool() const { return currentTool; }
    void setTool(ToolKind tool);

    /// The field that pieces are fitted to and aligned with: of the hooping that sews the first
    /// selected piece, else the chosen hooping's, else of the first hoop owned, centred on the
    /// datum. Nothing if none is owned.
    struct Field {
        Hoop hoop;
        Vec2 at;
        double turnDeg = 0; ///< of the hoop on the cloth
        /// Of what it reaches, square to the cloth.
        Box box() const;
    };
    std::optional<Field> field() const;

    const Palette& palette() const { return ownedThreads; }
    /// Why the person's own threads could not be read at the start; then the shipped ones are used.
    const QString& paletteProblem() const { return threadsProblem; }
    /// Replaces the threads owned, on disk too. A file that could not be read is kept beside it.
    Status setPalette(Palette palette);

    /// How the drawing tools draw.
    struct DrawSettings {
        Thread thread{1, {31, 78, 121}, 40, "Deep tide"};
        bool smooth = true;
    };
    DrawSettings drawing;

    /// How the next words will look, and where the person types in those of the selected piece.
    Lettering words;
    /// New words in that look, on a straight line, with the pull of the job's fabric.
    Lettering newWords(const std::string& text) const;
    struct LetterCursor {
        int caret = 0;        ///< before this letter of the text (spaces and line ends count)
        int letter = -1;      ///< the one that is nudged; −1 for none
        int column = -1;      ///< of that letter; −1 for none
        bool columns = false; ///< the columns are shown
        friend bool operator==(const LetterCursor&, const LetterCursor&) = default;
    };
    const LetterCursor& letterCursor() const { return cursor; }
    void setLetterCursor(const LetterCursor& where);
    /// The lettering of the one selected piece, or null.
    const Lettering* selectedWords() const;
    /// The selected lettering as set and sewn, or why it cannot be; null without one, and while it
    /// is being worked out (chosenReady follows).
    const Result<StitchedLettering>* selectedSettingOrProblem();
    /// The same without problems.
    const StitchedLettering* selectedSetting();

    /// The stitches of a piece at its scale, before it is placed; null while they are being worked
    /// out (chosenReady follows). Of the last piece asked for, which mostly is the chosen one.
    struct PieceStitches {
        Result<std::shared_ptr<const StitchList>> list;
        Box extents; ///< of the penetrations
    };
    const PieceStitches* stitchesOf(const Piece& piece);

    /// A path was drawn on the cloth (cloth frame); the tool goes back to choosing.
    void finishPath(const Polyline& path);

    bool catchesLines() const { return catching; }
    void setCatchesLines(bool on) { catching = on; }

    /// Index into the job's hoopings; −1 if there are none.
    int hooping() const;
    void setHooping(int index);

    LengthUnit unit() const { return lengthUnit; }
    void setUnit(LengthUnit unit);
    QString lengthText(double mm, int decimals = 1) const;

    LoadKind loadKind() const { return shownLoad; }
    void setLoadKind(LoadKind kind);

    /// How far the stitch-out is shown, in records of the stitched job; nothing for all of it.
    std::optional<Playhead> playhead() const { return shownUpTo; }
    void setPlayhead(std::optional<Playhead> place);

    /// Where the cloth is parted to compare, from 0 (left edge of the view) to 1: to the left the
    /// job with its stitches kept and nothing relieved, to the right as it is. Nothing to compare
    /// without a value.
    std::optional<double> parting() const { return partedAt; }
    void setParting(std::optional<double> share);

    /// Keeps a changed fabric in the user's library, and judges by it.
    Status setFabric(const Fabric& fabric);

    /// Box of the selected pieces' stitches in the cloth frame; empty if nothing is known.
    Box selectionBox() const;

    /// The scan of the chosen hooping as seen from above, with its area in the cloth frame of the
    /// plan. Read again when the job's scan changes; null while it is (chosenReady follows).
    struct ScanPicture {
        QImage image;
        Box area; ///< field frame
    };
    const ScanPicture* scan();

    /// How many records the ledger has of this job; told by the Ledger stage.
    int ledgerCount() const { return recordsOfJob; }
    void setLedgerCount(int count);

    /// Asks the cloth to show a place (cloth frame).
    void showPlace(Vec2 at) { emit placeAsked(at); }

signals:
    void stageChanged();
    void selectionChanged();
    void hoopingChanged();
    void toolChanged();
    void letterCursorChanged();
    void pathDrawn(const Polyline& path);
    void paletteChanged();
    void viewChanged(); ///< units, the kind of load shown, or the library
    void playheadChanged();
    void partingChanged();
    void placeAsked(Vec2 at);
    void chosenReady(); ///< what is shown of the chosen piece or the scan is there

private:
    void dropVanished();
    void derive();

    Stage currentStage = Stage::compose;
    std::vector<std::string> selected;
    int copyPointedAt = 1;
    ToolKind currentTool = ToolKind::select;
    Palette ownedThreads;
    QString threadsProblem;
    LetterCursor cursor;
    using WordsKey = std::shared_ptr<const Lettering>;
    Lookup<WordsKey, Result<StitchedLettering>> setting;
    Lookup<Piece, PieceStitches> chosenStitches;
    bool catching = true;
    int chosenHooping = 0;
    LengthUnit lengthUnit = LengthUnit::millimetre;
    LoadKind shownLoad = LoadKind::layers;
    std::optional<Playhead> shownUpTo;
    std::optional<double> partedAt;
    int recordsOfJob = 0;
    std::shared_ptr<const Library> workersLibrary; ///< as `library`
    struct ScanKey {
        std::shared_ptr<const std::string> bytes;
        std::string member, hoop;
        std::shared_ptr<const Library> library;
        friend bool operator==(const ScanKey&, const ScanKey&) = default;
    };
    static std::optional<ScanPicture> readPicture(const ScanKey& key);
    Lookup<ScanKey, std::optional<ScanPicture>> scanPicture;
};

} // namespace rapt::app
