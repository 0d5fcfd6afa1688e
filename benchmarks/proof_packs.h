// Built packs with one hidden fault or none, as a bench reads them in a proof. Physics, errors and fault mix share
// nothing with core/prove: curves of their own, sag that goes on with time, boards that bleed at the top, meters with
// gain, instruments that say less resistance than flows.
#pragma once

#include "core/cells/chemistry.h"
#include "core/cells/random.h"
#include "core/prove/proof.h"

namespace ingot {

enum class ProofShop {
    mowers,   // 5S to 10S, 2 to 5 in parallel, a meter of 1 mV
    lanterns, // 3S to 6S, 1 to 3 in parallel, small cells, a meter that is off by up to 0.4 %
    rows,     // 14 to 28 nickel modules of six cells, read to 10 mV
    banks,    // 8S to 14S, 4 to 8 in parallel, some iron phosphate: held out while the judge was worked on
};
inline constexpr int proof_shop_count = 4;

enum class BuiltFault {
    none,
    cold_joint,    // one unit, 20 to 300 milliohm
    blown_link,    // one unit carries nothing
    reversed_cell, // in a module
    weak_unit,     // its group lacks 8 to 20 % of its charge
    wrong_model,   // a unit of another capacity and resistance: its group differs by 8 % and more
    bad_lead,      // two sense leads changed over
    loose_sensor,
    resistive_strip, // a link between groups sags 30 mV a cell and more
    leaking_unit,    // its group loses 15 mV a cell and more in the days of rest
};
inline constexpr int built_fault_count = 10;
[[nodiscard]] const char* code(BuiltFault fault);
[[nodiscard]] const char* code(ProofShop shop);

struct BuiltPack {
    ProvenPack pack;
    BuiltFault fault{};
    int group = 0; // from 1; 0: of the whole pack
    int place = 0;
};

// Half of the packs are sound. `chemistry`: the shipped one that the pack is taken for.
[[nodiscard]] BuiltPack make_built_pack(ProofShop shop, const Chemistry& chemistry, Random& random);
// nmc, lfp or nimh, as the next pack of that shop will be; draws once.
[[nodiscard]] const char* chemistry_of(ProofShop shop, Random& random);

} // namespace ingot
