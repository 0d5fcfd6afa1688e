// A multi-bay tester as the workshop sees it. Asks for new samples by their sequence number, so that none is dropped
// while it is there, and a hole is known as one. Other devices: write a class with this face (docs/formats/tester.md).
#pragma once

#include "bench/line.h"
#include "bench/tester_lines.h"

#include <QObject>

#include <map>
#include <vector>

namespace ingot::bench {

class Tester : public QObject {
    Q_OBJECT
public:
    explicit Tester(QObject* parent = nullptr);

    void open(const std::string& address);
    void close() { line_.close(); }
    void set_poll_interval(int ms);
    // Samples after this one are asked for; 0: all that the tester remembers.
    void start_after(std::uint64_t sequence) { last_ = sequence; }
    [[nodiscard]] std::uint64_t last_sequence() const { return last_; }

    [[nodiscard]] bool ready() const { return ready_; }
    [[nodiscard]] int bays() const { return bays_; }
    [[nodiscard]] const BayAbilities& abilities() const { return abilities_; }
    [[nodiscard]] const TesterIdentity& identity() const { return identity_; }
    [[nodiscard]] const std::string& address() const { return line_.address(); }

    // How a command fared. A command is for now or never: one that could not be sent is not sent later.
    enum class Told {
        confirmed,
        refused,   // the device objected: `words`
        not_sent,  // it is silent or gone, and was not told
        no_answer, // it was told and did not answer: it may have obeyed
    };
    struct Reply {
        Told told = Told::confirmed;
        std::string words;
        [[nodiscard]] bool confirmed() const { return told == Told::confirmed; }
    };
    using Done = std::function<void(const Reply& reply)>;
    // Sets the limits, reads them back and compares, then starts the step.
    void start(int bay, const BayLimits& limits, const BayStep& step, const std::string& tag, double sample_s,
               const Done& done);
    void stop(int bay, const Done& done);
    // What stands in a bay in which no current flows, V; nothing: over range or none.
    using Read = std::function<void(const Result<std::optional<double>>& volts)>;
    void read_voltage(int bay, const Read& done);
    // The tester ends its steps when nobody has spoken to it for so long, s; 0: it goes on to their own ends.
    void set_watchdog(double seconds, const Done& done);
    // To a simulated tester: what stands in its bay, how fast its time runs.
    void tell(const std::string& command, const Done& done);
    Line& line() { return line_; }

signals:
    void became_ready();
    void sampled(const std::vector<ingot::bench::TesterSample>& samples);
    void stated(const std::vector<ingot::bench::BayStatus>& statuses);
    // Samples between these two were lost: the tester remembers no further back.
    void hole(std::uint64_t after, std::uint64_t before);
    void gone(const QString& why);
    void silent();
    void answered();
    void rubbish(const QString& what);

private:
    void greet();
    void poll();
    void take_samples(const Result<std::string>& answer);
    template <class T> bool understood(const Result<T>& result);

    Line line_;
    QTimer* beat_;
    bool ready_ = false;
    bool polling_ = false;
    int bays_ = 0;
    BayAbilities abilities_;
    TesterIdentity identity_;
    std::uint64_t last_ = 0;
};

} // namespace ingot::bench
