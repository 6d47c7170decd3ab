#pragma once
// The columns of a record: one list that the database, the CSV file and the command's answers
// share (docs/formats.md, "Records").

#include "base/result.h"
#include "record/stitch_out.h"

#include <string_view>

namespace rapt {

enum class CellKind {
    text,
    integer,
    number, ///< empty where it is not known
    list,   ///< a JSON array
};

struct RecordColumn {
    std::string name;
    CellKind kind;
};

/// All, `id` first.
const std::vector<RecordColumn>& recordColumns();

/// The cell as text: numbers as short as they read back exactly, lists as JSON, empty for what is
/// not known and for empty lists.
std::string cellOf(const StitchOut& record, std::size_t column);

/// Sets the cell. Fails (badInput) with the column as place.
Status setCell(StitchOut& record, std::size_t column, std::string_view text);

/// Everything that was said of it in words and figures, for a search: lower case, without accents;
/// words joined by signs stand there joined (`2026-11-28` as 20261128) and apart.
std::string searchWords(const StitchOut& record);

/// The words of a search in the same form; each must begin a word of the record.
std::vector<std::string> searchTerms(std::string_view query);

} // namespace rapt
