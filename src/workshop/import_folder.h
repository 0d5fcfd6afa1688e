// How far a folder of open files (Workshop::import_folder) has come in.
#pragma once

#include <functional>
#include <string>

namespace ingot {

struct ImportProgress {
    std::string file;     // its name in the folder
    std::size_t row = 0;  // that comes next, from 1
    std::size_t rows = 0; // of this file; of logs: how many there are
};
// Before every row. False stops: nothing of the folder was brought in.
using ImportWatch = std::function<bool(const ImportProgress& progress)>;

} // namespace ingot
