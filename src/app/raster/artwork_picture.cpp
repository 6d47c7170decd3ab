#include "app/raster/artwork_picture.h"

namespace rapt::app {

void ArtworkPicture::paint(QPainter& painter, const ViewMap& view, const Job& job) {
    if (!job.artwork) return;
    const auto it = job.members.find(job.artwork->member);
    if (it == job.members.end()) return;
    if (it->second != bytes) {
        bytes = it->second;
        image = QImage::fromData(
            QByteArray::fromRawData(bytes->data(), static_cast<qsizetype>(bytes->size())));
    }
    if (image.isNull()) return;
    const double w = job.artwork->widthMm;
    const double h = w * image.height() / image.width();
    painter.save();
    painter.setOpacity(job.artwork->opacity);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(view.toPixels(Box::centredAt(job.artwork->at, w, h)), image);
    painter.restore();
}

} // namespace rapt::app
