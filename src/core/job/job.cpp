#include "job/job.h"

namespace rapt {

const Piece* Job::piece(const std::string& id) const {
    for (const Piece& p : pieces)
        if (p.id == id) return &p;
    return nullptr;
}

Piece* Job::piece(const std::string& id) {
    return const_cast<Piece*>(static_cast<const Job*>(this)->piece(id));
}

const Registration* Job::registration(int hooping) const {
    for (const Registration& r : registrations)
        if (r.hooping == hooping) return &r;
    return nullptr;
}

} // namespace rapt
