#pragma once
// One value that follows from a key and takes a while: worked out off the interface thread when it
// is asked for.

#include <QObject>
#include <QThreadPool>

#include <condition_variable>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>

namespace rapt::app {

class LookupSignals : public QObject {
    Q_OBJECT
signals:
    /// The value of the last key that was asked for is there.
    void ready();
};

/// Keeps the value of the last key. Quick values are waited for, so that what is shown does not
/// flicker; slower ones are announced when they are there. Interface thread.
template<class Key, class Value>
class Lookup : public LookupSignals {
public:
    using Make = std::function<Value(const Key&)>;
    explicit Lookup(Make m) : make(std::move(m)) { pool.setMaxThreadCount(1); }
    ~Lookup() override { pool.waitForDone(); }

    /// The value, or null while it is being worked out.
    const Value* find(const Key& key) {
        if (!asked || !(*asked == key)) {
            asked = key;
            work = std::make_shared<Work>();
            pool.clear();
            pool.start([this, key, own = work] {
                auto value = std::make_unique<const Value>(make(key));
                {
                    const std::lock_guard guard(own->mutex);
                    own->value = std::move(value);
                    own->there.notify_all();
                    if (!own->late) return;
                }
                QMetaObject::invokeMethod(this, [this, own] {
                    own->late = false;
                    if (own == work) emit ready();
                });
            });
            std::unique_lock lock(work->mutex);
            work->there.wait_for(lock, patience, [this] { return work->value != nullptr; });
            work->late = !work->value;
        }
        const std::lock_guard guard(work->mutex);
        return work->value.get();
    }
    /// Until the value is there and was announced.
    bool isBusy() const {
        if (!work) return false;
        const std::lock_guard guard(work->mutex);
        return !work->value || work->late;
    }

private:
    static constexpr std::chrono::milliseconds patience{20};
    struct Work {
        std::mutex mutex;
        std::condition_variable there;
        std::unique_ptr<const Value> value;
        bool late = false; ///< it was not there in time and is still to be announced
    };
    Make make;
    std::optional<Key> asked;
    std::shared_ptr<Work> work;
    QThreadPool pool;
};

} // namespace rapt::app
