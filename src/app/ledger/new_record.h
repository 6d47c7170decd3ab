#pragma once
// A record of the job as it is open, filled from its plan and its runs.

#include "app/document/session.h"
#include "ledger/shared_ledger.h"

#include <QImage>
#include <functional>

namespace rapt::app {

/// All that the ledger's thread needs to fill a record.
struct JobSewn {
    Job job;
    std::shared_ptr<const Library> library;
    std::shared_ptr<const Handing> handing; ///< null without a plan
};
JobSewn jobSewn(Session& session);

struct FilledRecord {
    StitchOut record;
    std::vector<LedgerFile> files; ///< the job, its picture
};
/// Any thread; a second or so for a large job.
Result<FilledRecord> fillRecord(const JobSewn& sewn);

/// What a person said of it.
struct Said {
    StitchOut record; ///< outcome, cause, note, gaps, minutes, place, customer
    QString photo;    ///< path; may be empty
    int photoPixels = 0;
};
/// Keeps a filled record with what was said. One that could not be filled is kept bare, with the
/// reason in its note. Finished runs are in the record then: their journals go.
Result<std::optional<qint64>> keepRecord(SharedLedger& ledger, const JobSewn& sewn,
                                         Result<FilledRecord> filled, const Said& said);

/// The job's stitches on its cloth, which is centred; so large at most. Its text of this key says
/// how large a pixel is.
QImage jobPicture(const Job& job, QSize most);
inline constexpr const char* mmPerPixelKey = "mm-per-pixel";

/// A picture from a file for a record; shrunk so that its longer side has no more than so many
/// pixels, if any. Without a path nothing happens.
Status addPhoto(const QString& path, int mostPixels, StitchOut& record,
                std::vector<LedgerFile>& files);

} // namespace rapt::app
