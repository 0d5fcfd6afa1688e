#include "workshop/meter.h"

#include "bench/device_address.h"
#include "workshop/testers.h"
#include "workshop/workshop.h"

namespace ingot {

namespace {

constexpr const char* address_setting = "meter_address";
constexpr const char* resistance_setting = "meter_resistance";

} // namespace

BenchMeter::BenchMeter(Workshop& workshop, QObject* parent)
    : QObject(parent), workshop_(workshop), address_(workshop.catalogue().setting(address_setting)) {
    connect(&meter_, &bench::Meter::state_changed, this, &BenchMeter::changed);
    if (!address_.empty())
        meter_.open(address_);
}

Result<bool> BenchMeter::attach(const std::string& address) {
    if (!address.empty())
        if (const auto parsed = bench::parse_address(address); !parsed)
            return parsed.problem();
    if (workshop_.writable())
        if (auto kept = workshop_.catalogue().set_setting(address_setting, address); !kept)
            return kept;
    address_ = address;
    if (address_.empty())
        meter_.close();
    else
        meter_.open(address_);
    return true;
}

std::optional<Quantity> BenchMeter::resistance() const {
    const auto method = quantity_from(workshop_.catalogue().setting(resistance_setting));
    return method == Quantity::ac_resistance || method == Quantity::dc_resistance || method == Quantity::resistance
               ? method
               : std::nullopt;
}

Result<bool> BenchMeter::set_resistance(std::optional<Quantity> method) {
    auto kept = workshop_.catalogue().set_setting(resistance_setting, method ? code(*method) : "");
    if (kept)
        emit changed();
    return kept;
}

std::string BenchMeter::instrument() const {
    return meter_.name().empty() ? "bench meter" : meter_.name();
}

QString BenchMeter::words() const {
    QString words = device_words({meter_.state(), tr("meter"), QString::fromStdString(address_),
                                  QString::fromStdString(meter_.name()), QString::fromStdString(meter_.why())});
    if (meter_.state() == bench::DeviceState::listening)
        words += tr(" A meter that only sends when its own button is pressed is heard all the same.");
    return words;
}

void BenchMeter::read(Quantity quantity, int bay, const std::function<void(const Result<bench::MeterReading>&)>& done) {
    if (quantity == Quantity::voltage) {
        meter_.measure(bench::MeterQuantity::voltage, bay, done);
        return;
    }
    if (quantity != resistance()) {
        done(Problem{
            "", 0,
            said("This meter is not known to read that of a live cell. Say at \"Bench meter\" what its ohms are.")});
        return;
    }
    meter_.measure(bench::MeterQuantity::resistance, bay, done);
}

} // namespace ingot
