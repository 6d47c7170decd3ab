#pragma once
// A time after which work is asked to stop.

#include <chrono>
#include <condition_variable>
#include <mutex>
#include <stop_token>
#include <thread>

namespace rapt {

/// Asks to stop after so many seconds; sooner gone, it asks nothing.
class Deadline {
public:
    /// Asks for a stop after so many seconds.
    explicit Deadline(double seconds)
        : waiter([this, seconds](std::stop_token gone) {
              std::mutex mutex;
              std::unique_lock lock(mutex);
              std::condition_variable_any never;
              never.wait_for(lock, gone, std::chrono::duration<double>(seconds),
                             [] { return false; });
              if (!gone.stop_requested()) source.request_stop();
          }) {}

    /// Stopped when the time is over.
    std::stop_token token() const { return source.get_token(); }

private:
    std::stop_source source;
    std::jthread waiter; ///< last: it ends before the rest goes
};

} // namespace rapt
