// Nickel modules and cells of four more shops, with known truth, that climb, stand still and fall otherwise than those
// of conditioning_modules.h: other forms, other noise, stand-stills of 2 to 8 cycles, other ratings. The constants of
// the engine were looked at beside the first of them only; the other three were run when nothing was changed any more.
#pragma once

#include "conditioning_modules.h"

namespace simulated {

enum class ModuleShop { rows, loose_cells, old_stock, mixed };
inline constexpr int module_shops = 4;
const char* name(ModuleShop shop);

Module make_module(ModuleShop shop, std::uint64_t seed);

} // namespace simulated
