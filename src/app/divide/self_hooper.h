#pragma once
// What fits one frame is hooped by itself as soon as a hooping is needed.

#include "app/document/session.h"

namespace rapt::app {

/// On entering Register and Stitch-out: a job without hoopings, or whose only hooping nobody
/// pinned, sewed or registered and which no longer suits, is hooped in the smallest owned frame
/// that holds it whole, as an edit that can be undone. What fits none is left to Divide.
class SelfHooper : public QObject {
    Q_OBJECT
public:
    explicit SelfHooper(Session& session, QObject* parent = nullptr);

private:
    bool isWanted() const;
    void hoop();

    Session& session;
    std::unique_ptr<Errands> hooping = session.errands();
};

} // namespace rapt::app
