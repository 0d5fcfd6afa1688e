// Prove in the real window: four rounds by keys, a group out of line, the way back, the passport.
#include "window.h"

#include "app/parts/bench_clock.h"
#include "app/parts/choice_row.h"
#include "app/parts/field_picture.h"
#include "app/parts/proof_line.h"
#include "app/parts/proof_picture.h"
#include "app/parts/reading_boxes.h"
#include "app/stations/prove/prove_station.h"
#include "app/stations/receive/receive_station.h"

#include <QFile>

#include <nlohmann/json.hpp>

using namespace ingot;
using namespace ingot::tests;

namespace {

struct ProveWindow : Window {
    Id build = 0;
    ProveWindow() {
        build = shop().builds().front().id;
        const BuildSheet sheet = shop().build().sheet(build);
        for (const BuildLine& line : sheet.lines)
            if (!line.taken)
                REQUIRE(shop().build().take(build, line.unit));
        while (const auto next = shop().build().next_item(build))
            REQUIRE(shop().build().tick(build, next->first, next->second));
        go(Station::prove);
    }
    [[nodiscard]] app::ProveStation& station() { return *view<app::ProveStation>(Station::prove); }
    void type(std::initializer_list<const char*> figures) {
        for (const char* figure : figures)
            scan(QString::fromLatin1(figure));
    }
    [[nodiscard]] ProofState state(ProofRound round) {
        return shop().prove().proof(build).proof.rounds[static_cast<std::size_t>(round)].state;
    }
    // Insulation, board, every unit, and what the device says, by keys.
    void rest_of_the_rounds() {
        station().show_round(ProofRound::insulation);
        type({"50", "50"});
        station().show_round(ProofRound::board);
        type({"14.56", "y", "-"});
        station().show_round(ProofRound::units);
        type({"6"});
        for (const char* volts : {"4.051", "4.053", "4.052", "4.054"})
            for (int unit = 0; unit < 4; ++unit)
                type({volts});
        station().show_round(ProofRound::device);
        type({"y", "6", "y"});
    }
    void later(int days) {
        shop().set_clock([days] { return QDateTime::currentDateTimeUtc().addDays(days); });
    }
};

} // namespace

TEST_CASE("N47: a pack is proved by keys, found wanting under load, and passes when the joint was welded again") {
    ProveWindow w;
    REQUIRE(w.station().pack() == w.build);
    CHECK(w.station().scan_hint() == QStringLiteral("volts of group 1"));
    w.type({"3.640", "3,641", "3.640", "3.642", "14.56"});
    CHECK(w.state(ProofRound::at_rest) == ProofState::passed);
    CHECK(w.station().evidence().verdict == QStringLiteral("This round passed"));
    w.station().show_round(ProofRound::end_of_charge);
    CHECK(w.station().evidence().hazard_title.contains(QStringLiteral("watched")));
    CHECK(w.shop().library().cautions.contains(w.station().evidence().caution));
    // A slipped decimal is refused; a wrong one is taken back with Backspace.
    w.type({"41.81"});
    CHECK_FALSE(w.window.told().isEmpty());
    w.type({"4.081"});
    QTest::keyClick(w.window.scan_field(), Qt::Key_Backspace);
    w.settle();
    CHECK_FALSE(
        w.shop().prove().proof(w.build).readings.rounds[static_cast<std::size_t>(ProofRound::end_of_charge)].begun());
    w.type({"4.181", "4.183", "4.182", "4.184", "16.73"});
    CHECK(w.state(ProofRound::end_of_charge) == ProofState::passed);
    w.later(4);
    w.station().show_round(ProofRound::after_rest);
    w.type({"4.161", "4.163", "4.162", "4.164", "16.65"});
    CHECK(w.state(ProofRound::after_rest) == ProofState::passed);
    w.station().show_round(ProofRound::under_load);
    CHECK(w.station().scan_hint() == QStringLiteral("amperes of the load"));
    // 12 A; each group has 14 to 16 mohm: 0.18 V of sag. Group 2 sags 60 mV more.
    w.type({"12", "3.981", "3.923", "3.982", "3.984", "15.8"});
    CHECK(w.state(ProofRound::under_load) == ProofState::failed);
    CHECK(w.station().evidence().verdict == QStringLiteral("Does not pass"));
    REQUIRE(w.station().evidence().ways.size() == 1);
    CHECK(w.station().evidence().ways[0].title == QStringLiteral("Group 2"));
    auto* picture = w.station().findChild<app::ProofPicture*>();
    REQUIRE(picture->parts().size() == 4);
    CHECK(picture->parts()[1].value.contains(QStringLiteral("does not pass"))); // not by colour alone
    // Back to Build with what is to be mended, welded, covered; the proof begins anew.
    w.answer_line(QStringLiteral("cold joint in group 2"));
    for (QAction* action : w.station().commands())
        if (action->text().contains(QStringLiteral("Send back")))
            action->trigger();
    w.settle();
    CHECK(w.shop().build_of(w.build)->state == AssemblyState::taken);
    while (const auto next = w.shop().build().next_item(w.build))
        REQUIRE(w.shop().build().tick(w.build, next->first, next->second));
    w.window.activateWindow();
    w.settle();
    w.go(Station::prove);
    REQUIRE(w.window.current_view() == &w.station());
    REQUIRE(w.station().pack() == w.build);
    w.station().show_round(ProofRound::at_rest);
    REQUIRE(w.station().scan_hint() == QStringLiteral("volts of group 1"));
    w.type({"3.640", "3.641", "3.640", "3.642", "14.56"});
    REQUIRE(w.state(ProofRound::at_rest) == ProofState::passed);
    w.station().show_round(ProofRound::end_of_charge);
    w.type({"4.181", "4.183", "4.182", "4.184", "16.73"});
    w.later(8);
    w.station().show_round(ProofRound::after_rest);
    w.type({"4.161", "4.163", "4.162", "4.164", "16.65"});
    w.station().show_round(ProofRound::under_load);
    w.type({"12", "3.981", "3.983", "3.982", "3.984", "15.8"});
    w.rest_of_the_rounds();
    for (int r = 0; r < proof_round_count; ++r) {
        INFO(code(static_cast<ProofRound>(r)));
        if (static_cast<ProofRound>(r) != ProofRound::run)
            CHECK(w.state(static_cast<ProofRound>(r)) == ProofState::passed);
    }
    CHECK(w.station().evidence().verdict == QStringLiteral("Every round passed"));
    w.answer_line(QStringLiteral("T2"));
    w.key(Qt::Key_Return, Qt::ControlModifier);
    CHECK(w.shop().build_of(w.build)->state == AssemblyState::proved);
    CHECK(w.station().evidence().line.contains(QStringLiteral("T2")));
    // The passport, as PDF and as JSON.
    REQUIRE(w.station().write_passport_to(QString::fromStdString(w.file("pass.pdf"))));
    REQUIRE(w.station().write_passport_to(QString::fromStdString(w.file("pass.json"))));
    QFile pdf(QString::fromStdString(w.file("pass.pdf")));
    REQUIRE(pdf.open(QIODevice::ReadOnly));
    CHECK(pdf.read(4) == "%PDF");
    const auto json = nlohmann::json::parse(Temporary::read(w.file("pass.json")));
    CHECK(json["pack"] == "B-014");
    CHECK(json["units"].size() == 16);
    // Its passport at Receive leads back to it; another bench's pack comes in by it.
    w.go(Station::receive);
    auto* receive = w.view<app::ReceiveStation>(Station::receive);
    REQUIRE(receive->take_in_passport_file(QString::fromStdString(w.file("pass.json"))));
    CHECK(w.window.current_view() == &w.station());
    auto elsewhere = nlohmann::json::parse(Temporary::read(w.file("pass.json")));
    elsewhere["workshop"] = "Hill bench";
    elsewhere["pack"] = "H-7";
    w.go(Station::receive);
    const Temporary from;
    CHECK(receive->take_in_passport_file(QString::fromStdString(from.write("h7.json", elsewhere.dump()))));
    CHECK(w.shop().packs().back().label == "H-7");
    CHECK(w.shop().packs().back().layout == PackLayout{4, 4, 1});
    CHECK_FALSE(receive->take_in_passport_file(QString::fromStdString(from.write("none.json", "{}"))));
    CHECK(w.window.told().contains(QStringLiteral("no passport")));
    // A scanned label brings it from anywhere.
    w.go(Station::sort);
    w.scan(QStringLiteral("B-014"));
    CHECK(w.window.current_view() == &w.station());
}

TEST_CASE(
    "Backspace takes the last thing back, a figure or an answer; a round is left out and asked for again; by keys") {
    ProveWindow w;
    w.station().show_round(ProofRound::board);
    w.type({"14.56", "n"});
    const auto items = [&] { return w.shop().prove().proof(w.build).readings; };
    REQUIRE(items().item(ProofItem::wakes).has_value());
    QTest::keyClick(w.window.scan_field(), Qt::Key_Backspace);
    w.settle();
    CHECK_FALSE(items().item(ProofItem::wakes).has_value());
    CHECK(items().item(ProofItem::output).has_value());
    CHECK(w.window.told().contains(QStringLiteral("answer of this round")));
    QTest::keyClick(w.window.scan_field(), Qt::Key_Backspace);
    w.settle();
    CHECK_FALSE(items().item(ProofItem::output).has_value());
    // Alt+Right and Alt+Left walk the line, round its end.
    w.station().show_round(ProofRound::device);
    w.key(Qt::Key_Right, Qt::AltModifier);
    CHECK(w.station().round() == ProofRound::at_rest);
    w.key(Qt::Key_Left, Qt::AltModifier);
    CHECK(w.station().round() == ProofRound::device);
    w.answer_line(QStringLiteral("it goes to stock"));
    w.window.activateWindow();
    w.command(QStringLiteral("Leave this round out"));
    w.window.activateWindow();
    w.settle();
    CHECK(w.state(ProofRound::device) == ProofState::left_out);
    CHECK(w.station().evidence().line == QStringLiteral("it goes to stock"));
    auto* line = w.station().findChild<app::ProofLine*>();
    CHECK(line->parts().back().value.contains(QStringLiteral("left out")));
    w.command(QStringLiteral("Leave this round out"));
    CHECK(w.state(ProofRound::device) == ProofState::open);
    // A stop of the line is pressed; a group of the picture is.
    QTest::mouseClick(line, Qt::LeftButton, {}, line->parts()[3].at.center().toPoint());
    CHECK(w.station().round() == ProofRound::end_of_charge);
    auto* picture = w.station().findChild<app::ProofPicture*>();
    QTest::mouseClick(picture, Qt::LeftButton, {}, picture->parts()[2].at.center().toPoint());
    CHECK(w.station().scan_hint() == QStringLiteral("volts of group 3"));
}

TEST_CASE("Prove without a pack says what brings one") {
    Window w;
    w.go(Station::prove);
    auto* station = w.view<app::ProveStation>(Station::prove);
    CHECK(station->pack() == 0);
    CHECK(station->findChild<QLabel*>(QStringLiteral("prove_how"))->text().contains(QStringLiteral("Build")));
    w.scan(QString());
    w.scan(QStringLiteral("3.64"));
    CHECK_FALSE(station->step_back());
    for (QAction* action : station->commands())
        if (action->isEnabled() && !action->text().contains(QStringLiteral("…")))
            action->trigger();
    CHECK(station->evidence().subject.isEmpty());
}

TEST_CASE("N47: a pack in service is read again by its label, week after week, and comes back by keys") {
    ProveWindow w;
    w.type({"3.640", "3,641", "3.640", "3.642", "14.56"});
    w.station().show_round(ProofRound::end_of_charge);
    w.type({"4.181", "4.183", "4.182", "4.184", "16.73"});
    w.later(4);
    w.station().show_round(ProofRound::after_rest);
    w.type({"4.161", "4.163", "4.162", "4.164", "16.65"});
    w.station().show_round(ProofRound::under_load);
    w.type({"12", "3.981", "3.983", "3.982", "3.984", "15.9"});
    w.rest_of_the_rounds();
    REQUIRE(w.shop().prove().sign(w.build, "T2"));
    w.settle();
    CHECK_FALSE(w.station().in_field());
    w.command(QStringLiteral("Into service"));
    CHECK(w.station().in_field());
    CHECK(w.station().scan_hint() == QStringLiteral("volts of group 1"));
    CHECK(w.station().evidence().verdict == QStringLiteral("Not read yet"));
    CHECK(w.station().evidence().notes.join(QLatin1Char(' ')).contains(QStringLiteral("Left unused it keeps best")));
    // The label leads here from any station; the figures follow, a wrong one is taken back.
    const QString label = QString::fromStdString(w.shop().build_of(w.build)->label);
    w.later(11);
    w.go(Station::sort);
    w.scan(label);
    REQUIRE(w.window.current_view() == &w.station());
    w.type({"3.700", "3.70"});
    QTest::keyClick(w.window.scan_field(), Qt::Key_Backspace);
    w.settle();
    CHECK(w.station().scan_hint() == QStringLiteral("volts of group 2"));
    w.type({"3,700", "3.697", "3.701"});
    w.later(25);
    w.type({"3.750", "3.751", "3.741", "3.750"});
    w.later(53);
    w.type({"3.720", "3.721", "3.699", "3.720"});
    const PackInField known = w.shop().prove().field(w.build);
    REQUIRE(known.rounds.size() == 3);
    CHECK(w.station().evidence().notes.join(QLatin1Char(' ')).contains(QStringLiteral("Group 3 goes down")));
    auto* picture = w.station().findChild<app::FieldPicture*>();
    REQUIRE(picture != nullptr);
    REQUIRE(picture->parts().size() == 4);
    for (const app::PaintedPart& part : picture->parts())
        CHECK(QRectF(picture->rect()).contains(part.at.center()));
    QTest::mouseClick(picture, Qt::LeftButton, {}, picture->parts()[2].at.center().toPoint());
    CHECK(w.station().scan_hint() == QStringLiteral("volts of group 3"));
    // The proof is a key away, and is as it was signed.
    w.key(Qt::Key_R, Qt::AltModifier);
    CHECK_FALSE(w.station().in_field());
    CHECK(w.station().evidence().verdict == QStringLiteral("Proved"));
    w.key(Qt::Key_L, Qt::AltModifier);
    CHECK(w.station().in_field());
    // What is due shows at the foot; a press there leads here.
    app::BenchClock* clock = w.window.bench_clock();
    REQUIRE(w.wait_for([&] {
        return std::any_of(clock->shelf().begin(), clock->shelf().end(),
                           [](const app::ClockEvent& event) { return event.field; });
    }));
    w.command(QStringLiteral("It was balanced"));
    CHECK(w.station().evidence().verdict == QStringLiteral("Not read yet"));
    w.command(QStringLiteral("It came back"));
    CHECK(w.shop().build_of(w.build)->state == AssemblyState::returned);
    CHECK(w.station().in_field());
    // Read on the bench it is explained from its own design, and the way back to Build is offered.
    CHECK(w.station().evidence().explanations.empty());
    CHECK(w.station().evidence().tell_apart.contains(QStringLiteral("read every group")));
    w.type({"3.560", "3.700", "3.701", "3.700"}); // group 3 was chosen on the picture
    w.settle();
    const auto back = w.station().evidence();
    REQUIRE_FALSE(back.explanations.empty());
    INFO(back.explanations.front().title.toStdString() << " " << back.explanations.front().probability);
    CHECK(back.explanations.front().title.contains(QStringLiteral("group 3")));
    CHECK_FALSE(back.tell_apart.isEmpty());
    REQUIRE_FALSE(back.ways.empty());
    CHECK(back.ways.back().title == QStringLiteral("Back to Build"));
}
