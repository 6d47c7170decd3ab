#pragma once
// Edits of lettering, and what a job has lettered.

#include "job/edit.h"

namespace rapt {

/// Changes the lettering of a piece; nothing for other pieces.
Edit changeLettering(const std::string& id, const std::string& name,
                     std::function<void(Lettering&)> change);

/// The lettering of a piece, or null.
const Lettering* letteringOf(const Job& job, const std::string& id);

/// How many times as large as its lettering says a piece stands on the cloth.
double sizeFactor(const Piece& piece);

/// A piece that holds this lettering, named after its first words.
Piece letteringPiece(const Lettering& lettering, const Pose& pose);

/// The job with one lettering piece for each name, in the places of the piece's copies, row by row;
/// the piece itself takes the first name. Its repeat is taken apart, the copies of other pieces in
/// it stay linked. With fewer places than names the rest goes on below, with fewer names the last
/// places stay bare. `caps` are the names' cap
/// heights as they come to stand on the cloth.
Edit letterNames(const std::string& id, std::vector<std::string> names, std::vector<double> caps);

/// Variants of a job, one for each name: the piece's text and size replaced.
Job withName(Job job, const std::string& id, const std::string& name, double capHeightMm);

/// What was lettered in a job, for finding it later.
struct LetteringRecord {
    std::string text;
    std::string face;
    double capHeightMm = 0; ///< as it stands on the cloth
    std::string piece;
};
/// What the book of lettering keeps of a job.
std::vector<LetteringRecord> letteringRecords(const Job& job);

} // namespace rapt
