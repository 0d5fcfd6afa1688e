// What a step changed, by identity: what is read again after it, and what views look at again.
#pragma once

#include "core/cells/id.h"

#include <set>

namespace ingot {

struct ChangeSet {
    bool everything = false;
    bool library = false;  // protocols, plans, models: every verdict may change
    bool rules = false;    // limits moved
    bool settings = false; // hours, prices, addresses
    bool queue = false;    // what waits for a bay
    bool lots = false, trays = false;
    bool remarks = false; // findings, quarantines, notes, overrules, drawings, photos
    std::set<Id> units, assemblies;

    [[nodiscard]] bool nothing() const {
        return !everything && !library && !rules && !settings && !queue && !lots && !trays && !remarks &&
               units.empty() && assemblies.empty();
    }
    void add(const ChangeSet& other) {
        everything |= other.everything;
        library |= other.library;
        rules |= other.rules;
        settings |= other.settings;
        queue |= other.queue;
        lots |= other.lots;
        trays |= other.trays;
        remarks |= other.remarks;
        units.insert(other.units.begin(), other.units.end());
        assemblies.insert(other.assemblies.begin(), other.assemblies.end());
    }
    [[nodiscard]] static ChangeSet remark(Id assembly, Id unit) {
        ChangeSet out;
        out.remarks = true;
        if (assembly != 0)
            out.assemblies.insert(assembly);
        if (unit != 0)
            out.units.insert(unit);
        return out;
    }
    [[nodiscard]] static ChangeSet unit(Id id) {
        ChangeSet out;
        if (id != 0)
            out.units.insert(id);
        return out;
    }
    [[nodiscard]] static ChangeSet assembly(Id id) {
        ChangeSet out;
        if (id != 0)
            out.assemblies.insert(id);
        return out;
    }
};

} // namespace ingot
