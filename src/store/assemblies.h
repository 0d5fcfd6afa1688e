// Assemblies and their placements. A placement is added and ended, never changed.
#pragma once

#include "core/assembly/assembly.h"
#include "core/build/build_steps.h"
#include "core/build/design.h"

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
    // A build got its units: chemistry, layout, how and under which rules they were matched.
    void set_matched(const Assembly& assembly);
    void pass_gate(Id assembly, const std::string& now);
    [[nodiscard]] std::vector<Assembly> all();
    [[nodiscard]] std::optional<Assembly> find(Id assembly);

    Id add(const Placement& placement);
    void end(Id placement, const std::string& now, const std::string& why);
    void set_taken(Id placement, const std::string& at);             // empty: put back
    [[nodiscard]] std::map<Id, std::vector<Placement>> placements(); // by assembly; ended ones included, oldest first
    [[nodiscard]] std::vector<Placement> placements_of(Id assembly);
    [[nodiscard]] std::vector<Placement> placements_of_unit(Id unit);

    // What a build is designed with; an empty value takes a figure back.
    void set_figure(Id assembly, DesignFigure figure, const std::string& value, const std::string& now);
    [[nodiscard]] std::map<Id, BuildDesign> designs();
    [[nodiscard]] BuildDesign design_of(Id assembly);
    void tick(Id assembly, BuildTask task, int item, bool done, const std::string& now);
    [[nodiscard]] std::map<Id, BuildTicks> ticks();
    [[nodiscard]] BuildTicks ticks_of(Id assembly);

private:
    Connection& connection_;
};

} // namespace ingot::store
