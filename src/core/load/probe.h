#pragma once
// What lies under one place: how much thread each piece brings there.

#include "job/stitching.h"
#include "load/limits.h"

#include <array>
#include <unordered_map>
#include <vector>

namespace rapt {

/// What one piece brings at a place.
struct Contribution {
    std::string piece;
    double layers = 0;
    double hits = 0; ///< needle points per mm²

    /// Layers or hits.
    double of(LoadKind kind) const { return kind == LoadKind::layers ? layers : hits; }
};

/// Layers and hits that each piece brings in the 2.0 mm window round the cell at `at` (cloth
/// frame), most layers first; pieces that bring nothing are left out. The sums are the map's values
/// there.
std::vector<Contribution> contributionsAt(const StitchedJob& job, Vec2 at);

/// Answers the same for many places of one job: stitches are sorted by place once. Refers to the
/// job, which must outlive it. One thread.
class Probe {
public:
    /// Sorts the job's stitches by place once.
    explicit Probe(const StitchedJob& job);
    /// What each piece brings there, most first.
    std::vector<Contribution> at(Vec2 place) const;

private:
    static constexpr double bucketMm = 8;
    std::uint64_t bucketOf(double x, double y) const;

    const StitchedJob& job;
    std::array<float, 256> widths;
    /// Records that lay thread or prick within a window's reach of each bucket, in order.
    std::unordered_map<std::uint64_t, std::vector<std::uint32_t>> buckets;
};

/// The same for each thread run of one piece (counted from 1, copies together), most first.
struct RunContribution {
    int run = 1;
    std::uint8_t thread = 1; ///< of the job's list
    double layers = 0;
};
/// The same for the thread runs of one piece.
std::vector<RunContribution> runContributionsAt(const StitchedJob& job, const std::string& piece,
                                                Vec2 at);

} // namespace rapt
