// Whole jobs of Prove, walked by keys from the joined pack to the field.
#include "shop.h"
#include "window.h"

#include "app/parts/choice_row.h"
#include "app/parts/course_picture.h"
#include "app/parts/proof_picture.h"
#include "app/stations/prove/prove_station.h"
#include "app/stations/triage/triage_station.h"
#include "exchange/text_file.h"
#include "workshop/prove_wording.h"

#include <QFile>
#include <QFileDialog>

#include <nlohmann/json.hpp>

#include <cmath>
#include <cstdlib>

using namespace ingot;
using namespace ingot::tests;

namespace {

// A joined pack of measured units of one model.
struct ProveJob : Window {
    Id pack = 0;
    ProveJob(const PackLayout& layout, const char* chemistry, const char* model, double volts, double ah, double ohm)
        : Window(make(layout, chemistry, model, volts, ah, ohm)) {
        pack = shop().builds().front().id;
        // Its last tick was a moment ago, and ticks of one moment are kept in order: nobody reads that soon.
        shop().set_clock([] { return QDateTime::currentDateTimeUtc().addSecs(3600); });
        go(Station::prove);
        REQUIRE(station().pack() == pack);
    }
    [[nodiscard]] app::ProveStation& station() { return *view<app::ProveStation>(Station::prove); }
    [[nodiscard]] ProofState state(ProofRound round) {
        return shop().prove().proof(pack).proof.rounds[static_cast<std::size_t>(round)].state;
    }
    void type(double volts, int digits = 3) { scan(QString::number(volts, 'f', digits)); }
    // Groups, then terminals.
    void round(ProofRound round, const std::vector<double>& groups, const char* amperes = nullptr) {
        station().show_round(round);
        if (amperes != nullptr)
            scan(QString::fromLatin1(amperes));
        double sum = 0;
        for (const double v : groups) {
            type(v);
            sum += v;
        }
        type(sum, 2);
    }
    void items(ProofRound round, std::initializer_list<const char*> figures) {
        station().show_round(round);
        for (const char* figure : figures)
            scan(QString::fromLatin1(figure));
    }
    void leave_out(ProofRound round, const char* why) {
        station().show_round(round);
        answer_line(QString::fromLatin1(why));
        window.activateWindow();
        command(QStringLiteral("Leave this round out"));
        window.activateWindow();
        settle();
    }
    void later(int days) {
        shop().set_clock([days] { return QDateTime::currentDateTimeUtc().addDays(days); });
    }
    void sign() {
        answer_line(QStringLiteral("T2"));
        window.activateWindow();
        settle();
        key(Qt::Key_Return, Qt::ControlModifier);
        window.activateWindow();
        settle();
    }
    void all_but(std::initializer_list<ProofRound> left) {
        for (int r = 0; r < proof_round_count; ++r) {
            const auto one = static_cast<ProofRound>(r);
            if (std::find(left.begin(), left.end(), one) != left.end())
                continue;
            INFO(code(one) << ": " << window.told().toStdString());
            CHECK(state(one) == ProofState::passed);
        }
    }

private:
    static std::string make(const PackLayout& layout, const char* chemistry, const char* model, double volts, double ah,
                            double ohm) {
        static const Temporary made;
        static int number = 0;
        const std::string path = made.file("prove-job-" + std::to_string(++number) + ".ingot");
        auto shop = new_shop(path, "Fellside bench");
        const auto across = static_cast<std::size_t>(layout.parallel);
        std::vector<std::vector<Id>> groups(static_cast<std::size_t>(layout.series));
        std::size_t n = 0;
        for (const Id cell : units_in_low_packs(*shop, layout, chemistry, model)) {
            Measurement m;
            for (const auto& [quantity, value] : {std::pair(Quantity::voltage, volts),
                                                  {Quantity::dc_resistance, ohm * (1 + 0.01 * double(n % 5))},
                                                  {Quantity::capacity, ah * (1 + 0.004 * double(n % 7))}}) {
                m.quantity = quantity;
                m.value = value;
                REQUIRE(shop->test().record_reading(cell, m));
            }
            groups[n++ / across].push_back(cell);
        }
        const Id build = shop->match().reserve(layout.series, layout.parallel, groups, std::nullopt, 0).value();
        for (const auto& group : groups)
            for (const Id cell : group)
                REQUIRE(shop->build().take(build, cell));
        REQUIRE(shop->build().set_figure(build, DesignFigure::board_kind, "board"));
        REQUIRE(shop->build().set_figure(build, DesignFigure::load_w, "60"));
        while (const auto next = shop->build().next_item(build))
            REQUIRE(shop->build().tick(build, next->first, next->second));
        return path;
    }
};

} // namespace

TEST_CASE(
    "Job: a 7S4P shows a cold joint under load, goes back, is welded, proved, and read again after six weeks (N47)") {
    ProveJob w({7, 4, 1}, "nmc", "H26", 3.64, 2.5, 0.036);
    const std::vector<double> rest(7, 3.640);
    const std::vector<double> full{4.181, 4.183, 4.182, 4.184, 4.180, 4.185, 4.182};
    const std::vector<double> settled{4.161, 4.163, 4.162, 4.164, 4.160, 4.165, 4.162};
    // 12 A on four of 36 mohm: 9.2 mohm and 0.11 V. A unit that hardly carries takes its share with it.
    const auto loaded = [&](double more_in_4) {
        std::vector<double> out = settled;
        for (std::size_t g = 0; g < out.size(); ++g)
            out[g] -= 0.113 + (g == 3 ? more_in_4 : 0);
        return out;
    };
    w.round(ProofRound::at_rest, rest);
    w.round(ProofRound::end_of_charge, full);
    w.later(3);
    w.round(ProofRound::after_rest, settled);
    w.round(ProofRound::under_load, loaded(0.030), "12");
    CHECK(w.state(ProofRound::under_load) == ProofState::failed);
    const auto evidence = w.station().evidence();
    REQUIRE_FALSE(evidence.explanations.empty());
    CHECK(evidence.explanations.front().title.contains(QStringLiteral("joint")));
    REQUIRE_FALSE(evidence.ways.empty());
    CHECK(evidence.ways.front().title == QStringLiteral("Group 4"));
    // Back to Build, whose question already says which group; welded and covered again.
    QString asked;
    Window::answer([&](QWidget* dialog) {
        auto* line = dialog->findChild<QLineEdit*>();
        REQUIRE(line != nullptr);
        asked = line->text();
        qobject_cast<QDialog*>(dialog)->accept();
    });
    w.window.activateWindow();
    w.command(QStringLiteral("Send back to Build"));
    w.window.activateWindow();
    w.settle();
    CHECK(asked.contains(QStringLiteral("4")));
    CHECK(w.shop().build_of(w.pack)->state == AssemblyState::taken);
    REQUIRE(w.window.current_view() == w.window.view(Station::build));
    w.key(Qt::Key_S, Qt::AltModifier);
    w.window.scan_field()->setFocus();
    for (int i = 0; i < 40 && w.shop().build_of(w.pack)->state != AssemblyState::joined; ++i)
        w.scan(QString());
    REQUIRE(w.shop().build_of(w.pack)->state == AssemblyState::joined);
    // Anew: what was read of the bad joint counts no more.
    w.go(Station::prove);
    w.round(ProofRound::at_rest, rest);
    w.round(ProofRound::end_of_charge, full);
    w.later(7);
    w.round(ProofRound::after_rest, settled);
    w.round(ProofRound::under_load, loaded(0), "12");
    w.items(ProofRound::insulation, {"50", "50"});
    w.items(ProofRound::board, {"29.1", "y", "10,4"});
    w.station().show_round(ProofRound::units);
    w.scan(QStringLiteral("6"));
    for (const double group : settled)
        for (int unit = 0; unit < 4; ++unit)
            w.type(group - 0.056);
    w.items(ProofRound::device, {"y", "6", "y"});
    w.all_but({ProofRound::run});
    w.sign();
    REQUIRE(w.shop().build_of(w.pack)->state == AssemblyState::proved);
    REQUIRE(w.station().write_passport_to(QString::fromStdString(w.file("pass.pdf"))));
    REQUIRE(w.station().write_passport_to(QString::fromStdString(w.file("pass.json"))));
    const auto passport = nlohmann::json::parse(Temporary::read(w.file("pass.json")));
    CHECK(passport["units"].size() == 28);
    // On paper it says what was read, in words and as bars, to a reader that is not Qt's.
    REQUIRE(std::system(("pdftotext -layout " + w.file("pass.pdf") + " " + w.file("pass.txt")).c_str()) == 0);
    const std::string paper = Temporary::read(w.file("pass.txt"));
    CHECK(paper.find("over the lowest group, a cell, up to 5 mV") != std::string::npos); // 4.180 to 4.185
    CHECK(paper.find("sag as it was read") != std::string::npos);
    CHECK(paper.find("Joined") != std::string::npos);
    CHECK(QString::fromStdString(paper).simplified().contains(QStringLiteral("spread 0 mV"))); // all alike at rest
    // Its label, to be scanned when it comes back.
    Window::answer_file(w.file("label.pdf"));
    w.window.activateWindow();
    w.command(QStringLiteral("Its label"));
    w.window.activateWindow();
    w.settle();
    CHECK(Temporary::read(w.file("label.pdf")).substr(0, 4) == "%PDF");
    CHECK(passport["proved_by"] == "T2");
    w.command(QStringLiteral("Into service"));
    // Six weeks on its label is scanned at another station; it stands as it left.
    w.later(7 + 42);
    w.go(Station::sort);
    w.scan(QString::fromStdString(w.shop().build_of(w.pack)->label));
    REQUIRE(w.window.current_view() == &w.station());
    REQUIRE(w.station().in_field());
    for (int g = 0; g < 7; ++g)
        w.type(3.790 + 0.001 * (g % 2));
    const PackInField field = w.shop().prove().field(w.pack);
    REQUIRE(field.rounds.size() == 1);
    CHECK(field.rounds.front().day == Approx(42).margin(0.1));
    CHECK(field.trend.state == FieldState::first);
}

TEST_CASE("Job: two groups of a 13S4P were filled again; it is read over three rides and levels by itself (N47)") {
    const Temporary folder;
    const std::string path = folder.file("refilled.ingot");
    {
        auto shop = new_shop(path, "Fellside bench");
        Assembly row;
        row.lot = shop->receive().add_lot({0, "MOW-13", "", "", "", {}}).value();
        row.label = "M-13";
        row.chemistry = "nmc";
        row.format = "18650";
        row.layout = {13, 4, 1};
        const Id mower = shop->receive().add_pack(row).value();
        REQUIRE(shop->receive().set_state(mower, AssemblyState::in_triage));
        REQUIRE(shop->open().open_pack(mower, "R1", "H26", "T1", {5, 6}));
        const Id refill = shop->build().begin_refill(mower).value();
        std::vector<std::vector<Id>> groups(2);
        std::size_t n = 0;
        for (const UnitState& unit : shop->units())
            groups[n++ / 4].push_back(unit.record.id);
        REQUIRE(n == 8);
        REQUIRE(shop->match().reserve_for(refill, 4, groups, std::nullopt, 0));
        for (const auto& group : groups)
            for (const Id unit : group) {
                REQUIRE(shop->build().take(refill, unit));
                Measurement m;
                m.value = 3.70;
                REQUIRE(shop->test().record_reading(unit, m));
                m.quantity = Quantity::dc_resistance;
                m.value = 0.04;
                REQUIRE(shop->test().record_reading(unit, m));
            }
        while (const auto next = shop->build().next_item(refill))
            REQUIRE(shop->build().tick(refill, next->first, next->second));
        REQUIRE(shop->build().put_in(refill));
        REQUIRE(shop->prove().repaired_to(mower, AssemblyState::in_service));
    }
    Window w(path);
    w.go(Station::sort);
    w.scan(QStringLiteral("M-13"));
    auto* prove = w.view<app::ProveStation>(Station::prove);
    REQUIRE(w.window.current_view() == prove);
    REQUIRE(prove->in_field());
    int day = 0;
    std::vector<FieldState> states;
    for (const double high : {0.050, 0.024, 0.008}) {
        day += 6;
        w.shop().set_clock([day] { return QDateTime::currentDateTimeUtc().addDays(day); });
        for (int g = 1; g <= 13; ++g) {
            const double own = g == 5 ? high : g == 6 ? 0.9 * high : 0.001 * (g % 2);
            w.scan(QString::number(3.740 + own, 'f', 3));
        }
        states.push_back(w.shop().prove().field(prove->pack()).trend.state);
    }
    const PackInField field = w.shop().prove().field(prove->pack());
    REQUIRE(field.rounds.size() == 3);
    CHECK(field.newer == std::set<int>{5, 6});
    CHECK(states.front() == FieldState::balance_now);
    CHECK(states.back() != FieldState::balance_now);
    CHECK(field.trend.points.back().spread_share < 0.4 * *field.trend.points.front().spread_share);
    CHECK(prove->evidence().notes.join(QLatin1Char(' ')).contains(QStringLiteral("groups 5 and 6")));
}

TEST_CASE(
    "Job: a row of 28 nickel modules is proved by the device, its codes cleared; the board is not its own (N47)") {
    ProveJob w({28, 1, 6}, "nimh", "G65M", 7.8, 6.0, 0.020);
    std::vector<double> rest;
    for (int g = 0; g < 28; ++g)
        rest.push_back(7.92 + 0.005 * (g % 3));
    w.round(ProofRound::at_rest, rest);
    CHECK(w.state(ProofRound::at_rest) == ProofState::passed);
    // Spreads are per cell: six in series, so 0.10 V of a module are 17 mV.
    std::vector<double> full;
    for (int g = 0; g < 28; ++g)
        full.push_back(8.40 + 0.05 * (g % 3));
    w.round(ProofRound::end_of_charge, full);
    CHECK(w.state(ProofRound::end_of_charge) == ProofState::passed);
    CHECK(*w.shop().prove().proof(w.pack).proof.at(ProofRound::end_of_charge).spread_v == Approx(0.1 / 6).margin(1e-4));
    w.later(2);
    std::vector<double> settled;
    for (const double v : full)
        settled.push_back(v - 0.25);
    w.round(ProofRound::after_rest, settled);
    std::vector<double> loaded;
    for (int g = 0; g < 28; ++g)
        loaded.push_back(settled[static_cast<std::size_t>(g)] - 10 * 0.020 * (1 + 0.01 * (g % 5)));
    w.round(ProofRound::under_load, loaded, "10");
    CHECK(w.state(ProofRound::under_load) == ProofState::passed);
    w.items(ProofRound::insulation, {"50", "50"});
    w.leave_out(ProofRound::board, "the vehicle's own board stays in the bay");
    w.leave_out(ProofRound::units, "one module a place");
    w.items(ProofRound::run, {"5.9"});
    // The device does not take it at once: that is no verdict yet.
    w.items(ProofRound::device, {"n", "2"});
    CHECK(w.state(ProofRound::device) == ProofState::too_early);
    const auto back = [&](int times) {
        for (int i = 0; i < times; ++i) {
            QTest::keyClick(w.window.scan_field(), Qt::Key_Backspace);
            w.settle();
        }
    };
    back(1); // the hours again: the day after
    w.items(ProofRound::device, {"20", "n"});
    CHECK(w.state(ProofRound::device) == ProofState::failed);
    CHECK(w.station().evidence().ways.size() == 2); // it is refused, and codes stand
    back(3);
    w.items(ProofRound::device, {"y", "20", "y"});
    w.all_but({ProofRound::board, ProofRound::units, ProofRound::run});
    w.sign();
    INFO(w.window.told().toStdString());
    CHECK(w.shop().build_of(w.pack)->state == AssemblyState::proved);
}

TEST_CASE("A board's log is laid over the simulated run by keys; its figures stand in the proof, a slip stays out") {
    ProveJob w({4, 2, 1}, "nmc", "H26", 3.64, 2.5, 0.036);
    w.key(Qt::Key_U, Qt::AltModifier);
    REQUIRE(w.station().view() == app::ProveStation::View::course);
    CHECK(w.station().evidence().verdict.startsWith(QStringLiteral("Should run")));
    auto* picture = w.station().findChild<app::CoursePicture*>();
    REQUIRE(picture->isVisible());
    CHECK(picture->parts().size() == 1);
    w.scan(QStringLiteral("3.7")); // here no figure is asked for
    CHECK_FALSE(w.shop().prove().proof(w.pack).readings.rounds[0].begun());
    // Rest, charge, rest, 6 A for five minutes: two of 36 mohm a group.
    const auto write = [&](double lead_of_3) {
        std::string text = "Time;Block 1 / V;Block 2 / V;Block 3 / V;Block 4 / V;Current / A\n";
        const Chemistry& c = *w.shop().library().chemistry("nmc");
        double soc = 0.60;
        for (int t = 0; t < 7200; t += 10) {
            const double a = t < 600 ? 0 : t < 4200 ? 2.0 : t < 6900 ? 0 : -6.0;
            soc += a * 10 / 3600 / 5.04;
            text += QStringLiteral("%1:%2:%3")
                        .arg(t / 3600, 2, 10, QLatin1Char('0'))
                        .arg(t / 60 % 60, 2, 10, QLatin1Char('0'))
                        .arg(t % 60, 2, 10, QLatin1Char('0'))
                        .toStdString();
            for (int g = 0; g < 4; ++g) {
                const double v = c.ocv.ocv_at(soc) + a * 0.0184 + 0.001 * g - (g == 2 && t > 2000 ? lead_of_3 : 0);
                text += ";" + QString::number(v, 'f', 3).replace(QLatin1Char('.'), QLatin1Char(',')).toStdString();
            }
            text += ";" + std::to_string(static_cast<int>(a)) + "\n";
        }
        REQUIRE(exchange::write_text(w.file("board.csv"), text));
        return w.file("board.csv");
    };
    const auto open = [&](const std::string& path) {
        Window::answer_file(path);
        w.window.activateWindow();
        w.command(QStringLiteral("Read a board's log"));
        w.window.activateWindow();
        w.settle();
    };
    open(write(0));
    CHECK(w.station().evidence().verdict == QStringLiteral("Goes evenly"));
    CHECK(w.station().evidence().notes.join(QLatin1Char(' ')).contains(QStringLiteral("against the simulation")));
    REQUIRE(picture->parts().size() == 4); // its stretches
    CHECK(picture->parts()[1].name.startsWith(QStringLiteral("Charging")));
    w.command(QStringLiteral("Take the log's figures"));
    const PackProof proof = w.shop().prove().proof(w.pack);
    CHECK(proof.readings.rounds[static_cast<std::size_t>(ProofRound::end_of_charge)].group_v[3].has_value());
    CHECK(*proof.readings.rounds[static_cast<std::size_t>(ProofRound::under_load)].load_a == Approx(6));
    for (const Measurement& m : w.shop().inventory().measurements(w.pack)) {
        CHECK(m.instrument == "board");
        CHECK(m.protocol == "log");
    }
    // It stays while the proof is looked at, and another reading of the bench does not ask for it again.
    w.key(Qt::Key_R, Qt::AltModifier);
    w.station().show_round(ProofRound::insulation);
    w.scan(QStringLiteral("50"));
    w.key(Qt::Key_U, Qt::AltModifier);
    CHECK(w.station().evidence().verdict == QStringLiteral("Goes evenly"));
    // A lead that moves is told; a file that is no log is objected to, and the log before stays.
    open(write(0.030));
    CHECK(w.station().evidence().verdict == QStringLiteral("A group jumps"));
    CHECK(picture->parts().back().name == QStringLiteral("Group 3 jumped"));
    REQUIRE(exchange::write_text(w.file("no.csv"), "Time / s,Block 1 / V\n0,3.6\n"));
    open(w.file("no.csv"));
    CHECK(w.window.told().contains(QStringLiteral("has no column")));
    CHECK(w.station().evidence().verdict == QStringLiteral("A group jumps"));
    w.command(QStringLiteral("Put the log away"));
    CHECK(w.station().evidence().verdict.startsWith(QStringLiteral("Should run")));
}
