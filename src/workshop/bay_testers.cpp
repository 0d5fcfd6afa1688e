// Which testers stand on the bench, how their bays are numbered, and what is said when one goes and comes back.
#include "workshop/bays.h"
#include "workshop/wording.h"

#include <algorithm>
#include <stdexcept>

namespace ingot {

namespace {

bool is_socket(const TesterPlace& place) {
    return place.address.rfind("socket:", 0) == 0;
}

} // namespace

Bays::Device* Bays::device_at(const std::string& address) const {
    const auto found =
        std::find_if(devices_.begin(), devices_.end(), [&](const auto& d) { return d->place.address == address; });
    return found == devices_.end() ? nullptr : found->get();
}

Bays::Device* Bays::device_of(int number) const {
    const BayView* of = bay(number);
    return of == nullptr ? nullptr : device_at(of->address);
}

bench::Tester* Bays::tester(const std::string& address) {
    const Device* device = device_at(address);
    return device == nullptr ? nullptr : device->tester.get();
}

Result<bool> Bays::attach(const TesterPlace& wanted) {
    auto places = testers_of(workshop_);
    auto known = std::find_if(places.begin(), places.end(), [&](const auto& p) { return p.address == wanted.address; });
    if (known == places.end()) {
        // Stand-ins come and go: those that are not here any more keep no bays.
        if (is_socket(wanted))
            std::erase_if(places, [&](const TesterPlace& p) {
                const auto open = workshop_.session_.runs.open();
                return is_socket(p) && device_at(p.address) == nullptr &&
                       std::none_of(open.begin(), open.end(),
                                    [&](const BayRun& run) { return run.tester == p.address; });
            });
        places.push_back(wanted);
        known = std::prev(places.end());
    } else {
        if (!wanted.name.empty())
            known->name = wanted.name;
        if (!wanted.dialect.empty())
            known->dialect = wanted.dialect;
    }
    if (workshop_.writable())
        if (auto kept = keep_testers(workshop_, places); !kept)
            return kept;
    auto tester = bench::make_tester(known->dialect);
    if (!tester)
        return Problem{"", 0, said("Nobody here speaks \"{}\".", known->dialect)};
    if (Device* before = device_at(wanted.address))
        drop(*before);
    auto device = std::make_unique<Device>();
    device->place = *known;
    device->tester = std::move(tester);
    if (poll_ms_ > 0)
        device->tester->set_poll_interval(poll_ms_);
    if (patience_ms_ > 0)
        device->tester->set_patience(patience_ms_);
    // From where the runs under way were last written.
    std::uint64_t after = 0;
    bool first = true;
    for (const auto& run : workshop_.session_.runs.open())
        if (run.tester == wanted.address && run.state == "running") {
            after = first ? run.last_sequence : std::min(after, run.last_sequence);
            first = false;
        }
    device->tester->start_after(after);
    Device& attached = *device;
    watch(attached);
    devices_.push_back(std::move(device));
    make_bays(attached, attached.place.bays);
    attached.tester->open(wanted.address);
    emit changed();
    return true;
}

void Bays::attach_known() {
    const auto open = workshop_.session_.runs.open();
    for (const TesterPlace& place : testers_of(workshop_)) {
        const bool left =
            std::any_of(open.begin(), open.end(), [&](const BayRun& run) { return run.tester == place.address; });
        if (is_socket(place) && !left)
            continue;
        if (const auto done = attach(place); !done)
            emit told(wording::problem(done.problem()), true);
    }
}

bool Bays::left_running() const {
    const auto open = workshop_.session_.runs.open();
    return std::any_of(open.begin(), open.end(), [](const BayRun& run) { return !run_by_hand(run); });
}

bool Bays::ready() const {
    return std::any_of(devices_.begin(), devices_.end(), [](const auto& d) { return d->tester->ready(); });
}

void Bays::drop(Device& device) {
    flush();
    device.tester->disconnect(this);
    device.tester->close();
    std::erase_if(bays_, [&](const BayView& bay) {
        if (bay.address != device.place.address)
            return false;
        pending_.erase(bay.run);
        records_.erase(bay.run);
        so_far_.erase(bay.run);
        return true;
    });
    device.tester.release()->deleteLater(); // one of its own signals may have led here
    std::erase_if(devices_, [&](const auto& d) { return d.get() == &device; });
}

void Bays::detach() {
    while (!devices_.empty())
        drop(*devices_.back());
    emit changed();
}

Result<bool> Bays::forget(const std::string& address) {
    Device* device = device_at(address);
    const auto open = workshop_.session_.runs.open();
    if (std::any_of(open.begin(), open.end(), [&](const BayRun& run) { return run.tester == address; }))
        return Problem{"", 0, said("Units stand in its bays. Lift them out first.")};
    auto places = testers_of(workshop_);
    std::erase_if(places, [&](const TesterPlace& place) { return place.address == address; });
    if (auto kept = keep_testers(workshop_, places); !kept)
        return kept;
    if (device != nullptr)
        drop(*device);
    number_bays();
    emit changed();
    return true;
}

Result<bool> Bays::rename(const std::string& address, const std::string& name) {
    if (name.empty())
        return Problem{"", 0, said("A tester needs a name: readings are told apart by it.")};
    auto places = testers_of(workshop_);
    for (TesterPlace& place : places)
        if (place.address == address)
            place.name = name;
    if (auto kept = keep_testers(workshop_, places); !kept)
        return kept;
    if (Device* device = device_at(address)) {
        device->place.name = name;
        for (BayView& bay : bays_)
            if (bay.address == address)
                bay.tester = name;
        if (device->tester->ready())
            describe_simulated(*device);
    }
    emit changed();
    return true;
}

std::vector<TesterView> Bays::testers() const {
    std::vector<TesterView> out;
    for (const TesterPlace& place : testers_of(workshop_)) {
        TesterView& view = out.emplace_back();
        view.place = place;
        const Device* device = device_at(place.address);
        if (device == nullptr) {
            view.words = tr("Not attached now.");
            continue;
        }
        view.first_bay = device->first_bay;
        view.state = device->tester->state();
        view.simulated = device->tester->stand_in() != nullptr;
        view.words = device_words({view.state, tr("tester"), QString::fromStdString(place.address),
                                   QString::fromStdString(place.name), QString::fromStdString(device->tester->why())});
    }
    return out;
}

void Bays::set_poll_interval(int ms) {
    poll_ms_ = ms;
    for (const auto& device : devices_)
        device->tester->set_poll_interval(ms);
}

void Bays::set_patience(int ms) {
    patience_ms_ = ms;
    for (const auto& device : devices_)
        device->tester->set_patience(ms);
}

void Bays::set_rate(double rate) {
    rate_ = rate;
    for (const auto& device : devices_)
        if (bench::StandIn* stand_in = device->tester->stand_in())
            stand_in->set_rate(rate);
}

void Bays::watch(Device& device) {
    const bench::Tester* tester = device.tester.get();
    connect(tester, &bench::Tester::became_ready, this, [this, &device] { became_ready(device); });
    connect(tester, &bench::Tester::sampled, this,
            [this, &device](const auto& samples) { take_samples(device, samples); });
    connect(tester, &bench::Tester::stated, this,
            [this, &device](const auto& statuses) { take_statuses(device, statuses); });
    connect(tester, &bench::Tester::gone, this, [this, &device](const QString& why) {
        trouble(device, tr("%1 is gone (%2). It watches its own limits; Ingot looks for it.").arg(named(device), why));
    });
    connect(tester, &bench::Tester::silent, this, [this, &device] {
        trouble(device, tr("%1 does not answer. It watches its own limits; Ingot goes on asking.").arg(named(device)));
    });
    connect(tester, &bench::Tester::answered, this, [this, &device] {
        if (!device.seen)
            return;
        device.silent = false;
        for (BayView& bay : bays_)
            if (bay.address == device.place.address)
                bay.silent = false;
        emit told(tr("%1 answers again.").arg(named(device)), false);
        emit changed();
    });
    connect(tester, &bench::Tester::rubbish, this, [this, &device](const Sentence& what) {
        if (device.seen)
            emit told(tr("%1 sent something that is not understood: %2").arg(named(device), wording::sentence(what)),
                      true);
    });
    connect(tester, &bench::Tester::hole, this, [this, &device](std::uint64_t, std::uint64_t) {
        for (BayView& bay : bays_)
            if (bay.address == device.place.address && bay.look == BayLook::running) {
                ++bay.gaps;
                save(bay, "running");
            }
        emit told(tr("Samples were lost: the tester remembers no further back. The logs show the hole."), true);
    });
    connect(tester, &bench::Tester::state_changed, this, [this, &device] {
        const auto state = device.tester->state();
        const bool lost = state == bench::DeviceState::gone || state == bench::DeviceState::listening ||
                          state == bench::DeviceState::strange;
        // Before it has ever answered nothing runs there, and what is wrong is its place or its dialect.
        if (!device.seen && lost && !std::exchange(device.lamented, true))
            for (const TesterView& view : testers())
                if (view.place.address == device.place.address)
                    emit told(view.words, true);
        emit changed();
    });
}

QString Bays::named(const Device& device) const {
    return devices_.size() > 1 && !device.place.name.empty() ? QString::fromStdString(device.place.name)
                                                             : tr("The tester");
}

void Bays::trouble(Device& device, const QString& words) {
    if (device.silent || !device.seen)
        return;
    device.silent = true;
    for (BayView& bay : bays_)
        if (bay.address == device.place.address)
            bay.silent = bay.look != BayLook::lift_out && bay.look != BayLook::stopped;
    emit told(words, true);
    emit changed();
}

// Readings are told apart by it: two of one make are not called alike.
void Bays::name_it(Device& device) {
    auto places = testers_of(workshop_);
    const auto taken = [&](const std::string& name) {
        return std::any_of(places.begin(), places.end(), [&](const TesterPlace& place) {
            return place.name == name && place.address != device.place.address;
        });
    };
    if (device.place.name.empty()) {
        const std::string& model = device.tester->identity().model;
        const std::string base = model.empty() ? "tester" : model;
        device.place.name = base;
        for (int n = 2; taken(device.place.name); ++n)
            device.place.name = base + " " + std::to_string(n);
    }
    for (TesterPlace& place : places)
        if (place.address == device.place.address)
            place = device.place;
    if (!workshop_.writable())
        return;
    if (const auto kept = keep_testers(workshop_, places); !kept)
        emit told(wording::problem(kept.problem()), true);
}

// In the shop's order, through all that are attached.
void Bays::number_bays() {
    std::map<const Device*, int> first;
    int next = 1;
    for (const TesterPlace& place : testers_of(workshop_))
        if (const Device* device = device_at(place.address)) {
            first[device] = next;
            next += device->place.bays;
        }
    for (const auto& device : devices_) // one that could not be kept
        if (first.try_emplace(device.get(), next).second)
            next += device->place.bays;
    for (BayView& bay : bays_)
        if (const Device* device = device_at(bay.address))
            bay.bay = first.at(device) + bay.of_tester - 1;
    for (const auto& device : devices_)
        device->first_bay = first.at(device.get());
    std::sort(bays_.begin(), bays_.end(), [](const BayView& a, const BayView& b) { return a.bay < b.bay; });
}

// What stands in the bays of a tester that is away is known all the same.
void Bays::make_bays(Device& device, int count) {
    std::vector<BayView> mine;
    std::erase_if(bays_, [&](BayView& bay) {
        if (bay.address != device.place.address)
            return false;
        mine.push_back(std::move(bay));
        return true;
    });
    for (int n = static_cast<int>(mine.size()) + 1; n <= count; ++n) {
        BayView bay;
        bay.of_tester = n;
        bay.address = device.place.address;
        bay.tester = device.place.name;
        bay.silent = !device.seen;
        mine.push_back(std::move(bay));
    }
    mine.resize(static_cast<std::size_t>(count));
    device.place.bays = count;
    std::move(mine.begin(), mine.end(), std::back_inserter(bays_));
    number_bays(); // those behind it make room
    pick_up(device);
}

void Bays::became_ready(Device& device) {
    device.silent = false;
    const bool first = !std::exchange(device.seen, true);
    if (first) {
        if (device.place.bays != device.tester->bays())
            make_bays(device, device.tester->bays());
        name_it(device);
    }
    for (BayView& bay : bays_)
        if (bay.address == device.place.address) {
            bay.silent = false;
            bay.tester = device.place.name;
        }
    if (bench::StandIn* stand_in = device.tester->stand_in()) {
        stand_in->set_rate(rate_);
        describe_simulated(device);
    }
    if (watchdog_s() > 0)
        tell_watchdog(device);
    emit changed();
}

// Its errors are known, because they are made: its meter's noise.
void Bays::describe_simulated(const Device& device) {
    if (device.tester->stand_in() == nullptr || !workshop_.writable() || workshop_.test().errors_of(device.place.name))
        return;
    Instrument instrument;
    instrument.name = device.place.name;
    instrument.kind = "tester";
    instrument.channels = std::max(1, device.tester->bays());
    constexpr double noise_a = 0.0005;
    constexpr double gain = 0.0005;
    instrument.current_gain = gain;
    instrument.current_offset_a = noise_a;
    if (const auto done = workshop_.catalogue().set_instrument(instrument); !done)
        emit told(wording::problem(done.problem()), true);
}

// Runs that were not lifted when Ingot was last here.
void Bays::pick_up(Device& device) {
    try {
        for (const BayRun& record : workshop_.session_.runs.open())
            if (BayView* bay = record.tester == device.place.address ? at(device, record.bay) : nullptr;
                bay != nullptr && bay->run == 0 && known_on(workshop_, record))
                pick_up(record, *bay);
    } catch (const std::exception& exception) {
        emit told(tr("The runs that were under way could not be read (%1). The tester watches its own limits.")
                      .arg(QString::fromUtf8(exception.what())),
                  true);
    }
}

} // namespace ingot
