#pragma once
// The threads the person owns, and how the drawing tools use them.

#include "base/result.h"
#include "thread/palette.h"

#include <QObject>

namespace rapt::app {

class OwnedThreads : public QObject {
    Q_OBJECT
public:
    OwnedThreads();

    const Palette& palette() const { return owned; }
    /// Why the person's own threads could not be read at the start; then the shipped ones are used.
    const QString& problem() const { return unreadable; }
    /// Replaces the threads owned, on disk too. A file that could not be read is kept beside it.
    Status setPalette(Palette palette);

    /// How the drawing tools draw.
    struct DrawSettings {
        Thread thread{1, {31, 78, 121}, 40, "Deep tide"};
        bool smooth = true;
    };
    DrawSettings drawing;

signals:
    void changed();

private:
    Palette owned;
    QString unreadable;
};

} // namespace rapt::app
