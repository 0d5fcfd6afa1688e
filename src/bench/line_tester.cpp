#include "bench/line_tester.h"

#include "bench/scpi.h"

#include <QTimer>

#include <algorithm>
#include <cmath>
#include <sstream>
#include <utility>

namespace ingot::bench {

namespace {

constexpr int usual_poll_ms = 250;
constexpr int greet_again_ms = 2000; // what it said may have been cut off

} // namespace

LineTester::LineTester(QObject* parent) : Tester(parent), beat_(new QTimer(this)) {
    beat_->setInterval(usual_poll_ms);
    connect(beat_, &QTimer::timeout, this, &LineTester::poll);
    connect(&line_, &Line::opened, this, &LineTester::greet);
    connect(&line_, &Line::gone, this, [this](const QString& why) {
        not_ready();
        polling_ = false;
        beat_->stop();
        if (!line_.address().empty())
            enter(DeviceState::gone, why.toStdString());
        emit gone(why);
    });
    connect(&line_, &Line::silent, this, [this] {
        enter(ready() ? DeviceState::silent : DeviceState::listening);
        emit silent();
    });
    connect(&line_, &Line::answered, this, [this] {
        if (ready())
            enter(DeviceState::ready);
        emit answered();
        if (!ready())
            greet();
    });
}

void LineTester::open(const std::string& address) {
    enter(DeviceState::looking);
    line_.open(address);
}

void LineTester::close() {
    line_.close();
    enter(DeviceState::none);
}

void LineTester::set_poll_interval(int ms) {
    beat_->setInterval(ms);
}

template <class T> bool LineTester::understood(const Result<T>& result) {
    if (!result)
        emit rubbish(result.problem().sentence);
    return result.ok();
}

template <class T>
bool LineTester::greeting(const Result<std::string>& line, Result<T> (*read)(std::string_view), T& out) {
    if (!line)
        return false; // silent: that is said by the line
    auto result = read(line.value());
    if (!understood(result)) {
        enter(DeviceState::strange, line.value());
        QTimer::singleShot(greet_again_ms, this, [this] {
            if (state() == DeviceState::strange)
                greet();
        });
        return false;
    }
    out = std::move(result.value());
    return true;
}

void LineTester::greet() {
    not_ready();
    polling_ = false;
    last_s_ = 0;
    unbelievable_ = 0;
    tags_.clear();
    if (state() != DeviceState::strange)
        enter(DeviceState::looking);
    auto who = std::make_shared<TesterIdentity>();
    auto count = std::make_shared<int>(0);
    line_.ask("*IDN?", [this, who, count](const Result<std::string>& identity) {
        if (!greeting(identity, &read_identity, *who))
            return;
        line_.ask("SYST:BAYS?", [this, who, count](const Result<std::string>& bays) {
            if (!greeting(bays, &read_count, *count))
                return;
            line_.ask("SYST:ABIL?", [this, who, count](const Result<std::string>& line) {
                BayAbilities abilities;
                if (!greeting(line, &read_abilities, abilities))
                    return;
                beat_->start();
                greeted(*who, *count, abilities);
                poll();
            });
        });
    });
}

void LineTester::poll() {
    if (!ready() || polling_)
        return;
    polling_ = true;
    line_.ask(ask_samples(last_), [this](const Result<std::string>& answer) { take_samples(answer); });
}

void LineTester::take_samples(const Result<std::string>& answer) {
    polling_ = false;
    if (!answer)
        return;
    const auto samples = read_samples(answer.value());
    if (!understood(samples))
        return;
    if (!believable(samples.value())) { // hurt on its way: it is asked again with the next beat
        emit rubbish(said("samples that do not follow one another"));
        constexpr int too_often = 8; // then it is not the line: the tester counts from the beginning again
        if (++unbelievable_ >= too_often) {
            last_ = 0;
            greet();
        }
        return;
    }
    unbelievable_ = 0;
    if (!samples.value().empty()) {
        last_s_ = samples.value().back().time_s;
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
            take_statuses(statuses.value());
    });
}

// A dropped byte makes another number of a number. Numbers rise by one, time goes on, and no bay carries more than it
// can.
bool LineTester::believable(const std::vector<TesterSample>& samples) const {
    constexpr double over = 1.5;
    std::uint64_t number = last_;
    double time_s = last_s_;
    for (const TesterSample& sample : samples) {
        const bool first = &sample == &samples.front();
        if (first ? sample.sequence <= last_ : sample.sequence != number + 1)
            return false;
        if (sample.time_s < time_s || sample.bay > bays() || std::fabs(sample.voltage_v) > over * abilities().most_v ||
            std::fabs(sample.current_a) > over * abilities().most_a)
            return false;
        number = sample.sequence;
        time_s = sample.time_s;
    }
    return true;
}

// A tag that is another than before counts when it is said twice.
void LineTester::take_statuses(std::vector<BayStatus> statuses) {
    std::erase_if(statuses, [this](const BayStatus& status) {
        std::string& before = tags_[status.bay];
        return std::exchange(before, status.tag) != status.tag;
    });
    if (!statuses.empty())
        emit stated(statuses);
}

void LineTester::tell(const std::string& command, const Done& done) {
    line_.command(command, [this, done](const Result<std::string>& line, bool sent) {
        if (!line) {
            done({sent ? Told::no_answer : Told::not_sent, line.problem().sentence});
            return;
        }
        const auto error = read_error(line.value());
        if (!understood(error)) // it was hurt on its way: what was told may have been obeyed
            done({Told::no_answer, error.problem().sentence});
        else
            done({error.value().empty() ? Told::confirmed : Told::refused, as_told(error.value())});
    });
}

void LineTester::start(int bay, const BayLimits& limits, const BayStep& step, const std::string& tag, double sample_s,
                       const Done& done) {
    constexpr int tries = 3;
    set_and_compare(bay, limits, tries, [this, bay, step, tag, sample_s, done](const Reply& kept) {
        if (kept.confirmed())
            tell("*CLS;" + ask_start(bay, step, tag, sample_s), done);
        else
            done(kept);
    });
}

// Limits alone make no current flow: where an answer was hurt on its way they are told again.
void LineTester::set_and_compare(int bay, const BayLimits& limits, int tries, const Done& done) {
    const auto again = [this, bay, limits, tries, done](const Reply& otherwise) {
        if (tries > 1 && line_.in_step())
            set_and_compare(bay, limits, tries - 1, done);
        else
            done(otherwise);
    };
    tell("*CLS;" + set_limits(bay, limits), [this, bay, limits, done, again](const Reply& set) {
        if (!set.confirmed()) {
            if (set.told == Told::refused)
                done(set);
            else
                again({Told::not_sent, set.words});
            return;
        }
        line_.command(ask_limits(bay), [this, limits, done, again](const Result<std::string>& line, bool) {
            if (!line) {
                done({Told::not_sent, line.problem().sentence});
                return;
            }
            const auto read = read_limits(line.value());
            if (understood(read) && same_limits(limits, read.value()))
                done({});
            else
                again({Told::refused, said("it does not keep the limits that it was told ({})", line.value())});
        });
    });
}

void LineTester::stop(int bay, const Done& done) {
    tell("*CLS;" + ask_stop(bay), done);
}

void LineTester::read_voltage(int bay, const Read& done) {
    line_.command(ask_voltage(bay), [done](const Result<std::string>& line, bool) {
        done(line ? read_measurement(line.value()) : Result<std::optional<double>>(line.problem()));
    });
}

void LineTester::set_watchdog(double seconds, const Done& done) {
    tell("*CLS;" + bench::set_watchdog(seconds), done);
}

void LineTester::load(int bay, const StandInUnit& unit) {
    std::ostringstream line;
    line << "*CLS;SIM:LOAD " << bay << "," << unit.kind << "," << unit.rated_ah << "," << unit.cells << "," << unit.ohm
         << "," << unit.seed << "," << scpi_quoted(unit.fault) << "," << scpi_number(unit.stands_v) << ";SYST:ERR?";
    tell(line.str(), [](const Reply&) {});
}

void LineTester::unload(int bay) {
    tell("*CLS;SIM:UNLO " + std::to_string(bay) + ";SYST:ERR?", [](const Reply&) {});
}

void LineTester::set_rate(double rate) {
    tell("SIM:RATE " + std::to_string(rate) + ";SYST:ERR?", [](const Reply&) {});
}

} // namespace ingot::bench
