#pragma once
// From a picture of the hooped cloth to where the marks were seen.

#include "job/job.h"
#include "library/library.h"
#include "scan/scan_reading.h"

namespace rapt {

/// The marks that were found, as points.
struct ScannedMarks {
    Registration registration; ///< with the seen points and the scan's member name
    ScanReading reading;
    int found = 0; ///< marks that a card lay on
};

/// Decodes and reads a scan (PNG or JPEG; `file` for errors) of the hooping that `registration` is
/// of; the n-th locator card is the n-th mark. Fails as decodeImage and readScan do, and (cannotDo)
/// when no card is seen.
Result<ScannedMarks> marksFromScan(const std::string& bytes, const std::string& file,
                                   const Hoop& hoop, Registration registration);

} // namespace rapt
