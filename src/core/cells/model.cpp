#include "core/cells/model.h"

#include <algorithm>

namespace ingot {

const FormatCapacity* CellFormat::capacity_for(const std::string& chemistry_id) const {
    for (const auto& entry : capacities)
        if (std::find(entry.chemistries.begin(), entry.chemistries.end(), chemistry_id) != entry.chemistries.end())
            return &entry;
    return nullptr;
}

} // namespace ingot
