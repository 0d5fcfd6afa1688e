// The SCPI-style driver: lines of docs/formats/tester.md. Asks for new samples by their sequence number, so that none
// is dropped while it is there, and a hole is known as one. A tester that says it is simulated is told what stands in
// its bays too.
#pragma once

#include "bench/line.h"
#include "bench/tester.h"

#include <map>

class QTimer;

namespace ingot::bench {

class LineTester : public Tester, public StandIn {
    Q_OBJECT
public:
    explicit LineTester(QObject* parent = nullptr);

    void open(const std::string& address) override;
    void close() override;
    void set_poll_interval(int ms) override;
    void set_patience(int ms) override { line_.set_patience(ms); }
    void start_after(std::uint64_t sequence) override { last_ = sequence; }
    [[nodiscard]] std::uint64_t last_sequence() const override { return last_; }
    [[nodiscard]] const std::string& address() const override { return line_.address(); }
    [[nodiscard]] bool asking() const override { return line_.waiting() > 0 || !line_.in_step(); }

    void start(int bay, const BayLimits& limits, const BayStep& step, const std::string& tag, double sample_s,
               const Done& done) override;
    void stop(int bay, const Done& done) override;
    void read_voltage(int bay, const Read& done) override;
    void set_watchdog(double seconds, const Done& done) override;
    [[nodiscard]] StandIn* stand_in() override { return ready() && identity().simulated() ? this : nullptr; }

    void load(int bay, const StandInUnit& unit) override;
    void unload(int bay) override;
    void set_rate(double rate) override;
    // A command line that ends by asking for the error.
    void tell(const std::string& command, const Done& done);

private:
    void set_and_compare(int bay, const BayLimits& limits, int tries, const Done& done);
    void greet();
    void poll();
    void take_samples(const Result<std::string>& answer);
    [[nodiscard]] bool believable(const std::vector<TesterSample>& samples) const;
    void take_statuses(std::vector<BayStatus> statuses);
    template <class T> bool understood(const Result<T>& result);
    // An answer of the greeting: what is no answer of this dialect is said as the tester's state.
    template <class T> bool greeting(const Result<std::string>& line, Result<T> (*read)(std::string_view), T& out);

    Line line_;
    QTimer* beat_;
    bool polling_ = false;
    std::uint64_t last_ = 0;
    int unbelievable_ = 0;            // answers in a row
    double last_s_ = 0;               // of the tester's clock
    std::map<int, std::string> tags_; // by bay, as they were said last
};

} // namespace ingot::bench
