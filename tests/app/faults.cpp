// The fault campaign: what goes wrong on a bench, each case walked through the window (unit, bay, yes) against the
// simulated tester behind a wire that fails as it is told. No current beyond what was confirmed, nothing measured is
// lost, the person is told in words, and the run resumes or ends safely. docs/formats/tester.md has the table.
#include "bench/full_disk.h"
#include "bench/wired_tester.h"
#include "window.h"

#include "app/shell/message_bar.h"
#include "app/stations/test/bench_view.h"

#include <QComboBox>
#include <QDateTime>

#include <algorithm>
#include <memory>

using namespace ingot;
using namespace ingot::tests;
using bench::BayState;

namespace {

constexpr int bay_count = 8;
constexpr int patience_of_line_ms = sanitized ? 600 : 150;
constexpr const char* start_words = ":TAG ";

// How a case has to end.
enum class Ends {
    nothing_starts, // the bay is free or stopped, no current ever flowed
    measured,       // done, its resistance on the unit
    stopped,        // ended by itself or by the tester, what was measured is kept
    quarantined,    // stopped, and a hazard until somebody has looked
};

struct Campaign {
    Window w;
    Temporary at_tester;
    WiredTester wired{at_tester.file("wired"), bay_count, 1000};
    std::vector<Id> cells;
    std::size_t next_cell = 0;
    Id cell = 0;
    int bay = 0; // the one in use
    QStringList said;

    Campaign() {
        w.go(Station::test);
        bays().set_rate(1000);
        bays().set_sample_interval(5);
        bays().set_poll_interval(20);
        bays().set_patience(patience_of_line_ms);
        QObject::connect(&bays(), &Bays::told, [this](const QString& sentence, bool) { said << sentence; });
        QObject::connect(&bays(), &Bays::alarmed, [this](const QString& sentence) { said << sentence; });
        w.window.bench()->attach(wired.address());
        REQUIRE(w.wait_for([&] { return bays().ready(); }));
        for (const UnitState& unit : w.shop().units())
            if (unit.in_stock() && unit.verdict.duty != Duty::quarantine && unit.facts.chemistry == "nmc" &&
                unit.facts.rest_voltage_v && unit.facts.rest_voltage_v->value > 3.4 &&
                unit.facts.rest_voltage_v->value < 4.1 && unit.reference.rated_ah > 0)
                cells.push_back(unit.record.id);
        REQUIRE(cells.size() > 60);
        choose("li-pulse");
    }
    [[nodiscard]] Bays& bays() const { return w.window.bench()->bays(); }
    [[nodiscard]] const BayView& view() const { return *bays().bay(bay); }
    [[nodiscard]] std::string code() const { return w.shop().unit(cell)->code(); }
    [[nodiscard]] double known_v() const { return w.shop().unit(cell)->facts.rest_voltage_v->value; }
    void choose(const char* protocol) const {
        auto* box = w.window.findChild<QComboBox*>(QStringLiteral("protocol"));
        REQUIRE(box != nullptr);
        box->setCurrentIndex(box->findData(QString::fromLatin1(protocol)));
        REQUIRE(box->currentIndex() >= 0);
    }
    void let_pass(int ms) const {
        w.wait_for([] { return false; }, ms);
    }
    // The next unit and the next free bay; unit, bay, yes.
    void put_in() {
        w.scan(QString::fromStdString(code()));
        w.scan(QStringLiteral("B%1").arg(bay));
        w.scan(QStringLiteral("yes"));
    }
    // Lines that hold these words fail so, the first `times` of them.
    void fail(const std::string& words, Wire how, int times = 1000) {
        wired.wire = [words, how, left = std::make_shared<int>(times)](const std::string& line) {
            return line.find(words) != std::string::npos && (*left)-- > 0 ? how : Wire::passes;
        };
    }
    void reads(const std::string& volts) {
        wired.twist = [volts](const std::string& line, const std::string& answer) {
            return line.rfind("MEAS:VOLT?", 0) == 0 ? volts : answer;
        };
    }
    void heal() {
        wired.wire = [](const std::string&) { return Wire::passes; };
        wired.twist = [](const std::string&, const std::string& answer) { return answer; };
        wired.late_ms = 0;
    }
    // Well under way, and not yet over.
    [[nodiscard]] bool runs() const { return view().look == BayLook::running && view().trace.points().size() > 2; }
    [[nodiscard]] bool told(const char* words) const {
        return !said.filter(QString::fromUtf8(words), Qt::CaseInsensitive).isEmpty();
    }
};

struct Case {
    const char* name;
    Ends ends;
    const char* words;                         // that the person is told; empty: nothing has to be said
    std::function<void(Campaign&)> before;     // put in
    std::function<void(Campaign&)> while_runs; // once it runs
    const char* protocol = "li-pulse";
    const char* fault = ""; // of the simulated unit
};

void check(Campaign& c, const Case& one) {
    INFO(one.name);
    c.cell = c.cells[c.next_cell++];
    c.bay = 1 + static_cast<int>(c.next_cell) % bay_count;
    c.said.clear();
    c.choose(one.protocol);
    c.bays().set_fault(c.code(), one.fault);
    const int starts = c.wired.starts();
    if (one.before)
        one.before(c);
    c.put_in();
    if (one.while_runs) {
        const bool running = c.w.wait_for([&] { return c.runs(); });
        CAPTURE(static_cast<int>(c.view().look), c.said.join(QLatin1Char('|')).toStdString());
        REQUIRE(running);
        one.while_runs(c);
    }
    if (one.ends == Ends::nothing_starts) {
        REQUIRE(c.w.wait_for([&] { return c.view().look == BayLook::free || c.view().look == BayLook::stopped; }));
        c.heal();
        c.let_pass(2 * patience_of_line_ms + 100);
        CHECK(c.wired.state(c.bay) == BayState::idle);
        CHECK(c.view().trace.points().empty());
        CHECK(c.w.shop().unit(c.cell)->in_stock());
        CHECK(c.wired.starts() - starts <= 1); // lost on its way at most
    } else {
        const BayLook look = one.ends == Ends::measured ? BayLook::lift_out : BayLook::stopped;
        REQUIRE(c.w.wait_for([&] { return c.view().look == look; }));
        CHECK(c.wired.state(c.bay) != BayState::running);
        // What the disk refused is written when it is tried again: at most a moment later.
        CHECK(c.w.wait_for([&] { return c.w.shop().test().samples(c.view().run).size() > 2; }));
        const LogSamples log = c.w.shop().test().samples(c.view().run);
        CHECK(std::is_sorted(log.time_s.begin(), log.time_s.end()));
    }
    if (one.ends == Ends::measured) {
        CHECK(c.view().gaps == 0);
        CHECK(c.w.wait_for([&] { return c.w.shop().unit(c.cell)->facts.dc_resistance_ohm.has_value(); }));
    }
    CHECK(c.w.shop().unit(c.cell)->quarantined == (one.ends == Ends::quarantined));
    if (*one.words != '\0') {
        CHECK(c.told(one.words));
        // What is told stands in the window until somebody reads it, or behind an alarm that does.
        CHECK_FALSE(c.w.window.told().isEmpty());
    }
    c.heal();
    REQUIRE(c.w.wait_for([&] { return c.bays().testers().front().state == bench::DeviceState::ready; }));
    if (c.view().look != BayLook::free) {
        c.w.scan(QStringLiteral("B%1").arg(c.bay));
        if (c.view().look == BayLook::stopped)
            c.w.scan(QStringLiteral("B%1").arg(c.bay));
        REQUIRE(c.w.wait_for([&] { return c.view().look == BayLook::free; }));
    }
}

Case at_reading(const char* name, const char* volts, const char* words) {
    return {name, Ends::nothing_starts, words, [volts](Campaign& c) { c.reads(volts); }, {}};
}

Case before_start(const char* name, const char* line, Wire how, const char* words) {
    return {name, Ends::nothing_starts, words, [line, how](Campaign& c) { c.fail(line, how); }, {}};
}

Case while_running(const char* name, const char* line, Wire how, int times) {
    return {name, Ends::measured, "", {}, [line, how, times](Campaign& c) { c.fail(line, how, times); }};
}

} // namespace

TEST_CASE("Faults: what stands in the bay is not the unit, or cannot be read") {
    Campaign c;
    for (const Case& one :
         {at_reading("reversed", "-3.70", "wrong way round"),
          at_reading("an empty bay", "0.001", "nothing stands there"),
          at_reading("a lead off: over range", "9.91E37", "nothing stands there"),
          at_reading("overfull", "4.31", "over the 4.250"), at_reading("deep-discharged", "1.40", "No current flowed"),
          at_reading("rubbish as a voltage", "#\x7F?!", "did not say"),
          at_reading("an empty answer", "", "No current flowed")})
        check(c, one);
    check(c, {"another unit",
              Ends::nothing_starts,
              "last read at",
              [](Campaign& w) { w.reads(w.known_v() > 3.8 ? "3.450" : "4.100"); },
              {}});
    check(c, {"a module's voltage on a cell's bay",
              Ends::nothing_starts,
              "No current flowed",
              [](Campaign& w) { w.reads("7.82"); },
              {}});
}

TEST_CASE("Faults: the line fails before the first ampere") {
    Campaign c;
    for (const Case& one :
         {before_start("silent when asked for the voltage", "MEAS:VOLT?", Wire::loses_the_line, "No current flowed"),
          before_start("the voltage's answer is lost", "MEAS:VOLT?", Wire::loses_the_answer, "No current flowed"),
          before_start("half the voltage's answer, without its end", "MEAS:VOLT?", Wire::sends_half,
                       "No current flowed"),
          before_start("silent when told the limits", ":LIM ", Wire::loses_the_line, "was not started"),
          before_start("limits obeyed and not confirmed", ":LIM ", Wire::loses_the_answer, "was not started"),
          before_start("rubbish for the limits", ":LIM ", Wire::garbles, "was not started"),
          before_start("silent when asked for the limits", ":LIM?", Wire::loses_the_line, "was not started"),
          before_start("the limits' answer is lost", ":LIM?", Wire::loses_the_answer, "was not started"),
          before_start("rubbish for the limits that it keeps", ":LIM?", Wire::garbles, "was not started"),
          before_start("half the limits' answer", ":LIM?", Wire::sends_half, "was not started"),
          before_start("the start is lost on its way", start_words, Wire::loses_the_line, "current may flow")})
        check(c, one);
    for (const auto& [name, place] : {std::pair("another high voltage is kept", 0), std::pair("another current", 2),
                                      std::pair("another temperature", 4), std::pair("another time", 6)})
        check(c, {name,
                  Ends::nothing_starts,
                  "limits that it was told",
                  [place = place](Campaign& w) {
                      w.wired.twist = [place](const std::string& line, const std::string& answer) {
                          if (line.find(":LIM?") == std::string::npos)
                              return answer;
                          QStringList fields = QString::fromStdString(answer).split(QLatin1Char(','));
                          fields[place] = QString::number(fields[place].toDouble() * 1.2);
                          return fields.join(QLatin1Char(',')).toStdString();
                      };
                  },
                  {}});
    check(c, {"the voltage comes after twice the patience",
              Ends::nothing_starts,
              "No current flowed",
              [](Campaign& w) { w.wired.late_ms = 2 * patience_of_line_ms; },
              {}});
    check(c, {"the voltage comes after ten times the patience",
              Ends::nothing_starts,
              "No current flowed",
              [](Campaign& w) { w.wired.late_ms = 10 * patience_of_line_ms; },
              {}});
}

TEST_CASE("Faults: the line fails while current flows, and the run is measured all the same") {
    Campaign c;
    c.bays().set_rate(400); // long enough to be hurt
    check(c, {"nothing goes wrong", Ends::measured, "", {}, {}});
    check(c, {"answers late, within the patience",
              Ends::measured,
              "",
              [](Campaign& w) { w.wired.late_ms = patience_of_line_ms / 2; },
              {}});
    check(c, {"obeyed the start, and did not confirm it",
              Ends::measured,
              "current may flow",
              [](Campaign& w) { w.fail(start_words, Wire::loses_the_answer, 1); },
              {}});
    for (const auto& [name, line] : {std::pair("the limits' answer is hurt once", ":LIM "),
                                     std::pair("the limits that it keeps are hurt once", ":LIM?")})
        check(c, {name, Ends::measured, "", [line = line](Campaign& w) { w.fail(line, Wire::garbles, 1); }, {}});
    check(c, {"obeyed the start, and its answer was hurt",
              Ends::measured,
              "current may flow",
              [](Campaign& w) { w.fail(start_words, Wire::garbles, 1); },
              {}});
    for (const Case& one : {while_running("rubbish for samples", "DATA?", Wire::garbles, 3),
                            while_running("half lines of samples", "DATA?", Wire::sends_half, 1),
                            while_running("samples' questions are lost", "DATA?", Wire::loses_the_line, 2),
                            while_running("samples' answers are lost", "DATA?", Wire::loses_the_answer, 2),
                            while_running("rubbish for the states", "BAY:STAT?", Wire::garbles, 3),
                            while_running("half lines of states", "BAY:STAT?", Wire::sends_half, 1),
                            while_running("states' answers are lost", "BAY:STAT?", Wire::loses_the_answer, 2)})
        check(c, one);
    check(c, {"bytes dropped from samples", Ends::measured, "", {}, [](Campaign& w) {
                  w.wired.twist = [left = std::make_shared<int>(4)](const std::string& line,
                                                                    const std::string& answer) {
                      if (line.find("DATA?") == std::string::npos || (*left)-- <= 0)
                          return answer;
                      std::string hurt = answer;
                      for (std::size_t i = 7; i < hurt.size(); i += 11)
                          hurt.erase(i, 1);
                      return hurt;
                  };
              }});
    check(c, {"answers come after several times the patience, for a while",
              Ends::measured,
              "does not answer",
              {},
              [](Campaign& w) {
                  w.wired.late_ms = 5 * patience_of_line_ms;
                  w.let_pass(900);
                  w.wired.late_ms = 0;
              }});
    check(c, {"unplugged, and back", Ends::measured, "is gone", {}, [](Campaign& w) {
                  w.wired.hang_up();
                  w.let_pass(200);
                  w.wired.come_back();
              }});
    check(c, {"silent for a while", Ends::measured, "does not answer", {}, [](Campaign& w) {
                  w.fail("", Wire::loses_the_line);
                  w.let_pass(500);
                  w.heal();
              }});
}

TEST_CASE("Faults: the computer's own, and the run is measured all the same") {
    const FullDisk disk; // before the workshop is opened
    Campaign c;
    check(c, {"the disk is full for a while", Ends::measured, "could not be written", {}, [](Campaign& w) {
                  disk_is_full = true;
                  REQUIRE(w.w.wait_for([&] { return w.told("could not be written"); }));
                  w.let_pass(200);
                  disk_is_full = false;
              }});
    check(c, {"the disk is full to the end of the run", Ends::measured, "could not be written", {}, [](Campaign& w) {
                  disk_is_full = true;
                  REQUIRE(w.w.wait_for([&] { return w.view().look == BayLook::lift_out; }));
                  CHECK_FALSE(w.w.shop().unit(w.cell)->facts.dc_resistance_ohm); // not on the disk yet
                  w.w.scan(QStringLiteral("B%1").arg(w.bay)); // not lifted out while its run is not safe
                  CHECK(w.view().look == BayLook::lift_out);
                  disk_is_full = false;
                  w.bays().flush();
                  REQUIRE(w.told("nothing was lost"));
              }});
    for (const qint64 hours : {-25, 400})
        check(c, {hours < 0 ? "the clock is set back by a day" : "the clock jumps forward",
                  Ends::measured,
                  "",
                  {},
                  [hours](Campaign& w) {
                      w.w.shop().set_clock([hours] { return QDateTime::currentDateTimeUtc().addSecs(hours * 3600); });
                  }});
}

TEST_CASE("Faults: what runs has to stop, and does") {
    Campaign c;
    check(c, {"stopped by the person",
              Ends::stopped,
              "",
              {},
              [](Campaign& w) {
                  w.w.scan(QStringLiteral("B%1").arg(w.bay));
                  w.w.key(Qt::Key_F8);
              },
              "li-capacity"});
    for (const auto& [name, how] : {std::pair("the stop is lost on its way", Wire::loses_the_line),
                                    std::pair("obeyed the stop, and its answer was hurt", Wire::garbles),
                                    std::pair("obeyed the stop, and did not confirm it", Wire::loses_the_answer)})
        check(c, {name,
                  Ends::stopped,
                  "may still run",
                  {},
                  [how = how](Campaign& w) {
                      w.fail(":STOP", how, 2);
                      w.w.scan(QStringLiteral("B%1").arg(w.bay));
                      w.w.key(Qt::Key_F8);
                  },
                  "li-capacity"});
    check(c, {"stopped while the tester is silent",
              Ends::stopped,
              "may still run",
              {},
              [](Campaign& w) {
                  w.w.scan(QStringLiteral("B%1").arg(w.bay));
                  w.fail("", Wire::loses_the_line);
                  w.let_pass(300);
                  w.w.key(Qt::Key_F8);
                  w.let_pass(300);
                  w.heal();
              },
              "li-capacity"});
    check(c, {"the tester was switched off and on",
              Ends::stopped,
              "",
              {},
              [](Campaign& w) {
                  w.wired.hang_up();
                  w.wired.start_anew(bay_count, 1000);
                  w.wired.come_back();
              },
              "li-capacity"});
    check(c, {"somebody else uses the bay",
              Ends::stopped,
              "",
              {},
              [](Campaign& w) {
                  (void)w.wired.tester().answer("BAY" + std::to_string(w.bay) + ":STOP;BAY" + std::to_string(w.bay) +
                                                ":TAG \"mine\";SYST:ERR?");
              },
              "li-capacity"});
    c.bays().set_rate(20'000); // until something shows in a whole run
    check(c, {"the contact is lost", Ends::stopped, "", {}, {}, "li-capacity-quick", "loose-clip"});
    check(c, {"it gets hot", Ends::quarantined, "", {}, {}, "li-capacity-quick", "overheating"});
    CHECK_FALSE(c.w.window.findChild<app::MessageBar*>()->alarms().isEmpty()); // both stay until somebody has read them
}
