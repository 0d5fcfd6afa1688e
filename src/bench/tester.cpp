#include "bench/tester.h"

#include "bench/line_tester.h"

#include <map>

namespace ingot::bench {

namespace {

constexpr const char* usual_dialect = "scpi";

std::map<std::string, MakeTester>& added() {
    static std::map<std::string, MakeTester> dialects;
    return dialects;
}

} // namespace

void Tester::enter(DeviceState state, const std::string& why) {
    if (state_ == state && why_ == why)
        return;
    state_ = state;
    why_ = why;
    emit state_changed();
}

void Tester::greeted(const TesterIdentity& identity, int bays, const BayAbilities& abilities) {
    identity_ = identity;
    bays_ = bays;
    abilities_ = abilities;
    ready_ = true;
    enter(DeviceState::ready);
    emit became_ready();
}

void add_dialect(const std::string& name, const MakeTester& make) {
    added()[name] = make;
}

std::vector<std::string> dialects() {
    std::vector<std::string> out{usual_dialect};
    for (const auto& [name, make] : added())
        out.push_back(name);
    return out;
}

std::unique_ptr<Tester> make_tester(const std::string& dialect) {
    if (dialect.empty() || dialect == usual_dialect)
        return std::make_unique<LineTester>();
    const auto found = added().find(dialect);
    return found == added().end() ? nullptr : found->second();
}

} // namespace ingot::bench
