#include "formats/run_journal.h"

#include "base/file_io.h"
#include "base/json_fields.h"

#include <chrono>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <fmt/format.h>
#include <unistd.h>

namespace rapt {
using nlohmann::json;

namespace {

constexpr std::size_t maxBytes = 64'000'000;
using Clock = std::chrono::steady_clock;

std::string pathOf(const std::string& folder, const std::string& mark) {
    return folder + "/" + mark + ".jsonl";
}

/// One line into the record; what makes no sense is left out.
void take(const json& line, RunRecord& record) {
    if (!line.is_object()) return;
    const auto count = [&](const char* key) {
        return line.contains(key) && line[key].is_number_unsigned()
                   ? std::optional(line[key].get<std::size_t>())
                   : std::nullopt;
    };
    const auto text = [&](const char* key) {
        return line.contains(key) && line[key].is_string() ? line[key].get<std::string>()
                                                           : std::string();
    };
    const double seconds = line.contains("seconds") && line["seconds"].is_number()
                               ? line["seconds"].get<double>()
                               : record.seconds;
    if (const auto of = count("of")) {
        record.of = *of;
        record.job = text("job");
        record.jobId = text("job_id");
        record.hooping =
            static_cast<int>(std::clamp<std::size_t>(count("hooping").value_or(1), 1, 100'000));
    }
    if (const auto from = count("begin")) record.begin(*from);
    if (const auto sewn = count("sewn")) record.progress(*sewn, seconds);
    StopKind kind{};
    if (line.contains("stopped") && parseStopKind(text("stopped"), kind)) record.stopped(kind);
    if (line.contains("finished")) record.finish();
    if (const std::string step = text("step"); !step.empty()) {
        if (line.contains("done") && line["done"] == false)
            record.steps.erase(step);
        else
            record.steps.insert(step);
    }
}

} // namespace

struct RunJournal::File {
    int fd = -1;
    Clock::time_point last = Clock::now();
    ~File() {
        if (fd >= 0) ::close(fd);
    }
};

RunJournal::RunJournal() = default;
RunJournal::~RunJournal() = default;
RunJournal::RunJournal(RunJournal&&) noexcept = default;
RunJournal& RunJournal::operator=(RunJournal&&) noexcept = default;

Result<RunJournal> RunJournal::open(const std::string& folder, const RunRecord& record) {
    std::error_code ec;
    std::filesystem::create_directories(folder, ec);
    const std::string path = pathOf(folder, record.mark);
    RunJournal journal;
    journal.file = std::make_unique<File>();
    journal.file->fd = ::open(path.c_str(), O_RDWR | O_CREAT | O_APPEND | O_CLOEXEC, 0600);
    if (journal.file->fd < 0)
        return badInput(std::string("the run's journal cannot be written: ") + std::strerror(errno),
                        {}, path);
    const off_t size = ::lseek(journal.file->fd, 0, SEEK_END);
    char last = '\n';
    if (size > 0 && ::pread(journal.file->fd, &last, 1, size - 1) == 1 && last != '\n')
        journal.write("", true);
    if (size == 0)
        journal.write(json{{"of", record.of},
                           {"job", record.job},
                           {"job_id", record.jobId},
                           {"hooping", record.hooping}}
                          .dump(-1, ' ', false, json::error_handler_t::replace),
                      true);
    return journal;
}

void RunJournal::write(const std::string& line, bool flush) {
    if (!file) return;
    const std::string text = line + "\n";
    if (::write(file->fd, text.data(), text.size()) < 0) return; // the machine's own count is left
    if (flush) ::fdatasync(file->fd);
    file->last = Clock::now();
}

void RunJournal::began(std::size_t from) { write(json{{"begin", from}}.dump(), true); }

void RunJournal::progress(std::size_t sewn, double seconds) {
    if (!file || Clock::now() - file->last < std::chrono::milliseconds(250)) return;
    write(json{{"sewn", sewn}, {"seconds", seconds}}.dump(), false);
}

void RunJournal::stopped(const RunEvent& e) {
    write(json{{"sewn", e.sewn}, {"seconds", e.seconds}, {"stopped", nameOf(e.kind)}}.dump(), true);
}

void RunJournal::finished(std::size_t sewn, double seconds) {
    write(json{{"sewn", sewn}, {"seconds", seconds}, {"finished", true}}.dump(), true);
}

void RunJournal::confirmed(const std::string& step, bool yes) {
    write(json{{"step", step}, {"done", yes}}.dump(), false);
}

Result<std::optional<RunRecord>> readRunJournal(const std::string& folder,
                                                const std::string& mark) {
    const std::string path = pathOf(folder, mark);
    std::error_code ec;
    if (!std::filesystem::exists(path, ec)) return std::optional<RunRecord>();
    const auto text = readWholeFile(path, maxBytes);
    if (!text) return text.error();
    RunRecord record;
    record.mark = mark;
    for (std::size_t at = 0; at < text->size();) {
        const std::size_t end = std::min(text->find('\n', at), text->size());
        const json line =
            json::parse(text->begin() + static_cast<std::ptrdiff_t>(at),
                        text->begin() + static_cast<std::ptrdiff_t>(end), nullptr, false);
        try {
            take(line, record);
        } catch (const json::exception&) {
            // A line of another form tells nothing.
        }
        at = end + 1;
    }
    return record.of > 0 ? std::optional(std::move(record)) : std::nullopt;
}

void removeRunJournal(const std::string& folder, const std::string& mark) {
    std::error_code ec;
    std::filesystem::remove(pathOf(folder, mark), ec);
}

} // namespace rapt
