#include "targets.h"

#include "base/file_io.h"
#include "base/json_fields.h"
#include "base/number.h"
#include "formats/job_file.h"
#include "formats/observations_file.h"
#include "formats/palette_files.h"
#include "formats/run_journal.h"
#include "formats/stitch_csv.h"
#include "formats/zip_archive.h"
#include "geometry/lengths.h"
#include "job/stitching.h"
#include "letter/name_list.h"
#include "library/library.h"
#include "record/record_csv.h"
#include "registration/points_csv.h"
#include "scan/image.h"
#include "standins/machine.h"
#include "svg/to_shapes.h"
#include "thread/measures.h"

#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <unistd.h>

namespace rapt::fuzz {
namespace {

/// A law that a reader broke.
[[noreturn]] void broken(const char* law) {
    std::fprintf(stderr, "broken: %s\n", law);
    std::abort();
}

/// For readers that take files: a folder of this process.
const std::string& folder() {
    static const std::string made = [] {
        std::string name = (std::filesystem::temp_directory_path() / "rapt-fuzz-XXXXXX").string();
        if (!::mkdtemp(name.data())) std::abort();
        return name;
    }();
    return made;
}

void asFile(const std::string& name, const std::string& bytes) {
    std::FILE* file = std::fopen((folder() + "/" + name).c_str(), "wb");
    if (!file) std::abort();
    std::fwrite(bytes.data(), 1, bytes.size(), file);
    std::fclose(file);
}

void stitchList(const std::string& bytes) {
    const auto list = parseStitchCsv(bytes, "x");
    if (!list) return;
    measure(*list);
    // What was read can be written and read again.
    const auto again = parseStitchCsv(formatStitchCsv(*list), "x");
    if (!again || measure(*again).stitches != measure(*list).stitches) broken("stitch list");
}

void job(const std::string& bytes) {
    const auto read = unpackJob(bytes, "x");
    if (!read) return;
    const auto packed = packJob(*read);
    if (!packed) return; // refused with a reason
    const auto again = unpackJob(*packed, "x");
    if (!again) broken("job");
    // Read again it is the same job: it is written as the same bytes.
    if (const auto twice = packJob(*again); !twice || *twice != *packed) broken("job bytes");
}

/// A job.json in a sound archive: mutations of an archive seldom get past its checksums.
void jobText(const std::string& bytes) {
    constexpr const char* list = "# rapt-stitches 1\n# thread,1,#e3a72f,40,Marigold\n"
                                 "op,x_mm,y_mm,thread\nstitch,0,0,1\nstitch,3,0,1\n";
    ArchiveMembers members;
    members["job.json"] = std::make_shared<const std::string>(bytes);
    for (const char* name : {"designs/delta-kite.stitch.csv", "designs/star.stitch.csv"})
        members[name] = std::make_shared<const std::string>(list);
    if (const auto packed = packArchive(members)) job(*packed);
}

void drawing(const std::string& bytes) {
    const auto read = readSvg(bytes, "x");
    if (!read) return;
    std::vector<std::string> left;
    piecesOf(*read, {}, left);
}

void library(const std::string& bytes) {
    asFile("hoops.json", bytes);
    (void)loadLibrary(folder(), "/nonexistent");
}

void observations(const std::string& bytes) {
    asFile("observations.json", bytes);
    (void)readObservationsFile(folder() + "/observations.json");
}

void points(const std::string& bytes) { (void)parsePointsCsv(bytes, "x"); }

void records(const std::string& bytes) { (void)parseRecordsCsv(bytes, "x"); }

void palette(const std::string& bytes) {
    const auto read = parseGpl(bytes, "x");
    if (read && !parseGpl(formatGpl(read->palette), "x")) broken("palette");
}

void names(const std::string& bytes) { (void)namesOf(bytes, "x"); }

void lengths(const std::string& bytes) {
    for (const LengthUnit unit : {LengthUnit::millimetre, LengthUnit::inch})
        if (const auto mm = parseLength(bytes, unit); mm && std::abs(*mm) < 1e6)
            (void)formatLength(*mm, unit);
    (void)parseNumber(bytes);
}

void journal(const std::string& bytes) {
    asFile("mark.jsonl", bytes);
    (void)readRunJournal(folder(), "mark");
}

/// Lines that a client sends, one after the other, while the machine's time goes on.
void messages(const std::string& bytes) {
    static const Library library = [] {
        const char* data = std::getenv("RAPT_DATA");
        const auto read = loadLibrary(data ? data : "data", "/nonexistent");
        if (!read) std::abort();
        return *read;
    }();
    standins::SimulatedMachine machine({library.machines.front(), library});
    std::size_t from = 0;
    for (int n = 0; n < 40 && from < bytes.size(); ++n) {
        const std::size_t end = std::min(bytes.find('\n', from), bytes.size());
        if (const auto request = parseJson(bytes.substr(from, end - from), "message"))
            if (!machine.answer(*request).is_object()) broken("message without an answer");
        machine.tick(7);
        from = end + 1;
    }
}

void picture(const std::string& bytes) { (void)decodeImage(bytes, "x"); }

} // namespace

const std::vector<Target>& targets() {
    static const std::vector<Target> all{{"stitch-list", stitchList},    {"job", job},
                                         {"job-text", jobText},          {"drawing", drawing},
                                         {"library", library},           {"points", points},
                                         {"observations", observations}, {"records", records},
                                         {"palette", palette},           {"names", names},
                                         {"lengths", lengths},           {"journal", journal},
                                         {"messages", messages},         {"picture", picture}};
    return all;
}

} // namespace rapt::fuzz
