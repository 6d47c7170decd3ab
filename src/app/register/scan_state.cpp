#include "app/register/scan_state.h"

namespace rapt::app {
namespace {

constexpr double scanPxPerMm = 6;
constexpr double scanMarginMm = 24; ///< of the hoop's frame shown round the field

} // namespace

ScanState::ScanState() : pictures(&ScanState::read) {
    connect(&pictures, &LookupSignals::ready, this, &ScanState::ready);
}

const ScanState::Picture* ScanState::picture(const Job& job, int hooping,
                                             std::shared_ptr<const Library> library) {
    if (hooping < 0) return nullptr;
    const Registration* r = job.registration(hooping + 1);
    const auto scan = r ? job.members.find(r->scan) : job.members.end();
    if (scan == job.members.end()) return nullptr;
    const std::string& hoop = job.hoopings[static_cast<std::size_t>(hooping)].hoop;
    return picture(scan->second, hoop, std::move(library));
}

const ScanState::Picture* ScanState::picture(std::shared_ptr<const std::string> bytes,
                                             const std::string& hoop,
                                             std::shared_ptr<const Library> library) {
    const auto* found = pictures.find({std::move(bytes), hoop, std::move(library)});
    return found && *found ? &**found : nullptr;
}

std::optional<ScanState::Picture> ScanState::read(const Key& key) {
    const auto hoop = key.library->hoop(key.hoop);
    if (!hoop) return std::nullopt;
    auto flat = flatScan(*key.bytes, {}, *hoop, key.library->cameras, scanMarginMm, scanPxPerMm);
    if (!flat) return std::nullopt;
    const auto shared = std::make_shared<const FlatScan>(std::move(*flat));
    const Image& image = shared->image;
    const QImage view(image.pixels.data(), image.width, image.height, image.width * 3,
                      QImage::Format_RGB888);
    return Picture{view.convertToFormat(QImage::Format_RGB32), shared->map.area, shared};
}

} // namespace rapt::app
