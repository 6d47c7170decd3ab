// template, sheets: what is printed at true scale.

#include "cli/planned.h"

#include "base/file_io.h"
#include "base/paths.h"
#include "check/check.h"
#include "divide/self_hooping.h"
#include "formats/job_file.h"
#include "formats/needles_file.h"
#include "formats/palette_files.h"
#include "sheets/quote_pdf.h"
#include "sheets/sheets.h"

#include <ctime>
#include <fmt/format.h>
#include <memory>

namespace rapt::cli {
namespace {

/// What both verbs take.
struct PrintArguments {
    std::string path, out;
    std::string paper = "a4";
    bool mirror = false, outline = false, chart = false, card = false;
    std::optional<int> hooping; ///< of a template: what it shows
    std::string piece;
    bool cloth = false;
    double grid = 0, cut = 0;

    TemplateOptions options() const {
        return {mirror,
                paper == "letter" ? Paper::letter : Paper::a4,
                dataFolder() + "/faces",
                outline ? TemplateLook::outline : TemplateLook::thread,
                grid,
                cut,
                chart,
                card};
    }
};

void takePrinting(CLI::App& verb, PrintArguments& a) {
    verb.add_option("-o", a.out, "PDF to write")->required();
    verb.add_option("--paper", a.paper, "a4 or letter")->check(CLI::IsMember({"a4", "letter"}));
    verb.add_flag("--mirror", a.mirror, "the template: left and right change places");
    verb.add_flag("--outline", a.outline, "the template: the line round the stitching");
    verb.add_flag("--chart", a.chart, "the template: a page of all threads with their swatches");
    verb.add_option("--grid", a.grid, "the template: lines at this distance, mm")
        ->check(CLI::Range(1.0, 500.0));
    verb.add_option("--cut", a.cut, "the template: a line to cut along, so far out, mm")
        ->check(CLI::Range(0.5, 100.0));
}

Outcome written(const Result<TemplateDocument>& document, const PrintArguments& a) {
    if (!document) {
        const Error& e = document.error();
        return e.file.empty() ? e.inside(a.path) : e;
    }
    const Status put = writeWholeFile(a.out, document->pdf);
    if (!put) return put.error();
    Answer answer;
    answer.json["pages"] = document->pages;
    answer.text = fmt::format("{}: {} page{} at true scale\n", a.out, document->pages,
                              document->pages == 1 ? "" : "s");
    return answer;
}

Outcome printTemplate(const PrintArguments& a) {
    const Result<DesignOrJob> input = readDesignOrJob(a.path);
    if (!input) return input.error();
    if (!input->job) {
        if (a.hooping || !a.piece.empty() || a.cloth)
            return cannotDo("a design alone has no hoopings, pieces or cloth", {}, a.path);
        TemplateContent content;
        content.title = input->design->name.empty() ? "Design" : input->design->name;
        content.stitches = &*input->design;
        return written(makeTemplate(content, a.options()), a);
    }
    const Result<Library> lib = library();
    if (!lib) return lib.error();
    StitchCache cache;
    Job job = *input->job;
    if (job.hoopings.empty() && !a.cloth && a.piece.empty()) {
        auto hooped = hoopedByItself(job, *lib, cache);
        if (hooped && *hooped) job = std::move(**hooped);
        if (a.hooping && job.hoopings.empty()) {
            const auto reason = hoopedOrReason(job, *lib, cache);
            if (!reason) return reason.error().inside(a.path);
        }
    }
    Result<StitchedJob> stitched = stitchJob(job, &cache);
    if (!stitched) return stitched.error().inside(a.path);
    if (a.cloth)
        return written(makeTemplate(templateOf(job, stitched->list, *lib), a.options()), a);
    std::vector<HoopingList> lists;
    if (!job.hoopings.empty() && a.piece.empty()) {
        auto listed = hoopingLists(job, *lib, &cache);
        if (!listed) return listed.error().inside(a.path);
        lists = std::move(*listed);
    }
    const auto cropped = templateOf(job, *stitched, lists, {a.hooping, a.piece});
    if (!cropped) return cropped.error().inside(a.path);
    return written(makeTemplate(cropped->content, a.options()), a);
}

struct SheetsArguments : PrintArguments {
    std::string machine;
    std::vector<std::string> only;
    int cards = 12;
    bool quote = false;
    int quantity = 0; ///< of a quote; 0: the job's own
};

SheetParts partsOf(const std::vector<std::string>& only) {
    if (only.empty()) return {};
    const auto has = [&](const char* name) {
        return std::find(only.begin(), only.end(), name) != only.end();
    };
    return {has("job"),   has("hoopings"), has("marking"), has("template"),
            has("cards"), has("tags"),     has("board")};
}

std::string today() {
    const std::time_t now = std::time(nullptr);
    std::tm local{};
    localtime_r(&now, &local);
    return fmt::format("{:04}-{:02}-{:02}", local.tm_year + 1900, local.tm_mon + 1, local.tm_mday);
}

Outcome printQuote(const SheetsArguments& a, const Planned& planned) {
    const auto stitched = stitchJob(planned.job);
    if (!stitched) return stitched.error().inside(a.path);
    const auto work = workOf(planned.job.hoopings, planned.lists, planned.machine, planned.fabric,
                             planned.library);
    if (!work) return work.error().inside(a.path);
    const auto shop = loadShop(dataFolder(), userDataFolder());
    if (!shop) return shop.error();
    return written(
        makeQuote({planned.job, stitched->list, *work, planned.machine, planned.fabric, *shop,
                   a.quantity > 0 ? a.quantity : planned.job.brief.quantity, today(), a.options()}),
        a);
}

Outcome printSheets(const SheetsArguments& a) {
    const auto planned = plannedJob(a.path, a.machine, a.quote);
    if (!planned) return planned.error();
    if (a.quote) return printQuote(a, *planned);
    StitchCache cache;
    const auto checked = checkJob(planned->job, planned->library, &cache);
    if (!checked) return checked.error().inside(a.path);
    auto threaded = readNeedles(userDataFolder());
    if (!threaded) return threaded.error();
    SheetsRequest request{planned->job,           planned->lists,
                          checked->stitched.list, planned->library,
                          planned->machine,       planned->fabric,
                          checked->findings,      (*threaded)[planned->machine.id]};
    if (const auto owned = loadThreads(dataFolder(), userDataFolder())) request.owned = *owned;
    request.parts = partsOf(a.only);
    request.cards = a.cards;
    request.printing = a.options();
    return written(makeSheets(request), a);
}

} // namespace

void addPrintVerbs(Run& run) {
    auto t = std::make_shared<PrintArguments>();
    CLI::App* verb =
        run.addVerb("template", "A true-scale template as PDF", [t] { return printTemplate(*t); });
    verb->add_option("DESIGN|JOB", t->path, "stitch list or job")->required();
    auto* hooping = verb->add_option("--hooping", t->hooping, "this hooping alone (the only one)");
    auto* piece = verb->add_option("--piece", t->piece, "this piece alone, by its id");
    auto* cloth = verb->add_flag("--cloth", t->cloth, "the whole cloth, with marks and plan");
    piece->excludes(hooping);
    cloth->excludes(hooping)->excludes(piece);
    verb->add_flag("--card", t->card, "with a locator card, by which a scan finds the paper")
        ->excludes(cloth);
    takePrinting(*verb, *t);

    auto p = std::make_shared<SheetsArguments>();
    verb = run.addVerb("sheets", "What goes with the job to the machine, as a PDF at true scale",
                       [p] { return printSheets(*p); });
    verb->add_option("JOB", p->path, "job")->required();
    verb->add_option("--machine", p->machine, "machine id (the job's own)");
    verb->add_option("--only", p->only,
                     "job, hoopings, marking, template, cards, tags or board; may be given more "
                     "than once (job, hoopings and marking)")
        ->expected(1)
        ->take_all()
        ->check(
            CLI::IsMember({"job", "hoopings", "marking", "template", "cards", "tags", "board"}));
    verb->add_option("--cards", p->cards, "so many locator cards (12)")->check(CLI::Range(1, 400));
    verb->add_flag("--quote", p->quote,
                   "only a quote for the customer, without the shop's inner figures");
    verb->add_option("--quantity", p->quantity, "of the quote (the job's own)")
        ->check(CLI::Range(1, 1'000'000))
        ->check(CLI::Range(1, 1'000'000));
    takePrinting(*verb, *p);
}

} // namespace rapt::cli
