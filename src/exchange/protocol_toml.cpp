#include "exchange/protocol_toml.h"

#include "exchange/csv.h"

#include <array>

namespace ingot::exchange {

namespace {

constexpr std::array step_kinds{ProtocolStepKind::charge, ProtocolStepKind::rest, ProtocolStepKind::discharge,
                                ProtocolStepKind::pulse, ProtocolStepKind::loop};

// Each number of a step with its key.
template <class Step> auto numbers_of(Step& step) {
    return std::array{std::pair{"current_it", &step.current_it},
                      std::pair{"current_a", &step.current_a},
                      std::pair{"second_it", &step.second_it},
                      std::pair{"volts", &step.volts},
                      std::pair{"tail_it", &step.tail_it},
                      std::pair{"minus_dv", &step.minus_dv},
                      std::pair{"rise_k_per_min", &step.rise_k_per_min},
                      std::pair{"capacity_share", &step.capacity_share},
                      std::pair{"hours", &step.hours}};
}

ProtocolStep parse_step(const TableReader& t) {
    ProtocolStep step;
    const std::string kind = t.text("kind");
    bool known = false;
    for (const ProtocolStepKind k : step_kinds)
        if (kind == code(k)) {
            step.kind = k;
            known = true;
        }
    if (!known)
        t.fail(said("step \"{}\" is not known. Use charge, rest, discharge, pulse or loop.", kind),
               t.raw().get("kind"));
    for (const auto& [key, value] : numbers_of(step)) {
        *value = t.number_if(key);
        if (*value && !(**value >= 0))
            t.fail(said("\"{}\" is negative. The step's kind says which way the current flows.", key),
                   t.raw().get(key));
    }
    step.back_to = t.whole("back_to", 1) - 1;
    step.times = t.whole("times", 0);
    return step;
}

std::string quoted(const std::string& text) {
    std::string out = "\"";
    for (const char c : text) {
        if (c == '"' || c == '\\')
            out += '\\';
        out += c == '\n' ? ' ' : c;
    }
    return out + "\"";
}

} // namespace

Protocol parse_protocol(const TableReader& t) {
    Protocol protocol;
    protocol.id = t.text("id");
    protocol.name = t.text("name");
    protocol.version = t.whole("version", 1);
    protocol.purpose = t.text("purpose");
    protocol.chemistries = t.texts("chemistries");
    protocol.source = t.text("source");
    protocol.unattended = t.raw()["unattended"].value_or(true);
    protocol.recovers_deep = t.flag("recovers_deep");
    if (t.raw().contains("limits")) {
        const TableReader limits = t.table("limits");
        ProtocolLimits& l = protocol.limits;
        l.high_v = limits.number_if("high_v");
        l.low_v = limits.number_if("low_v");
        l.capacity_share = limits.number_if("capacity_share").value_or(l.capacity_share);
        l.charge_high_c = limits.number_if("charge_high_c").value_or(l.charge_high_c);
        l.discharge_high_c = limits.number_if("discharge_high_c").value_or(l.discharge_high_c);
        l.low_c = limits.number_if("low_c").value_or(l.low_c);
        l.hours = limits.number_if("hours").value_or(l.hours);
    }
    for (const TableReader& step : t.tables("step"))
        protocol.steps.push_back(parse_step(step));
    return protocol;
}

Result<Protocol> read_protocol(const std::string& text, const std::string& file) {
    try {
        const toml::table parsed = parse_toml(text, file);
        const auto tables = TableReader(parsed, file).tables("protocol");
        if (tables.size() != 1)
            return Problem{file, 0, said("holds no protocol, or more than one. Give one [[protocol]].")};
        return parse_protocol(tables.front());
    } catch (const Broken& broken) {
        return broken.problem;
    }
}

std::string write_protocol(const Protocol& protocol) {
    std::string out = "[[protocol]]\n";
    const auto line = [&](const char* key, const std::string& value) { out += fmt::format("{} = {}\n", key, value); };
    const auto number = [](double value) {
        std::string text = csv_number(value);
        return text.find_first_of(".e") == std::string::npos ? text + ".0" : text;
    };
    line("id", quoted(protocol.id));
    line("name", quoted(protocol.name));
    line("version", std::to_string(protocol.version));
    line("purpose", quoted(protocol.purpose));
    std::string list;
    for (const std::string& chemistry : protocol.chemistries)
        list += (list.empty() ? "" : ", ") + quoted(chemistry);
    line("chemistries", "[" + list + "]");
    line("source", quoted(protocol.source));
    line("unattended", protocol.unattended ? "true" : "false");
    line("recovers_deep", protocol.recovers_deep ? "true" : "false");
    out += "[protocol.limits]\n";
    const ProtocolLimits& l = protocol.limits;
    if (l.high_v)
        line("high_v", number(*l.high_v));
    if (l.low_v)
        line("low_v", number(*l.low_v));
    line("capacity_share", number(l.capacity_share));
    line("charge_high_c", number(l.charge_high_c));
    line("discharge_high_c", number(l.discharge_high_c));
    line("low_c", number(l.low_c));
    line("hours", number(l.hours));
    for (const ProtocolStep& step : protocol.steps) {
        out += "[[protocol.step]]\n";
        line("kind", quoted(code(step.kind)));
        for (const auto& [key, value] : numbers_of(step))
            if (*value)
                line(key, number(**value));
        if (step.kind == ProtocolStepKind::loop) {
            line("back_to", std::to_string(step.back_to + 1));
            line("times", std::to_string(step.times));
        }
    }
    return out;
}

} // namespace ingot::exchange
