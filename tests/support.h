#pragma once
// What several tests need: comparing with tolerance, making lists, files and jobs by hand.

#include "registry.h"

#include "base/paths.h"
#include "check/check.h"
#include "formats/stitch_csv.h"
#include "job/job.h"
#include "library/library.h"
#include "recipe/shape.h"

#include <QFile>
#include <QTemporaryDir>
#include <QTest>

namespace rapt::test {

// Shared machines slow down tenfold, so what is waited for gets longer than Qt's five seconds.
#undef QTRY_VERIFY
#undef QTRY_VERIFY2
#undef QTRY_COMPARE
#define QTRY_VERIFY(expression) QTRY_VERIFY_WITH_TIMEOUT(expression, 60'000)
#define QTRY_VERIFY2(expression, words) QTRY_VERIFY2_WITH_TIMEOUT(expression, words, 60'000)
#define QTRY_COMPARE(actual, expected) QTRY_COMPARE_WITH_TIMEOUT(actual, expected, 60'000)

inline bool near(double a, double b, double tolerance) { return std::abs(a - b) <= tolerance; }

/// Compares with tolerance; a difference is put down as a failure of the running test.
bool nearOrFail(double actual, double expected, double tolerance, const char* what,
                const char* file, int line);

// Out of line: the comparison stands hundreds of times in the tests.
#define VERIFY_NEAR(actual, expected, tolerance)                                                   \
    do {                                                                                           \
        if (!rapt::test::nearOrFail(double(actual), double(expected), double(tolerance), #actual,  \
                                    __FILE__, __LINE__))                                           \
            return;                                                                                \
    } while (false)

/// A list of one 40-weight thread through the given points, begun by a jump.
inline StitchList listThrough(const std::vector<Vec2>& points) {
    StitchList list;
    list.threads = {{1, {31, 78, 121}, 40, "Deep tide"}};
    if (!points.empty()) list.stitches.push_back(stitchAt(Op::jump, points[0], 1));
    for (const Vec2& p : points) list.stitches.push_back(stitchAt(Op::stitch, p, 1));
    return list;
}

inline Polyline rectangle(double x, double y, double w, double h) {
    return {{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}};
}

inline ShapePart fillOf(std::vector<Polyline> lines, double angle = 0, double spacing = 0.4) {
    ShapePart part;
    part.kind = StitchKind::fill;
    part.thread = {1, {47, 109, 58}, 40, "Reed"};
    part.lines = std::move(lines);
    part.angleDeg = angle;
    part.spacingMm = spacing;
    return part;
}

inline Piece shapePiece(const std::string& id, ShapePart part, double x = 0, double y = 0) {
    Piece p;
    p.id = p.name = id;
    Shape shape;
    shape.parts.push_back(std::move(part));
    p.content = ShapeContent{std::make_shared<const Shape>(std::move(shape))};
    p.pose.x = x;
    p.pose.y = y;
    return p;
}

inline Piece designPiece(const std::string& id, StitchList list, double x = 0, double y = 0) {
    Piece p;
    p.id = p.name = id;
    p.content = DesignContent{"designs/" + id + ".stitch.csv",
                              std::make_shared<const StitchList>(std::move(list))};
    p.pose.x = x;
    p.pose.y = y;
    return p;
}

inline Library library() {
    auto loaded = loadLibrary(dataFolder(), "/nonexistent");
    if (!loaded) qFatal("%s", loaded.error().line().c_str());
    return *loaded;
}

/// The job judged, with all remedies looked for.
inline Result<CheckedJob> judged(const Job& job, const Library& lib) {
    StitchCache cache;
    auto checked = checkJob(job, lib, &cache);
    if (!checked) qFatal("%s", checked.error().line().c_str());
    (void)findRemedies(*checked, job, lib, cache);
    return checked;
}

inline void writeFile(const QString& path, const QByteArray& bytes) {
    QFile file(path);
    if (!file.open(QIODevice::WriteOnly)) qFatal("cannot write %s", qPrintable(path));
    file.write(bytes);
}

inline QByteArray readFile(const QString& path) {
    QFile file(path);
    return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
}

/// Numbers that look random and are the same every time.
class Dice {
public:
    explicit Dice(quint64 seed) : state(seed * 2654435761u + 88172645463325252ull) {}
    double between(double low, double high) {
        state ^= state << 13;
        state ^= state >> 7;
        state ^= state << 17;
        return low + (high - low) * static_cast<double>(state >> 11) * 0x1.0p-53;
    }
    double normal() {
        double sum = -6;
        for (int i = 0; i < 12; ++i) sum += between(0, 1);
        return sum;
    }

private:
    quint64 state;
};

/// Words to letter.
inline Lettering words(const std::string& text, const std::string& face = "lato", double cap = 20) {
    Lettering l;
    l.text = text;
    l.face = face;
    l.capHeightMm = cap;
    return l;
}

} // namespace rapt::test
