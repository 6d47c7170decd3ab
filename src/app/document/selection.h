#pragma once
// Which pieces are chosen.

#include "app/document/document.h"

namespace rapt::app {

/// Ids of the chosen pieces, in the order they were chosen; the first leads. Interface thread.
class Selection : public QObject {
    Q_OBJECT
public:
    explicit Selection(Document& document);

    const std::vector<std::string>& ids() const { return chosen; }
    bool empty() const { return chosen.empty(); }
    bool contains(const std::string& id) const;
    /// Chooses pieces and everything that is grouped with them below the opened group; a piece
    /// outside it closes it. `copy` is the linked copy that was pointed at, counted from 1: it is
    /// the one that is shown and moved.
    void choose(std::vector<std::string> ids, int copy = 1);
    /// Only these, whatever their groups; opens the group that they lie in.
    void chooseSingly(std::vector<std::string> ids, int copy = 1);
    /// A group as one.
    void chooseGroup(const std::string& path);
    /// Opens the group of a piece by one level and chooses what it lies in there; false if the
    /// piece is chosen by itself already.
    bool openTowards(const std::string& id, int copy = 1);
    /// The opened group as one, closed; nothing if none is open.
    void close();
    /// Path of the group whose members are chosen one by one; empty: none.
    const std::string& opened() const { return openedGroup; }
    /// The group that is chosen as one, whole and nothing besides; else empty.
    std::string group() const;
    int copy() const { return copyPointedAt; }
    /// The one chosen piece, or null.
    const Piece* single() const;
    /// The lettering of the one chosen piece, or null.
    const Lettering* words() const;
    /// Lets go of pieces that the job no longer has.
    void dropVanished();

signals:
    void changed();

private:
    void set(std::vector<std::string> ids, int copy);

    Document& document;
    std::vector<std::string> chosen;
    std::string openedGroup;
    int copyPointedAt = 1;
};

} // namespace rapt::app
