// The testers of the shop: what each is called, where it is, how it speaks, how many bays it has. Kept with the
// workshop in the order in which their bays are numbered.
#pragma once

#include "bench/device_state.h"
#include "core/cells/problem.h"

#include <QString>

#include <string>
#include <vector>

namespace ingot {

class Workshop;

struct TesterPlace {
    std::string name;    // as readings name it; empty until it said what it is
    std::string address; // bench/device_address.h
    std::string dialect; // bench/tester.h; empty: scpi
    int bays = 0;        // 0: not known yet
};

[[nodiscard]] std::vector<TesterPlace> testers_of(const Workshop& workshop);
// Refused where an address cannot be understood, a dialect is not known, or two share a name or an address.
Result<bool> keep_testers(Workshop& workshop, const std::vector<TesterPlace>& testers);

// How a device fares, in a sentence: what is the matter, and what to do. `device`: "meter", "tester".
struct DeviceWords {
    bench::DeviceState state = bench::DeviceState::none;
    QString kind;    // translated: meter, tester
    QString address; // where it is looked for
    QString name;    // what it said it is
    QString why;     // the system's or the device's words
};
[[nodiscard]] QString device_words(const DeviceWords& device);

// Where a device could be: ports by what is plugged in (they keep their name), as addresses. `folder` of the links.
[[nodiscard]] std::vector<std::string> device_ports(const QString& folder = QStringLiteral("/dev/serial/by-id"));

} // namespace ingot
