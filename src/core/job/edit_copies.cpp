#include "job/edit_copies.h"

#include "job/expansion.h"

#include <algorithm>
#include <fmt/format.h>

namespace rapt {
namespace {

const char* titleOf(Repeat::Kind kind) {
    switch (kind) {
    case Repeat::Kind::grid:
        return "Repeat in rows and columns";
    case Repeat::Kind::line:
        return "Repeat along a line";
    case Repeat::Kind::circle:
        return "Repeat round a circle";
    case Repeat::Kind::mirror:
        return "Mirrored copies";
    }
    return "Repeat";
}

std::string unusedRepeatId(const Job& job) {
    for (int n = 1;; ++n) {
        const std::string id = fmt::format("r{}", n);
        if (std::none_of(job.repeats.begin(), job.repeats.end(),
                         [&](const Repeat& r) { return r.id == id; }))
            return id;
    }
}

void eraseRepeat(Job& job, const std::string& id) {
    std::erase_if(job.repeats, [&](const Repeat& r) { return r.id == id; });
}

} // namespace

Edit setRepeat(Repeat repeat) {
    const char* name = titleOf(repeat.kind);
    return {name, [repeat = std::move(repeat)](Job job) mutable {
                Repeat wanted = repeat;
                std::erase_if(wanted.pieces, [&](const std::string& id) { return !job.piece(id); });
                if (wanted.pieces.empty()) return job;
                if (wanted.id.empty()) wanted.id = unusedRepeatId(job);
                eraseRepeat(job, wanted.id);
                for (Repeat& other : job.repeats)
                    std::erase_if(other.pieces,
                                  [&](const std::string& id) { return wanted.has(id); });
                std::erase_if(job.repeats, [](const Repeat& r) { return r.pieces.empty(); });
                job.repeats.push_back(std::move(wanted));
                return job;
            }};
}

Edit removeRepeat(const std::string& repeatId) {
    return {"Take the copies away", [repeatId](Job job) {
                eraseRepeat(job, repeatId);
                return job;
            }};
}

Edit unlinkCopies(const std::string& repeatId) {
    return {"Unlink the copies", [repeatId](Job job) {
                const Repeat* found = job.repeat(repeatId);
                if (!found) return job;
                const Repeat repeat = *found;
                StitchCache cache;
                std::vector<PlacedPiece> placed = placedPieces(job, cache);
                eraseRepeat(job, repeatId);
                std::vector<Piece> pieces;
                for (const Piece& original : job.pieces) {
                    if (!repeat.has(original.id)) {
                        pieces.push_back(original);
                        continue;
                    }
                    if (original.hidden) pieces.push_back(original);
                    for (PlacedPiece& p : placed) {
                        if (p.outline || p.source != original.id) continue;
                        Piece own = original;
                        own.pose = p.piece.pose;
                        if (p.copy > 1) {
                            own.id = fmt::format("{} {}", original.id, p.copy);
                            own.name = fmt::format("{} {}", original.name, p.copy);
                        }
                        pieces.push_back(std::move(own));
                    }
                }
                job.pieces.clear();
                for (Piece& p : pieces) {
                    // Empty while its own name is looked for.
                    p.id = unusedId(job, p.id);
                    job.pieces.push_back(std::move(p));
                }
                return job;
            }};
}

Edit setException(const std::string& repeatId, const CopyException& exception) {
    const std::string name = exception.leftOut ? fmt::format("Leave out copy {}", exception.copy)
                                               : fmt::format("Change copy {}", exception.copy);
    return {name, [repeatId, exception](Job job) {
                Repeat* repeat = job.repeat(repeatId);
                if (!repeat) return job;
                std::erase_if(repeat->exceptions,
                              [&](const CopyException& e) { return e.copy == exception.copy; });
                if (!(exception == CopyException{exception.copy, false, {}, 0}))
                    repeat->exceptions.push_back(exception);
                std::sort(repeat->exceptions.begin(), repeat->exceptions.end(),
                          [](const auto& a, const auto& b) { return a.copy < b.copy; });
                return job;
            }};
}

Edit setOutline(std::vector<std::string> ids, std::optional<Outline> outline) {
    return {outline ? "Outline" : "Take the outline away",
            [ids = std::move(ids), outline = std::move(outline)](Job job) {
                for (const std::string& id : ids)
                    if (Piece* p = job.piece(id); p && !p->locked) p->outline = outline;
                return job;
            }};
}

} // namespace rapt
