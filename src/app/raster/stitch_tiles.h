#pragma once
// The stitched cloth as square pictures, drawn in the background and kept.

#include "app/canvas/view_map.h"
#include "app/raster/thread_raster.h"
#include "job/stitching.h"

#include <QHash>
#include <QObject>
#include <QPainter>
#include <QThreadPool>
#include <memory>

namespace rapt::app {

/// Tiles of one zoom at a time, with those of the last one as a stand-in until the new are there.
/// Panning only copies pictures.
class StitchTiles : public QObject {
    Q_OBJECT
public:
    explicit StitchTiles(QObject* parent = nullptr);
    ~StitchTiles() override;

    /// Shows another stitched job; the old pictures stay until the new ones replace them.
    void setStitches(std::shared_ptr<const StitchList> list);
    /// Shows only the first so many records; pictures that this does not change are kept.
    void setEnd(std::size_t records);

    /// Paints what is there and orders what is missing.
    void paint(QPainter& painter, const ViewMap& map, const QRect& visible, double pixelRatio);
    /// True if nothing that the last paint wanted is still being drawn.
    bool isSettled() const { return pending.isEmpty(); }

signals:
    void tileReady();

private:
    struct Key {
        double scale;
        int x, y;
        friend bool operator==(const Key&, const Key&) = default;
        friend size_t qHash(const Key& k, size_t seed = 0) {
            return qHashMulti(seed, k.scale, k.x, k.y);
        }
    };
    struct Tile {
        QImage image;
        quint64 generation = 0;
    };
    void order(const Key& key);
    void forgetFar(double scale);

    struct Source {
        std::shared_ptr<const StitchList> list;
        StitchIndex index;
        explicit Source(std::shared_ptr<const StitchList> l) : list(std::move(l)), index(*list) {}
    };
    std::shared_ptr<const Source> index;
    quint64 generation = 0;
    QHash<Key, Tile> tiles;
    QHash<Key, quint64> pending; ///< the order that is awaited
    quint64 orders = 0;
    std::size_t end = SIZE_MAX;
    double shownScale = 0;
    double earlierScale = 0;
    QThreadPool pool;
    std::stop_source stopper;
};

} // namespace rapt::app
