#include "sim/tester.h"

#include <algorithm>
#include <cmath>

namespace sim {

using ingot::ProtocolStepKind;
using ingot::bench::BayState;
using ingot::bench::scpi_is;
using ingot::bench::ScpiMessage;
using ingot::bench::StepEnd;

namespace {

constexpr std::size_t most_samples = 400'000; // what the tester remembers
constexpr std::size_t most_at_once = 400;
constexpr std::size_t most_errors = 20;
constexpr double meter_noise_v = 0.0002;
constexpr double meter_noise_a = 0.0005;
constexpr double pulse_first_s = 10;
constexpr double pulse_s = 11;
constexpr double fine_step_s = 0.1;
constexpr double minus_dv_after_s = 300; // the first minutes of a charge do not count

} // namespace

Tester::Tester(const TesterMake& make) : make_(make), dice_(make.seed) {
    bays_.resize(static_cast<std::size_t>(make.bays));
    for (std::size_t b = 0; b < bays_.size(); ++b)
        bays_[b].number = static_cast<int>(b) + 1;
}

void Tester::object(int number, const std::string& text) {
    if (errors_.size() < most_errors)
        errors_.push_back(std::to_string(number) + "," + ingot::bench::scpi_quoted(text));
}

std::optional<std::string> Tester::answer(const std::string& line) {
    unspoken_s_ = 0;
    const auto messages = ingot::bench::parse_scpi(line);
    if (!messages) {
        object(-102, messages.problem().sentence.english());
        return std::nullopt;
    }
    std::string out;
    bool asked = false;
    for (const ScpiMessage& message : messages.value()) {
        const std::string said = obey(message);
        if (!message.question)
            continue;
        out += (asked ? ";" : "") + said;
        asked = true;
    }
    return asked ? std::optional(out) : std::nullopt;
}

std::optional<double> Tester::value(const ScpiMessage& message, std::size_t index) {
    if (index >= message.parameters.size())
        return std::nullopt;
    const auto number = ingot::bench::scpi_value(message.parameters[index]);
    if (!number) {
        object(-120, "Numeric data error: " + number.problem().sentence.english());
        return std::nullopt;
    }
    return number.value();
}

std::string Tester::obey(const ScpiMessage& m) {
    const auto& first = m.header.front();
    const auto second = [&](const char* pattern) { return m.header.size() == 2 && scpi_is(pattern, m.header[1].text); };
    if (first.text == "*IDN" && m.question)
        return "Ingot,Simulated tester," + std::to_string(make_.seed) + ",1";
    if (first.text == "*CLS") {
        errors_.clear();
        return {};
    }
    if (first.text == "*RST") {
        end_all(StepEnd::stopped);
        return {};
    }
    if (scpi_is("SYSTem", first.text) && m.header.size() == 2) {
        if (second("ERRor") && m.question) {
            if (errors_.empty())
                return "0,\"No error\"";
            std::string out = errors_.front();
            errors_.pop_front();
            return out;
        }
        if (second("BAYS") && m.question)
            return std::to_string(make_.bays);
        if (second("ABILities") && m.question)
            return ingot::bench::scpi_number(make_.most_v) + "," + ingot::bench::scpi_number(make_.most_a) + ",1,1";
        if (second("TIME") && m.question)
            return ingot::bench::scpi_number(now_s_);
        if (second("WDOG"))
            return m.question ? ingot::bench::scpi_number(watchdog_s_)
                              : (watchdog_s_ = std::max(0.0, value(m, 0).value_or(0)), std::string());
        if (second("ECHO") && m.question)
            return m.parameters.empty() ? std::string() : m.parameters.front();
    }
    if (scpi_is("DATA", first.text) && m.question) {
        const auto after = static_cast<std::uint64_t>(std::max(0.0, value(m, 0).value_or(0)));
        const std::uint64_t oldest = samples_.empty() ? sequence_ : samples_.front().sequence;
        std::vector<ingot::bench::TesterSample> out;
        std::size_t from = after < oldest ? 0 : static_cast<std::size_t>(after + 1 - oldest);
        for (; from < samples_.size() && out.size() < most_at_once; ++from)
            out.push_back(samples_[from]);
        return ingot::bench::write_samples(out);
    }
    if (scpi_is("SIMulate", first.text) && m.header.size() == 2) {
        if (second("RATE")) {
            make_.rate = std::clamp(value(m, 0).value_or(make_.rate), 0.0, 100'000.0);
            return ingot::bench::scpi_number(make_.rate);
        }
        if (second("PROBes")) {
            probes_ = static_cast<int>(std::clamp(value(m, 0).value_or(0), 0.0, double(make_.bays)));
            return {};
        }
        if (second("LOAD")) {
            load(m);
            return {};
        }
        if (second("UNLOad")) {
            const auto n = value(m, 0).value_or(0);
            if (n >= 1 && n <= make_.bays) {
                Bay& bay = bays_[static_cast<std::size_t>(n) - 1];
                const int number = bay.number;
                bay = {};
                bay.number = number;
            }
            return {};
        }
    }
    if (scpi_is("MEASure", first.text) && m.header.size() >= 2 && m.question)
        if (const auto read = measured(m))
            return *read;
    if (first.text == "BAY") {
        if (first.number == 0 && m.question && m.header.size() == 2 && scpi_is("STATe", m.header[1].text)) {
            std::vector<ingot::bench::BayStatus> out;
            for (const Bay& bay : bays_)
                out.push_back({bay.number, bay.state, bay.step.kind, bay.end, bay.tag});
            return ingot::bench::write_statuses(out);
        }
        if (first.number >= 1 && first.number <= make_.bays && m.header.size() == 2)
            return obey_bay(bays_[static_cast<std::size_t>(first.number) - 1], m);
    }
    object(-113, "Undefined header");
    return m.question ? "9.91E37" : std::string();
}

// A meter's reading: of a bay, or of what its probes touch.
std::optional<std::string> Tester::measured(const ScpiMessage& m) {
    const bool ohms = scpi_is("RESistance", m.header[1].text);
    const bool as_meter = m.parameters.empty();
    const double n = as_meter ? probes_ : value(m, 0).value_or(1);
    const bool free = as_meter && probes_ == 0;
    if (!free && (n < 1 || n > make_.bays))
        return std::nullopt;
    const Bay* bay = free ? nullptr : &bays_[static_cast<std::size_t>(n) - 1];
    if (bay == nullptr || !bay->unit)
        return ohms ? "9.9E37" : "0.0000";
    std::normal_distribution<double> noise(0, meter_noise_v);
    if (scpi_is("VOLTage", m.header[1].text))
        return ingot::bench::scpi_number(
            std::round((clip_volts(*bay, bay->amperes) * (1 + make_.imperfect.volts_gain) + noise(dice_)) * 1e4) / 1e4);
    if (ohms) // at 1 kHz the slow pair is not seen
        return ingot::bench::scpi_number(std::round(bay->unit->ohm() * 0.75 * 1e5) / 1e5);
    return std::nullopt;
}

std::string Tester::obey_bay(Bay& bay, const ScpiMessage& m) {
    const std::string& word = m.header[1].text;
    if (scpi_is("LIMits", word)) {
        if (m.question) {
            if (!bay.limits)
                return "9.91E37";
            const ingot::BayLimits& l = *bay.limits;
            std::string out;
            for (const double v : {l.high_v, l.low_v, l.current_a, l.capacity_ah, l.high_c, l.low_c, l.hours})
                out += (out.empty() ? "" : ",") + ingot::bench::scpi_number(v);
            return out;
        }
        if (bay.state == BayState::running) {
            object(-221, "Settings conflict: the bay runs");
            return {};
        }
        ingot::BayLimits l;
        double* const fields[] = {&l.high_v, &l.low_v, &l.current_a, &l.capacity_ah, &l.high_c, &l.low_c, &l.hours};
        for (std::size_t i = 0; i < std::size(fields); ++i) {
            const auto v = value(m, i);
            if (!v) {
                object(-109, "Missing parameter: seven limits are needed");
                return {};
            }
            *fields[i] = *v;
        }
        bay.limits = l;
    } else if (scpi_is("TAG", word)) {
        if (m.question)
            return ingot::bench::scpi_quoted(bay.tag);
        bay.tag = m.parameters.empty() ? std::string() : m.parameters.front();
    } else if (scpi_is("SAMPle", word)) {
        bay.sample_s = std::clamp(value(m, 0).value_or(1), 0.1, 3600.0);
    } else if (scpi_is("STOP", word)) {
        if (bay.state == BayState::running) {
            bay.end = StepEnd::stopped;
            bay.state = BayState::stopped;
            sample(bay, bay.unit ? clip_volts(bay, 0) : 0);
            bay.amperes = 0;
        }
    } else if (scpi_is("CHARge", word) || scpi_is("DISCharge", word) || scpi_is("REST", word) ||
               scpi_is("PULSe", word)) {
        start(bay, m);
    } else {
        object(-113, "Undefined header");
    }
    return {};
}

void Tester::start(Bay& bay, const ScpiMessage& m) {
    if (!errors_.empty())
        return; // something on this line was not understood: nothing starts
    if (!bay.limits) {
        object(-221, "Settings conflict: set the limits first");
        return;
    }
    if (bay.state == BayState::running) {
        object(-221, "Settings conflict: the bay runs");
        return;
    }
    const std::string& word = m.header[1].text;
    ingot::BayStep step;
    if (scpi_is("CHARge", word)) {
        step.kind = ProtocolStepKind::charge;
        step.current_a = value(m, 0).value_or(0);
        step.volts = value(m, 1);
        step.tail_a = value(m, 2);
        step.minus_dv = value(m, 3);
        step.rise_k_per_min = value(m, 4);
        step.capacity_ah = value(m, 5);
        step.hours = value(m, 6);
    } else if (scpi_is("DISCharge", word)) {
        step.kind = ProtocolStepKind::discharge;
        step.current_a = -value(m, 0).value_or(0);
        step.volts = value(m, 1);
        step.capacity_ah = value(m, 2);
        step.hours = value(m, 3);
    } else if (scpi_is("PULSe", word)) {
        step.kind = ProtocolStepKind::pulse;
        step.current_a = -value(m, 0).value_or(0);
        step.second_a = -value(m, 1).value_or(0);
    } else {
        step.hours = value(m, 0);
    }
    const double wanted = std::max(std::fabs(step.current_a), std::fabs(step.second_a));
    if (wanted > make_.most_a || bay.limits->current_a > make_.most_a * 1.2 || bay.limits->high_v > make_.most_v) {
        object(-222, "Data out of range: more than this tester can do");
        return;
    }
    bay.step = step;
    bay.state = BayState::running;
    bay.end = StepEnd::none;
    bay.begun_s = now_s_;
    bay.next_sample_s = now_s_;
    bay.moved_ah = 0;
    bay.peak_v = 0;
    bay.held_v = 0;
    bay.warm_from_s = now_s_;
    bay.warm_from_c = bay.unit ? bay.unit->temperature_c() : 0;
}

// bay, kind (li, lfp, ni), rated Ah, cells, ohm, seed, fault, and where known the volts it stands at
void Tester::load(const ScpiMessage& m) {
    const auto n = value(m, 0).value_or(0);
    if (n < 1 || n > make_.bays || m.parameters.size() < 6) {
        object(-109, "Missing parameter");
        return;
    }
    Bay& bay = bays_[static_cast<std::size_t>(n) - 1];
    if (bay.state == BayState::running) {
        object(-221, "Settings conflict: the bay runs");
        return;
    }
    UnitMake make;
    make.kind = m.parameters[1] == "ni"    ? Kind::nickel
                : m.parameters[1] == "lfp" ? Kind::iron_phosphate
                                           : Kind::lithium;
    make.rated_ah = std::max(0.05, value(m, 2).value_or(2.6));
    make.cells = std::clamp(static_cast<int>(value(m, 3).value_or(1)), 1, 24);
    make.new_ohm = std::clamp(value(m, 4).value_or(0.045), 1e-4, 10.0);
    make.seed = static_cast<std::uint64_t>(value(m, 5).value_or(1)) + make_.seed * 7919;
    make.fault = fault_from(m.parameters.size() > 6 ? m.parameters[6] : "");
    make.open_v = value(m, 7);
    bay.unit = std::make_unique<Unit>(make);
    bay.state = BayState::idle;
    bay.end = StepEnd::none;
    bay.tag.clear();
    bay.limits.reset();
}

double Tester::current_now(Bay& bay) const {
    const ingot::BayStep& step = bay.step;
    switch (step.kind) {
    case ProtocolStepKind::charge: {
        const double wanted = step.current_a * supply_share_;
        if (!step.volts)
            return wanted;
        // Constant current until the voltage is reached, then what holds it there.
        const double open = clip_volts(bay, 0);
        const double at_full = clip_volts(bay, wanted);
        if (at_full <= *step.volts)
            return wanted;
        const double slope = (at_full - open) / wanted;
        return std::clamp((*step.volts - open) / std::max(slope, 1e-9), 0.0, wanted);
    }
    case ProtocolStepKind::discharge:
        return step.current_a;
    case ProtocolStepKind::pulse:
        return now_s_ - bay.begun_s < pulse_first_s ? step.current_a : step.second_a;
    case ProtocolStepKind::rest:
    case ProtocolStepKind::loop:
        break;
    }
    return 0;
}

StepEnd Tester::end_now(Bay& bay, double volts) const {
    const ingot::BayStep& step = bay.step;
    const ingot::BayLimits& limits = *bay.limits;
    const double seconds = now_s_ - bay.begun_s;
    const double t = bay.unit->temperature_c();
    if (!bay.unit->contact())
        return StepEnd::open;
    if (volts < -0.3)
        return StepEnd::reversed;
    if (t > limits.high_c)
        return StepEnd::hot;
    if (t < limits.low_c)
        return StepEnd::cold;
    if (volts > limits.high_v)
        return StepEnd::high_voltage;
    if (std::fabs(bay.amperes) > limits.current_a)
        return StepEnd::high_current;
    const bool discharging = step.kind == ProtocolStepKind::discharge;
    if (discharging && step.volts && volts <= *step.volts)
        return StepEnd::cutoff;
    if (step.kind == ProtocolStepKind::charge) {
        constexpr double settled_s = 5;
        if (step.volts && step.tail_a && seconds > settled_s && bay.amperes <= *step.tail_a &&
            volts > *step.volts - 0.05)
            return StepEnd::tail;
        if (step.minus_dv && seconds > minus_dv_after_s && bay.peak_v - volts > *step.minus_dv)
            return StepEnd::minus_dv;
        if (step.rise_k_per_min && now_s_ - bay.warm_from_s >= 60) {
            const double rise = (t - bay.warm_from_c) * 60 / (now_s_ - bay.warm_from_s);
            bay.warm_from_s = now_s_;
            bay.warm_from_c = t;
            if (seconds > minus_dv_after_s && rise >= *step.rise_k_per_min)
                return StepEnd::rise;
        }
    }
    if (step.capacity_ah && bay.moved_ah >= *step.capacity_ah)
        return StepEnd::capacity;
    if (step.hours && seconds >= *step.hours * seconds_per_hour)
        return StepEnd::time;
    if (step.kind == ProtocolStepKind::pulse && seconds >= pulse_s - 1e-6)
        return StepEnd::time;
    if (volts < limits.low_v && step.kind != ProtocolStepKind::rest)
        return StepEnd::low_voltage;
    if (bay.moved_ah > limits.capacity_ah)
        return StepEnd::capacity_limit;
    if (seconds > limits.hours * seconds_per_hour)
        return StepEnd::time_limit;
    return StepEnd::none;
}

void Tester::sample(Bay& bay, double volts) {
    std::normal_distribution<double> v(0, meter_noise_v);
    std::normal_distribution<double> a(0, meter_noise_a);
    const double amperes = bay.amperes == 0 ? 0 : bay.amperes * (1 + make_.imperfect.amperes_gain) + a(dice_);
    samples_.push_back({bay.number, ++sequence_, now_s_, volts * (1 + make_.imperfect.volts_gain) + v(dice_), amperes,
                        bay.unit ? bay.unit->temperature_c() : 0, bay.moved_ah, bay.end});
    if (samples_.size() > most_samples)
        samples_.pop_front();
}

void Tester::advance(Bay& bay, double seconds) {
    if (!bay.unit) {
        if (bay.state == BayState::running) { // nothing is in the bay
            bay.state = BayState::stopped;
            bay.end = StepEnd::open;
            sample(bay, 0);
        }
        return;
    }
    if (bay.state != BayState::running) {
        bay.unit->advance(seconds, 0);
        return;
    }
    bay.amperes = current_now(bay);
    const double volts_before = clip_volts(bay, bay.amperes);
    if (now_s_ >= bay.next_sample_s - 1e-9) {
        sample(bay, volts_before);
        // A pulse is sampled finely.
        bay.next_sample_s = now_s_ + (bay.step.kind == ProtocolStepKind::pulse ? fine_step_s : bay.sample_s);
    }
    bay.unit->advance(seconds, bay.amperes);
    bay.moved_ah += std::fabs(bay.amperes) * (1 + make_.imperfect.amperes_gain) * seconds / seconds_per_hour;
    const double volts = clip_volts(bay, bay.amperes);
    bay.peak_v = std::max(bay.peak_v, volts);
}

void Tester::end_all(StepEnd end) {
    for (Bay& bay : bays_) {
        if (bay.state != BayState::running)
            continue;
        bay.end = end;
        bay.state = BayState::stopped;
        sample(bay, bay.unit ? clip_volts(bay, 0) : 0);
        bay.amperes = 0;
    }
}

double Tester::clip_volts(const Bay& bay, double amperes) const {
    return bay.unit->volts(amperes) + amperes * make_.imperfect.contact_ohm;
}

double Tester::surroundings_of(std::size_t bay) const {
    const double room = bays_[bay].unit->room_c();
    double over = 0;
    int beside = 0;
    for (const std::size_t n : {bay - 1, bay + 1})
        if (n < bays_.size() && bays_[n].unit) {
            over += bays_[n].unit->temperature_c() - room;
            ++beside;
        }
    return room + (beside > 0 ? make_.imperfect.neighbour_share * over / beside : 0);
}

void Tester::share_supply() {
    if (make_.imperfect.supply_a <= 0)
        return;
    double asked = 0;
    for (const Bay& bay : bays_)
        if (bay.state == BayState::running && bay.step.kind == ProtocolStepKind::charge)
            asked += bay.step.current_a;
    supply_share_ = asked > make_.imperfect.supply_a ? make_.imperfect.supply_a / asked : 1;
}

std::string Tester::through_the_line(const std::string& text) {
    if (make_.imperfect.drop_rate <= 0)
        return text;
    std::bernoulli_distribution lost(make_.imperfect.drop_rate);
    std::string out;
    for (const char c : text)
        if (!lost(dice_))
            out += c;
    return out;
}

void Tester::pass(double wall_seconds) {
    unspoken_s_ += wall_seconds; // whoever speaks does so in the wall clock's time
    if (watchdog_s_ > 0 && unspoken_s_ > watchdog_s_)
        end_all(StepEnd::alone);
    double left = wall_seconds * make_.rate;
    // At high rates in steps of a second, pulses in tenths.
    while (left > 1e-9) {
        const bool fine = std::any_of(bays_.begin(), bays_.end(), [](const Bay& bay) {
            return bay.state == BayState::running && bay.step.kind == ProtocolStepKind::pulse;
        });
        const double seconds = std::min(left, fine ? fine_step_s : 1.0);
        share_supply();
        if (make_.imperfect.neighbour_share > 0)
            for (std::size_t b = 0; b < bays_.size(); ++b)
                if (bays_[b].unit)
                    bays_[b].unit->set_surroundings(surroundings_of(b));
        for (Bay& bay : bays_)
            advance(bay, seconds);
        now_s_ += seconds;
        left -= seconds;
        for (Bay& bay : bays_) {
            if (bay.state != BayState::running || !bay.unit)
                continue;
            const double volts = clip_volts(bay, bay.amperes);
            const StepEnd end = end_now(bay, volts);
            if (end == StepEnd::none)
                continue;
            bay.end = end;
            bay.state = ingot::bench::as_meant(end) ? BayState::done : BayState::stopped;
            sample(bay, volts);
            if (end == StepEnd::cutoff)
                bay.unit->emptied();
            bay.amperes = 0;
        }
    }
}

} // namespace sim
