#include "job/job.h"

#include <fmt/format.h>
#include <random>

namespace rapt {
namespace {

const Piece* exactly(const std::vector<Piece>& pieces, std::string_view id) {
    for (const Piece& p : pieces)
        if (p.id == id) return &p;
    return nullptr;
}

} // namespace

RAPT_VALUE_MEMBERS(Piece)
RAPT_VALUE_MEMBERS(Job)

JobIdentity newIdentity() {
    std::random_device source;
    std::string text;
    for (int i = 0; i < 4; ++i) text += fmt::format("{:08x}", static_cast<std::uint32_t>(source()));
    return {text};
}

bool ClothZone::contains(Vec2 p) const {
    return outline.empty() ? distance(at, p) <= radiusMm : rapt::contains({outline}, p);
}

Box ClothZone::box() const {
    return outline.empty() ? Box::centredAt(at, 2 * radiusMm, 2 * radiusMm) : boundsOf(outline);
}

const Piece* Job::piece(const std::string& id) const {
    if (const Piece* p = exactly(pieces, id)) return p;
    std::string_view base = id;
    while (base.ends_with('#')) base.remove_suffix(1);
    const std::size_t hash = base.rfind('#');
    if (hash != std::string_view::npos &&
        base.find_first_not_of("0123456789", hash + 1) == std::string_view::npos)
        base = base.substr(0, hash);
    if (const Piece* p = exactly(pieces, base)) return p;
    constexpr std::string_view outline = ":outline";
    if (base.ends_with(outline)) base.remove_suffix(outline.size());
    return exactly(pieces, base);
}

Piece* Job::piece(const std::string& id) {
    return const_cast<Piece*>(static_cast<const Job*>(this)->piece(id));
}

const Repeat* Job::repeatOf(const std::string& pieceId) const {
    for (const Repeat& r : repeats)
        if (r.has(pieceId)) return &r;
    return nullptr;
}

Repeat* Job::repeat(const std::string& repeatId) {
    for (Repeat& r : repeats)
        if (r.id == repeatId) return &r;
    return nullptr;
}

const Registration* Job::registration(int hooping) const {
    const auto clampingOf = [&](int number) {
        const auto i = static_cast<std::size_t>(number) - 1;
        return number >= 1 && i < hoopings.size() ? hoopings[i].clamping : -number;
    };
    for (const Registration& r : registrations)
        if (clampingOf(r.hooping) == clampingOf(hooping)) return &r;
    return nullptr;
}

const Hooping* Job::firstHoopingOf(const std::string& pieceId) const {
    for (const Hooping& h : hoopings)
        for (const std::string& id : h.pieces)
            if (const Piece* p = piece(id); p && p->id == pieceId) return &h;
    return nullptr;
}

} // namespace rapt
