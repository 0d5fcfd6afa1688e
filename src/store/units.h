// Units: their codes, models and homes. Where a unit is follows from its placements.
#pragma once

#include "core/cells/unit.h"

#include <optional>
#include <vector>

namespace ingot::store {

class Connection;

class Units {
public:
    explicit Units(Connection& connection) : connection_(connection) {}

    Id add(const Unit& unit, const std::string& now);
    void set_model(Id unit, const std::string& model);
    void set_home(Id unit, const std::string& tray, int well);
    void set_recycled(Id unit, const std::string& at); // empty: taken back
    [[nodiscard]] std::vector<Unit> all();
    [[nodiscard]] std::optional<Unit> find(Id unit);
    [[nodiscard]] int largest_number(const std::string& roll);

private:
    Connection& connection_;
};

} // namespace ingot::store
