#include "app/document/session.h"

#include "app/stitchout/sewing_state.h"
#include "base/paths.h"
#include "job/stitching.h"
#include "thread/measures.h"

#include <algorithm>

namespace rapt::app {

Session::Session(Library lib, QObject* parent)
    : QObject(parent), library(std::move(lib)), recovery(document), selection(document),
      letters(selection), sewingState(std::make_unique<SewingState>()), sewing(*sewingState),
      chosenStitches([](const Piece& piece) {
          PieceStitches stitches{stitchPiece(piece), {}};
          if (stitches.list) stitches.extents = extentsOf(**stitches.list);
          return stitches;
      }),
      workersLibrary(std::make_shared<const Library>(library)) {
    if (!threads.palette().threads.empty())
        letters.look.thread = threads.palette().threads[0].thread;
    connect(&chosenStitches, &LookupSignals::ready, this, &Session::chosenReady);
    connect(&letters, &LetterState::settingReady, this, &Session::chosenReady);
    connect(&scans, &ScanState::ready, this, &Session::chosenReady);
    connect(&registering, &RegisterState::ready, this, &Session::chosenReady);
    connect(&weighing, &WeighState::kindChanged, this, &Session::viewChanged);
    connect(&weighing, &WeighState::partingChanged, this,
            [this] { derivation.setComparing(weighing.parting().has_value()); });
    connect(&document, &Document::changed, this, [this] {
        if (std::exchange(openedBefore, document.opened()) != document.opened())
            registering.dropProposed();
        // First, so that nobody takes what is derived for that of the new job.
        derive();
        selection.dropVanished();
        if (chosenHooping >= static_cast<int>(job().hoopings.size())) setHooping(0);
        playback.setHead({});
    });
}

const Result<std::shared_ptr<const Handing>>* Session::handing() {
    const auto d = derived();
    if (!d || !d->planned || !isCurrent()) return nullptr;
    return sewing.handing(job(), d->planned, workersLibrary);
}

Session::~Session() = default;

std::unique_ptr<Errands> Session::errands() {
    auto made = std::make_unique<Errands>([this](const Address& a) { return holds(a); });
    connect(made.get(), &Errands::began, this, [this] { ++errandsRunning; });
    connect(made.get(), &Errands::ended, this, [this] { --errandsRunning; });
    connect(&document, &Document::changed, made.get(), &Errands::drop);
    connect(this, &Session::hoopingChanged, made.get(), &Errands::drop);
    return made;
}

void Session::derive() { derivation.request(document.job(), workersLibrary); }

const Derived* Session::checked() const {
    const auto d = derived();
    return d && d->isWhole() ? d.get() : nullptr;
}

void Session::setStage(Stage stage) {
    if (stage == currentStage) return;
    currentStage = stage;
    setTool(ToolKind::select);
    emit stageChanged();
}

Affine Session::copyMapOfSelection() const {
    const Derived* c = checked();
    if (!c || selection.empty() || selection.copy() == 1) return {};
    for (const PieceSpan& span : c->stitched().spans)
        if (span.source == selection.ids()[0] && span.copy == selection.copy())
            return span.fromFirst;
    return {};
}

Edit Session::moveSelection(Vec2 by) const {
    Affine back = copyMapOfSelection().inverse();
    back.tx = back.ty = 0;
    return movePieces(selection.ids(), back(by));
}

Status Session::setFabric(const Fabric& fabric) {
    return keep(library.fabrics, fabric, saveUserFabric(fabric, userDataFolder()));
}

Status Session::setHoop(const Hoop& hoop) {
    return keep(library.hoops, hoop, saveUserHoop(hoop, userDataFolder()));
}

Status Session::setCamera(const Camera& camera) {
    return keep(library.cameras, camera, saveUserCamera(camera, userDataFolder()));
}

Status Session::addPractice(const PracticeTry& attempt) {
    return keep(library.practice.tries, attempt, savePractice(attempt, userDataFolder()));
}

Status Session::learn(const LearntValue& value) {
    const Status saved = saveLearnt(value, userDataFolder());
    return saved ? reloadLibrary() : saved;
}

Status Session::unlearn(const std::string& kind, const std::string& subject) {
    const Status dropped = dropLearnt(kind, subject, userDataFolder());
    return dropped ? reloadLibrary() : dropped;
}

Status Session::reloadLibrary() {
    auto fresh = loadLibrary(dataFolder(), userDataFolder());
    if (!fresh) return fresh.error();
    library = std::move(*fresh);
    workersLibrary = std::make_shared<const Library>(library);
    derive();
    emit viewChanged();
    return done();
}

const Result<Assessment>* Session::assessment() {
    const auto d = derived();
    const bool current = d && d->planned && isCurrent();
    return hooping() < 0 ? nullptr
                         : registering.assessment(job(), hooping() + 1,
                                                  current ? d->planned : nullptr, workersLibrary);
}

template<class Record>
Status Session::keep(std::vector<Record>& records, const Record& record, const Status& saved) {
    if (!saved) return saved;
    const auto known = std::find_if(records.begin(), records.end(),
                                    [&](const Record& r) { return r.id == record.id; });
    if (known == records.end())
        records.push_back(record);
    else
        *known = record;
    workersLibrary = std::make_shared<const Library>(library);
    derive();
    emit viewChanged();
    return done();
}

ImportOptions Session::importOptions() const {
    const auto fabric = library.fabric(job().brief.fabric);
    return fabric ? usualOptions(*fabric) : ImportOptions{};
}

Edit Session::addDrawn(Piece piece) const {
    Shape shape = *std::get<ShapeContent>(piece.content).shape;
    layFor(shape, importOptions());
    piece.content = ShapeContent{std::make_shared<const Shape>(std::move(shape))};
    return stage() == Stage::registration && hooping() >= 0
               ? addPieceTo(std::move(piece), hooping() + 1)
               : addPiece(std::move(piece));
}

void Session::setTool(ToolKind tool) {
    if (tool == currentTool) return;
    currentTool = tool;
    emit toolChanged();
}

std::optional<Session::Field> Session::field() const {
    const Hooping* planned =
        hooping() < 0 ? nullptr : &job().hoopings[static_cast<std::size_t>(hooping())];
    // What is chosen is measured in the field that it is sewn in.
    if (!selection.empty())
        if (const Hooping* own = job().firstHoopingOf(selection.ids()[0])) planned = own;
    if (planned)
        if (auto hoop = library.hoop(planned->hoop)) return Field{std::move(*hoop), planned->pose};
    for (const std::string& id : job().brief.hoops)
        if (auto hoop = library.hoop(id)) return Field{std::move(*hoop), {}};
    return std::nullopt;
}

Box Session::Field::box() const {
    const Affine map = pose.affine();
    Box box;
    for (const Vec2 corner : Box::centredAt({}, hoop.widthMm, hoop.heightMm).corners())
        box.add(map(corner));
    return box;
}

int Session::hooping() const { return job().hoopings.empty() ? -1 : chosenHooping; }

void Session::setHooping(int index) {
    if (index < 0 || index == chosenHooping) return;
    chosenHooping = index;
    emit hoopingChanged();
}

void Session::setUnit(LengthUnit unit) {
    lengthUnit = unit;
    emit viewChanged();
}

QString Session::lengthText(double mm, int decimals) const {
    return QString::fromStdString(formatLength(mm, lengthUnit, decimals));
}

void Session::setLedgerCount(int count) {
    if (count == recordsOfJob) return;
    recordsOfJob = count;
    emit viewChanged();
}

Box Session::selectionBox() const {
    Box box;
    if (const Derived* c = checked())
        for (const PieceSpan& span : c->stitched().spans)
            if (selection.contains(span.source) && span.copy == selection.copy() && !span.outline)
                box.add(span.extents);
    return box;
}

const ScanState::Picture* Session::scan() {
    const ProposedScan* proposed = registering.proposed();
    if (proposed && hooping() >= 0 && proposed->hooping == hooping() + 1)
        return scans.picture(proposed->bytes,
                             job().hoopings[static_cast<std::size_t>(hooping())].hoop,
                             workersLibrary);
    return scans.picture(job(), hooping(), workersLibrary);
}

Lettering Session::newWords(const std::string& text) const {
    const auto fabric = library.fabric(job().brief.fabric);
    return letters.newWords(text, fabric ? &*fabric : nullptr);
}

void Session::finishPath(const Polyline& path) {
    setTool(ToolKind::select);
    emit pathDrawn(path);
}

const Session::PieceStitches* Session::stitchesOf(const Piece& piece) {
    // Where it lies and what it is called does not matter.
    Piece key;
    key.content = piece.content;
    key.pose.scaleX = piece.pose.scaleX;
    key.pose.scaleY = piece.pose.scaleY;
    key.keep = piece.keep;
    key.respacing = piece.respacing;
    key.leftOutRuns = piece.leftOutRuns;
    return chosenStitches.find(key);
}

} // namespace rapt::app
