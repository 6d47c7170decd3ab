#pragma once
// The scan of a hooping as seen from above.

#include "app/kit/lookup.h"
#include "job/job.h"
#include "library/library.h"
#include "registration/proposals.h"

#include <QImage>

namespace rapt::app {

/// Read off the interface thread, and again when the job's scan or the library changes.
class ScanState : public QObject {
    Q_OBJECT
public:
    ScanState();

    struct Picture {
        QImage image;
        Box area;                             ///< frame
        std::shared_ptr<const FlatScan> flat; ///< the same, to be searched
    };
    /// Of a hooping (its index); null without one, and while it is being read (ready follows).
    const Picture* picture(const Job& job, int hooping, std::shared_ptr<const Library> library);
    /// Of a picture that is not the job's yet.
    const Picture* picture(std::shared_ptr<const std::string> bytes, const std::string& hoop,
                           std::shared_ptr<const Library> library);

    bool isReading() const { return pictures.isBusy(); }

signals:
    void ready();

private:
    struct Key {
        std::shared_ptr<const std::string> bytes;
        std::string hoop;
        std::shared_ptr<const Library> library;
        friend bool operator==(const Key&, const Key&) = default;
    };
    static std::optional<Picture> read(const Key& key);
    Lookup<Key, std::optional<Picture>> pictures;
};

} // namespace rapt::app
