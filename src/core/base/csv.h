#pragma once
// RFC 4180 records.

#include <string>
#include <string_view>
#include <vector>

namespace rapt {

/// Splits one record into its fields; false if its quotes are wrong.
bool splitCsvRecord(std::string_view line, std::vector<std::string>& fields);

/// The field, quoted if it holds a comma, a quote or a line end.
std::string quotedCsvField(const std::string& field);

/// The lines of a text, ended by LF or CRLF; a UTF-8 byte order mark is left out.
std::vector<std::string_view> linesOf(std::string_view text);

/// A record and the line it begins on, from 1.
struct CsvRecord {
    std::string_view text;
    std::size_t line = 1;
};
/// As `linesOf`, but line ends inside quotes belong to the record. Empty lines are left out.
std::vector<CsvRecord> csvRecordsOf(std::string_view text);

} // namespace rapt
