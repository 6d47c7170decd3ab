#pragma once
// The customer's picture under the cloth's stitches.

#include "app/canvas/view_map.h"
#include "job/job.h"

#include <QImage>
#include <QPainter>
#include <memory>

namespace rapt::app {

/// Keeps the decoded picture as long as the job holds the same bytes.
class ArtworkPicture {
public:
    void paint(QPainter& painter, const ViewMap& view, const Job& job);

private:
    std::shared_ptr<const std::string> bytes; ///< what `image` was decoded from
    QImage image;
};

} // namespace rapt::app
