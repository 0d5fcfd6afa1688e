// What every service of the workshop stands on: the session, in which it takes its steps, and the inventory, from which
// it knows what is there.
#pragma once

#include "workshop/inventory.h"
#include "workshop/session.h"

namespace ingot {

class Service {
public:
    Service(Session& session, Inventory& inventory) : session_(session), inventory_(inventory) {}
    Service(const Service&) = delete;
    Service& operator=(const Service&) = delete;

protected:
    // One step of the bench that a rule forbids.
    [[nodiscard]] static Problem no_such_pack() { return {"", 0, said("There is no such pack.")}; }
    [[nodiscard]] static Problem no_such_unit() { return {"", 0, said("There is no such unit.")}; }

    Session& session_;
    Inventory& inventory_;
};

} // namespace ingot
