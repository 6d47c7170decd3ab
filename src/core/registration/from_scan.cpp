#include "registration/from_scan.h"

#include "scan/tags.h"

#include <fmt/format.h>

namespace rapt {

Result<ScannedMarks> marksFromScan(const std::string& bytes, const std::string& file,
                                   const Hoop& hoop, Registration registration) {
    const auto picture = decodeImage(bytes, file);
    if (!picture) return picture.error();
    auto reading = readScan(*picture, hoop);
    if (!reading) return reading.error().inside(file);
    ScannedMarks marks{std::move(registration), std::move(*reading), 0};
    for (const SeenCard& card : marks.reading.cards) {
        const auto i = static_cast<std::size_t>(card.id - firstCardId);
        if (i >= marks.registration.points.size()) continue;
        marks.registration.points[i].seen = card.at;
        ++marks.found;
    }
    if (marks.found == 0) return cannotDo("no locator card is seen on the cloth", {}, file);
    const bool png = bytes.starts_with("\x89PNG");
    marks.registration.scan =
        fmt::format("scans/hooping-{:02}.{}", marks.registration.hooping, png ? "png" : "jpg");
    return marks;
}

} // namespace rapt
