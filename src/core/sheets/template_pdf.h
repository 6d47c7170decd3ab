#pragma once
// A true-scale template as PDF: the layout in thread colours, tiled over pages with joining marks.

#include "base/result.h"
#include "divide/hooping_lists.h"
#include "divide/marking_plan.h"
#include "job/job.h"
#include "sheets/page_parts.h"
#include "thread/stitch_list.h"

#include <optional>
#include <string>
#include <vector>

namespace rapt {

/// What stands for the design on a template.
enum class TemplateLook {
    thread,  ///< every stitch in its colour
    outline, ///< the line round the stitching
};

/// How a template is printed.
struct TemplateOptions {
    bool mirror = false; ///< left and right change places, for marking the cloth from behind
    Paper paper = Paper::a4;
    std::string facesFolder; ///< holds Lato-Regular.ttf and Lato-Bold.ttf
    TemplateLook look = TemplateLook::thread;
    double gridMm = 0;  ///< lines at this distance from the origin; 0: none
    double cutMm = 0;   ///< a line to cut the paper along, so far from the stitching; 0: none
    bool chart = false; ///< a page of all threads with their swatches
    bool card = false;  ///< a locator card of its own: a scan finds the paper by it
    friend bool operator==(const TemplateOptions&, const TemplateOptions&) = default;
};

/// What is drawn: stitches with a cross through the datum, or without a cloth through their middle;
/// the cloth's edge, and marks to be drawn on it.
struct TemplateContent {
    std::string title;
    const StitchList* stitches = nullptr;
    std::optional<Box> cloth;
    std::vector<Mark> marks;
    std::vector<GuideLine> guides{};
    std::vector<MarkingStep> plan{}; ///< on pages of its own, after the template
    std::vector<Polyline> frames{};  ///< outer edges of the frames, cloth frame, in sewing order
    int hooping = 0;                 ///< from 1, where it shows one hooping: its card's number
};

/// The file's bytes, and how many pages.
struct TemplateDocument {
    std::string pdf;
    int pages = 0;
};

/// The template's pages alone. Gives how many; fails as makeTemplate does.
Result<int> drawTemplate(PdfPages& pages, const PdfFonts& fonts, const TemplateContent& content,
                         const TemplateOptions& options);

/// Template and marking plan. Fails (cannotDo) for an empty design, for layouts over 400 pages,
/// and for a card on a template that is mirrored or shows the whole cloth.
Result<TemplateDocument> makeTemplate(const TemplateContent& content,
                                      const TemplateOptions& options);

/// The pages of the marking plan: cloth, lines, frames and marks small, and what to do in words.
/// Gives how many.
int drawMarkingPlan(PdfPages& pages, const PdfFonts& fonts, const TemplateContent& content,
                    Sheet sheet);

/// What of a job a template shows.
struct TemplateScope {
    std::optional<int> hooping{}; ///< from 1, in its field frame, with its marks
    std::string piece{};          ///< id, in the cloth frame
};
struct CroppedTemplate {
    std::shared_ptr<const StitchList> list; ///< that the content refers to
    TemplateContent content;
};
/// Cropped to one hooping or piece; by default the only hooping, else all stitching as one. Fails
/// (cannotDo) for hoopings and pieces that are not there, with those that are.
Result<CroppedTemplate> templateOf(const Job& job, const StitchedJob& stitched,
                                   const std::vector<HoopingList>& lists,
                                   const TemplateScope& scope);

/// The content of a whole job: its stitches, its cloth, and of its hoopings the marks and the plan
/// for drawing them.
TemplateContent templateOf(const Job& job, const StitchList& stitched, const Library& library);

} // namespace rapt
