#include "job/edit_weigh.h"

#include <algorithm>

namespace rapt {

std::vector<std::string> idsOf(const Job& job) {
    std::vector<std::string> ids;
    for (const Piece& p : job.pieces) ids.push_back(p.id);
    return ids;
}

Edit setRelief(std::vector<std::string> ids, std::optional<Relief> relief) {
    return {relief ? "Relieve" : "Make whole again", [ids = std::move(ids), relief](Job job) {
                for (const std::string& id : ids)
                    if (Piece* p = job.piece(id)) p->relief = relief;
                return job;
            }};
}

Edit setRespacing(std::vector<std::string> ids, const RespaceOptions& options) {
    return {"Respace", [ids = std::move(ids), options](Job job) {
                for (const std::string& id : ids)
                    if (Piece* p = job.piece(id)) {
                        p->respacing = options;
                        p->keep = Keep::spacing;
                    }
                return job;
            }};
}

Edit leaveOutRun(const std::string& id, int run, bool leaveOut) {
    return {leaveOut ? "Leave out a thread run" : "Sew a thread run again",
            [id, run, leaveOut](Job job) {
                Piece* p = job.piece(id);
                if (!p) return job;
                std::erase(p->leftOutRuns, run);
                if (leaveOut) p->leftOutRuns.push_back(run);
                std::sort(p->leftOutRuns.begin(), p->leftOutRuns.end());
                return job;
            }};
}

Edit setTrimOver(std::optional<double> mm) {
    return {"Set the trims", [mm](Job job) {
                job.trimOverMm = mm;
                return job;
            }};
}

std::optional<Job> unmended(const Job& job) {
    Job bare = job;
    for (Piece& p : bare.pieces) {
        const bool resized = p.pose.scaleX != 1 || p.pose.scaleY != 1;
        if (resized && std::holds_alternative<DesignContent>(p.content)) p.keep = Keep::stitches;
        p.respacing = {};
        p.relief.reset();
        p.leftOutRuns.clear();
    }
    if (bare == job) return std::nullopt;
    return bare;
}

std::size_t stitchesOfPiece(const StitchedJob& stitched, const std::string& id) {
    std::size_t count = 0;
    for (const PieceSpan& span : stitched.spans) {
        if (span.source != id || span.outline) continue;
        for (std::size_t i = span.first; i < span.last; ++i)
            count += stitched.list.stitches[i].op == Op::stitch;
    }
    return count;
}

} // namespace rapt
