#include "job/edit_lettering.h"

#include "job/expansion.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace rapt {
namespace {

/// The words of a piece replaced; its size goes into the words and out of the pose.
void rename(Piece& piece, const std::string& name, double cap) {
    const double k = sizeFactor(piece);
    Lettering words = scaled(*std::get<LetteringContent>(piece.content).lettering, k);
    piece.pose.scaleX /= k;
    piece.pose.scaleY /= k;
    piece.name = name;
    words.text = name;
    words.capHeightMm = cap;
    // Changes of single letters belong to the old words.
    words.letters.clear();
    piece.content = LetteringContent{std::make_shared<const Lettering>(std::move(words))};
}

/// A short name for the list of pieces.
std::string titleOf(const std::string& text) {
    std::string title = text.substr(0, text.find('\n'));
    if (title.size() > 40) {
        std::size_t end = 38;
        while (end > 0 && (static_cast<unsigned char>(title[end]) & 0xC0) == 0x80) --end;
        title = title.substr(0, end) + "…";
    }
    return title.empty() ? "Words" : title;
}

/// The poses of all copies of a piece, its own first.
std::vector<Pose> posesOf(const Job& job, const std::string& id) {
    StitchCache cache;
    std::vector<Pose> poses;
    for (const PlacedPiece& p : placedPieces(job, cache))
        if (p.source == id && !p.outline) poses.push_back(p.piece.pose);
    return poses;
}

/// Steps between copies become fixed, so that they stay when a piece leaves the repeat.
void fixSteps(const Job& job, Repeat& repeat) {
    if (!repeat.byGap) return;
    StitchCache cache;
    const Box box = boxOfOriginals(job, repeat, cache);
    const Affine next = copyMap(repeat, 2, box);
    if (repeat.kind == Repeat::Kind::grid) {
        repeat.acrossMm += box.width();
        repeat.downMm += box.height();
    } else if (repeat.kind == Repeat::Kind::line) {
        repeat.acrossMm = std::hypot(next.tx, next.ty);
    }
    repeat.byGap = false;
}

} // namespace

double sizeFactor(const Piece& piece) { return piece.pose.meanScale(); }

const Lettering* letteringOf(const Job& job, const std::string& id) {
    const Piece* piece = job.piece(id);
    const auto* content = piece ? std::get_if<LetteringContent>(&piece->content) : nullptr;
    return content ? content->lettering.get() : nullptr;
}

Edit changeLettering(const std::string& id, const std::string& name,
                     std::function<void(Lettering&)> change) {
    return {name, [id, change = std::move(change)](Job job) {
                Piece* piece = job.piece(id);
                auto* content = piece ? std::get_if<LetteringContent>(&piece->content) : nullptr;
                if (!content || piece->locked) return job;
                Lettering words = *content->lettering;
                const bool namedAfterText = piece->name == titleOf(words.text);
                change(words);
                if (words == *content->lettering) return job;
                if (namedAfterText) piece->name = titleOf(words.text);
                content->lettering = std::make_shared<const Lettering>(std::move(words));
                return job;
            }};
}

Piece letteringPiece(const Lettering& lettering, const Pose& pose) {
    Piece piece;
    piece.id = "words";
    piece.name = titleOf(lettering.text);
    piece.content = LetteringContent{std::make_shared<const Lettering>(lettering)};
    piece.pose = pose;
    return piece;
}

Edit letterNames(const std::string& id, std::vector<std::string> names, std::vector<double> caps) {
    return {"Letter the list of names",
            [id, names = std::move(names), caps = std::move(caps)](Job job) {
                const Lettering* found = letteringOf(job, id);
                if (!found || names.empty() || names.size() != caps.size()) return job;
                const Lettering look = *found;
                std::vector<Pose> poses = posesOf(job, id);
                if (poses.empty()) poses.push_back(job.piece(id)->pose);
                // Beyond the last place the rest goes on below.
                const double step = 2 * look.capHeightMm;
                for (std::size_t i = poses.size(); i < names.size(); ++i) {
                    Pose next = poses.back();
                    next.y += step;
                    poses.push_back(next);
                }
                for (Repeat& r : job.repeats)
                    if (r.has(id)) {
                        fixSteps(job, r);
                        std::erase(r.pieces, id);
                    }
                std::erase_if(job.repeats, [](const Repeat& r) { return r.pieces.empty(); });
                const auto at = std::find_if(job.pieces.begin(), job.pieces.end(),
                                             [&](const Piece& p) { return p.id == id; }) -
                                job.pieces.begin();
                const Piece original = job.pieces[static_cast<std::size_t>(at)];
                for (std::size_t i = 0; i < names.size(); ++i) {
                    Piece own = original;
                    own.pose = poses[i];
                    rename(own, names[i], caps[i]);
                    if (i == 0) {
                        job.pieces[static_cast<std::size_t>(at)] = own;
                        continue;
                    }
                    own.id = unusedId(job, original.id);
                    job.pieces.insert(job.pieces.begin() + at + static_cast<std::ptrdiff_t>(i),
                                      own);
                }
                return job;
            }};
}

Job withName(Job job, const std::string& id, const std::string& name, double capHeightMm) {
    Piece* piece = job.piece(id);
    auto* content = piece ? std::get_if<LetteringContent>(&piece->content) : nullptr;
    if (!content) return job;
    rename(*piece, name, capHeightMm);
    job.name = fmt::format("{}, {}", job.name, name);
    return job;
}

std::vector<LetteringRecord> letteringRecords(const Job& job) {
    std::vector<LetteringRecord> records;
    for (const Piece& piece : job.pieces)
        if (const auto* words = std::get_if<LetteringContent>(&piece.content)) {
            const double k = sizeFactor(piece);
            records.push_back({words->lettering->text, words->lettering->face,
                               words->lettering->capHeightMm * k, piece.id});
        }
    return records;
}

} // namespace rapt
