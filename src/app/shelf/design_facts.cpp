#include "app/shelf/design_facts.h"

#include "app/raster/thread_raster.h"
#include "formats/stitch_csv.h"
#include "job/stitching.h"
#include "svg/drawing_file.h"
#include "svg/to_shapes.h"
#include "thread/measures.h"

#include <QCryptographicHash>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QSaveFile>

namespace rapt::app {
namespace {

// On an even machine; the card says "about".
constexpr double secondsPerStitch = 60.0 / 700;
constexpr double secondsPerTrim = 7;

Result<StitchList> listOf(const QString& path) {
    if (!path.endsWith(".svg", Qt::CaseInsensitive)) return readStitchFile(path.toStdString());
    const auto drawing = readDrawingFile(path.toStdString());
    if (!drawing) return drawing.error();
    std::vector<std::string> left;
    const std::vector<Piece> pieces = piecesOf(*drawing, {}, left);
    std::vector<const Piece*> all;
    for (const Piece& p : pieces) all.push_back(&p);
    auto stitched = stitchPieces(all, {});
    if (!stitched) return stitched.error();
    stitched->list.name = drawing->title;
    return std::move(stitched->list);
}

/// `# tags,sea,kite` among the remarks of a stitch list.
QStringList tagsOf(const StitchList& list) {
    QStringList tags;
    for (const std::string& remark : list.remarks) {
        QString words = QString::fromStdString(remark);
        while (words.startsWith('#') || words.startsWith(' ')) words.remove(0, 1);
        if (words.startsWith("tags,"))
            for (const QString& tag : words.mid(5).split(',', Qt::SkipEmptyParts))
                tags << tag.trimmed();
    }
    return tags;
}

} // namespace

DesignFacts readDesignFacts(const QString& path) {
    DesignFacts facts;
    facts.name = QFileInfo(path).fileName().section('.', 0, 0);
    const auto list = listOf(path);
    if (!list) {
        const Error& e = list.error();
        facts.problem =
            QString::fromStdString(e.place.empty() ? e.reason : e.place + ": " + e.reason);
        return facts;
    }
    const Measures m = measure(*list);
    if (m.extents.empty()) {
        facts.problem = "holds no stitches";
        return facts;
    }
    if (!list->name.empty()) facts.name = QString::fromStdString(list->name);
    facts.widthMm = m.extents.width();
    facts.heightMm = m.extents.height();
    facts.stitches = static_cast<int>(m.stitches);
    facts.threads = static_cast<int>(m.threads.size());
    facts.seconds = static_cast<double>(m.stitches) * secondsPerStitch +
                    static_cast<double>(m.trims) * secondsPerTrim;
    facts.tags = tagsOf(*list);
    facts.picture = threadPicture(*list, picturePx);
    return facts;
}

DesignFacts cachedDesignFacts(const QString& path, const QString& cacheFolder) {
    const QFileInfo info(path);
    const QString key = QString("1|%1|%2|%3")
                            .arg(info.absoluteFilePath())
                            .arg(info.lastModified().toMSecsSinceEpoch())
                            .arg(info.size());
    const QString kept = cacheFolder + "/" +
                         QCryptographicHash::hash(key.toUtf8(), QCryptographicHash::Sha1).toHex() +
                         ".png";
    if (QImage image; image.load(kept) && image.text("key") == key) {
        DesignFacts facts;
        facts.name = image.text("name");
        facts.widthMm = image.text("width").toDouble();
        facts.heightMm = image.text("height").toDouble();
        facts.stitches = image.text("stitches").toInt();
        facts.threads = image.text("threads").toInt();
        facts.seconds = image.text("seconds").toDouble();
        facts.tags = image.text("tags").split('\n', Qt::SkipEmptyParts);
        facts.picture = image;
        return facts;
    }
    DesignFacts facts = readDesignFacts(path);
    if (!facts.problem.isEmpty()) return facts;
    QImage image = facts.picture;
    image.setText("key", key);
    image.setText("name", facts.name);
    image.setText("width", QString::number(facts.widthMm, 'g', 9));
    image.setText("height", QString::number(facts.heightMm, 'g', 9));
    image.setText("stitches", QString::number(facts.stitches));
    image.setText("threads", QString::number(facts.threads));
    image.setText("seconds", QString::number(facts.seconds));
    image.setText("tags", facts.tags.join('\n'));
    QDir().mkpath(cacheFolder);
    // A cache that cannot be written only costs time.
    if (QSaveFile file(kept); file.open(QIODevice::WriteOnly) && image.save(&file, "PNG"))
        file.commit();
    return facts;
}

} // namespace rapt::app
