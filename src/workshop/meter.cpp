#include "workshop/meter.h"

#include "workshop/workshop.h"

#include <QDir>

namespace ingot {

namespace {

constexpr const char* address_setting = "meter_address";
constexpr const char* resistance_setting = "meter_resistance";

bool is_address(const std::string& text) {
    constexpr std::size_t head = 7; // "serial:", "socket:"
    return (text.rfind("serial:", 0) == 0 || text.rfind("socket:", 0) == 0) && text.size() > head;
}

QString gone_words(const QString& address, const QString& why) {
    if (why.contains(QLatin1String("ermission")))
        return BenchMeter::tr("The port of %1 may not be used by you. On most systems it is enough to be in the group "
                              "dialout, and to log in anew.")
            .arg(address);
    if (why.contains(QLatin1String("No such")) || why.contains(QLatin1String("not found")) ||
        why.contains(QLatin1String("Invalid name")))
        return BenchMeter::tr("There is nothing at %1. Is the meter plugged in and on?").arg(address);
    return BenchMeter::tr("%1 cannot be reached (%2). It is tried again every second.").arg(address, why);
}

} // namespace

BenchMeter::BenchMeter(Workshop& workshop, QObject* parent)
    : QObject(parent), workshop_(workshop), address_(workshop.catalogue().setting(address_setting)) {
    connect(&meter_, &bench::Meter::state_changed, this, &BenchMeter::changed);
    if (is_address(address_))
        meter_.open(address_);
}

Result<bool> BenchMeter::attach(const std::string& address) {
    if (!address.empty() && !is_address(address))
        return Problem{"", 0, "\"" + address + "\" is no address. Write serial:PORT or socket:PATH."};
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
    return method == Quantity::ac_resistance || method == Quantity::dc_resistance ? method : std::nullopt;
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
    const QString address = QString::fromStdString(address_);
    switch (meter_.state()) {
    case bench::MeterState::none:
        return tr("No meter is chosen.");
    case bench::MeterState::looking:
        return tr("Looking for it at %1 …").arg(address);
    case bench::MeterState::ready:
        return tr("%1 answers.").arg(QString::fromStdString(meter_.name()));
    case bench::MeterState::listening:
        return tr("Nobody answers at %1. Is the meter on, and is this its port and its speed? A meter that only sends "
                  "when its own button is pressed is heard all the same.")
            .arg(address);
    case bench::MeterState::silent:
        return tr("%1 answers no more. Is it still on?").arg(QString::fromStdString(meter_.name()));
    case bench::MeterState::gone:
        return gone_words(address, QString::fromStdString(meter_.why()));
    case bench::MeterState::strange:
        return tr("What answers at %1 is no meter: it says \"%2\".")
            .arg(address, QString::fromStdString(meter_.why()).left(60));
    }
    return {};
}

void BenchMeter::read(Quantity quantity, int bay, const std::function<void(const Result<bench::MeterReading>&)>& done) {
    if (quantity == Quantity::voltage) {
        meter_.measure(bench::MeterQuantity::voltage, bay, done);
        return;
    }
    if (quantity != resistance()) {
        done(Problem{"", 0,
                     "This meter is not known to read that of a live cell. Say at \"Bench meter\" what its ohms are."});
        return;
    }
    meter_.measure(bench::MeterQuantity::resistance, bay, done);
}

std::vector<std::string> meter_ports(const QString& folder) {
    std::vector<std::string> out;
    const QDir links(folder);
    for (const QString& name : links.entryList(QDir::Files | QDir::System | QDir::NoDotAndDotDot, QDir::Name))
        out.push_back("serial:" + links.filePath(name).toStdString());
    return out;
}

} // namespace ingot
