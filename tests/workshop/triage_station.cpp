// What the workshop does at Triage: rounds with their conditions, symptoms, swaps, snapshots, and what explains it.
#include "workshop/workshop.h"

#include "shop.h"
#include "temporary.h"

#include <catch2/catch.hpp>

#include <algorithm>

using namespace ingot;
using tests::Temporary;

namespace {

struct Shop {
    Temporary folder;
    std::unique_ptr<Workshop> workshop;
    Id pack = 0;
    QDateTime today = QDateTime(QDate(2026, 1, 5), QTime(9, 0), Qt::UTC);

    Shop() {
        workshop = tests::new_shop(folder.file("w.ingot"), "Fellside");
        workshop->set_clock([this] { return today; });
        const Id lot = workshop->receive().add_lot({0, "MOW-21", "", "", "", {}}).value();
        Assembly record;
        record.lot = lot;
        record.label = "MOW-21 · pack 1";
        record.chemistry = "nmc";
        record.layout = {5, 2, 1};
        record.claim.capacity_ah = 5.0;
        record.state = AssemblyState::in_triage;
        pack = workshop->receive().add_pack(record).value();
    }
    void round(Condition condition, const std::vector<double>& volts, const RoundConditions& conditions = {}) {
        for (std::size_t g = 0; g < volts.size(); ++g)
            REQUIRE(workshop->triage()
                        .record_group_reading(pack, static_cast<int>(g) + 1, volts[g], condition, "meter", conditions)
                        .ok());
    }
    [[nodiscard]] const Explanation& first() const { return workshop->triage().explained(pack).explanations.front(); }
};

} // namespace

TEST_CASE("Readings, their current and their days reach the explanation, and survive opening again") {
    Shop shop;
    shop.round(Condition::rest, {3.842, 3.846, 3.844, 3.841, 3.845});
    CHECK(shop.first().fault == Fault::healthy);
    RoundConditions load;
    load.load_a = 2.0;
    shop.round(Condition::load, {3.77, 3.774, 3.622, 3.769, 3.773}, load);
    CHECK(shop.first().fault == Fault::high_resistance_joint);
    CHECK(shop.first().groups == std::vector<int>{3});
    REQUIRE(shop.first().current_a);
    CHECK(*shop.first().amount == Approx(0.075).epsilon(0.08)); // 150 mV more at 2 A
    shop.today = shop.today.addDays(4);
    REQUIRE(shop.workshop->triage().days_since_rest(shop.pack));
    CHECK(*shop.workshop->triage().days_since_rest(shop.pack) == Approx(4));
    shop.round(Condition::stored, {3.841, 3.845, 3.843, 3.840, 3.844});
    const TriageCase before = shop.workshop->triage().triage_case(shop.pack);
    CHECK(*before.readings.back().days == Approx(4));
    const std::string path = shop.workshop->path();
    shop.workshop.reset();
    auto again = Workshop::open(path);
    REQUIRE(again);
    const TriageCase after = again.value()->triage().triage_case(shop.pack);
    REQUIRE(after.readings.size() == before.readings.size());
    for (std::size_t i = 0; i < after.readings.size(); ++i) {
        CHECK(after.readings[i].voltage_v == before.readings[i].voltage_v);
        CHECK(after.readings[i].current_a == before.readings[i].current_a);
        CHECK(after.readings[i].days == before.readings[i].days);
    }
}

TEST_CASE("A minus is asked for twice; a slipped decimal never passes") {
    Shop shop;
    const auto minus = shop.workshop->triage().record_group_reading(shop.pack, 1, -3.6, Condition::rest, "meter");
    CHECK_FALSE(minus);
    CHECK(minus.problem().sentence.english().find("again") != std::string::npos);
    RoundConditions meant;
    meant.reversed = true;
    CHECK(shop.workshop->triage().record_group_reading(shop.pack, 1, -3.6, Condition::rest, "meter", meant));
    CHECK_FALSE(shop.workshop->triage().record_group_reading(shop.pack, 1, 38.4, Condition::rest, "meter", meant));
    CHECK_FALSE(shop.workshop->triage().record_group_reading(shop.pack, 2, 6.0, Condition::rest, "meter"));
    CHECK_FALSE(shop.workshop->triage().record_group_reading(shop.pack, 6, 3.8, Condition::rest, "meter"));
}

TEST_CASE("Symptoms, a replaced unit and a lead swap count, and are kept") {
    Shop shop;
    shop.round(Condition::rest, {3.842, 3.846, 3.70, 3.841, 3.845});
    CHECK(shop.workshop->triage().note_symptom(shop.pack, "shelf-drift", true));
    CHECK(shop.workshop->triage().note_symptom(shop.pack, "shelf-drift", true)); // once
    CHECK(shop.workshop->triage().symptoms_of_pack(shop.pack) == std::vector<std::string>{"shelf-drift"});
    CHECK_FALSE(shop.workshop->triage().note_symptom(shop.pack, "sings", true));
    CHECK(shop.workshop->triage().note_symptom(shop.pack, "shelf-drift", false));
    CHECK(shop.workshop->triage().symptoms_of_pack(shop.pack).empty());
    const auto of_lead = [&] {
        double p = 0;
        for (const Explanation& e : shop.workshop->triage().explained(shop.pack).explanations)
            p += e.fault == Fault::sense_fault ? e.probability : 0;
        return p;
    };
    const double before = of_lead();
    CHECK(shop.workshop->triage().note_replaced(shop.pack, 3));
    const double replaced = of_lead();
    CHECK(replaced > before);
    CHECK(shop.workshop->triage().note_lead_swap(shop.pack, 3, true));
    CHECK(of_lead() > replaced);
    CHECK(shop.workshop->triage().triage_case(shop.pack).swaps.size() == 1);
}

TEST_CASE("A snapshot comes in whole or not at all") {
    Shop shop;
    const auto read = shop.workshop->triage().import_group_readings(
        shop.pack,
        "Block 1 / mV,Block 2 / mV,Block 3 / mV,Block 4 / mV,Block 5 / mV\n"
        "3842,3846,412,3841,3845\n",
        "board.csv");
    REQUIRE(read);
    CHECK(read.value() == 5);
    CHECK(shop.first().fault == Fault::dead_group);
    CHECK_FALSE(shop.workshop->triage().ways(shop.pack).empty());
    const auto count = shop.workshop->ledger().counts().measurements;
    CHECK_FALSE(
        shop.workshop->triage().import_group_readings(shop.pack, "Group,Voltage / V\n1,3.8\n2,38\n", "bad.csv"));
    CHECK_FALSE(
        shop.workshop->triage().import_group_readings(shop.pack, "Group,Voltage / V\n1,3.8\n9,3.8\n", "bad.csv"));
    CHECK(shop.workshop->ledger().counts().measurements == count);
}

TEST_CASE("Two readings that disagree ask for a third; the third settles it") {
    Shop shop;
    shop.round(Condition::rest, {3.842, 3.846, 3.70, 3.841, 3.845});
    CHECK(shop.workshop->triage().record_group_reading(shop.pack, 3, 3.844, Condition::rest, "meter"));
    CHECK(shop.workshop->triage().explained(shop.pack).disagreeing == std::vector<int>{3});
    CHECK(shop.workshop->triage().record_group_reading(shop.pack, 3, 3.843, Condition::rest, "meter"));
    CHECK(shop.workshop->triage().explained(shop.pack).disagreeing.empty());
}

TEST_CASE("A group's capacity: believed or not, kept, brought in by a file, and carried along by a donor") {
    Shop shop;
    shop.round(Condition::rest, {3.842, 3.846, 3.70, 3.841, 3.845});
    CHECK_FALSE(shop.workshop->triage().note_group_capacity(shop.pack, 3, 0));
    CHECK_FALSE(shop.workshop->triage().note_group_capacity(shop.pack, 3, 51)); // a decimal slip: the label says 5 Ah
    CHECK_FALSE(shop.workshop->triage().note_group_capacity(shop.pack, 6, 4.9));
    CHECK(shop.workshop->triage().group_capacities(shop.pack).empty());
    for (int g = 1; g <= 5; ++g)
        CHECK(shop.workshop->triage().note_group_capacity(shop.pack, g, 4.8 + 0.02 * g));
    CHECK(shop.workshop->triage().note_group_capacity(shop.pack, 3, 3.1)); // the newest counts
    CHECK(shop.workshop->triage().group_capacities(shop.pack).at(3) == 3.1);
    CHECK(shop.workshop->triage().triage_case(shop.pack).capacities.size() == 5);
    CHECK(shop.first().fault == Fault::weak_group);
    CHECK(shop.first().groups == std::vector<int>{3});

    // A file with one that is not believed brings nothing in.
    const std::string file = "Group,Voltage / V,Capacity / Ah\n1,3.84,4.9\n2,3.84,49\n";
    CHECK_FALSE(shop.workshop->triage().import_group_readings(shop.pack, file, "c.csv"));
    CHECK(shop.workshop->triage().group_capacities(shop.pack).at(1) == Approx(4.82));
    CHECK(shop.workshop->triage().import_group_readings(shop.pack, "Group,Voltage / V,Capacity / Ah\n1,3.84,4.7\n",
                                                        "c.csv"));
    CHECK(shop.workshop->triage().group_capacities(shop.pack).at(1) == 4.7);

    Assembly record = *shop.workshop->pack(shop.pack);
    record.id = 0;
    record.label = "MOW-21 · pack 2";
    const Id sister = shop.workshop->receive().add_pack(record).value();
    shop.today = shop.today.addDays(1);
    for (int g = 1; g <= 5; ++g)
        REQUIRE(shop.workshop->triage().record_group_reading(sister, g, 3.83, Condition::rest, "meter"));
    REQUIRE(shop.workshop->triage().note_group_capacity(sister, 2, 4.95));
    shop.today = shop.today.addDays(1);
    REQUIRE(shop.workshop->triage().move_group(sister, 2, shop.pack, 3));
    CHECK(shop.workshop->triage().group_capacities(shop.pack).at(3) == 4.95);
    CHECK(shop.workshop->triage().triage_case(shop.pack).capacities.size() == 5);
    const std::string path = shop.workshop->path();
    shop.workshop.reset();
    const auto again = Workshop::open(path);
    REQUIRE(again);
    CHECK(again.value()->triage().group_capacities(shop.pack).at(3) == 4.95);
}

TEST_CASE(
    "K8: unit voltages inside a group are measurements like any other: of a place, kept, struck out with a reason") {
    Shop shop;
    shop.round(Condition::rest, {3.842, 3.846, 3.644, 3.841, 3.845});
    REQUIRE(shop.workshop->triage().note_unit_voltages(shop.pack, 3, {3.91, 0.21}).ok());
    const auto of_places = [](const Workshop& workshop, Id pack) {
        std::vector<Measurement> found;
        for (const Measurement& m : workshop.inventory().measurements(pack))
            if (m.subject.place > 0)
                found.push_back(m);
        return found;
    };
    const auto read = of_places(*shop.workshop, shop.pack);
    REQUIRE(read.size() == 2);
    CHECK(read[0].subject == Subject{0, shop.pack, 3, 1});
    CHECK(read[1].value == 0.21);
    CHECK_FALSE(read[1].taken_at.empty());
    CHECK(shop.workshop->triage().triage_case(shop.pack).units.size() == 2);
    CHECK_FALSE(shop.workshop->test().strike_reading(read[1].id, "").ok());
    REQUIRE(shop.workshop->test().strike_reading(read[1].id, "the probe stood on the sleeve").ok());
    CHECK(of_places(*shop.workshop, shop.pack).size() == 1);
    const auto again = Workshop::open(shop.workshop->path());
    REQUIRE(again.ok());
    CHECK(of_places(*again.value(), shop.pack).size() == 1);
}

TEST_CASE("K37: what a group's voltage means is said by the workshop") {
    Shop shop;
    CHECK_FALSE(shop.workshop->triage().group_verdict(shop.pack, 1));
    shop.round(Condition::rest, {3.842, 3.846, 0.4, 3.2, 3.845});
    const auto of = [&](int group) { return shop.workshop->triage().group_verdict(shop.pack, group); };
    REQUIRE(of(1));
    CHECK(of(1)->mark == Duty::drive);
    CHECK_FALSE(of(1)->never_charge);
    REQUIRE(of(3));
    CHECK(of(3)->mark == Duty::quarantine);
    CHECK(of(3)->never_charge); // lithium under the deep-discharge limit
    CHECK(of(3)->evidence.measured == 0.4);
    CHECK(of(4)->mark == Duty::rest_again);
    CHECK(of(4)->outlier);
    CHECK_FALSE(of(6));
}

TEST_CASE("N9: what a device says through its own port comes in before the gate; hands wait") {
    Shop shop;
    Assembly row;
    row.lot = shop.workshop->packs().front().lot;
    row.label = "BUO-09 · pack 1";
    row.chemistry = "nimh";
    row.layout = {14, 1, 6};
    const Id id = shop.workshop->receive().add_pack(row).value();
    REQUIRE(shop.workshop->receive().gate_closed(*shop.workshop->pack(id)));
    CHECK_FALSE(shop.workshop->triage().record_group_reading(id, 1, 7.9, Condition::rest, "meter", {}).ok());
    std::string head;
    std::string volts;
    std::string by_hand = "Group,Voltage / V\n";
    for (int block = 1; block <= 14; ++block) {
        const bool dead = block == 5;
        head += (block > 1 ? "," : "") + ("Block " + std::to_string(block) + " / mV");
        volts += (block > 1 ? "," : "") + std::string(dead ? "6100" : "7900");
        by_hand += std::to_string(block) + ",7.9\n";
    }
    // A file that somebody read off with a meter is hands' work.
    const auto refused = shop.workshop->triage().import_group_readings(id, by_hand, "meter.csv");
    REQUIRE_FALSE(refused);
    CHECK(refused.problem().sentence.english().find("gate") != std::string::npos);
    const auto read = shop.workshop->triage().import_group_readings(id, head + "\n" + volts + "\n", "device.csv");
    REQUIRE(read);
    CHECK(read.value() == 14);
    CHECK(shop.workshop->receive().gate_closed(*shop.workshop->pack(id))); // it is still closed
    CHECK(shop.workshop->triage().group_readings(id, Condition::rest).at(5) == Approx(6.1));
    CHECK(shop.workshop->triage().explained(id).explanations.front().groups == std::vector<int>{5});
    // What cannot be is still refused, whole.
    CHECK_FALSE(
        shop.workshop->triage().import_group_readings(id, head + "\n" + "79000" + volts.substr(4) + "\n", "x.csv"));
}

TEST_CASE("N10: packs of a kind go on together, what is held stays, and nothing is half done") {
    Shop shop;
    std::vector<Id> packs;
    Assembly record = *shop.workshop->pack(shop.pack);
    for (int n = 2; n <= 11; ++n) {
        record.id = 0;
        record.label = "MOW-21 · pack " + std::to_string(n);
        record.state = AssemblyState::received;
        packs.push_back(shop.workshop->receive().add_pack(record).value());
    }
    record.label = "MOW-21 · other";
    record.layout = {7, 2, 1};
    const Id other = shop.workshop->receive().add_pack(record).value();
    REQUIRE(shop.workshop->receive().note_finding(packs[3], 0, "swollen"));
    REQUIRE(shop.workshop->receive().pack_quarantined(packs[3]));
    const auto like = shop.workshop->receive().waiting_like(packs[0]);
    CHECK(like.size() == 10); // nine of the ten, and the one at Triage
    CHECK(std::count(like.begin(), like.end(), packs[3]) == 0);
    CHECK(std::count(like.begin(), like.end(), other) == 0);
    std::vector<std::pair<Id, AssemblyState>> all;
    for (const Id id : like)
        all.emplace_back(id, AssemblyState::to_open);
    auto with_held = all;
    with_held.emplace_back(packs[3], AssemblyState::to_open);
    CHECK_FALSE(shop.workshop->receive().set_states(with_held));
    for (const Id id : like)
        CHECK(shop.workshop->pack(id)->state != AssemblyState::to_open);
    REQUIRE(shop.workshop->receive().set_states(all));
    for (const Id id : like)
        CHECK(shop.workshop->pack(id)->state == AssemblyState::to_open);
}
