#include "job/edit.h"

#include <algorithm>
#include <fmt/format.h>

namespace rapt {
namespace {

/// "Move Delta kite" for one piece, "Move 3 pieces" for several; the name is found when applied.
std::string titled(const char* verb, const std::vector<std::string>& ids) {
    return ids.size() == 1 ? verb : fmt::format("{} {} pieces", verb, ids.size());
}

template<class Change>
Edit eachPiece(const char* verb, std::vector<std::string> ids, Change change) {
    const std::string name = titled(verb, ids);
    return {name, [ids = std::move(ids), change](Job job) {
                for (const std::string& id : ids)
                    if (Piece* p = job.piece(id); p && !p->locked) change(*p);
                return job;
            }};
}

/// Repeats keep no pieces that are gone, and none stays without pieces.
void dropMissing(Job& job) {
    for (Repeat& r : job.repeats)
        std::erase_if(r.pieces, [&](const std::string& id) { return !job.piece(id); });
    std::erase_if(job.repeats, [](const Repeat& r) { return r.pieces.empty(); });
}

bool oneOf(const std::vector<std::string>& ids, const std::string& id) {
    return std::find(ids.begin(), ids.end(), id) != ids.end();
}

} // namespace

Edit movePieces(std::vector<std::string> ids, Vec2 by) {
    return eachPiece("Move", std::move(ids), [by](Piece& p) {
        p.pose.x += by.x;
        p.pose.y += by.y;
    });
}

Edit turnPieces(std::vector<std::string> ids, double degrees, Vec2 about) {
    return eachPiece("Turn", std::move(ids), [degrees, about](Piece& p) {
        const Turn t = turnOf(degrees);
        const Vec2 d = Vec2{p.pose.x, p.pose.y} - about;
        p.pose.x = about.x + t.cosine * d.x - t.sine * d.y;
        p.pose.y = about.y + t.sine * d.x + t.cosine * d.y;
        p.pose.rotationDeg = normalizedDegrees(p.pose.rotationDeg + degrees);
    });
}

Edit mirrorPieces(std::vector<std::string> ids, Vec2 about) {
    return eachPiece("Mirror", std::move(ids), [about](Piece& p) {
        p.pose.x = 2 * about.x - p.pose.x;
        p.pose.mirror = !p.pose.mirror;
        p.pose.rotationDeg = normalizedDegrees(-p.pose.rotationDeg);
    });
}

Edit setPose(const std::string& id, const Pose& pose, const std::string& name) {
    return {name, [id, pose](Job job) {
                if (Piece* p = job.piece(id); p && !p->locked) p->pose = pose;
                return job;
            }};
}

Edit setKeep(const std::string& id, Keep keep) {
    return {keep == Keep::spacing ? "Respace" : "Keep the stitches", [id, keep](Job job) {
                if (Piece* p = job.piece(id)) p->keep = keep;
                return job;
            }};
}

Edit setLocked(std::vector<std::string> ids, bool locked) {
    return {titled(locked ? "Lock" : "Unlock", ids), [ids, locked](Job job) {
                for (const std::string& id : ids)
                    if (Piece* p = job.piece(id)) p->locked = locked;
                return job;
            }};
}

Edit setHidden(std::vector<std::string> ids, bool hidden) {
    return {titled(hidden ? "Hide" : "Show", ids), [ids, hidden](Job job) {
                for (const std::string& id : ids)
                    if (Piece* p = job.piece(id)) p->hidden = hidden;
                return job;
            }};
}

Edit renamePiece(const std::string& id, const std::string& name) {
    return {"Rename", [id, name](Job job) {
                if (Piece* p = job.piece(id)) p->name = name;
                return job;
            }};
}

Edit deletePieces(std::vector<std::string> ids) {
    const std::string name = titled("Delete", ids);
    return {name, [ids = std::move(ids)](Job job) {
                std::erase_if(job.pieces,
                              [&](const Piece& p) { return !p.locked && oneOf(ids, p.id); });
                dropMissing(job);
                return job;
            }};
}

Edit reorderPiece(const std::string& id, std::size_t place) {
    return {"Change the sewing order", [id, place](Job job) {
                const auto it = std::find_if(job.pieces.begin(), job.pieces.end(),
                                             [&](const Piece& p) { return p.id == id; });
                if (it == job.pieces.end()) return job;
                Piece moved = std::move(*it);
                job.pieces.erase(it);
                const auto at = static_cast<std::ptrdiff_t>(std::min(place, job.pieces.size()));
                job.pieces.insert(job.pieces.begin() + at, std::move(moved));
                return job;
            }};
}

Edit sewBefore(std::vector<std::string> ids, const std::string& before) {
    return {"Change the sewing order", [ids = std::move(ids), before](Job job) {
                const auto goes = [&](const Piece& p) { return oneOf(ids, p.id); };
                const auto isBefore = [&](const Piece& p) { return p.id == before; };
                // Of pieces that go along the next that stays is the one to be before.
                auto at = std::find_if(job.pieces.begin(), job.pieces.end(), isBefore);
                at = std::find_if_not(at, job.pieces.end(), goes);
                const auto stays = [&](const Piece& p) { return !goes(p); };
                std::stable_partition(job.pieces.begin(), at, stays);
                std::stable_partition(at, job.pieces.end(), goes);
                return job;
            }};
}

Edit shiftPiece(const std::string& id, int by) {
    return {"Change the sewing order", [id, by](Job job) {
                const auto it = std::find_if(job.pieces.begin(), job.pieces.end(),
                                             [&](const Piece& p) { return p.id == id; });
                if (it == job.pieces.end()) return job;
                const auto place = std::max<std::ptrdiff_t>(0, it - job.pieces.begin() + by);
                return reorderPiece(id, static_cast<std::size_t>(place)).change(std::move(job));
            }};
}

Edit addPiece(Piece piece) {
    return {"Add " + piece.name, [piece = std::move(piece)](Job job) {
                job.pieces.push_back(piece);
                job.pieces.back().id.clear();
                job.pieces.back().id = unusedId(job, piece.id);
                return job;
            }};
}

Edit addPieceTo(Piece piece, int hooping) {
    const Edit add = addPiece(std::move(piece));
    return {add.name, [add, hooping](Job job) {
                job = add.change(std::move(job));
                const auto index = static_cast<std::size_t>(hooping) - 1;
                if (index < job.hoopings.size())
                    job.hoopings[index].pieces.push_back(job.pieces.back().id);
                return job;
            }};
}

Edit replaceContent(const std::string& id, PieceContent content) {
    return {"Replace", [id, content = std::move(content)](Job job) {
                if (Piece* p = job.piece(id); p && !p->locked) p->content = content;
                return job;
            }};
}

Edit openSpacing(const std::string& id, double factor) {
    return changeParts("Open the spacing", {id},
                       [factor](ShapePart& part) { part.spacingMm *= factor; });
}

Edit changeParts(const std::string& name, std::vector<std::string> ids,
                 std::function<void(ShapePart&)> change) {
    return {name, [ids = std::move(ids), change = std::move(change)](Job job) {
                for (const std::string& id : ids) {
                    Piece* p = job.piece(id);
                    auto* content = p ? std::get_if<ShapeContent>(&p->content) : nullptr;
                    if (!content || p->locked) continue;
                    Shape shape = *content->shape;
                    for (ShapePart& part : shape.parts) change(part);
                    content->shape = std::make_shared<const Shape>(std::move(shape));
                }
                return job;
            }};
}

Edit setArtwork(std::optional<Artwork> artwork, std::shared_ptr<const std::string> bytes) {
    const char* name = !artwork ? "Take the picture away"
                       : bytes  ? "Lay a picture under"
                                : "Place the picture";
    return {name, [artwork = std::move(artwork), bytes](Job job) {
                if (bytes && artwork) job.members[artwork->member] = bytes;
                if (!artwork && job.artwork) job.members.erase(job.artwork->member);
                job.artwork = artwork;
                return job;
            }};
}

Edit setBrief(const Brief& brief, const std::string& name) {
    return {name, [brief](Job job) {
                job.brief = brief;
                return job;
            }};
}

Edit setCloth(const Cloth& cloth, const std::string& name) {
    return {name, [cloth](Job job) {
                job.cloth = cloth;
                return job;
            }};
}

Edit setJobName(const std::string& name) {
    return {"Name the job", [name](Job job) {
                job.name = name;
                return job;
            }};
}

Edit setHoopings(std::vector<Hooping> hoopings, double predictedJoinRmsMm, std::vector<Cut> cuts) {
    return {"Plan the hoopings",
            [hoopings = std::move(hoopings), cuts = std::move(cuts), predictedJoinRmsMm](Job job) {
                job.hoopings = hoopings;
                job.cuts = cuts;
                job.predictedJoinRmsMm = predictedJoinRmsMm;
                return job;
            }};
}

Edit setRegistration(Registration registration, std::shared_ptr<const std::string> scan) {
    return {"Register hooping " + std::to_string(registration.hooping),
            [registration = std::move(registration), scan](Job job) {
                const Registration* old = job.registration(registration.hooping);
                if (old)
                    job.registrations.erase(job.registrations.begin() +
                                            (old - job.registrations.data()));
                if (scan) job.members[registration.scan] = scan;
                job.registrations.push_back(registration);
                return job;
            }};
}

std::string unusedId(const Job& job, const std::string& base) {
    const std::string stem = base.empty() ? "piece" : base;
    std::string id = stem;
    for (int n = 2; job.piece(id); ++n) id = fmt::format("{} {}", stem, n);
    return id;
}

Edit together(const std::string& name, std::vector<Edit> edits) {
    return {name, [edits = std::move(edits)](Job job) {
                for (const Edit& edit : edits) job = edit.change(std::move(job));
                return job;
            }};
}

} // namespace rapt
