#include "handover/handover.h"

#include "base/csv.h"
#include "divide/frames.h"
#include "formats/stitch_csv.h"
#include "handover/stick_names.h"

#include <algorithm>
#include <charconv>
#include <fmt/format.h>

namespace rapt {
namespace {

constexpr const char* originWord = "handed-over";

std::string megabytes(std::int64_t bytes) {
    return bytes < 1'000'000 ? fmt::format("{} kB", (bytes + 999) / 1000)
                             : fmt::format("{:.1f} MB", static_cast<double>(bytes) / 1e6);
}

std::optional<Error> fieldsProblem(const Job& job, const std::vector<HoopingList>& lists,
                                   const Machine& machine, const Library& library) {
    for (std::size_t i = 0; i < lists.size(); ++i) {
        const Hooping& h = job.hoopings[i];
        const std::string place = fmt::format("hooping {}", i + 1);
        const auto hoop = library.hoop(h.hoop);
        if (!hoop) return cannotDo(hoop.error().reason, place);
        const std::string problem = frameProblem(*hoop, machine);
        if (!problem.empty()) return cannotDo(problem, place);
        for (const Stitch& s : lists[i].list.stitches)
            if (s.op == Op::stitch && !hoop->reaches(s.at()))
                return cannotDo(fmt::format("a stitch at {:.1f}, {:.1f} mm lies outside its field; "
                                            "divide again, or register anew",
                                            s.at().x, s.at().y),
                                place);
    }
    return std::nullopt;
}

std::optional<Error> roomProblem(const Handover& plan, const Machine& machine,
                                 const Receiver& receiver, bool removes) {
    const std::size_t going = removes ? plan.outdated.size() : 0;
    const std::size_t count = receiver.there.size() - going + plan.files.size();
    if (count > static_cast<std::size_t>(receiver.places))
        return cannotDo(
            fmt::format("{} would hold {} designs, {} {} {}; take some away first",
                        receiver.isStick ? "the stick" : "the machine", count, machine.name,
                        receiver.isStick ? "lists at most" : "holds at most", receiver.places));
    std::int64_t needed = 0;
    for (const HandoverFile& f : plan.files) {
        const auto bytes = static_cast<std::int64_t>(f.text.size());
        needed += bytes;
        if (bytes > machine.memoryBytes)
            return cannotDo(fmt::format("{} takes {}, the memory of {} is {}", f.file,
                                        megabytes(bytes), machine.name,
                                        megabytes(machine.memoryBytes)),
                            fmt::format("hooping {}", f.hooping + 1));
    }
    std::int64_t freed = 0;
    for (const StoredDesign& d : receiver.there)
        if (!receiver.isStick && removes &&
            std::find(plan.outdated.begin(), plan.outdated.end(), d.file) != plan.outdated.end())
            freed += d.bytes;
    if (needed > receiver.freeBytes + freed)
        return cannotDo(fmt::format("{} are needed and {} are free on {}; make room first",
                                    megabytes(needed), megabytes(receiver.freeBytes + freed),
                                    receiver.isStick ? "the stick" : machine.name));
    return std::nullopt;
}

} // namespace

std::string handedText(const Job& job, const StitchList& list, std::size_t hooping) {
    StitchList marked = list;
    std::erase_if(marked.remarks,
                  [](const std::string& r) { return r.find(originWord) != std::string::npos; });
    marked.remarks.push_back(fmt::format("# {},{},{},{},{}", originWord, quotedCsvField(job.name),
                                         hooping + 1, contentMark(list, job.identity),
                                         quotedCsvField(job.identity.text)));
    marked.name = fmt::format("{} {}", job.name, hooping + 1);
    return formatStitchCsv(marked);
}

std::vector<std::string> Handover::leftOver() const {
    std::vector<std::string> names = outdated;
    std::erase_if(names, [&](const std::string& name) {
        return std::any_of(files.begin(), files.end(),
                           [&](const HandoverFile& f) { return f.file == name; });
    });
    return names;
}

std::string contentMark(const StitchList& list, const JobIdentity& job) {
    std::uint64_t h = 1469598103934665603ull; // FNV-1a
    const auto add = [&](std::uint64_t value) {
        for (int i = 0; i < 8; ++i) h = (h ^ ((value >> (8 * i)) & 0xFF)) * 1099511628211ull;
    };
    for (const char c : job.text) add(static_cast<std::uint8_t>(c));
    for (const Stitch& s : list.stitches) {
        add(static_cast<std::uint32_t>(s.x) |
            static_cast<std::uint64_t>(static_cast<std::uint32_t>(s.y)) << 32);
        add(static_cast<std::uint64_t>(s.op) << 8 | s.thread);
    }
    for (const Thread& t : list.threads) {
        add(static_cast<std::uint64_t>(t.color.r) << 16 | t.color.g << 8 | t.color.b);
        for (const char c : t.name) add(static_cast<std::uint8_t>(c));
    }
    return fmt::format("{:016x}", h);
}

StoredDesign originOf(const StitchList& list) {
    StoredDesign origin;
    std::vector<std::string> fields;
    for (const std::string& remark : list.remarks) {
        const auto at = remark.find(originWord);
        if (at == std::string::npos || !splitCsvRecord(remark.substr(at), fields)) continue;
        if (fields.size() != 4 && fields.size() != 5) continue;
        const std::string& n = fields[2];
        std::from_chars(n.data(), n.data() + n.size(), origin.hooping);
        origin.job = fields[1];
        origin.mark = fields[3];
        if (fields.size() == 5) origin.jobId = fields[4];
    }
    return origin;
}

Result<Handover> planHandover(const Job& job, const std::vector<HoopingList>& lists,
                              const Machine& machine, const Library& library,
                              const Receiver& receiver, bool removeOutdated) {
    if (auto error = fieldsProblem(job, lists, machine, library)) return *error;
    Handover plan;
    std::vector<std::string> taken;
    for (const StoredDesign& d : receiver.there) {
        if (d.isOf(job)) plan.outdated.push_back(d.file);
        if (!d.isOf(job) || !removeOutdated) taken.push_back(d.file);
    }
    const auto names = stickNames(job.name, lists.size(), machine.stick, taken);
    for (std::size_t i = 0; i < lists.size(); ++i)
        if (lists[i].stitches > 0) // else sewn before
            plan.files.push_back({i, names[i] + stickEnding, handedText(job, lists[i].list, i)});
    if (auto error = roomProblem(plan, machine, receiver, removeOutdated)) return *error;
    return plan;
}

std::string differenceFrom(const StitchList& handedOver, const StitchList& back) {
    if (handedOver.threads != back.threads) return "its threads are not those handed over";
    const auto& a = handedOver.stitches;
    const auto& b = back.stitches;
    for (std::size_t i = 0; i < std::min(a.size(), b.size()); ++i)
        if (!(a[i] == b[i]))
            return fmt::format("it differs from what was handed over at record {}", i + 1);
    if (a.size() != b.size())
        return fmt::format("it has {} records, {} were handed over", b.size(), a.size());
    return {};
}

} // namespace rapt
