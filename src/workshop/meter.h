// A bench multimeter or milliohm meter for the stations: one reading when asked, told later.
#pragma once

#include "bench/meter.h"

namespace ingot {

class MeterReader : public QObject {
    Q_OBJECT
public:
    enum class Kind { voltage, resistance };
    explicit MeterReader(QObject* parent = nullptr) : QObject(parent) {}
    // V or ohm. Opens the line when it is another one than before. `probe`: a scanner's channel, 0: none.
    void read(const std::string& address, Kind kind, int probe, const std::function<void(const Result<double>&)>& done);

private:
    bench::Meter meter_;
};

} // namespace ingot
