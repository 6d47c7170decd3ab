#include "app/document/session.h"

#include <algorithm>

namespace rapt::app {
namespace {

constexpr double scanPxPerMm = 4;
constexpr double scanMarginMm = 24; ///< of the hoop's frame shown round the field

} // namespace

Session::Session(Library lib, QObject* parent)
    : QObject(parent), library(std::move(lib)), derivation(library), recovery(document) {
    connect(&document, &Document::changed, this, [this] {
        dropVanished();
        derivation.request(document.job(), document.revision());
    });
}

const CheckedJob* Session::checked() const {
    const auto d = derived();
    return d ? d->checked.get() : nullptr;
}

void Session::dropVanished() {
    std::vector<std::string> left;
    for (const std::string& id : selected)
        if (job().piece(id)) left.push_back(id);
    if (left != selected) select(left);
    if (chosenHooping >= static_cast<int>(job().hoopings.size())) setHooping(0);
}

void Session::setStage(Stage stage) {
    if (stage == currentStage) return;
    currentStage = stage;
    emit stageChanged();
}

bool Session::isSelected(const std::string& id) const {
    return std::find(selected.begin(), selected.end(), id) != selected.end();
}

void Session::select(std::vector<std::string> ids) {
    if (ids == selected) return;
    selected = std::move(ids);
    document.endMerge();
    emit selectionChanged();
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
    if (const CheckedJob* c = checked())
        for (const PieceSpan& span : c->stitched.spans)
            if (isSelected(span.id)) box.add(span.extents);
    return box;
}

const Session::ScanPicture* Session::scan() {
    if (hooping() < 0) return nullptr;
    const Registration* r = job().registration(hooping() + 1);
    const auto it = r ? job().members.find(r->scan) : job().members.end();
    if (it == job().members.end()) return nullptr;
    const std::string& hoopId = job().hoopings[static_cast<std::size_t>(hooping())].hoop;
    if (it->second == scanBytes && hoopId == scanHoop) return scanPicture ? &*scanPicture : nullptr;
    scanBytes = it->second;
    scanHoop = hoopId;
    scanPicture.reset();
    const auto hoop = library.hoop(hoopId);
    const auto picture = decodeImage(*scanBytes, r->scan);
    if (!hoop || !picture) return nullptr;
    const auto reading = readScan(*picture, *hoop);
    if (!reading) return nullptr;
    const Box area = Box::centredAt({0, 0}, hoop->widthMm, hoop->heightMm).grown(scanMarginMm);
    const Image flat = rectified(*picture, *reading, area, scanPxPerMm);
    const QImage view(flat.pixels.data(), flat.width, flat.height, flat.width * 3,
                      QImage::Format_RGB888);
    scanPicture = ScanPicture{view.convertToFormat(QImage::Format_RGB32), area};
    return &*scanPicture;
}

} // namespace rapt::app
