// The bench meter of the shop: where it is, what its ohms mean, and that its volts are followed.
#pragma once

#include "bench/meter.h"
#include "core/measure/measurement.h"

#include <QString>

#include <optional>
#include <string>
#include <vector>

namespace ingot {

class Workshop;

class BenchMeter : public QObject {
    Q_OBJECT
public:
    // Looks for the meter that the workshop knows.
    explicit BenchMeter(Workshop& workshop, QObject* parent = nullptr);

    // An address of bench/device_address.h; empty: none. Kept with the workshop, unless that is open for reading only:
    // then for as long as it is open.
    Result<bool> attach(const std::string& address);
    [[nodiscard]] const std::string& address() const { return address_; }
    // What a resistance of this meter is. A plain multimeter's ohms are not for live cells: nothing.
    [[nodiscard]] std::optional<Quantity> resistance() const;
    Result<bool> set_resistance(std::optional<Quantity> method);

    [[nodiscard]] bench::Meter& meter() { return meter_; }
    [[nodiscard]] std::string instrument() const; // as readings name it
    // In a sentence: what is the matter, and what to do.
    [[nodiscard]] QString words() const;
    // A reading of that quantity, now. `bay`: of a tester in which the unit stands; 0: none.
    void read(Quantity quantity, int bay, const std::function<void(const Result<bench::MeterReading>&)>& done);

signals:
    void changed();

private:
    Workshop& workshop_;
    std::string address_;
    bench::Meter meter_;
};

} // namespace ingot
