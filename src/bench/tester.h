// A multi-bay tester as the workshop sees it. One class a dialect; docs/formats/tester.md says what each must hold, and
// shows a second one. Nothing here waits: everything comes back as a signal or a callback.
#pragma once

#include "bench/device_state.h"
#include "bench/tester_lines.h"

#include <QObject>

#include <functional>
#include <memory>
#include <string>
#include <vector>

namespace ingot::bench {

// What a simulated tester is told besides, because no hand puts units into it.
struct StandInUnit {
    std::string kind; // li, lfp, ni
    double rated_ah = 0;
    int cells = 1;
    double ohm = 0;
    std::int64_t seed = 0;
    std::string fault;              // empty: none
    std::optional<double> stands_v; // what it reads before current flows
};
class StandIn {
public:
    virtual ~StandIn() = default;
    virtual void load(int bay, const StandInUnit& unit) = 0;
    virtual void unload(int bay) = 0;
    virtual void set_rate(double rate) = 0; // seconds of its time per second
};

class Tester : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;

    // "serial:PORT[,SPEED[,8N1[,rts]]]" or "socket:PATH"; opened again by itself when the device comes back.
    virtual void open(const std::string& address) = 0;
    virtual void close() = 0;
    virtual void set_poll_interval(int ms) = 0;
    virtual void set_patience(int ms) = 0; // how long an answer may take
    // Samples after this one are asked for; 0: all that the tester remembers. Numbers rise by one, so that none is lost
    // unseen.
    virtual void start_after(std::uint64_t sequence) = 0;
    [[nodiscard]] virtual std::uint64_t last_sequence() const = 0;
    [[nodiscard]] virtual const std::string& address() const = 0;
    // A command is under way, or the device is out of step: what it says of a bay may be of before.
    [[nodiscard]] virtual bool asking() const = 0;

    [[nodiscard]] DeviceState state() const { return state_; }
    [[nodiscard]] const std::string& why() const { return why_; } // in the device's or the system's words
    // It said who it is and what it can; it may be silent since.
    [[nodiscard]] bool ready() const { return ready_; }
    [[nodiscard]] int bays() const { return bays_; }
    [[nodiscard]] const BayAbilities& abilities() const { return abilities_; }
    [[nodiscard]] const TesterIdentity& identity() const { return identity_; }

    // How a command fared. A command is for now or never: one that could not be sent is not sent later.
    enum class Told {
        confirmed,
        refused,   // the device objected: `words`
        not_sent,  // it is silent or gone, and was not told
        no_answer, // it was told and did not answer: it may have obeyed
    };
    struct Reply {
        Told told = Told::confirmed;
        Sentence words;
        [[nodiscard]] bool confirmed() const { return told == Told::confirmed; }
    };
    using Done = std::function<void(const Reply& reply)>;
    // Sets the limits, reads them back and compares, then starts the step. `tag` is kept by the tester and said with
    // every status.
    virtual void start(int bay, const BayLimits& limits, const BayStep& step, const std::string& tag, double sample_s,
                       const Done& done) = 0;
    virtual void stop(int bay, const Done& done) = 0;
    // What stands in a bay in which no current flows, V; nothing: over range or none.
    using Read = std::function<void(const Result<std::optional<double>>& volts)>;
    virtual void read_voltage(int bay, const Read& done) = 0;
    // The tester ends its steps when nobody has spoken to it for so long, s; 0: it goes on to their own ends.
    virtual void set_watchdog(double seconds, const Done& done) = 0;
    [[nodiscard]] virtual StandIn* stand_in() { return nullptr; } // of a simulated one

signals:
    void state_changed();
    void became_ready();
    void sampled(const std::vector<ingot::bench::TesterSample>& samples);
    void stated(const std::vector<ingot::bench::BayStatus>& statuses);
    // Samples between these two were lost: the tester remembers no further back.
    void hole(std::uint64_t after, std::uint64_t before);
    void gone(const QString& why);
    void silent();
    void answered();
    void rubbish(const ingot::Sentence& what);

protected:
    void enter(DeviceState state, const std::string& why = {});
    void greeted(const TesterIdentity& identity, int bays, const BayAbilities& abilities);
    void not_ready() { ready_ = false; }

private:
    DeviceState state_ = DeviceState::none;
    std::string why_;
    bool ready_ = false;
    int bays_ = 0;
    BayAbilities abilities_;
    TesterIdentity identity_;
};

// The dialects that are known, by the name that is kept with a tester: "scpi" and those that were added.
using MakeTester = std::function<std::unique_ptr<Tester>()>;
void add_dialect(const std::string& name, const MakeTester& make);
[[nodiscard]] std::vector<std::string> dialects(); // "scpi" first
// Null where nobody knows the dialect.
[[nodiscard]] std::unique_ptr<Tester> make_tester(const std::string& dialect);

} // namespace ingot::bench
