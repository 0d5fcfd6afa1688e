// A bench multimeter or milliohm meter: one reading when asked (SCPI-99 MEASure, from memory).
#pragma once

#include "bench/line.h"

#include <QObject>

#include <optional>

namespace ingot::bench {

enum class MeterQuantity { voltage, resistance };

class Meter : public QObject {
    Q_OBJECT
public:
    explicit Meter(QObject* parent = nullptr);
    void open(const std::string& address) { line_.open(address); }
    void close() { line_.close(); }
    [[nodiscard]] bool ready() const { return line_.is_open(); }
    // V or ohm; a problem when it does not answer, is out of range or sends rubbish. `probe`: a scanner's channel, 0:
    // none.
    void measure(MeterQuantity quantity, int probe, const std::function<void(const Result<double>&)>& done);
    Line& line() { return line_; }

private:
    Line line_;
};

} // namespace ingot::bench
