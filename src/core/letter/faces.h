#pragma once
// The faces at hand: those that come with the application and those in the person's own folder.

#include "letter/face.h"

#include <string>
#include <vector>

namespace rapt {

/// A typeface and its file.
struct FaceRecord {
    std::string id;
    std::string name;
    std::string file;    ///< full path
    bool joined = false; ///< a script whose letters connect
    bool own = false;    ///< from the person's folder
};

/// A font file in a folder that cannot be used, and why.
struct RefusedFace {
    std::string file;
    std::string reason;
};

/// The faces there are, and the files that were refused.
struct FaceShelf {
    std::vector<FaceRecord> faces; ///< the application's first, then by name
    std::vector<RefusedFace> refused;

    /// The record of that id, or null.
    const FaceRecord* find(const std::string& id) const;
    /// True if a face of that file is among them.
    bool holds(const std::string& file) const;
    /// "garamond, lato, …"
    std::string knownIds() const;
};

/// Reads `dataFolder/faces/faces.json`, and every other .ttf and .otf there and of the person's
/// folder, whose ids come from the file names. A damaged font is listed as refused and hides
/// nothing else. Results are remembered by file and its time of change; any thread.
FaceShelf faceShelf(const std::string& dataFolder, const std::string& userFolder);
/// The shipped faces and the person's own.
FaceShelf faceShelf();

/// The opened face of an id, or of a font file given by its path. Remembered; any thread. Fails
/// (cannotDo, the known ones named) for an id that no face has.
Result<std::shared_ptr<const Face>> openFace(const std::string& id);

/// True if the face of an id is a script whose letters connect.
bool isJoined(const std::string& id);

/// True if small letters of a face connect: most pairs of n, e, a, m, i, u touch when set.
bool lettersConnect(const Face& face);

} // namespace rapt
