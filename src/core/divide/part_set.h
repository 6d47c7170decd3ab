#pragma once
// Sets of parts, by their numbers from 0.

#include <bit>
#include <cstddef>
#include <cstdint>
#include <vector>

namespace rapt {

/// A set of numbers below a size that is given once; sets of one size go together.
class PartSet {
public:
    PartSet() = default;
    /// The empty set of numbers below `size`.
    explicit PartSet(std::size_t size) : words((size + 63) / 64) {}

    /// Puts a number in.
    void add(std::size_t i) { words[i / 64] |= std::uint64_t{1} << (i % 64); }
    /// Takes a number out.
    void remove(std::size_t i) { words[i / 64] &= ~(std::uint64_t{1} << (i % 64)); }
    bool has(std::size_t i) const { return words[i / 64] >> (i % 64) & 1; }
    /// How many numbers are in.
    std::size_t count() const {
        std::size_t n = 0;
        for (const std::uint64_t w : words) n += static_cast<std::size_t>(std::popcount(w));
        return n;
    }
    bool empty() const {
        for (const std::uint64_t w : words)
            if (w) return false;
        return true;
    }
    /// True if all of it is in the other one.
    bool isIn(const PartSet& o) const {
        for (std::size_t i = 0; i < words.size(); ++i)
            if (words[i] & ~o.words[i]) return false;
        return true;
    }
    /// Takes in all of the other one.
    void unite(const PartSet& o) {
        for (std::size_t i = 0; i < words.size(); ++i) words[i] |= o.words[i];
    }
    /// Takes out all of the other one.
    void subtract(const PartSet& o) {
        for (std::size_t i = 0; i < words.size(); ++i) words[i] &= ~o.words[i];
    }
    /// How many numbers of it are not in the other one.
    std::size_t countWithout(const PartSet& o) const {
        std::size_t n = 0;
        for (std::size_t i = 0; i < words.size(); ++i)
            n += static_cast<std::size_t>(std::popcount(words[i] & ~o.words[i]));
        return n;
    }
    /// Calls `f` with every number in it, ascending.
    template<class F>
    void each(F f) const {
        for (std::size_t i = 0; i < words.size(); ++i)
            for (std::uint64_t w = words[i]; w; w &= w - 1)
                f(i * 64 + static_cast<std::size_t>(std::countr_zero(w)));
    }
    /// For sorting and looking up.
    friend auto operator<=>(const PartSet&, const PartSet&) = default;

private:
    std::vector<std::uint64_t> words;
};

} // namespace rapt
