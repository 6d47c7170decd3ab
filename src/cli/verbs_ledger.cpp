// ledger: records of stitch-outs, and what they teach. Built only with Qt.

#include "cli/output.h"
#include "cli/planned.h"

#include "base/file_io.h"
#include "base/number.h"
#include "base/paths.h"
#include "formats/job_file.h"
#include "learn/lessons.h"
#include "ledger/shared_ledger.h"
#include "ledger/taking_in.h"
#include "record/columns.h"
#include "record/describe.h"
#include "record/record_csv.h"

#include <QCoreApplication>
#include <QDate>
#include <QSysInfo>
#include <QUuid>
#include <fmt/format.h>

namespace rapt::cli {
namespace {

using nlohmann::ordered_json;

constexpr int pageRecords = 500;
constexpr std::size_t mostCsvBytes = 1'000'000'000;
constexpr std::size_t mostPhotoBytes = 64'000'000;

struct AddArguments {
    std::string path, outcome, note, cause, customer, machine, date, photo;
    std::vector<double> gaps;
    std::optional<double> seconds, minutes;
};
struct LedgerArguments {
    AddArguments add;
    std::vector<std::string> words;
    std::string fabric, outcome, from, to, out, in, learnFabric, destination;
    int most = 1'000'000;
    std::optional<double> size;
};

ordered_json recordJson(const StitchOut& r) {
    ordered_json json;
    for (std::size_t c = 0; c < recordColumns().size(); ++c) {
        const RecordColumn& column = recordColumns()[c];
        const std::string cell = cellOf(r, c);
        switch (column.kind) {
        case CellKind::text:
            json[column.name] = cell;
            break;
        case CellKind::list:
            json[column.name] =
                cell.empty() ? ordered_json::array() : ordered_json::parse(cell, nullptr, false);
            break;
        case CellKind::integer:
            json[column.name] = std::stoll(cell);
            break;
        case CellKind::number:
            json[column.name] =
                cell.empty() ? ordered_json() : ordered_json(parseNumber(cell).value_or(0));
        }
    }
    return json;
}

std::string recordLine(const StitchOut& r) {
    return fmt::format("{:>6}  {}  {:<8} {:<28} {:<10} {}\n", r.id ? fmt::to_string(r.id) : "–",
                       r.date, r.outcome, r.job, r.fabric, r.note.substr(0, r.note.find('\n')));
}

/// The ledger of this bench, with what a person should know of it said on the side.
Result<SharedLedger> openLedger() {
    // Qt finds its database drivers by its application.
    static int argc = 1;
    static char name[] = "rapt";
    static char* argv[] = {name, nullptr};
    static QCoreApplication application(argc, argv);
    std::setlocale(LC_NUMERIC, "C"); // what libraries write and read has the point
    const auto place = ledgerPlace();
    if (!place) return place.error();
    SharedLedger ledger;
    if (const Status opened = ledger.open(*place); !opened) return opened.error();
    if (!ledger.notice().isEmpty()) fmt::print(stderr, "rapt: {}\n", ledger.notice().toStdString());
    return ledger;
}

Status checkAdd(const AddArguments& a) {
    for (const double gap : a.gaps)
        if (!(gap >= 0 && gap < 1000)) return cannotDo("--gap must be 0 to 1000 mm");
    if (a.seconds && !(*a.seconds >= 0)) return cannotDo("--seconds must be 0 or more");
    if (a.minutes && !(*a.minutes >= 0)) return cannotDo("--minutes must be 0 or more");
    return done();
}

/// What the job tells, and what the person says of it.
Result<StitchOut> recordOf(const AddArguments& a) {
    const auto job = readJobFile(a.path);
    if (!job) return job.error();
    const auto lib = library();
    if (!lib) return lib.error();
    const auto shop = loadShop(dataFolder(), userDataFolder());
    if (!shop) return shop.error();
    // One that no frame holds was sewn all the same, or there would be nothing to keep.
    const auto planned = plannedJob(a.path, a.machine, true);
    const Planned* p = planned ? &*planned : nullptr;
    const auto machine = lib->machine(a.machine.empty() ? job->brief.machine : a.machine);
    if (!machine) return machine.error();
    const auto fabric = lib->fabric(job->brief.fabric);
    if (!fabric) return fabric.error().inside(a.path);
    StitchCache cache;
    static const std::vector<HoopingList> none;
    auto record = describeStitchOut(
        {p ? p->job : *job, p ? p->lists : none, *machine, *fabric, *lib, *shop}, cache);
    if (!record) return record.error().inside(a.path);
    record->date =
        a.date.empty() ? QDate::currentDate().toString(Qt::ISODate).toStdString() : a.date;
    record->bench = QSysInfo::machineHostName().toStdString();
    record->outcome = a.outcome;
    record->note = a.note;
    record->cause = a.cause;
    if (!a.customer.empty()) record->customer = a.customer;
    record->gapsMm = a.gaps;
    record->secondsTaken = a.seconds;
    record->labourMinutes = a.minutes;
    return record;
}

Result<std::vector<LedgerFile>> filesOf(const AddArguments& a, StitchOut& record) {
    std::vector<LedgerFile> files;
    const auto keep = [&](const char* kind, const std::string& bytes, std::string& hash) {
        files.push_back(ledgerFile(kind, QByteArray::fromStdString(bytes)));
        hash = files.back().hash.toStdString();
    };
    const auto job = readJobFile(a.path);
    if (!job) return job.error();
    const auto packed = packJob(*job);
    if (!packed) return packed.error();
    keep("job", *packed, record.jobFile);
    if (!a.photo.empty()) {
        const auto photo = readWholeFile(a.photo, mostPhotoBytes);
        if (!photo) return photo.error();
        keep("photo", *photo, record.photo);
    }
    return files;
}

Outcome add(const AddArguments& a) {
    if (const Status fine = checkAdd(a); !fine) return fine.error();
    auto record = recordOf(a);
    if (!record) return record.error();
    record->uid = QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
    const auto files = filesOf(a, *record);
    if (!files) return files.error();
    auto ledger = openLedger();
    if (!ledger) return ledger.error();
    const auto id = ledger->add(*record, *files);
    if (!id) return id.error();
    record->id = id->value_or(0);
    Answer answer;
    answer.json["records"] = {recordJson(*record)};
    answer.json["waiting"] = ledger->waiting();
    answer.text = recordLine(*record);
    if (!*id) answer.text += "kept here; it is sent when the server answers\n";
    return answer;
}

Outcome find(const LedgerArguments& a) {
    RecordQuery query;
    for (const std::string& w : a.words) query.text += QString::fromStdString(w) + ' ';
    query.fabric = QString::fromStdString(a.fabric);
    query.outcome = QString::fromStdString(a.outcome);
    query.from = QString::fromStdString(a.from);
    query.to = QString::fromStdString(a.to);
    query.sizeMm = a.size;
    auto ledger = openLedger();
    if (!ledger) return ledger.error();
    const auto records = ledger->with([&](Ledger& l) { return l.find(query, a.most); });
    if (!records) return records.error();
    const auto count = ledger->with([&](Ledger& l) { return l.count(query); });
    if (!count) return count.error();
    Answer answer;
    answer.json = {{"count", *count}, {"records", ordered_json::array()}};
    for (const StitchOut& r : *records) {
        answer.json["records"].push_back(recordJson(r));
        answer.text += recordLine(r);
    }
    answer.text += fmt::format("{} record{}\n", *count, *count == 1 ? "" : "s");
    return answer;
}

/// All records, in the order they were added.
Result<std::vector<StitchOut>> everything(SharedLedger& ledger) {
    std::vector<StitchOut> all;
    while (true) {
        const qint64 last = all.empty() ? 0 : all.back().id;
        auto page = ledger.with([&](Ledger& l) { return l.addedAfter(last, pageRecords); });
        if (!page) return page.error();
        if (page->empty()) return all;
        all.insert(all.end(), std::make_move_iterator(page->begin()),
                   std::make_move_iterator(page->end()));
    }
}

Outcome exportCsv(const std::string& out) {
    auto ledger = openLedger();
    if (!ledger) return ledger.error();
    const auto records = everything(*ledger);
    if (!records) return records.error();
    if (const Status written = writeWholeFile(out, formatRecordsCsv(*records)); !written)
        return written.error();
    Answer answer;
    answer.json = {{"records", records->size()}, {"file", out}};
    answer.text = fmt::format("{} records in {}\n", records->size(), out);
    return answer;
}

Outcome importCsv(const std::string& in) {
    const auto text = readWholeFile(in, mostCsvBytes);
    if (!text) return text.error();
    const auto records = parseRecordsCsv(*text, in);
    if (!records) return records.error();
    auto ledger = openLedger();
    if (!ledger) return ledger.error();
    const auto added = ledger->with([&](Ledger& l) { return takeIn(l, *records); });
    if (!added) return added.error();
    Answer answer;
    answer.json = {{"read", records->size()}, {"added", *added}};
    answer.text = fmt::format("{} of {} records were new\n", *added, records->size());
    return answer;
}

ordered_json lessonJson(const Lesson& l, const char* subject) {
    return {{subject, l.subject},     {"kind", l.kind},
            {"house", l.house},       {"learnt", l.learnt},
            {"cases", l.cases},       {"interval", {l.interval.low, l.interval.high}},
            {"level", intervalLevel}, {"settled", l.isSettled},
            {"news", l.isNews},       {"evidence", l.evidence}};
}

std::string lessonLine(const Lesson& l) {
    return fmt::format("{:<28} {:>7.2f} {:<10} {} ({})\n", l.title, l.learnt, l.unit,
                       l.isNews      ? fmt::format("instead of {:.2f}", l.house)
                       : l.isSettled ? "as the house value"
                                     : "stays with the house value",
                       l.evidence);
}

Outcome learn(const std::string& fabric) {
    const auto house = loadHouseLibrary(dataFolder(), userDataFolder());
    if (!house) return house.error();
    const auto shop = loadHouseShop(dataFolder(), userDataFolder());
    if (!shop) return shop.error();
    std::optional<Fabric> only;
    if (!fabric.empty()) {
        const auto found = house->fabric(fabric);
        if (!found) return found.error();
        only = *found;
    }
    auto ledger = openLedger();
    if (!ledger) return ledger.error();
    const auto records = everything(*ledger);
    if (!records) return records.error();
    Answer answer;
    ordered_json limits = ordered_json::array(), others = ordered_json::array();
    std::vector<Lesson> lessons = lessonsOf(*records, *house, *shop);
    if (only) {
        std::erase_if(lessons,
                      [](const Lesson& l) { return l.kind == "layers" || l.kind == "hits"; });
        const auto own = limitLessons(*records, *only);
        lessons.insert(lessons.begin(), own.begin(), own.end());
    }
    for (const Lesson& l : lessons) {
        const bool limit = l.kind == "layers" || l.kind == "hits";
        (limit ? limits : others).push_back(lessonJson(l, limit ? "fabric" : "subject"));
        answer.text += lessonLine(l);
    }
    const auto placing = placingOf(*records);
    const auto factor = timeFactorOf(*records);
    answer.json = {
        {"limits", limits},
        {"placing_sigma_mm", placing ? placing->value : house->practice.placingSigmaMm()},
        {"placing_cases", placing ? placing->cases : 0},
        {"seconds_factor", factor ? factor->value : 1.0},
        {"seconds_cases", factor ? factor->cases : 0},
        {"others", others},
        {"records", records->size()}};
    if (lessons.empty()) answer.text = "no records yet: everything stays with the house values\n";
    return answer;
}

/// Everything into another ledger: to a server and back, and into a file as a copy.
Outcome moveTo(const std::string& destination) {
    const auto place = parseLedgerPlace(QString::fromStdString(destination), true);
    if (!place) return place.error();
    auto ledger = openLedger();
    if (!ledger) return ledger.error();
    Ledger other;
    if (const Status opened = other.open(*place); !opened) return opened.error();
    const auto copied = ledger->with([&](Ledger& l) { return copyLedger(l, other); });
    if (!copied) return copied.error();
    Answer answer;
    answer.json = {{"copied", *copied}, {"to", place->words().toStdString()}};
    answer.text = fmt::format("{} records copied to {}\n", *copied, place->words().toStdString());
    return answer;
}

void addAddVerb(CLI::App* verb, AddArguments* a) {
    verb->add_option("job", a->path, "the job that was sewn")->required();
    verb->add_option("--outcome", a->outcome, "good, mended or spoilt")
        ->required()
        ->check(CLI::IsMember(outcomes()));
    verb->add_option("--note", a->note, "what to keep, what to change");
    verb->add_option("--gap", a->gaps, "a gap measured at a join, mm; may stand several times")
        ->take_all();
    std::vector<std::string> known;
    for (const Cause& c : causes()) known.push_back(c.id);
    verb->add_option("--cause", a->cause, "what was wrong")->check(CLI::IsMember(known));
    verb->add_option("--customer", a->customer, "whose it is");
    verb->add_option("--machine", a->machine, "the machine, if not the job's");
    verb->add_option("--date", a->date, "the day, YYYY-MM-DD (today)");
    verb->add_option("--seconds", a->seconds, "how long it took");
    verb->add_option("--minutes", a->minutes, "a person's minutes for it");
    verb->add_option("--photo", a->photo, "a picture of what came of it");
}

} // namespace

void addLedgerVerbs(Run& run) {
    auto a = std::make_shared<LedgerArguments>();
    CLI::App* verb = run.addGroup("ledger", "records of stitch-outs, and what they teach");
    addAddVerb(run.addVerb(
                   "add", "keep a stitch-out", [a] { return add(a->add); }, verb),
               &a->add);
    CLI::App* f = run.addVerb(
        "find", "records that hold all words", [a] { return find(*a); }, verb);
    f->add_option("words", a->words,
                  "beginnings of words, names, threads, dates, sizes; all without any");
    f->add_option("--fabric", a->fabric, "only on this fabric");
    f->add_option("--outcome", a->outcome, "only that came out so")
        ->check(CLI::IsMember(outcomes()));
    f->add_option("--from", a->from, "from this day on, YYYY-MM-DD");
    f->add_option("--to", a->to, "up to this day");
    f->add_option("--size", a->size, "so long on their longer side, mm, within a tenth");
    f->add_option("--most", a->most, "so many at most (all)")->check(CLI::Range(1, 1'000'000));
    CLI::App* x = run.addVerb(
        "export", "all records as CSV", [a] { return exportCsv(a->out); }, verb);
    x->add_option("-o", a->out, "the CSV file")->required();
    CLI::App* i = run.addVerb(
        "import", "records out of a CSV", [a] { return importCsv(a->in); }, verb);
    i->add_option("csv", a->in, "the CSV file")->required();
    CLI::App* l = run.addVerb(
        "learn", "limits, placing and times by the records", [a] { return learn(a->learnFabric); },
        verb);
    l->add_option("--fabric", a->learnFabric, "limits of this fabric alone");
    CLI::App* c = run.addVerb(
        "copy", "everything into another ledger, doubling nothing",
        [a] { return moveTo(a->destination); }, verb);
    c->add_option("to", a->destination, "sqlite:FILE or postgresql://HOST/DATABASE")->required();
}

} // namespace rapt::cli
