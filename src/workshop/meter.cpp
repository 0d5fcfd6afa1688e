#include "workshop/meter.h"

#include <QTimer>

namespace ingot {

void MeterReader::read(const std::string& address, Kind kind, int probe,
                       const std::function<void(const Result<double>&)>& done) {
    const auto quantity = kind == Kind::voltage ? bench::MeterQuantity::voltage : bench::MeterQuantity::resistance;
    if (meter_.line().address() == address && meter_.ready()) {
        meter_.measure(quantity, probe, done);
        return;
    }
    meter_.open(address);
    // A line needs a moment to open; asked too early it says that the device is not there.
    constexpr int open_ms = 300;
    QTimer::singleShot(open_ms, this, [this, quantity, probe, done] { meter_.measure(quantity, probe, done); });
}

} // namespace ingot
