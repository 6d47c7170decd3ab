#pragma once
// How long the interface thread is busy at a stretch: what a person feels as a hitch.

#include <QObject>
#include <QTimer>
#include <algorithm>
#include <ctime>

namespace rapt::test {

/// Beats every few milliseconds while the event loop runs, and keeps the longest pause. Work that
/// is not done from the event loop counts when it ends.
class Pulse : public QObject {
public:
    Pulse() {
        connect(&timer, &QTimer::timeout, this, [this] { beat(); });
        timer.start(2);
    }
    /// The longest pause so far, in ms of this thread's own processor time: other programs and the
    /// application's workers do not count.
    double longestMs() const { return longest; }
    void forget() {
        longest = 0;
        last = ownMs();
    }

    /// What was done since the last beat ends here.
    void beat() {
        const double now = ownMs();
        longest = std::max(longest, now - last);
        last = now;
    }

private:
    static double ownMs() {
        timespec now{};
        clock_gettime(CLOCK_THREAD_CPUTIME_ID, &now);
        return static_cast<double>(now.tv_sec) * 1e3 + static_cast<double>(now.tv_nsec) * 1e-6;
    }

    QTimer timer;
    double last = ownMs();
    double longest = 0;
};

} // namespace rapt::test
