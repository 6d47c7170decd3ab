#pragma once
// What the single sheets share. Internal to the sheets.

#include "sheets/sheets.h"

namespace rapt {

/// Everything that is worked out once for all sheets.
struct SheetContent {
    const SheetsRequest& request;
    JobThreads threads;
    Work work;
    NeedlePlan needles;
    std::vector<ThreadStep> steps; ///< of all hoopings, as in `needles`

    /// "3: Ember", the number being its place in the job.
    std::string threadText(std::size_t thread) const;
    /// The needle that a thread is on at first, or "by hand".
    std::string needleText(const Thread& thread) const;
};

/// The job at a glance. Gives pages.
int drawJobSheet(PdfPages& pages, const PdfFonts& fonts, const SheetContent& content);

/// One hooping. Gives pages.
int drawHoopingSheet(PdfPages& pages, const PdfFonts& fonts, const SheetContent& content,
                     std::size_t hooping);

} // namespace rapt
