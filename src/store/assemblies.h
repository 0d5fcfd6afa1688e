// Assemblies and their placements. A placement is added and ended, never changed.
#pragma once

#include "core/assembly/assembly.h"

#include <map>
#include <optional>
#include <vector>

namespace ingot::store {

class Connection;

class Assemblies {
public:
    explicit Assemblies(Connection& connection) : connection_(connection) {}

    Id add(const Assembly& assembly);
    void set_state(Id assembly, AssemblyState state);
    // What was known of its inside was wrong; nothing of it stands elsewhere.
    void set_layout(Id assembly, const PackLayout& layout);
    void pass_gate(Id assembly, const std::string& now);
    [[nodiscard]] std::vector<Assembly> all();
    [[nodiscard]] std::optional<Assembly> find(Id assembly);

    Id add(const Placement& placement);
    void end(Id placement, const std::string& now, const std::string& why);
    void set_taken(Id placement, const std::string& at);             // empty: put back
    [[nodiscard]] std::map<Id, std::vector<Placement>> placements(); // by assembly; ended ones included, oldest first
    [[nodiscard]] std::vector<Placement> placements_of(Id assembly);
    [[nodiscard]] std::vector<Placement> placements_of_unit(Id unit);

private:
    Connection& connection_;
};

} // namespace ingot::store
