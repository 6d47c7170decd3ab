#pragma once
// RFC 4180 records on single lines.

#include <string>
#include <string_view>
#include <vector>

namespace rapt {

/// Splits one record into its fields; false if its quotes are wrong.
bool splitCsvRecord(std::string_view line, std::vector<std::string>& fields);

/// The field, quoted if it holds a comma or a quote.
std::string quotedCsvField(const std::string& field);

/// The lines of a text, ended by LF or CRLF; a UTF-8 byte order mark is left out.
std::vector<std::string_view> linesOf(std::string_view text);

} // namespace rapt
