// One piece of work at a time beside the window, so that the window never waits: the work runs on a thread of its own
// and may ask whether it is still wanted; what it found is handed over on the window's thread.
#pragma once

#include <QObject>

#include <atomic>
#include <functional>
#include <memory>
#include <thread>

namespace ingot::app {

class Beside : public QObject {
    Q_OBJECT
public:
    using Wanted = std::function<bool()>; // false once something newer began, it was stopped, or the owner goes

    explicit Beside(QObject* owner) : QObject(owner) {}
    ~Beside() override { drop(); }

    [[nodiscard]] bool busy() const { return busy_; }
    // Ends what runs; its result is handed over all the same (the best so far).
    void stop() { wanted_ = false; }
    // Ends what runs and forgets it.
    void drop() {
        ++turn_;
        wanted_ = false;
        if (thread_.joinable())
            thread_.join();
        busy_ = false;
    }
    // `work` must hold what it needs by value. Whatever ran before is dropped.
    template <class Found>
    void begin(std::function<Found(const Wanted&)> work, std::function<void(const Found&)> hand_over) {
        drop();
        wanted_ = true;
        busy_ = true;
        thread_ = std::thread([this, turn = turn_, work = std::move(work), hand_over = std::move(hand_over)] {
            auto found = std::make_shared<Found>(work([this] { return wanted_.load(); }));
            QMetaObject::invokeMethod(
                this,
                [this, turn, found, hand_over] {
                    if (turn != turn_)
                        return;
                    busy_ = false;
                    hand_over(*found);
                },
                Qt::QueuedConnection);
        });
    }

private:
    std::thread thread_;
    std::atomic<bool> wanted_{true};
    bool busy_ = false;
    int turn_ = 0;
};

} // namespace ingot::app
