#pragma once
// How far the stitch-out is shown.

#include "estimate/playback.h"

#include <QObject>
#include <optional>

namespace rapt::app {

class PlaybackState : public QObject {
    Q_OBJECT
public:
    /// In records of the stitched job; nothing for all of it.
    std::optional<Playhead> head() const { return shownUpTo; }
    void setHead(std::optional<Playhead> place) {
        if (place == shownUpTo) return;
        shownUpTo = place;
        emit changed();
    }

signals:
    void changed();

private:
    std::optional<Playhead> shownUpTo;
};

} // namespace rapt::app
