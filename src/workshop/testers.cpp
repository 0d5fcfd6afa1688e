#include "workshop/testers.h"

#include "bench/device_address.h"
#include "bench/tester.h"
#include "workshop/translated.h"
#include "workshop/workshop.h"

#include <QDir>

#include <algorithm>
#include <charconv>
#include <set>
#include <sstream>

namespace ingot {

namespace {

constexpr const char* setting = "testers";
constexpr const char* setting_of_one = "tester_address"; // of workshops that knew one tester alone
constexpr char between = '\t';

QString gone_words(const DeviceWords& device) {
    if (device.why.contains(QLatin1String("ermission")))
        return wording::tr("The port of %1 may not be used by you. On most systems it is enough to be in the group "
                           "dialout, and to log in anew.")
            .arg(device.address);
    if (device.why.contains(QLatin1String("No such")) || device.why.contains(QLatin1String("not found")) ||
        device.why.contains(QLatin1String("Invalid name")))
        return wording::tr("There is nothing at %1. Is the %2 plugged in and on?").arg(device.address, device.kind);
    return wording::tr("%1 cannot be reached (%2). It is tried again every second.").arg(device.address, device.why);
}

} // namespace

std::vector<TesterPlace> testers_of(const Workshop& workshop) {
    std::vector<TesterPlace> out;
    std::istringstream lines(workshop.catalogue().setting(setting));
    std::string line;
    while (std::getline(lines, line)) {
        std::istringstream fields(line);
        TesterPlace place;
        std::string bays;
        std::getline(fields, place.name, between);
        std::getline(fields, place.address, between);
        std::getline(fields, place.dialect, between);
        std::getline(fields, bays, between);
        std::from_chars(bays.data(), bays.data() + bays.size(), place.bays);
        if (!place.address.empty())
            out.push_back(std::move(place));
    }
    const std::string before = workshop.catalogue().setting(setting_of_one);
    if (out.empty() && !before.empty())
        out.push_back({"", before, "", 0});
    return out;
}

Result<bool> keep_testers(Workshop& workshop, const std::vector<TesterPlace>& testers) {
    std::set<std::string> names;
    std::set<std::string> addresses;
    const auto known = bench::dialects();
    std::string lines;
    for (const TesterPlace& place : testers) {
        if (auto address = bench::parse_address(place.address); !address)
            return address.problem();
        if (!addresses.insert(place.address).second)
            return Problem{"", 0,
                           said("There is a tester at {} already. Choose it and change it there.", place.address)};
        if (!place.name.empty() && !names.insert(place.name).second)
            return Problem{"", 0, said("Another tester is called \"{}\". Give this one its own name.", place.name)};
        if (place.name.find_first_of("\t\n") != std::string::npos)
            return Problem{"", 0, said("A name is one line without tabs.")};
        if (!place.dialect.empty() && std::find(known.begin(), known.end(), place.dialect) == known.end())
            return Problem{"", 0, said("Nobody here speaks \"{}\".", place.dialect)};
        lines += place.name + between + place.address + between + place.dialect + between + std::to_string(place.bays) +
                 "\n";
    }
    // What one tester was known by is kept here now; a forgotten one does not come back by it.
    if (!workshop.catalogue().setting(setting_of_one).empty())
        if (auto done = workshop.catalogue().set_setting(setting_of_one, ""); !done)
            return done;
    if (lines == workshop.catalogue().setting(setting))
        return true;
    return workshop.catalogue().set_setting(setting, lines);
}

QString device_words(const DeviceWords& device) {
    switch (device.state) {
    case bench::DeviceState::none:
        return wording::tr("No %1 is chosen.").arg(device.kind);
    case bench::DeviceState::looking:
        return wording::tr("Looking for it at %1 …").arg(device.address);
    case bench::DeviceState::ready:
        return wording::tr("%1 answers.").arg(device.name);
    case bench::DeviceState::listening:
        return wording::tr("Nobody answers at %1. Is the %2 on, and is this its port and its speed?")
            .arg(device.address, device.kind);
    case bench::DeviceState::silent:
        return wording::tr("%1 answers no more. Is it still on?").arg(device.name);
    case bench::DeviceState::gone:
        return gone_words(device);
    case bench::DeviceState::strange: {
        constexpr int most_shown = 60;
        return wording::tr("What answers at %1 is no %2 that is understood: it says \"%3\".")
            .arg(device.address, device.kind, device.why.left(most_shown));
    }
    }
    return {};
}

std::vector<std::string> device_ports(const QString& folder) {
    std::vector<std::string> out;
    const QDir links(folder);
    for (const QString& name : links.entryList(QDir::Files | QDir::System | QDir::NoDotAndDotDot, QDir::Name))
        out.push_back("serial:" + links.filePath(name).toStdString());
    return out;
}

} // namespace ingot
