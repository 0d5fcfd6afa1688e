// Long work beside the window: one piece at a time on a thread of its own. It may ask whether it is still wanted, tell
// on the window's thread how far it is, and be stopped; an exception in it becomes a problem. What it needs it holds by
// value: nothing of the window is touched from its thread.
#pragma once

#include "core/cells/problem.h"

#include <QObject>

#include <atomic>
#include <exception>
#include <functional>
#include <memory>
#include <thread>

namespace ingot {

class Job : public QObject {
    Q_OBJECT
public:
    // What the work holds of its job.
    class Token {
    public:
        // False once something newer began, it was stopped, or the owner goes.
        [[nodiscard]] bool wanted() const { return job_->wanted_.load(); }
        // Runs on the owner's thread, unless the job was dropped or begun anew meanwhile.
        void tell(std::function<void()> what) const {
            QMetaObject::invokeMethod(
                job_,
                [job = job_, turn = turn_, what = std::move(what)] {
                    if (turn == job->turn_)
                        what();
                },
                Qt::QueuedConnection);
        }

    private:
        friend class Job;
        Token(Job* job, int turn) : job_(job), turn_(turn) {}
        Job* job_;
        int turn_;
    };

    explicit Job(QObject* owner) : QObject(owner) {}
    ~Job() override { drop(); }

    // Until the work is over, or dropped. What the work still does after it told its answer does not count.
    [[nodiscard]] bool busy() const { return busy_; }
    void answered() { busy_ = false; }
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
    // Whatever ran before is dropped.
    template <class Found>
    void begin(std::function<Found(const Token&)> work, std::function<void(const Found&)> hand_over) {
        drop();
        wanted_ = true;
        busy_ = true;
        thread_ =
            std::thread([this, token = Token(this, turn_), work = std::move(work), hand_over = std::move(hand_over)] {
                try {
                    auto found = std::make_shared<Found>(work(token));
                    token.tell([this, found, hand_over] {
                        busy_ = false;
                        hand_over(*found);
                    });
                } catch (const std::exception& exception) {
                    token.tell([this, what = std::string(exception.what())] {
                        busy_ = false;
                        emit failed(Problem{"", 0, said("This could not be finished: {}", what)});
                    });
                }
            });
    }

signals:
    void failed(const ingot::Problem& problem);

private:
    std::thread thread_;
    std::atomic<bool> wanted_{true};
    bool busy_ = false;
    int turn_ = 0;
};

} // namespace ingot
