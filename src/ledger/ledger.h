#pragma once
// What was stitched and how it came out: records in a SQLite file, by Qt SQL.

#include <QDate>
#include <QString>
#include <optional>
#include <vector>

namespace rapt {

struct StitchOutRecord {
    qint64 id = 0; ///< given by the ledger
    QDate date;
    QString job;
    QString cloth; ///< size and fabric, as read
    QString hoop;
    QString outcome; ///< one of outcomes()
    QString note;
};

/// Opened once a program run; used on one thread.
class Ledger {
public:
    Ledger();
    ~Ledger();
    Ledger(const Ledger&) = delete;
    Ledger& operator=(const Ledger&) = delete;

    /// Opens the file, making it and its folder when missing. Gives the reason if that fails.
    std::optional<QString> open(const QString& path);
    std::optional<QString> add(const StitchOutRecord& record);
    std::optional<QString> remove(qint64 id);
    /// All records, newest first.
    std::vector<StitchOutRecord> records() const;

    /// What a stitch-out can have come to, best first.
    static QStringList outcomes();

private:
    QString connection;
};

} // namespace rapt
