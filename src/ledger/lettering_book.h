#pragma once
// What was lettered in the jobs that were saved: text, face, size. In the ledger's SQLite file.

#include <QDate>
#include <QString>
#include <memory>
#include <optional>
#include <vector>

namespace rapt {

class Database;

struct LetteredWords {
    QString text;
    QString face;           ///< id
    double capHeightMm = 0; ///< as it stood on the cloth
    QString job;            ///< name of the job
    QString file;
    QDate date; ///< of the last save
};

/// Opened where it is needed; used on one thread.
class LetteringBook {
public:
    LetteringBook();
    ~LetteringBook();
    LetteringBook(const LetteringBook&) = delete;
    LetteringBook& operator=(const LetteringBook&) = delete;

    /// Opens the file, making it and its folder when missing. Gives the reason if that fails.
    std::optional<QString> open(const QString& path);
    /// Replaces what is known of one job file.
    std::optional<QString> keep(const QString& file, const std::vector<LetteredWords>& words);
    /// Words, faces or jobs that contain the text, newest first; all for an empty text.
    std::vector<LetteredWords> find(const QString& text) const;

private:
    std::unique_ptr<Database> db;
};

} // namespace rapt
