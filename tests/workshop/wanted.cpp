// Builds before they have units: what is asked of the stock, who gets what, what is reserved for whom.
#include "shop.h"
#include "temporary.h"
#include "workshop/refill_work.h"
#include "workshop/workshop.h"

#include <catch2/catch.hpp>

using namespace ingot;
using tests::Temporary;

namespace {

// Thirty cells of one model with a capacity and a resistance; two of them without a capacity.
struct WantedShop {
    Temporary folder;
    std::unique_ptr<Workshop> shop = tests::new_shop(folder.file("w.ingot"), "Wanted");
    std::vector<Id> cells;

    WantedShop() {
        cells = tests::lantern_cells(*shop, {5, 6, 1});
        for (std::size_t c = 0; c + 2 < cells.size(); ++c) {
            read(c, Quantity::voltage, 3.64);
            read(c, Quantity::dc_resistance, 0.050 + 0.001 * static_cast<double>(c % 4));
            read(c, Quantity::self_discharge, 0.0004);
            read(c, Quantity::capacity, 2.10 + 0.01 * static_cast<double>(c));
        }
    }
    void read(std::size_t cell, Quantity quantity, double value) const {
        Measurement m;
        m.quantity = quantity;
        m.value = value;
        REQUIRE(shop->test().record_reading(cells[cell], m));
    }
    [[nodiscard]] Id begin(const char* line) const {
        const auto id = shop->build().begin(wanted_build_from(line).value());
        REQUIRE(id);
        return id.value();
    }
    [[nodiscard]] std::vector<std::string> order() const {
        std::vector<std::string> out;
        for (const Assembly* build : shop->inventory().wanting())
            out.push_back(build->label);
        return out;
    }
    [[nodiscard]] AllotAnswer answer() const {
        const auto found = answer_allotment(shop->match().allot_question(0.005), {});
        INFO((found ? std::string() : found.problem().text()));
        REQUIRE(found);
        return found.value();
    }
};

} // namespace

TEST_CASE("What is wanted is said in one line, in any order, with decimal comma or point") {
    const WantedBuild all = wanted_build_from("mower pack, 7S4P 9,2 Ah drive").value();
    CHECK(all.purpose == "mower pack");
    CHECK(all.series == 7);
    CHECK(all.parallel == 4);
    CHECK(all.usable_ah == Approx(9.2));
    CHECK(all.least_duty == Duty::drive);
    const WantedBuild turned = wanted_build_from("Store 12.5Ah 4s6p, hill repeater").value();
    CHECK(turned.purpose == "hill repeater");
    CHECK(turned.usable_ah == Approx(12.5));
    CHECK(turned.least_duty == Duty::store);
    const WantedBuild named = wanted_build_from("exit light 2S2P 4.1").value(); // a name, not a duty
    CHECK(named.purpose == "exit light");
    CHECK_FALSE(named.least_duty);
    const WantedBuild bare = wanted_build_from("1S4P").value();
    CHECK(bare.purpose.empty());
    CHECK_FALSE(bare.usable_ah);
    CHECK_FALSE(bare.least_duty);
    for (const char* line : {"", "mower pack", "0S4P", "7S0P", "201S1P", "7S501P", "7S4P 0 Ah"})
        CHECK_FALSE(wanted_build_from(line));
    CHECK(wanted_build_from("mower pack").problem().sentence.english().find("7S4P") !=
          std::string::npos); // how to say it
}

TEST_CASE("A build begins without units, is served in its order, and holds nothing of the stock") {
    const WantedShop w;
    const Id first = w.begin("mower pack 2S3P 6.5");
    const Id second = w.begin("lantern 1S4P light");
    CHECK(w.order() == std::vector<std::string>{"B-001", "B-002"});
    CHECK(w.shop->build_of(first)->state == AssemblyState::planned);
    CHECK(w.shop->build().sheet(first).lines.empty());
    CHECK(w.shop->unit(w.cells[0])->in_stock());
    REQUIRE(w.shop->build().serve(second, -1));
    CHECK(w.order() == std::vector<std::string>{"B-002", "B-001"});
    CHECK_FALSE(w.shop->build().serve(second, -1)); // it is first
    CHECK_FALSE(w.shop->build().serve(first, 1));
    // The order is kept in the file.
    const auto again = Workshop::open(w.folder.file("w.ingot"));
    REQUIRE(again);
    REQUIRE(again.value()->inventory().wanting().size() == 2);
    CHECK(again.value()->inventory().wanting().front()->label == "B-002");
    // Given up, it wants nothing any more.
    REQUIRE(w.shop->build().give_up(second));
    CHECK(w.order() == std::vector<std::string>{"B-001"});
    CHECK_FALSE(w.shop->match().reserve_for(second, 2, {{w.cells[0], w.cells[1]}}, std::nullopt, 0));
}

TEST_CASE("Several builds: each gets what it wants from the weakest that suffice, and only that is reserved") {
    const WantedShop w;
    const Id mower = w.begin("mower pack 2S3P 6.6 Ah");
    const Id lantern = w.begin("lantern 1S4P 8.5 Ah light");
    const Id large = w.begin("buoy 4S6P");
    const AllotAnswer answer = w.answer();
    REQUIRE(answer.question.builds == std::vector<Id>{mower, lantern, large});
    CHECK(answer.met(0));
    CHECK(answer.met(1));
    CHECK_FALSE(answer.met(2)); // 24 units, 18 are left
    CHECK(answer.result.builds[2].lacking == 6);
    CHECK(answer.short_ah(0) == 0);
    // Two cells have no capacity: they wait, and are given to nobody.
    CHECK(std::count(answer.question.waits.begin(), answer.question.waits.end(), 1) == 2);
    CHECK(answer.standings[1].above.size() == 1);

    std::vector<std::vector<Id>> groups;
    for (const GroupSums& group : answer.result.builds[0].match.groups) {
        std::vector<Id> ids;
        for (const std::size_t u : group.units)
            ids.push_back(answer.question.units[u]);
        groups.push_back(ids);
    }
    REQUIRE(w.shop->match().reserve_for(mower, 3, groups, MatchWay::search, 0.005));
    const BuildSheet sheet = w.shop->build().sheet(mower);
    CHECK(sheet.lines.size() == 6);
    CHECK(sheet.build.chemistry == "nmc");
    CHECK(sheet.build.layout == PackLayout{2, 3, 1});
    CHECK(*std::min_element(sheet.group_capacity_ah.begin(), sheet.group_capacity_ah.end()) >= 6.6 - 1e-9);
    CHECK_FALSE(w.shop->inventory().wants_units(*w.shop->build_of(mower)));
    CHECK(w.order() == std::vector<std::string>{"B-002", "B-003"});
    // Not twice, and its form stands from now on.
    CHECK_FALSE(w.shop->match().reserve_for(mower, 3, groups, std::nullopt, 0));
    CHECK_FALSE(w.shop->build().set_form(mower, "nmc", {3, 2, 1}, ""));
    // The other still gets its own.
    CHECK(w.answer().met(0));
}

TEST_CASE("What a build asks of the stock narrows who may serve it") {
    const WantedShop w;
    const Id build = w.begin("mower pack 2S3P");
    REQUIRE(w.shop->build().set_form(build, "nmc", {2, 3, 1}, "another model"));
    AllotAnswer answer = w.answer();
    CHECK_FALSE(answer.met(0));
    CHECK(answer.result.builds[0].lacking == 6);
    CHECK(w.shop->match().filter_for(build).model == "another model");
    // A chemistry of which there is nothing is lacking, not replaced by another.
    REQUIRE(w.shop->build().set_form(build, "lfp", {2, 3, 1}, ""));
    answer = w.answer();
    CHECK_FALSE(answer.met(0));
    CHECK_FALSE(w.shop->build().set_form(build, "no such", {2, 3, 1}, ""));
    CHECK_FALSE(w.shop->build().set_form(build, "nmc", {0, 3, 1}, ""));
    REQUIRE(w.shop->build().set_figure(build, DesignFigure::least_duty, "store"));
    CHECK(w.shop->match().filter_for(build).duties == std::vector<Duty>{Duty::drive, Duty::store});
    CHECK_FALSE(w.shop->build().set_figure(build, DesignFigure::least_duty, "scrap"));
    CHECK_FALSE(w.shop->build().set_figure(build, DesignFigure::priority, "0"));
}

TEST_CASE("A unit that fails while building is replaced by the most alike, on record, and back again") {
    const WantedShop w;
    const Id build = w.begin("mower pack 2S3P");
    std::vector<std::vector<Id>> groups{{w.cells[0], w.cells[1], w.cells[2]}, {w.cells[3], w.cells[4], w.cells[5]}};
    REQUIRE(w.shop->match().reserve_for(build, 3, groups, std::nullopt, 0));
    for (const auto& group : groups)
        for (const Id unit : group)
            REQUIRE(w.shop->build().take(build, unit));
    CHECK(w.shop->build_of(build)->state == AssemblyState::taken);
    const auto offers = w.shop->build().substitutes(build, w.cells[5], 4);
    REQUIRE(offers.size() == 4);
    CHECK(offers.front().unit == w.cells[6]); // ten milliampere-hours and a milliohm away
    for (const auto& offer : offers) {
        const double own = *w.shop->unit(offer.unit)->facts.capacity_ah;
        CHECK(offer.group_ah == Approx(2.13 + 2.14 + own));
        CHECK(offer.usable_ah == Approx(std::min(2.10 + 2.11 + 2.12, offer.group_ah)));
    }
    const Id by = offers.front().unit;
    REQUIRE(w.shop->build().tick(build, BuildTask::rings, 1));
    REQUIRE(w.shop->build().replace(build, w.cells[5], by));
    CHECK(w.shop->build().ticks(build).empty()); // ring and polarity are looked at anew
    CHECK(w.shop->unit(w.cells[5])->in_stock());
    CHECK_FALSE(w.shop->unit(by)->in_stock());
    CHECK(w.shop->build_of(build)->state == AssemblyState::planned); // it is still to be fetched
    CHECK(w.shop->build().sheet(build).taken == 5);
    CHECK_FALSE(w.shop->build().replace(build, w.cells[5], by));         // it is not in the build any more
    CHECK_FALSE(w.shop->build().replace(build, w.cells[0], w.cells[1])); // in the build already
    REQUIRE(w.shop->build().replace(build, by, w.cells[5]));
    CHECK(w.shop->unit(by)->in_stock());
    REQUIRE(w.shop->receive().note_finding(0, w.cells[7], "swollen"));
    CHECK_FALSE(w.shop->build().replace(build, w.cells[0], w.cells[7])); // in quarantine
}

TEST_CASE("Rule sets are schools: the same units under each, and what a moved limit would change is told before") {
    const WantedShop w;
    SortService& sort = w.shop->sort();
    const auto duty = [&](std::size_t cell) { return w.shop->unit(w.cells[cell])->verdict.duty; };
    const std::size_t untested = w.cells.size() - 1; // neither capacity nor anything else
    CHECK(sort.rules().id == "capacity-tested");
    CHECK(duty(untested) == Duty::rest_again);
    const Duty tested = duty(0);
    CHECK(tested <= Duty::light);

    REQUIRE(sort.choose_rules("voltage-only"));
    CHECK(duty(untested) == Duty::rest_again); // not even a voltage
    w.read(untested, Quantity::voltage, 3.64);
    CHECK(duty(untested) == Duty::light);
    w.read(untested, Quantity::voltage, 1.2);
    CHECK(duty(untested) > Duty::undecided); // under its floor, whatever the school

    REQUIRE(sort.choose_rules("resistance-first"));
    const std::size_t next = w.cells.size() - 2;
    CHECK(duty(next) == Duty::rest_again);
    w.read(next, Quantity::dc_resistance, 0.048);
    CHECK(duty(next) == Duty::light); // nobody knows what it holds
    CHECK(duty(0) <= tested);         // its capacity counts where it is known
    CHECK(w.shop->unit(w.cells[0])->verdict.rule_set == "resistance-first v1");

    REQUIRE(sort.choose_rules("thrift"));
    CHECK(duty(0) <= tested);
    CHECK_FALSE(sort.choose_rules("no such"));
    // The choice is kept in the file.
    CHECK(Workshop::open(w.folder.file("w.ingot")).value()->sort().rules().id == "thrift");

    REQUIRE(sort.choose_rules("capacity-tested"));
    CHECK(sort.changes().empty());
    RuleSet strict = sort.rules();
    strict.by_model["H26"].least_capacity_ah = {2.30, 2.25, 2.20};
    const auto before = sort.duty_counts();
    sort.try_rules(strict);
    const auto after = sort.duty_counts();
    int left_drive = 0;
    for (const SortService::Change& change : sort.changes()) {
        CHECK(change.units > 0);
        CHECK(change.from != change.to);
        left_drive += change.from == Duty::drive ? change.units : 0;
        left_drive -= change.to == Duty::drive ? change.units : 0;
    }
    CHECK_FALSE(sort.changes().empty());
    CHECK(left_drive == before[0] - after[0]);
    // Another rule set drops what was not saved; saved, it is a new version and nothing is pending.
    REQUIRE(sort.choose_rules("thrift"));
    REQUIRE(sort.choose_rules("capacity-tested"));
    CHECK(sort.duty_counts() == before);
    sort.try_rules(strict);
    REQUIRE(sort.save_rules());
    CHECK(sort.rules().version == 2);
    CHECK(sort.changes().empty());
}

TEST_CASE("A pack opened in part is refilled: no stronger than its survivors, its model first, and put in its places") {
    const Temporary folder;
    auto shop = tests::new_shop(folder.file("w.ingot"), "Refill");
    const auto read = [&](Id unit, Quantity quantity, double value) {
        Measurement m;
        m.quantity = quantity;
        m.value = value;
        REQUIRE(shop->test().record_reading(unit, m));
    };
    const std::vector<Id> stock = tests::lantern_cells(*shop, {4, 5, 1});
    for (std::size_t c = 0; c < stock.size(); ++c) {
        read(stock[c], Quantity::voltage, 3.61);
        read(stock[c], Quantity::dc_resistance, 0.050);
        read(stock[c], Quantity::self_discharge, 0.0004);
        read(stock[c], Quantity::capacity, 2.10 + 0.02 * static_cast<double>(c));
    }
    // Its third and fifth group are dead; of two that stay a discharge alone is known.
    Assembly pack;
    pack.lot = shop->receive().add_lot({0, "MOW-02", "", "", "", {}}).value();
    pack.label = "mower";
    pack.chemistry = "nmc";
    pack.format = "18650";
    pack.layout = {5, 3, 1};
    const Id mower = shop->receive().add_pack(pack).value();
    REQUIRE(shop->receive().set_state(mower, AssemblyState::in_triage));
    CHECK_FALSE(shop->build().begin_refill(mower)); // nothing came out yet
    for (const auto& [group, volts] : {std::pair{1, 3.612}, {2, 3.608}, {3, 0.4}, {4, 3.610}, {5, 1.1}})
        REQUIRE(shop->triage().record_group_reading(mower, group, volts, Condition::rest, "meter"));
    REQUIRE(shop->triage().note_group_capacity(mower, 1, 6.6));
    REQUIRE(shop->triage().note_group_capacity(mower, 4, 6.9));
    const auto out = shop->open().open_pack(mower, "R1", "H26", "T9", {3, 5});
    REQUIRE(out);
    for (const Id dead : out.value())
        REQUIRE(shop->open().recycle_unit(dead));
    const auto refills = shop->build().refills();
    REQUIRE(refills.size() == 1);
    CHECK(refills[0].groups == std::vector<int>{3, 5});
    CHECK(refills[0].survivors == 3);
    CHECK(refills[0].known == 2);
    CHECK(*refills[0].weakest_ah == Approx(6.6));
    CHECK(*refills[0].stand_at_v == Approx(3.610));
    CHECK(refills[0].model == "H26");
    const auto begun = shop->build().begin_refill(mower);
    REQUIRE(begun);
    CHECK(shop->build().refills().empty()); // it is begun once
    CHECK_FALSE(shop->build().begin_refill(mower));
    const Id build = begun.value();
    CHECK(shop->build_of(build)->layout == PackLayout{2, 3, 1});
    // Which joints are opened, and what stands live meanwhile.
    const RefillWork work = refill_work(*shop, build);
    REQUIRE(work.runs.size() == 2);
    CHECK(work.read);
    CHECK(work.runs[0].below_v == Approx(3.612 + 3.608));
    CHECK(work.runs[0].above_v == Approx(3.610));
    CHECK_FALSE(work.runs[1].above);
    const QString words = wording::refill_work(work).join(QLatin1Char(' '));
    CHECK(words.contains(QStringLiteral("the joint of 2 and 3 on the")));
    CHECK(words.contains(QStringLiteral("the plus lead")));
    CHECK(words.contains(QStringLiteral("5 mm of air")));
    CHECK_FALSE(words.contains(QStringLiteral("at the most"))); // all that stay were read
    CHECK(refill_work(*shop, 0).runs.empty());
    CHECK_FALSE(shop->build().set_form(build, "nmc", {3, 3, 1}, "H26")); // the pack decides its groups
    // Every group gives what the weakest survivor gives, and not what the stock could.
    const auto answer = answer_allotment(shop->match().allot_question(0.005), {});
    REQUIRE(answer);
    REQUIRE(answer.value().met(0));
    const MatchResult& got = answer.value().result.builds[0].match;
    CHECK(got.usable_ah >= 6.6 - 1e-9);
    CHECK(got.usable_ah < 6.9); // the six best would give 7.2 Ah and more
    CHECK(shop->match().reserve_met(answer.value()).value() == 1);
    CHECK_FALSE(shop->build().put_in(build)); // not joined
    for (const BuildLine& line : shop->build().sheet(build).lines)
        REQUIRE(shop->build().take(build, line.unit));
    while (const auto next = shop->build().next_item(build)) {
        CHECK(next->first <= BuildTask::parallel_back);
        REQUIRE(shop->build().tick(build, next->first, next->second));
    }
    CHECK(shop->build_of(build)->state == AssemblyState::joined);
    CHECK_FALSE(shop->build().tick(build, BuildTask::links_front, 1)); // the old pack's own
    CHECK_FALSE(shop->inventory().at_prove(*shop->build_of(build)));   // it is no pack
    REQUIRE(shop->build().put_in(build));
    CHECK(shop->triage().groups_taken_out(mower).empty());
    CHECK_FALSE(shop->build().put_in(build));
    // What was read of the dead groups does not speak of the new ones.
    CHECK_FALSE(shop->triage().group_readings(mower, Condition::rest).contains(3));
    REQUIRE(shop->triage().record_group_reading(mower, 3, 3.611, Condition::rest, "meter"));
    CHECK(shop->triage().group_readings(mower, Condition::rest).at(3) == 3.611);
    // Out again and in again; then the pack is opened, and the units are who they were.
    REQUIRE(shop->build().take_out(build));
    CHECK(shop->triage().groups_taken_out(mower) == std::vector<int>{3, 5});
    REQUIRE(shop->build().put_in(build));
    const auto again = shop->open().open_pack(mower, "R2", "H26", "T8", {3});
    REQUIRE(again);
    REQUIRE(again.value().size() == 3);
    for (const Id unit : again.value()) {
        CHECK(std::find(stock.begin(), stock.end(), unit) != stock.end());
        CHECK(shop->unit(unit)->in_stock());
        CHECK(shop->unit(unit)->record.tray == "T8");
    }
    CHECK(shop->triage().groups_taken_out(mower) == std::vector<int>{3});
    CHECK_FALSE(shop->build().take_out(build));   // half of it is gone
    REQUIRE(shop->build().refills().size() == 1); // the place is empty once more, and may be asked for once more
    CHECK(shop->build().refills()[0].groups == std::vector<int>{3});
    CHECK(shop->build().begin_refill(mower));
}
