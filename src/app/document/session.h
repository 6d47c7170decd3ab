#pragma once
// The document, what is derived from it, and what the window shows of it: a part of state for each
// stage's needs (app/state). Nothing but the document is saved with the job.

#include "app/divide/divide_state.h"
#include "app/document/derivation.h"
#include "app/document/document.h"
#include "app/document/owned_threads.h"
#include "app/document/playback_state.h"
#include "app/document/recovery.h"
#include "app/document/selection.h"
#include "app/kit/errand.h"
#include "app/kit/lookup.h"
#include "app/ledger/ledger_state.h"
#include "app/letter/letter_state.h"
#include "app/register/register_state.h"
#include "app/register/scan_state.h"
#include "app/weigh/weigh_state.h"
#include "geometry/lengths.h"
#include "library/learnt.h"
#include "svg/to_shapes.h"

#include <optional>

namespace rapt::app {

class SewingState;
struct Handing;

/// What the mouse does on the cloth, where the stage leaves it the choice.
enum class ToolKind {
    select,
    drawRun,
    drawSatin,
    drawFill,
    editPoints,
    letter,
    drawPath,
    freehand, ///< a line drawn on the scan
    region,   ///< grown from a click on the scan
    needle,   ///< the machine's pointer
};

enum class Stage { brief, compose, weigh, divide, registration, stitchOut, ledger };
inline constexpr int stageCount = 7;

/// Owns the document and what is derived from it; views hold a reference and listen.
class Session : public QObject {
    Q_OBJECT
public:
    explicit Session(Library library, QObject* parent = nullptr);
    ~Session() override;

    Document document;
    Library library; ///< changed by setFabric, setHoop and learn alone; workers have copies
    Derivation derivation;
    Recovery recovery;

    Selection selection;
    LetterState letters;
    OwnedThreads threads;
    WeighState weighing;
    PlaybackState playback;
    DivideState dividing;
    RegisterState registering;
    LedgerState ledger;

    const Job& job() const { return document.job(); }
    /// Where an answer belongs that is worked out in the background: to the job as it is now, to
    /// this job whatever is edited meanwhile, to the chosen hooping of it.
    Address asItIsNow() const { return {document.opened(), document.revision(), {}}; }
    Address inThisJob() const { return {document.opened(), {}, {}}; }
    Address atThisHooping() const { return {document.opened(), {}, hooping()}; }
    bool holds(const Address& a) const {
        return a.opened == document.opened() &&
               (!a.revision || *a.revision == document.revision()) &&
               (!a.hooping || *a.hooping == hooping());
    }
    /// For work in the background: stops asking once an address is gone.
    std::unique_ptr<Errands> errands();
    std::shared_ptr<const Derived> derived() const { return derivation.latest(); }
    /// The same once there is something of each part, or null.
    const Derived* checked() const;
    /// True once what is derived belongs to the job as it is now.
    bool isCurrent() const { return !derivation.isBusy(); }

    Stage stage() const { return currentStage; }
    void setStage(Stage stage);

    /// From copy 1 of the one selected piece to the copy that was pointed at (cloth frame).
    Affine copyMapOfSelection() const;
    /// The edit that moves the selection so that the copy pointed at moves by so much.
    Edit moveSelection(Vec2 by) const;

    ToolKind tool() const { return currentTool; }
    void setTool(ToolKind tool);

    /// The edit that adds a piece; what is drawn on the scan is sewn in the hooping that is shown.
    Edit addDrawn(Piece piece) const;

    /// The field that pieces are fitted to and aligned with: of the hooping that sews the first
    /// selected piece, else the chosen hooping's, else of the first hoop owned, centred on the
    /// datum. Nothing if none is owned.
    struct Field {
        Hoop hoop;
        Pose pose; ///< field frame into cloth frame
        /// Of what it reaches, square to the cloth.
        Box box() const;
    };
    std::optional<Field> field() const;

    /// New words in the look of the next ones, for the job's fabric.
    Lettering newWords(const std::string& text) const;

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

    /// How drawings become shapes on the job's cloth.
    ImportOptions importOptions() const;

    /// Keeps a changed fabric in the user's library, and judges by it.
    Status setFabric(const Fabric& fabric);

    /// Keeps a frame, a calibrated camera, or what practice showed in the user's library.
    Status setHoop(const Hoop& hoop);
    Status setCamera(const Camera& camera);
    Status addPractice(const PracticeTry& attempt);

    /// Accepts or refuses what the records teach, or goes back on it, and judges by it.
    Status learn(const LearntValue& value);
    Status unlearn(const std::string& kind, const std::string& subject);

    /// The library as workers read it.
    std::shared_ptr<const Library> sharedLibrary() const { return workersLibrary; }

    /// The job as it is handed over and sewn; null while it is worked out (sewing.ready follows).
    const Result<std::shared_ptr<const Handing>>* handing();

    /// What is known of where the chosen hooping was found; null while it is worked out, or where
    /// nothing was seen.
    const Result<Assessment>* assessment();

    /// Box of the selected pieces' stitches in the cloth frame; empty if nothing is known.
    Box selectionBox() const;

    /// The scan of the chosen hooping; null without one, and while it is being read (chosenReady
    /// follows).
    const ScanState::Picture* scan();
    /// True while something of the chosen piece or the scan is being worked out.
    bool isLooking() const {
        return letters.isBusy() || scans.isReading() || chosenStitches.isBusy() ||
               registering.isBusy() || errandsRunning > 0;
    }

    /// How many records the ledger has of this job; told by the Ledger stage.
    int ledgerCount() const { return recordsOfJob; }
    void setLedgerCount(int count);

    /// Asks the cloth to show a place (cloth frame).
    void showPlace(Vec2 at) { emit placeAsked(at); }

signals:
    void stageChanged();
    void hoopingChanged();
    void toolChanged();
    void pathDrawn(const Polyline& path);
    void viewChanged(); ///< units, the kind of load shown, or the library
    void placeAsked(Vec2 at);
    void chosenReady(); ///< what is shown of the chosen piece or the scan is there

private:
    std::unique_ptr<SewingState> sewingState;

public:
    SewingState& sewing; ///< machines, needles, the queue; of a header of its own

private:
    Status reloadLibrary();
    void derive();
    /// Takes a saved record into the library, and judges by it.
    template<class Record>
    Status keep(std::vector<Record>& records, const Record& record, const Status& saved);

    Stage currentStage = Stage::compose;
    ToolKind currentTool = ToolKind::select;
    int errandsRunning = 0;
    quint64 openedBefore = 0;
    Lookup<Piece, PieceStitches> chosenStitches;
    bool catching = true;
    int chosenHooping = 0;
    LengthUnit lengthUnit = LengthUnit::millimetre;
    int recordsOfJob = 0;
    std::shared_ptr<const Library> workersLibrary; ///< as `library`
    ScanState scans;
};

} // namespace rapt::app
