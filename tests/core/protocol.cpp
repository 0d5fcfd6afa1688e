// Protocols: what is refused and why, loops, amperes and volts of one unit, and how long they take.
#include "core/measure/protocol.h"
#include "exchange/library_toml.h"
#include "exchange/protocol_toml.h"

#include <catch2/catch.hpp>

using namespace ingot;

namespace {

const exchange::Library& protocol_library() {
    static const exchange::Library data = exchange::read_library(INGOT_SOURCE_DIR "/data").value();
    return data;
}

BayUnit cell() {
    BayUnit unit;
    unit.rated_ah = 2.6;
    unit.continuous_a = 5.2;
    unit.rested_v = 3.6;
    return unit;
}

bool refused(const std::vector<ProtocolObjection>& objections, ProtocolFault fault) {
    return std::any_of(objections.begin(), objections.end(), [&](const auto& o) { return o.fault == fault; });
}

} // namespace

TEST_CASE("protocol: every shipped one may run on a usual unit of its chemistry, and reads back as it is written") {
    CHECK(protocol_library().protocols.size() >= 8);
    for (const auto& [id, protocol] : protocol_library().protocols) {
        INFO(id);
        CHECK_FALSE(protocol.source.empty());
        for (const std::string& chemistry : protocol.chemistries) {
            const Chemistry* c = protocol_library().chemistry(chemistry);
            REQUIRE(c != nullptr);
            BayUnit unit;
            unit.rated_ah = 2.5;
            unit.rested_v = c->nominal_low_v;
            CHECK(check_protocol(protocol, unit, *c, {20, 10, true, true}, 21).empty());
            CHECK(predicted_hours(protocol, unit) > 0.05);
        }
        const auto again = exchange::read_protocol(exchange::write_protocol(protocol), "again");
        REQUIRE(again);
        CHECK(exchange::write_protocol(again.value()) == exchange::write_protocol(protocol));
        CHECK(steps_in_all(again.value()) == steps_in_all(protocol));
    }
}

TEST_CASE("protocol: dangerous and endless ones are refused with the reason") {
    const Chemistry& nmc = *protocol_library().chemistry("nmc");
    Protocol p = *protocol_library().protocol("li-capacity");
    const auto check = [&](std::optional<double> room = 20) {
        return check_protocol(p, cell(), nmc, {5, 10, true, true}, room);
    };
    CHECK(check().empty());
    SECTION("over-voltage") {
        p.steps[0].volts = 4.35;
        CHECK(refused(check(), ProtocolFault::over_voltage));
    }
    SECTION("a lithium charge without a voltage") {
        p.steps[0].volts.reset();
        p.steps[0].hours = 3;
        CHECK(refused(check(), ProtocolFault::over_voltage));
    }
    SECTION("charging under 0 degC plates lithium (handbooks)") {
        CHECK(refused(check(-5), ProtocolFault::charges_frozen));
        p.limits.low_c = -10;
        CHECK(refused(check(), ProtocolFault::charges_frozen));
    }
    SECTION("deep-discharged outside the slow recovery") {
        BayUnit deep = cell();
        deep.rested_v = 1.8;
        CHECK(refused(check_protocol(p, deep, nmc, {}, 20), ProtocolFault::charges_deep));
        CHECK(check_protocol(*protocol_library().protocol("li-slow-recovery"), deep, nmc, {}, 20).empty());
    }
    SECTION("under the floor") {
        p.steps[2].volts = 2.0;
        CHECK(refused(check(), ProtocolFault::under_floor));
    }
    SECTION("never ends") {
        p.steps[1].hours.reset();
        CHECK(refused(check(), ProtocolFault::endless_step));
        p.steps.push_back({});
        p.steps.back().kind = ProtocolStepKind::loop;
        p.steps.back().back_to = 9;
        p.steps.back().times = 2;
        CHECK(refused(check(), ProtocolFault::endless_loop));
    }
    SECTION("a unit that is charged with less than it gives, and lower than its chemistry") {
        BayUnit gentle = cell(); // 2.6 Ah, 5.2 A
        gentle.charge_a = 0.6;
        CHECK(refused(check_protocol(p, gentle, nmc, {}, 20), ProtocolFault::too_much_current));
        gentle.charge_a = 2.6;
        CHECK(check_protocol(p, gentle, nmc, {}, 20).empty());
        gentle.charge_limit_v = 4.1;
        CHECK(refused(check_protocol(p, gentle, nmc, {}, 20), ProtocolFault::over_voltage));
        const ProtocolStep& charge = *std::find_if(p.steps.begin(), p.steps.end(), [](const ProtocolStep& step) {
            return step.kind == ProtocolStepKind::charge;
        });
        CHECK(limits_for(p, charge, cell(), nmc).high_v - limits_for(p, charge, gentle, nmc).high_v == Approx(0.1));
        gentle.charge_limit_v = 4.5; // its chemistry's holds on
        CHECK(check_protocol(p, gentle, nmc, {}, 20).empty());
        CHECK(limits_for(p, charge, cell(), nmc).high_v == Approx(limits_for(p, charge, gentle, nmc).high_v));
    }
    SECTION("too much for the unit or the tester, too hot, no rating, another chemistry") {
        p.steps[2].current_it = 3;
        CHECK(refused(check(), ProtocolFault::too_much_current));
        CHECK(refused(check_protocol(p, cell(), nmc, {5, 1, true, true}, 20), ProtocolFault::beyond_instrument));
        p.limits.charge_high_c = 60;
        CHECK(refused(check(), ProtocolFault::too_hot));
        BayUnit unknown = cell();
        unknown.rated_ah = 0;
        CHECK(refused(check_protocol(p, unknown, nmc, {}, 20), ProtocolFault::no_rating));
        CHECK(refused(check_protocol(p, cell(), *protocol_library().chemistry("lfp"), {}, 20),
                      ProtocolFault::wrong_chemistry));
    }
    SECTION("nickel needs an end to its charge") {
        Protocol ni = *protocol_library().protocol("ni-conditioning");
        ni.steps[0].minus_dv.reset();
        ni.steps[0].capacity_share.reset();
        BayUnit module;
        module.rated_ah = 6.5;
        module.cells = 6;
        CHECK(refused(check_protocol(ni, module, *protocol_library().chemistry("nimh"), {20, 10, true, true}, 20),
                      ProtocolFault::no_end_for_nickel));
    }
    SECTION("N33: conditioning at 80 degC is refused") {
        Protocol ni = *protocol_library().protocol("ni-conditioning");
        BayUnit module;
        module.rated_ah = 6.5;
        module.cells = 6;
        const Chemistry& nimh = *protocol_library().chemistry("nimh");
        CHECK_FALSE(refused(check_protocol(ni, module, nimh, {20, 10, true, true}, 20), ProtocolFault::too_hot));
        ni.limits.charge_high_c = 80;
        CHECK(refused(check_protocol(ni, module, nimh, {20, 10, true, true}, 20), ProtocolFault::too_hot));
    }
    SECTION("N33: what empties first says so") {
        CHECK(protocol_library().protocol("ni-conditioning-charged")->empties_first());
        CHECK(protocol_library().protocol("ni-capacity")->empties_first());
        CHECK_FALSE(protocol_library().protocol("ni-conditioning")->empties_first());
        CHECK_FALSE(protocol_library().protocol("li-pulse")->empties_first());
        CHECK(steps_in_all(*protocol_library().protocol("ni-conditioning-charged")) == 15);
    }
    SECTION("no step") {
        p.steps.clear();
        CHECK(refused(check(), ProtocolFault::no_step));
    }
}

// 0.2 It of 2.5 Ah is 0.5 A (IEC 61434: the reference current is the rated capacity over one hour).
TEST_CASE("protocol: amperes and volts of one unit") {
    BayUnit unit;
    unit.rated_ah = 2.5;
    const BayStep discharge = resolve(protocol_library().protocol("li-capacity")->steps[2], unit);
    CHECK(discharge.current_a == Approx(-0.5));
    CHECK(*discharge.volts == Approx(3.0));
    // CC-CV end current 0.05 It: 0.125 A for 2.50 Ah, 0.1675 A for 3.35 Ah.
    CHECK(*resolve(protocol_library().protocol("li-capacity")->steps[0], unit).tail_a == Approx(0.125));
    unit.rated_ah = 3.35;
    CHECK(*resolve(protocol_library().protocol("li-capacity")->steps[0], unit).tail_a == Approx(0.1675));
    // A six-cell module of 6.5 Ah: 3 A in, 1 A out to 6.0 V, stop at 7.5 Ah (common practice, no source).
    BayUnit module;
    module.rated_ah = 6.5;
    module.cells = 6;
    const Protocol& ni = *protocol_library().protocol("ni-conditioning");
    CHECK(resolve(ni.steps[0], module).current_a == Approx(3.0).epsilon(0.001));
    CHECK(*resolve(ni.steps[0], module).capacity_ah == Approx(7.5).epsilon(0.001));
    CHECK(resolve(ni.steps[2], module).current_a == Approx(-1.0).epsilon(0.001));
    CHECK(*resolve(ni.steps[2], module).volts == Approx(6.0));
    const BayLimits limits = limits_for(ni, ni.steps[0], module, *protocol_library().chemistry("nimh"));
    CHECK(limits.high_v == Approx(9.6));
    CHECK(limits.low_c >= 0);
    CHECK(limits.current_a > 3);
    CHECK(limits_for(ni, ni.steps[2], module, *protocol_library().chemistry("nimh")).low_v == Approx(0.8 * 6));
}

TEST_CASE("protocol: loops run as often as they say, nested ones too") {
    const Protocol& three = *protocol_library().protocol("ni-conditioning");
    CHECK(steps_in_all(three) == 12);
    CHECK(steps_in_all(*protocol_library().protocol("ni-conditioning-5")) == 20);
    std::vector<int> seen;
    auto position = std::optional<RunPosition>(first_position(three));
    int n = 0;
    while (position) {
        CHECK(steps_done(three, *position) == n++);
        seen.push_back(position->step);
        position = next_position(three, *position);
    }
    CHECK(seen == std::vector<int>{0, 1, 2, 3, 0, 1, 2, 3, 0, 1, 2, 3});
    Protocol nested;
    nested.steps.resize(4);
    nested.steps[1].kind = ProtocolStepKind::loop; // step 0 twice
    nested.steps[1].times = 2;
    nested.steps[3].kind = ProtocolStepKind::loop; // all of it three times
    nested.steps[3].times = 3;
    CHECK(steps_in_all(nested) == 9);
}

// One cycle: charge 7.5 Ah at 3 A, rest 5 min, discharge 5.0 Ah at 1 A, rest 5 min: 7.6667 h (common practice, no
// source).
TEST_CASE("protocol: how long it takes") {
    BayUnit module;
    module.rated_ah = 6.5;
    module.cells = 6;
    module.capacity_ah = 5.0;
    const double hours = predicted_hours(*protocol_library().protocol("ni-conditioning"), module);
    CHECK(hours > 3 * (5.0 / 3 + 5.0 + 2 * 0.0833) * 0.99);
    CHECK(hours < 3 * 7.6667);
    // 0.1 It for 16 h by the clock, whatever the capacity.
    BayUnit stick;
    stick.rated_ah = 4;
    stick.capacity_ah = 2;
    CHECK(predicted_hours(*protocol_library().protocol("ni-capacity"), stick) ==
          Approx(2 / 0.8 + 0.5 + 16 + 1 + 2 / 0.8 + 0.0833));
    CHECK(largest_charge_a(*protocol_library().protocol("ni-conditioning"), module) == Approx(3).epsilon(0.001));
    CHECK(largest_charge_a(*protocol_library().protocol("li-pulse"), cell()) == 0);
}

TEST_CASE("protocol: a broken file is refused with its line") {
    const std::string good = exchange::write_protocol(*protocol_library().protocol("li-capacity"));
    const auto objects = [&](const std::string& from, const std::string& to, const char* words) {
        std::string text = good;
        REQUIRE(text.find(from) != std::string::npos);
        text.replace(text.find(from), from.size(), to);
        const auto read = exchange::read_protocol(text, "p.toml");
        REQUIRE_FALSE(read);
        INFO(read.problem().text());
        CHECK(read.problem().text().find(words) != std::string::npos);
        CHECK(read.problem().line > 0);
    };
    objects("kind = \"charge\"", "kind = \"jump\"", "\"jump\"");
    objects("current_it = 0.5", "current_it = -0.5", "negative");
    objects("current_it = 0.5", "current_it = \"fast\"", "number");
    objects("name = ", "nome = ", "name");
    CHECK_FALSE(exchange::read_protocol("", "p.toml"));
    CHECK_FALSE(exchange::read_protocol(good + good, "p.toml"));
}
