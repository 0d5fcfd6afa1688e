#include "bench/meter.h"

#include "bench/tester_lines.h"

namespace ingot::bench {

Meter::Meter(QObject* parent) : QObject(parent) {}

void Meter::measure(MeterQuantity quantity, int probe, const std::function<void(const Result<double>&)>& done) {
    std::string question = quantity == MeterQuantity::voltage ? "MEAS:VOLT?" : "MEAS:RES?";
    if (probe > 0)
        question += " " + std::to_string(probe);
    line_.ask(question, [done](const Result<std::string>& line) {
        if (!line) {
            done(line.problem());
            return;
        }
        const auto value = read_measurement(line.value());
        if (!value)
            done(value.problem());
        else if (!value.value())
            done(Problem{"", 0, "The meter shows over range. Check the leads."});
        else
            done(*value.value());
    });
}

} // namespace ingot::bench
