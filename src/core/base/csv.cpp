#include "base/csv.h"

#include <algorithm>

namespace rapt {

bool splitCsvRecord(std::string_view line, std::vector<std::string>& fields) {
    fields.clear();
    std::size_t i = 0;
    while (true) {
        std::string field;
        if (i < line.size() && line[i] == '"') {
            for (++i;; ++i) {
                if (i >= line.size()) return false;
                if (line[i] != '"') {
                    field += line[i];
                } else if (i + 1 < line.size() && line[i + 1] == '"') {
                    field += line[i++];
                } else {
                    break;
                }
            }
            ++i;
        } else {
            while (i < line.size() && line[i] != ',') {
                if (line[i] == '"') return false;
                field += line[i++];
            }
        }
        fields.push_back(std::move(field));
        if (i >= line.size()) return true;
        if (line[i++] != ',') return false;
    }
}

std::string quotedCsvField(const std::string& field) {
    if (field.find_first_of(",\"\r\n") == std::string::npos) return field;
    std::string text = "\"";
    for (char c : field) text += c == '"' ? std::string("\"\"") : std::string(1, c);
    return text + '"';
}

std::vector<std::string_view> linesOf(std::string_view text) {
    if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
    std::vector<std::string_view> lines;
    while (!text.empty()) {
        const std::size_t end = std::min(text.find('\n'), text.size());
        std::string_view line = text.substr(0, end);
        if (line.ends_with('\r')) line.remove_suffix(1);
        lines.push_back(line);
        text.remove_prefix(std::min(end + 1, text.size()));
    }
    return lines;
}

std::vector<CsvRecord> csvRecordsOf(std::string_view text) {
    std::vector<CsvRecord> records;
    bool open = false;
    std::size_t number = 0;
    for (const std::string_view line : linesOf(text)) {
        ++number;
        if (open) {
            std::string_view& whole = records.back().text;
            whole = {whole.data(), static_cast<std::size_t>(line.end() - whole.begin())};
        } else if (line.empty()) {
            continue;
        } else {
            records.push_back({line, number});
        }
        open ^= std::count(line.begin(), line.end(), '"') % 2 != 0;
    }
    return records;
}

} // namespace rapt
