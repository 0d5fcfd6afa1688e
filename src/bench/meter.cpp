#include "bench/meter.h"

#include "bench/tester_lines.h"

#include <QTimer>

#include <algorithm>
#include <cmath>
#include <cstdlib>

namespace ingot::bench {

namespace {

constexpr int patience_ms = 2500; // a slow range and many power-line cycles
constexpr int pause_ms = 150;
constexpr int pause_after_silence_ms = 1000;
constexpr int most_decimals = 5;

// Decimals that were sent, seen as a plain number: "+3.70123E+00" has five, "3.7E-02" three.
int decimals_of(std::string_view number) {
    const std::size_t exponent = number.find_first_of("eE");
    const std::string_view mantissa = number.substr(0, exponent);
    const std::size_t point = mantissa.find('.');
    int decimals = point == std::string_view::npos ? 0 : static_cast<int>(mantissa.size() - point - 1);
    if (exponent != std::string_view::npos)
        decimals -= std::atoi(std::string(number.substr(exponent + 1)).c_str());
    return std::clamp(decimals, 0, most_decimals);
}

} // namespace

Result<std::optional<MeterReading>> read_meter(std::string_view line) {
    const auto trimmed = [](std::string_view text) {
        while (!text.empty() && text.front() == ' ')
            text.remove_prefix(1);
        while (!text.empty() && text.back() == ' ')
            text.remove_suffix(1);
        return text;
    };
    line = trimmed(line);
    const std::size_t end = line.find(' ');
    const std::string_view number = line.substr(0, end);
    const std::string_view unit = end == std::string_view::npos ? std::string_view() : trimmed(line.substr(end));
    double scale = 1;
    if (unit == "mV" || unit == "mV DC" || unit == "mVDC")
        scale = 1e-3;
    else if (!unit.empty() && unit != "V" && unit != "V DC" && unit != "VDC")
        return Problem{"", 0, said("The meter sent \"{}\", which is no voltage. Set it to DC volts.", line)};
    const auto value = read_measurement(number);
    if (!value)
        return value.problem();
    if (!value.value())
        return std::optional<MeterReading>{};
    MeterReading out;
    const int decimals = std::min(most_decimals, decimals_of(number) + (scale < 1 ? 3 : 0));
    out.value = *value.value() * scale;
    out.resolution = std::pow(10.0, -decimals);
    out.shown = QString::number(out.value, 'f', decimals).toStdString();
    return std::optional(out);
}

Meter::Meter(QObject* parent) : QObject(parent), line_(nullptr, Line::by_identity()), again_(new QTimer(this)) {
    line_.set_patience(patience_ms);
    again_->setSingleShot(true);
    connect(again_, &QTimer::timeout, this, &Meter::follow_once);
    connect(&line_, &Line::opened, this, &Meter::identify);
    connect(&line_, &Line::answered, this, &Meter::identify);
    connect(&line_, &Line::gone, this, [this](const QString& why) { enter(DeviceState::gone, why.toStdString()); });
    connect(&line_, &Line::silent, this, [this] {
        if (state_ == DeviceState::ready)
            enter(DeviceState::silent);
    });
    connect(&line_, &Line::unasked, this, &Meter::heard);
}

void Meter::open(const std::string& address) {
    name_.clear();
    simulated_ = false;
    enter(DeviceState::looking);
    line_.open(address);
}

void Meter::close() {
    follow(false);
    line_.close();
    name_.clear();
    enter(DeviceState::none);
}

void Meter::enter(DeviceState state, const std::string& why) {
    state_ = state;
    why_ = why;
    emit state_changed();
}

void Meter::identify() {
    line_.command("*IDN?", [this](const Result<std::string>& line, bool) {
        if (!line) {
            if (line_.is_open())
                enter(DeviceState::listening);
            return;
        }
        const auto identity = read_identity(line.value());
        if (!identity) {
            enter(DeviceState::strange, line.value());
            return;
        }
        simulated_ = identity.value().simulated();
        name_ = identity.value().model;
        if (!identity.value().serial.empty() && identity.value().serial != "0")
            name_ += " " + identity.value().serial;
        enter(DeviceState::ready);
    });
}

// Nothing was asked: somebody pressed the meter's own button.
void Meter::heard(const QString& line) {
    const auto reading = read_meter(line.toStdString());
    if (!reading || !reading.value())
        return;
    MeterReading pressed = *reading.value();
    pressed.way = MeterWay::by_its_button;
    emit settled(pressed);
}

void Meter::measure(MeterQuantity quantity, int probe, const std::function<void(const Result<MeterReading>&)>& done) {
    std::string question = quantity == MeterQuantity::voltage ? "MEAS:VOLT:DC?" : "MEAS:RES?";
    if (simulated_ && probe > 0)
        question = "SIM:PROB " + std::to_string(probe) + ";:" + question;
    line_.command(question, [done](const Result<std::string>& line, bool) {
        if (!line) {
            done(line.problem());
            return;
        }
        const auto reading = read_meter(line.value());
        if (!reading)
            done(reading.problem());
        else if (!reading.value())
            done(Problem{"", 0, said("The meter shows over range. Check the leads.")});
        else
            done(*reading.value());
    });
}

void Meter::follow(bool on) {
    if (following_ == on)
        return;
    following_ = on;
    stable_ = StableValue();
    since_.start();
    if (on)
        follow_once();
    else
        again_->stop();
    emit state_changed();
}

void Meter::ask_again(int ms) {
    if (following_)
        again_->start(ms);
}

void Meter::follow_once() {
    if (!line_.is_open() || state_ == DeviceState::listening || state_ == DeviceState::strange) {
        ask_again(pause_after_silence_ms); // its button is heard all the same
        return;
    }
    line_.command("MEAS:VOLT:DC?", [this](const Result<std::string>& line, bool) {
        if (!following_)
            return;
        const auto reading = line ? read_meter(line.value()) : Result<std::optional<MeterReading>>(line.problem());
        if (!reading) {
            emit seen({});
            ask_again(pause_after_silence_ms);
            return;
        }
        constexpr double ms_per_s = 1000;
        const auto& now = reading.value();
        const bool touches = now && std::fabs(now->value) >= StableValue::touching_v;
        emit seen(touches ? QString::fromStdString(now->shown) : QString());
        const double at_s = static_cast<double>(since_.elapsed()) / ms_per_s;
        if (stable_.take(now ? std::optional(now->value) : std::nullopt, at_s))
            emit settled({now->value, now->resolution, now->shown, MeterWay::followed});
        ask_again(pause_ms);
    });
}

} // namespace ingot::bench
