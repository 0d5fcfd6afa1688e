// The bays of the testers: what runs on them, step by step, durable as it comes; what is concluded when a run ends;
// what is picked up again after Ingot, a tester or the line between them went away.
//
// Bays are numbered through all testers, in the shop's order of them. A tester watches its own limits, set before
// current flows; Ingot only says what comes next. One run at a time is written by one Ingot: the run's tag on the
// tester names it.
#pragma once

#include "bench/tester.h"
#include "core/measure/conditioning.h"
#include "core/measure/protocol.h"
#include "workshop/bay_rules.h"
#include "workshop/testers.h"
#include "workshop/workshop.h"

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>

#include <deque>
#include <set>

namespace ingot {

// A few hundred points for the eye, whatever the length of the run: when full, every other one goes.
class Trace {
public:
    struct Point {
        double time_s = 0, voltage_v = 0, current_a = 0, temperature_c = 0, moved_ah = 0;
        int step = 0;
    };
    void add(const Point& point);
    void clear();
    [[nodiscard]] const std::vector<Point>& points() const { return points_; }

private:
    std::vector<Point> points_;
    std::size_t every_ = 1, skipped_ = 0;
};

enum class BayLook {
    free,
    waiting_to_start, // its voltage is read, or the tester was asked to start
    running,
    lift_out,
    stopped,
    in_doubt, // the tester was told to start and did not answer: current may flow
};

struct BayView : OnChannel {
    int bay = 0;         // through all testers, from 1
    int of_tester = 0;   // as the tester counts it, from 1
    std::string tester;  // its name
    std::string address; // and where it is
    BayLook look = BayLook::free;
    Id run = 0;
    std::string code; // of what stands there
    Protocol protocol;
    RunPosition position;
    int steps = 0, done = 0; // of the whole run
    bench::StepEnd stop = bench::StepEnd::none;
    std::string stop_words; // what the device or the check says, where it is not a step's end
    bench::TesterSample last;
    double began_s = 0;      // of the tester's clock
    double step_began_s = 0; // of the tester's clock
    double hours_left = 0;   // predicted, of the tester's time
    double step_share = 0;   // of the step under way: charge moved of the unit's whole, or time of a rest; 0..1
    double cutoff_v = 0;     // of the discharge under way or to come; 0: none
    Trace trace;
    int gaps = 0;
    bool silent = false;                          // the tester does not answer
    bool stop_asked = false;                      // and not yet confirmed
    std::optional<double> found_v;                // what the tester read before current flowed
    std::optional<double> capacity_ah, energy_wh; // concluded
    std::optional<double> efficiency;             // coulombic, where the charge before began empty
    std::optional<ConditioningVerdict> verdict;   // of a conditioned unit
    std::vector<double> cycles_ah;                // of this run so far
};

struct TesterView {
    TesterPlace place;
    int first_bay = 1;
    bench::DeviceState state = bench::DeviceState::none;
    QString words; // what is the matter, in a sentence
    bool simulated = false;
};

class Bays : public QObject {
    Q_OBJECT
public:
    explicit Bays(Workshop& workshop, QObject* parent = nullptr);
    ~Bays() override;

    // Talks to this tester too from now on; runs that were under way there are picked up. One that is known by this
    // address is looked for anew. The shop keeps it.
    Result<bool> attach(const TesterPlace& place);
    Result<bool> attach(const std::string& address) { return attach(TesterPlace{{}, address, {}, 0}); }
    // Looks for those of the shop's testers that are still there when Ingot starts: ports, and sockets where runs were
    // left.
    void attach_known();
    void detach(); // all; they stay known
    // The shop has this tester no longer. Refused while something of it stands in a bay.
    Result<bool> forget(const std::string& address);
    Result<bool> rename(const std::string& address, const std::string& name);
    [[nodiscard]] bool attached() const { return !devices_.empty(); }
    [[nodiscard]] bool left_running() const;               // runs that were not lifted when Ingot was last here
    [[nodiscard]] bool ready() const;                      // one of them is
    [[nodiscard]] std::vector<TesterView> testers() const; // the shop's, attached or not
    [[nodiscard]] bench::Tester* tester(const std::string& address);
    [[nodiscard]] const std::vector<BayView>& bays() const { return bays_; } // number n at n - 1
    [[nodiscard]] const BayView* bay(int number) const;
    [[nodiscard]] const BayView* bay_of(Id unit) const; // alone or in series with others
    [[nodiscard]] const BayView* bay_of_assembly(Id assembly) const;
    void set_poll_interval(int ms); // of all, also those to come
    void set_patience(int ms);
    // Simulated testers: how much faster than the clock their time runs.
    void set_rate(double rate);
    [[nodiscard]] double rate() const { return rate_; }
    // Faults that the simulated tester gives a unit when it is put in, by code.
    void set_fault(const std::string& code, const std::string& fault) { faults_[code] = fault; }
    void set_sample_interval(double seconds) { sample_s_ = seconds; }
    // How warm the room is, where that is known: nothing is charged in the cold.
    void set_room(std::optional<double> celsius) { room_c_ = celsius; }

    // Why it may not be put in; nothing: it may, as far as is known before the bay is read. `protocol` may be null.
    [[nodiscard]] std::optional<Problem> may_not_start(const OnChannel& on, int bay, const Protocol* protocol);
    // Puts a unit, several in series or an assembly in a bay. The tester first reads what stands there; only where that
    // is the unit, the right way round and fit to be charged, the run is written and begun. Refused with the reason, at
    // once or when the bay was read.
    Result<bool> put_in(const OnChannel& on, int bay, const std::string& protocol);
    [[nodiscard]] std::vector<ProtocolObjection> objections(const OnChannel& on, const Protocol& protocol,
                                                            int bay) const;
    // On the tester that has the least to object; of what every bay needs where none is attached.
    [[nodiscard]] std::vector<ProtocolObjection> objections(const OnChannel& on, const Protocol& protocol) const;
    [[nodiscard]] BayUnit bay_unit(const OnChannel& on) const;
    // The usual protocol: of its chemistry, conditioning for nickel modules.
    [[nodiscard]] std::string usual_protocol(const OnChannel& on) const;
    // Asked again until the tester confirms it; while it does not, that is said.
    Result<bool> stop(int bay);
    // The unit leaves the bay. Refused while it runs. A bay in doubt is cleared by hand; should the tester turn out to
    // run it, it is stopped as soon as it answers.
    Result<bool> lift_out(int bay);
    // The tester ends its steps when it hears nothing for so long, s; 0: never. Kept in the workshop.
    Result<bool> set_watchdog(double seconds);
    [[nodiscard]] double watchdog_s() const;

    [[nodiscard]] std::vector<ConditioningRow> conditioning_rows() const; // worst first
    [[nodiscard]] double bar_of(Id unit) const;
    // Written this moment instead of within the second. What cannot be written now is kept and tried again.
    void flush();

signals:
    void changed(); // bays came, went or changed their state
    void moved();   // new samples
    void told(const QString& sentence, bool objection);
    void alarmed(const QString& sentence); // current may flow where it should not: said until somebody has read it
    void begun(int bay);                   // its run is written, and the tester is asked to start
    void ended(int bay);                   // a run is over, as meant or not

private:
    mutable std::map<Id, ConditioningRow> judged_; // a unit is fitted again only when its cycles, rating or bar changed
    // What is still to be written of a run.
    struct Pending {
        LogSamples samples;
        std::uint64_t last_sequence = 0;
        std::vector<RunStep> steps;
        bool header = false;   // its state or position changed
        bool conclude = false; // it is over: once it is written, it is concluded
        [[nodiscard]] bool anything() const { return samples.size() > 0 || !steps.empty() || header || conclude; }
    };
    // The step under way, as far as its samples tell.
    struct StepSoFar {
        std::int64_t first_sample = 0, samples = 0; // index in the run, count so far
        double start_s = 0, start_v = 0, energy_ws = 0;
        std::optional<double> hottest_c;
        double last_s = 0, last_v = 0, last_a = 0;
        void take(double time_s, double volts, double amperes, double celsius);
    };
    // A tester that is attached.
    struct Device {
        TesterPlace place;
        std::unique_ptr<bench::Tester> tester;
        int first_bay = 1;
        bool silent = false;
        bool seen = false;     // it has answered
        bool lamented = false; // that it was not found was said
    };
    void watch(Device& device);
    void became_ready(Device& device);
    void name_it(Device& device);
    void number_bays();
    void make_bays(Device& device, int count);
    void describe_simulated(const Device& device);
    void pick_up(Device& device);
    void take_samples(Device& device, const std::vector<bench::TesterSample>& samples);
    void take_statuses(Device& device, const std::vector<bench::BayStatus>& statuses);
    void step_ended(BayView& bay, bench::StepEnd end);
    // How often each loop of a protocol was run, as it is kept: "0,2".
    [[nodiscard]] static std::string loops_text(const std::vector<int>& runs);
    [[nodiscard]] static std::vector<int> loops_from(const std::string& text);
    void found(int bay, const OnChannel& on, const Result<std::optional<double>>& volts);
    [[nodiscard]] std::optional<Sentence> objection_to_found(const BayView& bay,
                                                             const Result<std::optional<double>>& volts) const;
    void not_begun(BayView& bay, const Sentence& why);
    void heard_of_start(BayView& bay, const bench::Tester::Reply& reply);
    void send_stop(int bay);
    void take_status(Device& device, BayView& bay, const bench::BayStatus& status);
    void stop_what_was_let_go(Device& device, const bench::BayStatus& status);
    void tell_watchdog(Device& device);
    Result<BayRun> begin_run(const BayView& bay);
    void load_simulated(const BayView& bay);
    void start_step(BayView& bay);
    void finish(BayView& bay, bench::StepEnd end);
    void conclude(BayView& bay);
    void conclude_several(BayView& bay, const std::vector<RunStep>& steps);
    void conclude(BayView& bay, const Chemistry& chemistry, LogSamples& log, const std::vector<RunStep>& steps);
    [[nodiscard]] std::optional<RunCapacity> capacity_of(const BayView& bay, const std::vector<RunStep>& steps,
                                                         LogSamples& log, const Chemistry& chemistry) const;
    void save(const BayView& bay, const char* state);
    void end_step(BayView& bay, bench::StepEnd end);
    void pick_up(const BayRun& record, BayView& bay);
    void estimate(BayView& bay);
    static void clear(BayView& bay); // it is free
    void trouble(Device& device, const QString& words);
    [[nodiscard]] QString named(const Device& device) const; // "The tester", or its name where there are several
    [[nodiscard]] std::string tag_of(const BayView& bay) const;
    [[nodiscard]] BayView* at(int bay);
    [[nodiscard]] BayView* at(const Device& device, int of_tester) { return at(device.first_bay + of_tester - 1); }
    [[nodiscard]] Device* device_at(const std::string& address) const;
    [[nodiscard]] Device* device_of(int bay) const;
    void drop(Device& device);

    Workshop& workshop_;
    std::vector<std::unique_ptr<Device>> devices_; // in the order of their bays
    std::vector<BayView> bays_;                    // by number
    std::map<Id, Pending> pending_;                // by run
    std::map<Id, BayRun> records_;                 // by run
    std::map<Id, StepSoFar> so_far_;               // by run
    bool unwritten_ = false;                       // told already
    std::map<std::string, std::string> faults_;
    QTimer write_;
    double rate_ = 1;
    double sample_s_ = 1;
    std::optional<double> room_c_;
    std::set<Id> let_go_;               // runs of bays that were cleared by hand while in doubt
    int poll_ms_ = 0, patience_ms_ = 0; // 0: as each driver has it
};

} // namespace ingot
