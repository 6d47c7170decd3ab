#include "app/raster/stitch_tiles.h"

#include <cmath>

namespace rapt::app {
namespace {

constexpr int tilePx = 256;
constexpr int mostTiles = 400;

} // namespace

StitchTiles::StitchTiles(QObject* parent) : QObject(parent) { pool.setMaxThreadCount(2); }

StitchTiles::~StitchTiles() {
    stopper.request_stop();
    pool.clear();
    pool.waitForDone();
}

void StitchTiles::setStitches(std::shared_ptr<const StitchList> list) {
    stopper.request_stop();
    stopper = std::stop_source();
    pool.clear();
    pending.clear();
    end = SIZE_MAX;
    ++generation;
    index = std::make_shared<const Source>(std::move(list));
    emit tileReady();
}

void StitchTiles::paint(QPainter& painter, const ViewMap& map, const QRect& visible,
                        double pixelRatio) {
    if (!index) return;
    const double scale = map.scale * pixelRatio;
    if (scale != shownScale) {
        earlierScale = shownScale;
        shownScale = scale;
        pool.clear();
        pending.clear();
        forgetFar(scale);
    }
    const double side = tilePx / pixelRatio; // of a tile on the screen
    const QPointF from = QPointF(visible.topLeft()) - map.origin;
    const QPointF to = QPointF(visible.bottomRight()) - map.origin;
    const int x0 = static_cast<int>(std::floor(from.x() / side));
    const int y0 = static_cast<int>(std::floor(from.y() / side));
    const int x1 = static_cast<int>(std::floor(to.x() / side));
    const int y1 = static_cast<int>(std::floor(to.y() / side));
    bool missing = false;
    for (int y = y0; y <= y1; ++y)
        for (int x = x0; x <= x1; ++x) {
            const auto it = tiles.constFind(Key{scale, x, y});
            missing = missing || it == tiles.constEnd();
            if (it == tiles.constEnd() || it->generation != generation) order(Key{scale, x, y});
        }
    if (missing && earlierScale > 0) {
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        const double k = map.scale / (earlierScale / pixelRatio) * side;
        for (auto it = tiles.constBegin(); it != tiles.constEnd(); ++it)
            if (it.key().scale == earlierScale)
                painter.drawImage(
                    QRectF(map.origin.x() + it.key().x * k, map.origin.y() + it.key().y * k, k, k),
                    it->image);
    }
    for (int y = y0; y <= y1; ++y)
        for (int x = x0; x <= x1; ++x) {
            const auto it = tiles.constFind(Key{scale, x, y});
            if (it != tiles.constEnd())
                painter.drawImage(QRectF(std::round(map.origin.x()) + x * side,
                                         std::round(map.origin.y()) + y * side, side, side),
                                  it->image);
        }
}

void StitchTiles::setEnd(std::size_t records) {
    if (records == end) return;
    const std::size_t low = std::min(end, records), high = std::max(end, records);
    end = records;
    if (!index) return;
    Box changed;
    for (const StitchIndex::Chunk& chunk : index->index.chunks)
        if (chunk.first < high && chunk.last > low) changed.add(chunk.box);
    const auto touched = [&](const Key& key) {
        const double mm = tilePx / key.scale;
        return changed.overlaps({key.x * mm, key.y * mm, (key.x + 1) * mm, (key.y + 1) * mm});
    };
    for (auto it = tiles.begin(); it != tiles.end(); ++it)
        if (touched(it.key())) it->generation = 0;
    // What is being drawn for the old end is not waited for any more.
    pending.removeIf([&](const QHash<Key, quint64>::iterator it) { return touched(it.key()); });
    emit tileReady();
}

void StitchTiles::order(const Key& key) {
    if (pending.contains(key)) return;
    const quint64 number = ++orders;
    pending.insert(key, number);
    pool.start([this, key, source = index, wanted = generation, number, last = end,
                stop = stopper.get_token()] {
        if (stop.stop_requested()) return;
        const double mm = tilePx / key.scale;
        const Box area{key.x * mm, key.y * mm, (key.x + 1) * mm, (key.y + 1) * mm};
        QImage image = drawThread(source->index, area, key.scale, stop, last);
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, key, image, wanted, number] {
            if (wanted != generation || pending.value(key, 0) != number) return;
            pending.remove(key);
            if (tiles.size() > mostTiles) forgetFar(shownScale);
            tiles.insert(key, {image, wanted});
            emit tileReady();
        });
    });
}

void StitchTiles::forgetFar(double scale) {
    tiles.removeIf([&](const QHash<Key, Tile>::iterator it) {
        return it.key().scale != scale && it.key().scale != earlierScale;
    });
    if (tiles.size() > mostTiles) tiles.clear();
    pending.removeIf(
        [&](const QHash<Key, quint64>::iterator it) { return it.key().scale != scale; });
}

} // namespace rapt::app
