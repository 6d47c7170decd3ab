#include "job/copies.h"

#include <algorithm>

namespace rapt {

int Repeat::copies() const {
    switch (kind) {
    case Kind::grid:
        return columns * rows;
    case Kind::line:
    case Kind::circle:
        return count;
    case Kind::mirror:
        return (leftRight ? 2 : 1) * (nearFar ? 2 : 1);
    }
    return 1;
}

bool Repeat::has(const std::string& pieceId) const {
    return std::find(pieces.begin(), pieces.end(), pieceId) != pieces.end();
}

const CopyException* Repeat::exception(int copy) const {
    for (const CopyException& e : exceptions)
        if (e.copy == copy) return &e;
    return nullptr;
}

} // namespace rapt
