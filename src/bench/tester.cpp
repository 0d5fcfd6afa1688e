#include "bench/tester.h"

#include <QTimer>

namespace ingot::bench {

namespace {

constexpr int usual_poll_ms = 250;

} // namespace

Tester::Tester(QObject* parent) : QObject(parent), beat_(new QTimer(this)) {
    beat_->setInterval(usual_poll_ms);
    connect(beat_, &QTimer::timeout, this, &Tester::poll);
    connect(&line_, &Line::opened, this, &Tester::greet);
    connect(&line_, &Line::gone, this, [this](const QString& why) {
        ready_ = polling_ = false;
        beat_->stop();
        emit gone(why);
    });
    connect(&line_, &Line::silent, this, &Tester::silent);
    connect(&line_, &Line::answered, this, [this] {
        emit answered();
        if (!ready_)
            greet();
    });
}

void Tester::open(const std::string& address) {
    line_.open(address);
}

void Tester::set_poll_interval(int ms) {
    beat_->setInterval(ms);
}

template <class T> bool Tester::understood(const Result<T>& result) {
    if (!result)
        emit rubbish(QString::fromStdString(result.problem().sentence));
    return result.ok();
}

void Tester::greet() {
    ready_ = polling_ = false;
    line_.ask("*IDN?", [this](const Result<std::string>& line) {
        if (!line)
            return;
        const auto identity = read_identity(line.value());
        if (!understood(identity))
            return;
        identity_ = identity.value();
        line_.ask("SYST:BAYS?", [this](const Result<std::string>& count_line) {
            const auto count = count_line ? read_count(count_line.value()) : Result<int>(count_line.problem());
            if (!count_line || !understood(count))
                return;
            bays_ = count.value();
            line_.ask("SYST:ABIL?", [this](const Result<std::string>& abilities_line) {
                const auto abilities = abilities_line ? read_abilities(abilities_line.value())
                                                      : Result<BayAbilities>(abilities_line.problem());
                if (!abilities_line || !understood(abilities))
                    return;
                abilities_ = abilities.value();
                ready_ = true;
                beat_->start();
                emit became_ready();
                poll();
            });
        });
    });
}

void Tester::poll() {
    if (!ready_ || polling_)
        return;
    polling_ = true;
    line_.ask(ask_samples(last_), [this](const Result<std::string>& answer) { take_samples(answer); });
}

void Tester::take_samples(const Result<std::string>& answer) {
    polling_ = false;
    if (!answer)
        return;
    const auto samples = read_samples(answer.value());
    if (!understood(samples))
        return;
    if (!samples.value().empty()) {
        const std::uint64_t first = samples.value().front().sequence;
        if (first > last_ + 1 && last_ != 0)
            emit hole(last_, first);
        last_ = samples.value().back().sequence;
        emit sampled(samples.value());
    }
    constexpr std::size_t full_answer = 400;
    if (samples.value().size() >= full_answer) { // there is more
        poll();
        return;
    }
    polling_ = true;
    line_.ask("BAY:STAT?", [this](const Result<std::string>& line) {
        polling_ = false;
        if (!line)
            return;
        const auto statuses = read_statuses(line.value());
        if (understood(statuses))
            emit stated(statuses.value());
    });
}

void Tester::tell(const std::string& command, const Done& done) {
    line_.command(command, [this, done](const Result<std::string>& line, bool sent) {
        if (!line) {
            done({sent ? Told::no_answer : Told::not_sent, line.problem().sentence});
            return;
        }
        const auto error = read_error(line.value());
        understood(error);
        const std::string words = error ? error.value() : error.problem().sentence;
        done({words.empty() ? Told::confirmed : Told::refused, words});
    });
}

void Tester::start(int bay, const BayLimits& limits, const BayStep& step, const std::string& tag, double sample_s,
                   const Done& done) {
    tell("*CLS;" + set_limits(bay, limits), [this, bay, limits, step, tag, sample_s, done](const Reply& set) {
        if (!set.confirmed()) { // limits alone make no current flow
            done({set.told == Told::refused ? Told::refused : Told::not_sent, set.words});
            return;
        }
        line_.command(ask_limits(bay), [this, bay, limits, step, tag, sample_s, done](const auto& line, bool) {
            if (!line) {
                done({Told::not_sent, line.problem().sentence});
                return;
            }
            const auto read = read_limits(line.value());
            if (!understood(read) || !same_limits(limits, read.value())) {
                done({Told::refused, "it does not keep the limits that it was told (" + line.value() + ")"});
                return;
            }
            tell("*CLS;" + ask_start(bay, step, tag, sample_s), done);
        });
    });
}

void Tester::stop(int bay, const Done& done) {
    tell("*CLS;" + ask_stop(bay), done);
}

void Tester::read_voltage(int bay, const Read& done) {
    line_.command(ask_voltage(bay), [done](const Result<std::string>& line, bool) {
        done(line ? read_measurement(line.value()) : Result<std::optional<double>>(line.problem()));
    });
}

void Tester::set_watchdog(double seconds, const Done& done) {
    tell("*CLS;" + bench::set_watchdog(seconds), done);
}

} // namespace ingot::bench
