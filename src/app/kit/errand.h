#pragma once
// Work in the background whose answer has an address: it is delivered only where and while what it
// was asked for still is.

#include <QObject>
#include <QThreadPool>

#include <chrono>
#include <condition_variable>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <stop_token>

namespace rapt::app {

/// What a question was about. The parts that do not matter are left empty.
struct Address {
    quint64 opened = 0;              ///< of the document: changes when another job is opened
    std::optional<quint64> revision; ///< of the job: changes with every edit
    std::optional<int> hooping;      ///< that is chosen, counted from 0
};

/// One question at a time: a later one takes the place of the one before, whose answer is dropped.
/// Interface thread.
class Errands : public QObject {
    Q_OBJECT
public:
    using Holds = std::function<bool(const Address&)>;
    explicit Errands(Holds h) : holds(std::move(h)) { pool.setMaxThreadCount(1); }
    ~Errands() override {
        stop.request_stop();
        pool.waitForDone();
        // Answers that nobody is left to take have ended too: who counts them must not wait.
        for (; running > 0; --running) emit ended();
    }

    /// `work` runs elsewhere and gets a token that asks it to stop once its answer is of no use;
    /// `take` gets the answer here, if the address still holds then. A quick answer is waited for
    /// as long as `patience` says, and taken before this returns.
    template<class Work, class Take>
    void ask(const Address& to, Work work, Take take, std::chrono::milliseconds patience = {}) {
        using Answer = std::invoke_result_t<Work, std::stop_token>;
        struct Shared {
            std::mutex mutex;
            std::condition_variable there;
            std::optional<Answer> answer;
            bool taken = false;
        };
        stop.request_stop();
        stop = std::stop_source();
        asked = to;
        ++running;
        emit began();
        emit busyChanged();
        const auto shared = std::make_shared<Shared>();
        const auto deliver = [this, to, take = std::move(take), token = stop.get_token(), shared] {
            {
                const std::lock_guard guard(shared->mutex);
                if (std::exchange(shared->taken, true)) return;
            }
            --running;
            emit ended();
            if (!token.stop_requested()) {
                asked.reset();
                if (holds(to)) take(std::move(*shared->answer));
            }
            emit busyChanged();
        };
        pool.start([this, work = std::move(work), token = stop.get_token(), shared, deliver] {
            auto answer = work(token);
            {
                const std::lock_guard guard(shared->mutex);
                shared->answer.emplace(std::move(answer));
            }
            shared->there.notify_all();
            QMetaObject::invokeMethod(this, deliver);
        });
        if (patience.count() == 0) return;
        std::unique_lock lock(shared->mutex);
        const bool there =
            shared->there.wait_for(lock, patience, [&] { return shared->answer.has_value(); });
        lock.unlock();
        if (there) deliver();
    }
    /// The answer is not wanted any more.
    void cancel() {
        if (!asked) return;
        stop.request_stop();
        asked.reset();
        emit busyChanged();
    }
    /// Stops work whose address is gone; called when document, revision or hooping change.
    void drop() {
        if (asked && !holds(*asked)) cancel();
    }
    /// True while an answer is awaited.
    bool isBusy() const { return asked.has_value(); }
    /// True while anything runs, also what was cancelled and has not ended yet.
    bool isRunning() const { return running > 0; }

signals:
    void began();
    void ended();
    void busyChanged(); ///< an answer is awaited, or no longer

private:
    Holds holds;
    QThreadPool pool;
    std::stop_source stop;
    std::optional<Address> asked;
    int running = 0;
};

} // namespace rapt::app
