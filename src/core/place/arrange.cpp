#include "place/arrange.h"

#include <algorithm>
#include <numeric>

namespace rapt {

std::vector<Vec2> alignMoves(const std::vector<Movable>& items, Align how, const Box& to) {
    std::vector<Vec2> moves;
    for (const Movable& item : items) {
        const Box& b = item.box;
        Vec2 by;
        switch (how) {
        case Align::left:
            by.x = to.minX - b.minX;
            break;
        case Align::middleAcross:
            by.x = to.centre().x - b.centre().x;
            break;
        case Align::right:
            by.x = to.maxX - b.maxX;
            break;
        case Align::top:
            by.y = to.minY - b.minY;
            break;
        case Align::middleDown:
            by.y = to.centre().y - b.centre().y;
            break;
        case Align::bottom:
            by.y = to.maxY - b.maxY;
            break;
        }
        moves.push_back(b.empty() || to.empty() ? Vec2{} : by);
    }
    return moves;
}

std::vector<Vec2> distributeMoves(const std::vector<Movable>& items, bool across) {
    std::vector<Vec2> moves(items.size());
    if (items.size() < 3) return moves;
    const auto low = [&](std::size_t i) { return across ? items[i].box.minX : items[i].box.minY; };
    const auto size = [&](std::size_t i) {
        return across ? items[i].box.width() : items[i].box.height();
    };
    std::vector<std::size_t> order(items.size());
    std::iota(order.begin(), order.end(), 0);
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
        return low(a) + size(a) / 2 < low(b) + size(b) / 2;
    });
    double sizes = 0;
    for (const std::size_t i : order) sizes += size(i);
    const double room = low(order.back()) + size(order.back()) - low(order.front());
    const double gap = (room - sizes) / static_cast<double>(items.size() - 1);
    const auto middle = [&](std::size_t i) { return low(i) + size(i) / 2; };
    const double step =
        (middle(order.back()) - middle(order.front())) / static_cast<double>(items.size() - 1);
    double at = low(order.front());
    for (std::size_t k = 0; k < order.size(); ++k) {
        const std::size_t i = order[k];
        // Boxes without room between them: equal gaps would change their order.
        const double to =
            gap >= 0 ? at : middle(order.front()) + static_cast<double>(k) * step - size(i) / 2;
        (across ? moves[i].x : moves[i].y) = to - low(i);
        at += size(i) + gap;
    }
    return moves;
}

Edit moveEach(const std::string& name, std::vector<Movable> items, std::vector<Vec2> moves) {
    std::vector<Edit> edits;
    for (std::size_t i = 0; i < items.size(); ++i)
        edits.push_back(movePieces(items[i].ids, moves[i]));
    return together(name, std::move(edits));
}

} // namespace rapt
