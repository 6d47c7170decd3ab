#include "app/document/session.h"

#include "job/edit_lettering.h"
#include "job/stitching.h"
#include "thread/measures.h"

#include "base/paths.h"
#include "formats/palette_files.h"

#include <QFile>
#include <algorithm>

namespace rapt::app {
namespace {

constexpr double scanPxPerMm = 4;
constexpr double scanMarginMm = 24; ///< of the hoop's frame shown round the field

} // namespace

Session::Session(Library lib, QObject* parent)
    : QObject(parent), library(std::move(lib)), recovery(document),
      setting([](const WordsKey& lettering) { return stitchLettering(*lettering); }),
      chosenStitches([](const Piece& piece) {
          PieceStitches stitches{stitchPiece(piece), {}};
          if (stitches.list) stitches.extents = extentsOf(**stitches.list);
          return stitches;
      }),
      workersLibrary(std::make_shared<const Library>(library)), scanPicture(&Session::readPicture) {
    for (LookupSignals* lookup :
         std::initializer_list<LookupSignals*>{&setting, &chosenStitches, &scanPicture})
        connect(lookup, &LookupSignals::ready, this, &Session::chosenReady);
    auto threads = loadThreads(dataFolder(), userDataFolder());
    if (!threads) {
        threadsProblem = QString::fromStdString(threads.error().line());
        threads = loadThreads(dataFolder(), {});
    }
    if (threads) ownedThreads = std::move(*threads);
    words.face = "lato";
    words.capHeightMm = 15;
    if (!ownedThreads.threads.empty()) words.thread = ownedThreads.threads[0].thread;
    connect(&document, &Document::changed, this, [this] {
        dropVanished();
        setPlayhead({});
        derive();
    });
}

void Session::derive() { derivation.request(document.job(), workersLibrary); }

const Derived* Session::checked() const {
    const auto d = derived();
    return d && d->isWhole() ? d.get() : nullptr;
}

void Session::dropVanished() {
    std::vector<std::string> left;
    for (const std::string& id : selected)
        if (job().piece(id)) left.push_back(id);
    if (left != selected) selectSingly(left);
    if (chosenHooping >= static_cast<int>(job().hoopings.size())) setHooping(0);
}

void Session::setStage(Stage stage) {
    if (stage == currentStage) return;
    currentStage = stage;
    setTool(ToolKind::select);
    emit stageChanged();
}

bool Session::isSelected(const std::string& id) const {
    return std::find(selected.begin(), selected.end(), id) != selected.end();
}

void Session::select(std::vector<std::string> ids, int copy) {
    std::vector<std::string> all = ids;
    for (const std::string& id : ids) {
        const Piece* chosen = job().piece(id);
        if (!chosen || chosen->group.empty()) continue;
        for (const Piece& p : job().pieces)
            if (p.group == chosen->group && std::find(all.begin(), all.end(), p.id) == all.end())
                all.push_back(p.id);
    }
    selectSingly(std::move(all), copy);
}

void Session::selectSingly(std::vector<std::string> ids, int copy) {
    if (ids == selected && copy == copyPointedAt) return;
    selected = std::move(ids);
    copyPointedAt = copy;
    document.endMerge();
    emit selectionChanged();
}

Affine Session::copyMapOfSelection() const {
    const Derived* c = checked();
    if (!c || selected.empty() || copyPointedAt == 1) return {};
    for (const PieceSpan& span : c->stitched().spans)
        if (span.source == selected[0] && span.copy == copyPointedAt) return span.fromFirst;
    return {};
}

Edit Session::moveSelection(Vec2 by) const {
    Affine back = copyMapOfSelection().inverse();
    back.tx = back.ty = 0;
    return movePieces(selected, back(by));
}

void Session::setPlayhead(std::optional<Playhead> place) {
    if (place == shownUpTo) return;
    shownUpTo = place;
    emit playheadChanged();
}

void Session::setParting(std::optional<double> share) {
    if (share == partedAt) return;
    partedAt = share;
    derivation.setComparing(share.has_value());
    emit partingChanged();
}

Status Session::setFabric(const Fabric& fabric) {
    const Status saved = saveUserFabric(fabric, userDataFolder());
    if (!saved) return saved;
    const auto known = std::find_if(library.fabrics.begin(), library.fabrics.end(),
                                    [&](const Fabric& f) { return f.id == fabric.id; });
    if (known == library.fabrics.end())
        library.fabrics.push_back(fabric);
    else
        *known = fabric;
    workersLibrary = std::make_shared<const Library>(library);
    derive();
    emit viewChanged();
    return done();
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
    if (!selected.empty())
        if (const Hooping* own = job().firstHoopingOf(selected[0])) planned = own;
    if (planned)
        if (auto hoop = library.hoop(planned->hoop))
            return Field{
                std::move(*hoop), {planned->pose.x, planned->pose.y}, planned->pose.rotationDeg};
    for (const std::string& id : job().brief.hoops)
        if (auto hoop = library.hoop(id)) return Field{std::move(*hoop), {}, 0};
    return std::nullopt;
}

Box Session::Field::box() const {
    const Affine map = Pose{at.x, at.y, turnDeg, false, 1, 1}.affine();
    Box box;
    for (const Vec2 corner : Box::centredAt({}, hoop.widthMm, hoop.heightMm).corners())
        box.add(map(corner));
    return box;
}

Status Session::setPalette(Palette palette) {
    const QString file = QString::fromStdString(userDataFolder()) + "/threads.json";
    if (!threadsProblem.isEmpty()) {
        QFile::remove(file + ".unreadable");
        QFile::rename(file, file + ".unreadable");
        threadsProblem.clear();
    }
    const Status saved = saveThreads(userDataFolder(), palette);
    if (!saved) return saved;
    ownedThreads = std::move(palette);
    emit paletteChanged();
    return saved;
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

void Session::setLoadKind(LoadKind kind) {
    shownLoad = kind;
    emit viewChanged();
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
            if (isSelected(span.source) && span.copy == copyPointedAt && !span.outline)
                box.add(span.extents);
    return box;
}

const Session::ScanPicture* Session::scan() {
    if (hooping() < 0) return nullptr;
    const Registration* r = job().registration(hooping() + 1);
    const auto it = r ? job().members.find(r->scan) : job().members.end();
    if (it == job().members.end()) return nullptr;
    const std::string& hoopId = job().hoopings[static_cast<std::size_t>(hooping())].hoop;
    const auto* picture = scanPicture.find({it->second, it->first, hoopId, workersLibrary});
    return picture && *picture ? &**picture : nullptr;
}

std::optional<Session::ScanPicture> Session::readPicture(const ScanKey& key) {
    const auto hoop = key.library->hoop(key.hoop);
    if (!hoop) return std::nullopt;
    const auto flat = flatScan(*key.bytes, key.member, *hoop, scanMarginMm, scanPxPerMm);
    if (!flat) return std::nullopt;
    const Image& image = flat->image;
    const QImage view(image.pixels.data(), image.width, image.height, image.width * 3,
                      QImage::Format_RGB888);
    return ScanPicture{view.convertToFormat(QImage::Format_RGB32), flat->area};
}

Lettering Session::newWords(const std::string& text) const {
    Lettering made = words;
    made.text = text;
    made.letters.clear();
    made.line = {};
    if (const auto fabric = library.fabric(job().brief.fabric)) {
        made.pullMm = fabric->pullMm;
        made.mostLayers = fabric->maxLayers;
    }
    return made;
}

void Session::finishPath(const Polyline& path) {
    setTool(ToolKind::select);
    emit pathDrawn(path);
}

void Session::setLetterCursor(const LetterCursor& where) {
    if (where == cursor) return;
    cursor = where;
    emit letterCursorChanged();
}

const Lettering* Session::selectedWords() const {
    return selected.size() == 1 ? letteringOf(job(), selected[0]) : nullptr;
}

const Result<StitchedLettering>* Session::selectedSettingOrProblem() {
    const Piece* piece = selected.size() == 1 ? job().piece(selected[0]) : nullptr;
    const auto* content = piece ? std::get_if<LetteringContent>(&piece->content) : nullptr;
    return content ? setting.find(content->lettering) : nullptr;
}

const StitchedLettering* Session::selectedSetting() {
    const auto* set = selectedSettingOrProblem();
    return set && *set ? &**set : nullptr;
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
