#include "record/record_csv.h"

#include "base/csv.h"
#include "base/file_io.h"
#include "base/text.h"
#include "record/columns.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>

namespace rapt {
namespace {

/// 128 bits of FNV-1a, two ways. It tells records apart; nobody is kept out by it.
std::string markOf(const std::string& text) {
    std::uint64_t a = 14695981039346656037ull, b = 1099511628211ull;
    for (const char c : text) {
        a = (a ^ static_cast<unsigned char>(c)) * 1099511628211ull;
        b = (b + static_cast<unsigned char>(c)) * 6364136223846793005ull + 1442695040888963407ull;
    }
    return fmt::format("{:016x}{:016x}", a, b);
}

std::string lineOf(const StitchOut& record) {
    std::string line;
    for (std::size_t c = 0; c < recordColumns().size(); ++c)
        line += (c ? "," : "") + quotedCsvField(cellOf(record, c));
    return line;
}

Result<std::vector<std::size_t>> columnsOf(std::string_view header, const std::string& file) {
    std::vector<std::string> names;
    if (!splitCsvRecord(header, names))
        return badInput("the header's quotes are wrong", "line 1", file);
    std::vector<std::size_t> columns;
    for (const std::string& name : names) {
        const auto& known = recordColumns();
        const auto it = std::find_if(known.begin(), known.end(), [&](const RecordColumn& c) {
            return c.name == trimmed(name);
        });
        if (it == known.end())
            return badInput(fmt::format("there is no column '{}'; see docs/formats.md", name),
                            "line 1", file);
        const auto number = static_cast<std::size_t>(it - known.begin());
        if (std::find(columns.begin(), columns.end(), number) != columns.end())
            return badInput(fmt::format("the column '{}' stands twice", name), "line 1", file);
        columns.push_back(number);
    }
    return columns;
}

Result<StitchOut> recordOf(const CsvRecord& line, const std::vector<std::size_t>& columns,
                           const std::string& file) {
    const std::string place = fmt::format("line {}", line.line);
    std::vector<std::string> cells;
    if (!splitCsvRecord(line.text, cells)) return badInput("the quotes are wrong", place, file);
    if (cells.size() != columns.size())
        return badInput(
            fmt::format("has {} cells where the header has {}", cells.size(), columns.size()),
            place, file);
    StitchOut record;
    for (std::size_t c = 0; c < cells.size(); ++c)
        if (const Status set = setCell(record, columns[c], cells[c]); !set)
            return badInput(set.error().reason, place + ", " + set.error().place, file);
    if (const auto problem = problemOf(record)) return badInput(*problem, place, file);
    record.id = 0;
    record.revision = 1;
    return record;
}

} // namespace

std::string formatRecordsCsv(const std::vector<StitchOut>& records) {
    std::string text;
    for (const RecordColumn& c : recordColumns()) text += (text.empty() ? "" : ",") + c.name;
    text += '\n';
    for (const StitchOut& r : records) text += lineOf(r) + '\n';
    return text;
}

Result<std::vector<StitchOut>> parseRecordsCsv(std::string_view text, const std::string& file) {
    if (!isPlainUtf8(text)) return badInput("is not UTF-8 text", {}, file);
    const auto lines = csvRecordsOf(text);
    if (lines.empty()) return badInput("is empty; the first line names the columns", {}, file);
    const auto columns = columnsOf(lines.front().text, file);
    if (!columns) return columns.error();
    std::vector<StitchOut> records;
    std::map<std::string, int> alike;
    for (std::size_t i = 1; i < lines.size(); ++i) {
        auto record = recordOf(lines[i], *columns, file);
        if (!record) return record.error();
        if (record->uid.empty()) {
            const std::string content = lineOf(*record);
            record->uid = rowUid + markOf(fmt::format("{} {}", alike[content]++, content));
        }
        records.push_back(std::move(*record));
    }
    return records;
}

} // namespace rapt
