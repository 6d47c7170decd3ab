#pragma once
// What the shelf says of one design file, and the picture on its card.

#include <QImage>
#include <QString>
#include <QStringList>

namespace rapt::app {

struct DesignFacts {
    QString name;
    double widthMm = 0, heightMm = 0;
    int stitches = 0;
    int threads = 0;
    double seconds = 0;
    QStringList tags; ///< of the design itself; the shelf adds folders and the person's own
    QString problem;  ///< why it cannot be used; empty if it can
    QImage picture;   ///< as thread, on transparent ground
};

/// Reads a stitch list or an SVG drawing and draws it. Any thread may call it.
DesignFacts readDesignFacts(const QString& path);

/// The same out of the cache on disk, if the file has not changed since; else read and kept there.
DesignFacts cachedDesignFacts(const QString& path, const QString& cacheFolder);

inline constexpr int picturePx = 120;

} // namespace rapt::app
