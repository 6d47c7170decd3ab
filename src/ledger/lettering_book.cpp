#include "ledger/lettering_book.h"

#include "ledger/database.h"

namespace rapt {
namespace {

constexpr const char* schema = "CREATE TABLE IF NOT EXISTS lettering ("
                               "id INTEGER PRIMARY KEY, date TEXT NOT NULL, file TEXT NOT NULL, "
                               "job TEXT NOT NULL, text TEXT NOT NULL, face TEXT NOT NULL, "
                               "cap_mm REAL NOT NULL)";

std::optional<QString> problemOf(const Status& status) {
    if (status) return std::nullopt;
    return QString("What was lettered cannot be noted: %1")
        .arg(QString::fromStdString(status.error().line()));
}

} // namespace

LetteringBook::LetteringBook() : db(std::make_unique<Database>("lettering-")) {}
LetteringBook::~LetteringBook() = default;

std::optional<QString> LetteringBook::open(const QString& path) {
    LedgerPlace place;
    place.file = path;
    if (const Status opened = db->open(place); !opened) return problemOf(opened);
    if (const auto made = db->run(schema); !made) return problemOf(made.error());
    return std::nullopt;
}

std::optional<QString> LetteringBook::keep(const QString& file,
                                           const std::vector<LetteredWords>& words) {
    return problemOf(db->together([&]() -> Status {
        if (const auto gone = db->run("DELETE FROM lettering WHERE file = ?", {file}); !gone)
            return gone.error();
        for (const LetteredWords& w : words) {
            const auto kept =
                db->run("INSERT INTO lettering (date, file, job, text, face, cap_mm) "
                        "VALUES (?, ?, ?, ?, ?, ?)",
                        {w.date.toString(Qt::ISODate), file, w.job, w.text, w.face, w.capHeightMm});
            if (!kept) return kept.error();
        }
        return done();
    }));
}

std::vector<LetteredWords> LetteringBook::find(const QString& text) const {
    std::vector<LetteredWords> found;
    auto rows = db->run(
        "SELECT text, face, cap_mm, job, file, date FROM lettering ORDER BY date DESC, id DESC");
    while (rows && rows->next()) {
        const LetteredWords w{
            rows->value(0).toString(), rows->value(1).toString(),
            rows->value(2).toDouble(), rows->value(3).toString(),
            rows->value(4).toString(), QDate::fromString(rows->value(5).toString(), Qt::ISODate)};
        // Compared here: SQLite folds the case of plain letters only.
        const auto has = [&](const QString& field) {
            return field.contains(text, Qt::CaseInsensitive);
        };
        if (text.isEmpty() || has(w.text) || has(w.face) || has(w.job)) found.push_back(w);
    }
    return found;
}

} // namespace rapt
