#include "docs/formats/second_tester/letter_tester.h"

#include <QTimer>

#include <array>
#include <cmath>
#include <sstream>

namespace letters {

using namespace ingot;
using bench::BayState;
using bench::BayStatus;
using bench::DeviceState;
using bench::StepEnd;
using bench::TesterSample;

namespace {

constexpr double thousandths = 1000;
constexpr double tenths = 10;
constexpr double seconds_an_hour = 3600;

// Its letters for the ends of a step, beside ours.
constexpr std::array<std::pair<char, StepEnd>, 15> ends{{{'t', StepEnd::tail},
                                                         {'v', StepEnd::cutoff},
                                                         {'n', StepEnd::minus_dv},
                                                         {'m', StepEnd::capacity},
                                                         {'w', StepEnd::time},
                                                         {'O', StepEnd::high_voltage},
                                                         {'U', StepEnd::low_voltage},
                                                         {'I', StepEnd::high_current},
                                                         {'Q', StepEnd::capacity_limit},
                                                         {'H', StepEnd::hot},
                                                         {'C', StepEnd::cold},
                                                         {'T', StepEnd::time_limit},
                                                         {'X', StepEnd::open},
                                                         {'B', StepEnd::reversed},
                                                         {'K', StepEnd::stopped}}};

// What it does not know is none of ours either: a stop that only a person explains.
StepEnd end_of(char letter) {
    if (letter == '-')
        return StepEnd::none;
    for (const auto& [theirs, ours] : ends)
        if (theirs == letter)
            return ours;
    return StepEnd::stopped;
}

long whole(double value, double factor) {
    return std::lround(value * factor);
}

// 0 stands for "none" in this dialect.
long whole_or_none(const std::optional<double>& value, double factor) {
    return value ? whole(*value, factor) : 0;
}

std::vector<std::string> parts_of(const std::string& text, char between) {
    std::vector<std::string> out;
    std::istringstream in(text);
    std::string part;
    while (std::getline(in, part, between))
        out.push_back(part);
    return out;
}

// An answer begins with the small letter of what was asked; "!" objects.
bool answers(const std::string& line, char question) {
    return line.size() > 1 && line.front() == std::tolower(question) && line[1] == ' ';
}

// What is neither its yes nor its no was hurt on its way: it may have obeyed.
bench::Tester::Reply reply_to(char question, const std::string& line) {
    using Told = bench::Tester::Told;
    if (answers(line, question))
        return {};
    return {line.rfind("! ", 0) == 0 ? Told::refused : Told::no_answer, as_told(line)};
}

bench::Line::InStep in_step() {
    return {[](int number) { return "Z " + std::to_string(number); },
            [](const std::string& line, int number) { return line == "z " + std::to_string(number); }, 0};
}

} // namespace

LetterTester::LetterTester(QObject* parent) : Tester(parent), line_(nullptr, in_step()), beat_(new QTimer(this)) {
    constexpr int usual_poll_ms = 500;
    beat_->setInterval(usual_poll_ms);
    connect(beat_, &QTimer::timeout, this, &LetterTester::poll);
    connect(&line_, &bench::Line::opened, this, &LetterTester::greet);
    connect(&line_, &bench::Line::gone, this, [this](const QString& why) {
        not_ready();
        polling_ = false;
        beat_->stop();
        enter(DeviceState::gone, why.toStdString());
        emit gone(why);
    });
    connect(&line_, &bench::Line::silent, this, [this] {
        enter(ready() ? DeviceState::silent : DeviceState::listening);
        emit silent();
    });
    connect(&line_, &bench::Line::answered, this, [this] {
        if (ready())
            enter(DeviceState::ready);
        emit answered();
        if (!ready())
            greet();
    });
}

void LetterTester::open(const std::string& address) {
    enter(DeviceState::looking);
    line_.open(address);
}

void LetterTester::close() {
    line_.close();
    enter(DeviceState::none);
}

void LetterTester::set_poll_interval(int ms) {
    beat_->setInterval(ms);
}

// "w name version places mV mA"
void LetterTester::greet() {
    line_.ask("W", [this](const Result<std::string>& line) {
        if (!line)
            return;
        std::istringstream in(line.value());
        std::string letter;
        bench::TesterIdentity identity;
        int places = 0;
        double most_mv = 0;
        double most_ma = 0;
        if (!(in >> letter >> identity.model >> identity.version >> places >> most_mv >> most_ma) || letter != "w" ||
            places < 1) {
            enter(DeviceState::strange, line.value());
            return;
        }
        BayAbilities abilities;
        abilities.most_v = most_mv / thousandths;
        abilities.most_a = most_ma / thousandths;
        beat_->start();
        greeted(identity, places, abilities);
        poll();
    });
}

void LetterTester::poll() {
    if (!ready() || polling_)
        return;
    polling_ = true;
    line_.ask("R " + std::to_string(last_), [this](const Result<std::string>& rows) {
        if (rows)
            take_rows(rows.value());
        line_.ask("S", [this](const Result<std::string>& states) {
            polling_ = false;
            if (states)
                take_states(states.value());
        });
    });
}

// "r n p s mV mA dC mAh end|…": each row in whole numbers.
void LetterTester::take_rows(const std::string& answer) {
    if (!answers(answer, 'R')) {
        emit rubbish(as_told(answer));
        return;
    }
    std::vector<TesterSample> samples;
    for (const std::string& row : parts_of(answer.substr(2), '|')) {
        std::istringstream in(row);
        TesterSample sample;
        char end = '-';
        if (!(in >> sample.sequence >> sample.bay >> sample.time_s >> sample.voltage_v >> sample.current_a >>
              sample.temperature_c >> sample.moved_ah >> end)) {
            emit rubbish(as_told(row));
            return;
        }
        sample.voltage_v /= thousandths;
        sample.current_a /= thousandths;
        sample.temperature_c /= tenths;
        sample.moved_ah /= thousandths;
        sample.end = end_of(end);
        samples.push_back(sample);
    }
    if (samples.empty())
        return;
    if (last_ != 0 && samples.front().sequence > last_ + 1)
        emit hole(last_, samples.front().sequence);
    last_ = samples.back().sequence;
    emit sampled(samples);
}

// "s p state end tag|…": state i, r, d or s.
void LetterTester::take_states(const std::string& answer) {
    if (!answers(answer, 'S')) {
        emit rubbish(as_told(answer));
        return;
    }
    std::vector<BayStatus> statuses;
    for (const std::string& place : parts_of(answer.substr(2), '|')) {
        std::istringstream in(place);
        BayStatus status;
        char state = 'i';
        char end = '-';
        if (!(in >> status.bay >> state >> end)) {
            emit rubbish(as_told(place));
            return;
        }
        in >> status.tag;
        status.state = state == 'r'   ? BayState::running
                       : state == 'd' ? BayState::done
                       : state == 's' ? BayState::stopped
                                      : BayState::idle;
        status.end = end_of(end);
        statuses.push_back(std::move(status));
    }
    emit stated(statuses);
}

void LetterTester::start(int bay, const BayLimits& limits, const BayStep& step, const std::string& tag, double sample_s,
                         const Done& done) {
    if (step.kind == ProtocolStepKind::pulse || step.rise_k_per_min) {
        done({Told::refused, said("it knows no pulse and no rise of temperature; choose a protocol without them")});
        return;
    }
    std::ostringstream kept;
    kept << ' ' << bay << ' ' << whole(limits.high_v, thousandths) << ' ' << whole(limits.low_v, thousandths) << ' '
         << whole(limits.current_a, thousandths) << ' ' << whole(limits.capacity_ah, thousandths) << ' '
         << whole(limits.high_c, tenths) << ' ' << whole(limits.low_c, tenths) << ' '
         << whole(limits.hours, seconds_an_hour);
    const char kind = step.kind == ProtocolStepKind::charge      ? 'c'
                      : step.kind == ProtocolStepKind::discharge ? 'd'
                                                                 : 'r';
    std::ostringstream go;
    go << "G " << bay << ' ' << tag << ' ' << kind << ' ' << whole(std::fabs(step.current_a), thousandths) << ' '
       << whole_or_none(step.volts, thousandths) << ' ' << whole_or_none(step.tail_a, thousandths) << ' '
       << whole_or_none(step.minus_dv, thousandths) << ' ' << whole_or_none(step.capacity_ah, thousandths) << ' '
       << whole_or_none(step.hours, seconds_an_hour) << ' ' << std::max(1L, whole(sample_s, 1));
    // It answers limits with what it keeps: they are read back by that.
    line_.command("L" + kept.str(), [this, kept = kept.str(), go = go.str(), done](const auto& line, bool) {
        if (!line) { // limits alone make no current flow
            done({Told::not_sent, line.problem().sentence});
            return;
        }
        if (line.value() != "l" + kept) {
            done({Told::refused, said("it does not keep the limits that it was told ({})", line.value())});
            return;
        }
        line_.command(go, [done](const auto& answer, bool sent) {
            if (!answer)
                done({sent ? Told::no_answer : Told::not_sent, answer.problem().sentence});
            else
                done(reply_to('G', answer.value()));
        });
    });
}

void LetterTester::stop(int bay, const Done& done) {
    line_.command("H " + std::to_string(bay), [done](const auto& answer, bool sent) {
        if (!answer)
            done({sent ? Told::no_answer : Told::not_sent, answer.problem().sentence});
        else
            done(reply_to('H', answer.value()));
    });
}

// "v p mV", or "v p -": nothing to read.
void LetterTester::read_voltage(int bay, const Read& done) {
    line_.command("V " + std::to_string(bay), [done](const Result<std::string>& line, bool) {
        if (!line) {
            done(line.problem());
            return;
        }
        std::istringstream in(line.value());
        std::string letter;
        int place = 0;
        std::string volts;
        double mv = 0;
        if (!(in >> letter >> place >> volts) || letter != "v") {
            done(Problem{"", 0, said("\"{}\" is no voltage", line.value())});
            return;
        }
        if (std::istringstream(volts) >> mv)
            done(std::optional(mv / thousandths));
        else
            done(std::optional<double>());
    });
}

void LetterTester::set_watchdog(double seconds, const Done& done) {
    done(seconds > 0 ? Reply{Told::refused, said("it has none")} : Reply{});
}

} // namespace letters
