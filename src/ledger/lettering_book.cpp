#include "ledger/lettering_book.h"

#include "ledger/database.h"

#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>

namespace rapt {
namespace {

constexpr const char* schema = "CREATE TABLE IF NOT EXISTS lettering ("
                               "id INTEGER PRIMARY KEY, date TEXT NOT NULL, file TEXT NOT NULL, "
                               "job TEXT NOT NULL, text TEXT NOT NULL, face TEXT NOT NULL, "
                               "cap_mm REAL NOT NULL)";

std::optional<QString> problemOf(const QSqlQuery& query) {
    return QString("What was lettered cannot be noted: %1").arg(query.lastError().text());
}

} // namespace

LetteringBook::LetteringBook() : connection(newConnection("lettering-")) {}

LetteringBook::~LetteringBook() { closeDatabase(connection); }

std::optional<QString> LetteringBook::open(const QString& path) {
    return openDatabase(connection, path, schema);
}

std::optional<QString> LetteringBook::keep(const QString& file,
                                           const std::vector<LetteredWords>& words) {
    QSqlDatabase db = QSqlDatabase::database(connection);
    db.transaction();
    QSqlQuery query(db);
    query.prepare("DELETE FROM lettering WHERE file = ?");
    query.addBindValue(file);
    bool good = query.exec();
    for (const LetteredWords& w : words) {
        query.prepare("INSERT INTO lettering (date, file, job, text, face, cap_mm) VALUES (?, ?, "
                      "?, ?, ?, ?)");
        for (const QVariant& value :
             {QVariant(w.date.toString(Qt::ISODate)), QVariant(file), QVariant(w.job),
              QVariant(w.text), QVariant(w.face), QVariant(w.capHeightMm)})
            query.addBindValue(value);
        good = good && query.exec();
    }
    if (good && db.commit()) return std::nullopt;
    const auto problem = problemOf(query);
    db.rollback();
    return problem;
}

std::vector<LetteredWords> LetteringBook::find(const QString& text) const {
    std::vector<LetteredWords> found;
    QSqlQuery query(QSqlDatabase::database(connection));
    query.exec(
        "SELECT text, face, cap_mm, job, file, date FROM lettering ORDER BY date DESC, id DESC");
    while (query.next()) {
        const LetteredWords w{
            query.value(0).toString(), query.value(1).toString(),
            query.value(2).toDouble(), query.value(3).toString(),
            query.value(4).toString(), QDate::fromString(query.value(5).toString(), Qt::ISODate)};
        // Compared here: SQLite folds the case of plain letters only.
        const auto has = [&](const QString& field) {
            return field.contains(text, Qt::CaseInsensitive);
        };
        if (text.isEmpty() || has(w.text) || has(w.face) || has(w.job)) found.push_back(w);
    }
    return found;
}

} // namespace rapt
