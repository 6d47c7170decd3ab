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
    /// Chooses pieces and everything that is grouped with them. `copy` is the linked copy that was
    /// pointed at, counted from 1: it is the one that is shown and moved.
    void choose(std::vector<std::string> ids, int copy = 1);
    /// Only these, whatever their groups.
    void chooseSingly(std::vector<std::string> ids, int copy = 1);
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
    Document& document;
    std::vector<std::string> chosen;
    int copyPointedAt = 1;
};

} // namespace rapt::app
