#pragma once
// The sheets that go with a job to the machine: the job, one page a hooping, the marking plan,
// templates, and sheets of tags. PDF at true scale.

#include "estimate/work.h"
#include "handover/needles.h"
#include "job/finding.h"
#include "sheets/template_pdf.h"
#include "thread/palette.h"

#include <stop_token>

namespace rapt {

/// Which sheets are wanted.
struct SheetParts {
    bool job = true, hoopings = true, marking = true;
    bool layout = false; ///< the template at true scale
    bool cards = false, tags = false, board = false;
    friend bool operator==(const SheetParts&, const SheetParts&) = default;
};

/// All that the sheets say.
struct SheetsRequest {
    const Job& job;
    const std::vector<HoopingList>& lists; ///< of its hoopings, as they are sewn
    const StitchList& stitched;            ///< the whole job, cloth frame
    const Library& library;
    Machine machine;
    Fabric fabric;
    std::vector<Finding> findings{}; ///< that are open
    Needles threaded{};              ///< on the machine now
    Palette owned{};                 ///< for the numbers on the cones
    SheetParts parts{};
    TemplateOptions printing{}; ///< paper and faces; the rest is for the template
    int cards = 12;             ///< so many locator cards
};

/// Fails (cannotDo) if nothing is wanted or planned, and (cancelled) when stopped.
Result<TemplateDocument> makeSheets(const SheetsRequest& request, std::stop_token stop = {});

/// The same pages as pictures, so many pixels a mm.
Result<std::vector<Image>> pictureSheets(const SheetsRequest& request, double pixelsPerMm,
                                         std::stop_token stop = {});

} // namespace rapt
