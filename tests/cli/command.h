// Starts ingot-cli as a stranger would and keeps what it said.
#pragma once

#include "temporary.h"

#include <nlohmann/json.hpp>

#include <cstdlib>
#include <string>
#include <sys/wait.h>

namespace ingot::tests {

struct Ran {
    int exit = 0;
    std::string out, err;
    [[nodiscard]] nlohmann::json json() const { return nlohmann::json::parse(out); }
};

inline Ran run(const std::string& arguments, const std::string& input = {}) {
    static const Temporary folder;
    const std::string in = folder.write("in", input);
    const std::string command = std::string(INGOT_BINARY_DIR) + "/ingot-cli " + arguments + " <" + in + " >" +
                                folder.file("out") + " 2>" + folder.file("err");
    const int status = std::system(command.c_str());
    return {WEXITSTATUS(status), Temporary::read(folder.file("out")), Temporary::read(folder.file("err"))};
}

} // namespace ingot::tests
