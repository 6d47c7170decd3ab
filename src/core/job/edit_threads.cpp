#include "job/edit_threads.h"

#include "job/groups.h"

#include "thread/runs.h"

#include <algorithm>
#include <fmt/format.h>

namespace rapt {
namespace {

using Renaming = std::vector<std::pair<Thread, Thread>>;

void addOnce(std::vector<Thread>& threads, const Thread& thread) {
    if (std::none_of(threads.begin(), threads.end(),
                     [&](const Thread& t) { return t.sameThread(thread); }))
        threads.push_back(thread);
}

const Thread* renamed(const Renaming& renaming, const Thread& thread) {
    for (const auto& [from, to] : renaming)
        if (from.sameThread(thread) && !to.sameThread(thread)) return &to;
    return nullptr;
}

void setLook(Thread& thread, const Thread& to) {
    thread.color = to.color;
    thread.weight = to.weight;
    thread.name = to.name;
}

/// Stops where no thread is changed any more are left out.
void dropIdleStops(StitchList& list, const std::vector<Stitch>& before) {
    std::vector<Stitch> kept;
    kept.reserve(list.stitches.size());
    for (std::size_t i = 0; i < list.stitches.size(); ++i) {
        const auto around = [&](const std::vector<Stitch>& s) {
            std::size_t a = i, b = i;
            while (a > 0 && s[a].op != Op::stitch) --a;
            while (b + 1 < s.size() && s[b].op != Op::stitch) ++b;
            return s[a].op == Op::stitch && s[b].op == Op::stitch && s[a].thread != s[b].thread;
        };
        if (list.stitches[i].op == Op::stop && around(before) && !around(list.stitches)) continue;
        kept.push_back(list.stitches[i]);
    }
    list.stitches = std::move(kept);
}

std::optional<StitchList> recoloured(const StitchList& list, const Renaming& renaming) {
    StitchList result = list;
    bool changed = false;
    for (Thread& t : result.threads)
        if (const Thread* to = renamed(renaming, t)) {
            setLook(t, *to);
            changed = true;
        }
    if (!changed) return std::nullopt;
    // Indices that mean the same thread now become one.
    std::array<std::uint8_t, 256> index{};
    std::vector<Thread> threads;
    for (const Thread& t : result.threads) {
        const auto same = std::find_if(threads.begin(), threads.end(),
                                       [&](const Thread& o) { return o.sameThread(t); });
        index[t.index] = same == threads.end() ? t.index : same->index;
        if (same == threads.end()) threads.push_back(t);
    }
    result.threads = std::move(threads);
    for (Stitch& s : result.stitches) s.thread = index[s.thread] ? index[s.thread] : s.thread;
    dropIdleStops(result, list.stitches);
    return result;
}

/// A member name that no piece and no other file of the archive has.
std::string unusedMember(const Job& job, const std::string& id) {
    for (int n = 1;; ++n) {
        const std::string name = n == 1 ? fmt::format("designs/{}.stitch.csv", id)
                                        : fmt::format("designs/{}-{}.stitch.csv", id, n);
        const bool taken = job.members.contains(name) ||
                           std::any_of(job.pieces.begin(), job.pieces.end(), [&](const Piece& p) {
                               const auto* design = std::get_if<DesignContent>(&p.content);
                               return design && design->member == name;
                           });
        if (!taken) return name;
    }
}

void recolourWords(LetteringContent& content, const Renaming& renaming) {
    Lettering words = *content.lettering;
    bool changed = false;
    const auto look = [&](Thread& thread) {
        if (const Thread* to = renamed(renaming, thread)) {
            setLook(thread, *to);
            changed = true;
        }
    };
    look(words.thread);
    for (LetterChange& c : words.letters)
        if (c.thread) look(*c.thread);
    if (changed) content.lettering = std::make_shared<const Lettering>(std::move(words));
}

void recolourPiece(Job& job, Piece& piece, const Renaming& renaming) {
    if (piece.outline)
        if (const Thread* to = renamed(renaming, piece.outline->thread))
            setLook(piece.outline->thread, *to);
    if (auto* design = std::get_if<DesignContent>(&piece.content)) {
        if (auto list = recoloured(*design->list, renaming)) {
            design->list = std::make_shared<const StitchList>(std::move(*list));
            design->member = unusedMember(job, piece.id);
        }
    } else if (auto* content = std::get_if<ShapeContent>(&piece.content)) {
        Shape shape = *content->shape;
        bool changed = false;
        for (ShapePart& part : shape.parts)
            if (const Thread* to = renamed(renaming, part.thread)) {
                setLook(part.thread, *to);
                changed = true;
            }
        if (changed) content->shape = std::make_shared<const Shape>(std::move(shape));
    } else {
        recolourWords(std::get<LetteringContent>(piece.content), renaming);
    }
}

/// The contents of a piece, one for each of its thread runs.
std::vector<PieceContent> contentsByThread(const Job& job, const Piece& piece) {
    std::vector<PieceContent> contents;
    if (const auto* content = std::get_if<ShapeContent>(&piece.content)) {
        std::vector<Shape> shapes;
        for (const ShapePart& part : content->shape->parts) {
            if (shapes.empty() || !shapes.back().parts[0].thread.sameThread(part.thread))
                shapes.emplace_back();
            shapes.back().parts.push_back(part);
        }
        for (Shape& shape : shapes)
            contents.push_back(ShapeContent{std::make_shared<const Shape>(std::move(shape))});
    } else if (const auto* design = std::get_if<DesignContent>(&piece.content)) {
        int n = 0;
        for (TracedList& run : runsOf(*design->list))
            contents.push_back(
                DesignContent{unusedMember(job, fmt::format("{}-thread-{}", piece.id, ++n)),
                              std::make_shared<const StitchList>(std::move(run))});
    }
    return contents;
}

Job withThreads(Job job, const std::vector<std::string>& ids, const Renaming& renaming) {
    for (Piece& piece : job.pieces)
        if (ids.empty() || std::find(ids.begin(), ids.end(), piece.id) != ids.end())
            recolourPiece(job, piece, renaming);
    return job;
}

} // namespace

std::vector<Thread> threadsOf(const Piece& piece) {
    std::vector<Thread> threads;
    if (piece.outline) addOnce(threads, piece.outline->thread);
    if (const auto* design = std::get_if<DesignContent>(&piece.content))
        for (const Thread& t : design->list->threads) addOnce(threads, t);
    if (const auto* content = std::get_if<ShapeContent>(&piece.content))
        for (const ShapePart& part : content->shape->parts) addOnce(threads, part.thread);
    if (const auto* words = std::get_if<LetteringContent>(&piece.content)) {
        addOnce(threads, words->lettering->thread);
        for (const LetterChange& c : words->lettering->letters)
            if (c.thread) addOnce(threads, *c.thread);
    }
    return threads;
}

std::vector<Thread> threadsOf(const Job& job) {
    std::vector<Thread> threads;
    for (const Piece& piece : job.pieces)
        for (const Thread& t : threadsOf(piece)) addOnce(threads, t);
    return threads;
}

Edit recolour(std::vector<std::string> ids, const Thread& from, const Thread& to) {
    return {ids.empty() ? "Recolour everywhere" : "Recolour",
            [ids = std::move(ids), from, to](Job job) {
                return withThreads(std::move(job), ids, {{from, to}});
            }};
}

Edit useOwnedThreads(const Palette& palette) {
    return {"Use the threads owned", [palette](Job job) {
                Renaming renaming;
                for (const Thread& t : threadsOf(job))
                    if (const auto nearest = nearestThread(palette, t.color, t.weight))
                        renaming.emplace_back(t, palette.threads[nearest->index].thread);
                return withThreads(std::move(job), {}, renaming);
            }};
}

Edit joinLikeThreads(double most) {
    return {"Join like threads", [most](Job job) {
                Renaming renaming;
                std::vector<Thread> kept;
                for (const Thread& t : threadsOf(job)) {
                    const auto like = std::find_if(kept.begin(), kept.end(), [&](const Thread& k) {
                        return k.weight == t.weight && colourDifference(k.color, t.color) <= most;
                    });
                    if (like == kept.end())
                        kept.push_back(t);
                    else
                        renaming.emplace_back(t, *like);
                }
                return withThreads(std::move(job), {}, renaming);
            }};
}

Edit splitByThread(const std::string& id) {
    return {"Split by thread", [id](Job job) {
                const auto it = std::find_if(job.pieces.begin(), job.pieces.end(),
                                             [&](const Piece& p) { return p.id == id; });
                if (it == job.pieces.end() || it->locked) return job;
                const Piece whole = *it;
                auto contents = contentsByThread(job, whole);
                if (contents.size() < 2) return job;
                const auto place = it - job.pieces.begin();
                job.pieces.erase(it);
                std::vector<std::string> ids;
                for (std::size_t k = 0; k < contents.size(); ++k) {
                    Piece part = whole;
                    part.content = std::move(contents[k]);
                    if (k > 0) part.outline.reset();
                    part.group = groupIn(whole.group, groupName(whole.name));
                    part.name = fmt::format("{}, {}", whole.name, threadsOf(part).back().name);
                    part.id = k == 0 ? whole.id : unusedId(job, whole.id);
                    ids.push_back(part.id);
                    job.pieces.insert(job.pieces.begin() + place + static_cast<std::ptrdiff_t>(k),
                                      std::move(part));
                }
                for (Repeat& r : job.repeats)
                    if (r.has(id)) {
                        std::erase(r.pieces, id);
                        r.pieces.insert(r.pieces.end(), ids.begin(), ids.end());
                    }
                return job;
            }};
}

} // namespace rapt
