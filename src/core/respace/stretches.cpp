#include "respace/stretches.h"

#include "respace/bands.h"
#include "respace/cover_grid.h"
#include "respace/repeated.h"
#include "thread/sequences.h"

namespace rapt {
namespace {

// A stretch with more sharp turns than this share of its stitches is neither band nor run.
constexpr double mostSharpTurns = 0.5;
constexpr double sharpCosine = 0.34; // 70 degrees
constexpr std::size_t leastUnknown = 8;

/// Reads what each stretch of one chain is.
class ChainReader {
public:
    explicit ChainReader(SewnChain& c) : chain(c), points(c.points) {}

    void run() {
        const std::size_t end = points.size() - 1;
        if (end == 0) return add(StretchKind::run, 0, 0);
        std::size_t from = 0, to = end;
        // A thread that is led in from a jump has no penetration to tie.
        if (!chain.ledIn)
            if (const std::size_t n = tieAt(0, end, false)) add(StretchKind::tie, 0, from = n);
        const std::size_t atEnd = to > from ? tieAt(to, from, true) : 0;
        to -= atEnd;
        for (SewnStretch& repeated : findRepeatedRuns(points, from, to)) {
            readPlain(from, repeated.first);
            from = repeated.last;
            chain.stretches.push_back(std::move(repeated));
        }
        readPlain(from, to);
        if (atEnd > 0) add(StretchKind::tie, to, end);
    }

private:
    /// Stitches of a dense band turn back too: a tie is only what the band leaves.
    std::size_t tieAt(std::size_t from, std::size_t limit, bool backwards) const {
        const std::size_t n = tieLength(points, from, limit, backwards);
        if (n == 0) return 0;
        const std::size_t room = backwards ? from - limit : limit - from;
        const std::size_t look = std::min<std::size_t>(room, n + 8);
        const std::size_t a = backwards ? from - look : from;
        const auto bands = findBands(straightLegs(points, a, a + look), points);
        for (const SewnStretch& band : bands) {
            const bool holdsEnd = backwards ? band.last >= from - 1 : band.first <= from + 1;
            if (holdsEnd && band.rows.size() > n) return 0;
        }
        return n;
    }

    void readPlain(std::size_t from, std::size_t to) {
        if (from >= to) return;
        for (SewnStretch& band : findBands(straightLegs(points, from, to), points)) {
            addLeft(from, band.first);
            from = band.last;
            chain.stretches.push_back(std::move(band));
        }
        addLeft(from, to);
    }

    void addLeft(std::size_t from, std::size_t to) {
        if (from < to) add(isLine(from, to) ? StretchKind::run : StretchKind::unknown, from, to);
    }

    bool isLine(std::size_t from, std::size_t to) const {
        if (to - from < leastUnknown) return true;
        std::size_t sharp = 0;
        for (std::size_t i = from + 1; i < to; ++i) {
            const Vec2 in = points[i] - points[i - 1], out = points[i + 1] - points[i];
            sharp += dot(in, out) < sharpCosine * length(in) * length(out);
        }
        return static_cast<double>(sharp) < mostSharpTurns * static_cast<double>(to - from);
    }

    void add(StretchKind kind, std::size_t first, std::size_t last) {
        SewnStretch s;
        s.kind = kind;
        s.first = first;
        s.last = last;
        chain.stretches.push_back(std::move(s));
    }

    SewnChain& chain;
    const std::vector<Vec2>& points;
};

} // namespace

const char* nameOf(StretchKind kind) {
    constexpr const char* names[] = {"satin", "fill", "run", "repeated run", "tie", "unknown"};
    return names[static_cast<int>(kind)];
}

std::vector<SewnChain> chainsOf(const StitchList& list) {
    std::vector<SewnChain> chains;
    for (const Sequence& s : sequencesOf(list)) {
        SewnChain& chain = chains.emplace_back();
        chain.firstRecord = s.first;
        chain.lastRecord = s.last;
        chain.thread = list.stitches[s.first].thread;
        chain.ledIn = s.ledInFrom.has_value();
        if (s.ledInFrom) chain.points.push_back(*s.ledInFrom);
        for (std::size_t i = s.first; i < s.last; ++i)
            chain.points.push_back(list.stitches[i].at());
    }
    return chains;
}

std::vector<SewnChain> recogniseStretches(const StitchList& list) {
    std::vector<SewnChain> chains = chainsOf(list);
    for (SewnChain& chain : chains) ChainReader(chain).run();
    markUnderlay(chains);
    return chains;
}

} // namespace rapt
