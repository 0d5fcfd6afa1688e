// A worked example: the driver of a small made-up charger with four places that speaks in letters and whole numbers.
// docs/formats/tester.md tells what it says; tests/bench/second_dialect.cpp runs it.
#pragma once

#include "bench/line.h"
#include "bench/tester.h"

class QTimer;

namespace letters {

class LetterTester : public ingot::bench::Tester {
    Q_OBJECT
public:
    explicit LetterTester(QObject* parent = nullptr);

    void open(const std::string& address) override;
    void close() override;
    void set_poll_interval(int ms) override;
    void set_patience(int ms) override { line_.set_patience(ms); }
    void start_after(std::uint64_t sequence) override { last_ = sequence; }
    [[nodiscard]] std::uint64_t last_sequence() const override { return last_; }
    [[nodiscard]] const std::string& address() const override { return line_.address(); }
    [[nodiscard]] bool asking() const override { return line_.waiting() > 0 || !line_.in_step(); }

    void start(int bay, const ingot::BayLimits& limits, const ingot::BayStep& step, const std::string& tag,
               double sample_s, const Done& done) override;
    void stop(int bay, const Done& done) override;
    void read_voltage(int bay, const Read& done) override;
    void set_watchdog(double seconds, const Done& done) override;

private:
    void greet();
    void poll();
    void take_rows(const std::string& answer);
    void take_states(const std::string& answer);

    ingot::bench::Line line_;
    QTimer* beat_;
    bool polling_ = false;
    std::uint64_t last_ = 0;
};

} // namespace letters
