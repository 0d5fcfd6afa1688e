#include "exchange/text_file.h"

#include <cerrno>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <iostream>
#include <iterator>

namespace ingot::exchange {

Result<std::string> read_text(const std::string& path) {
    if (path == "-")
        return std::string(std::istreambuf_iterator<char>(std::cin), {});
    std::error_code error;
    const auto status = std::filesystem::status(path, error);
    if (!std::filesystem::exists(status))
        return Problem{path, 0, "there is no such file. Check the name."};
    if (std::filesystem::is_directory(status))
        return Problem{path, 0, "this is a folder; a file is needed."};
    std::ifstream file(path, std::ios::binary);
    if (!file)
        return Problem{path, 0, std::string("cannot be read: ") + std::strerror(errno) + "."};
    std::string text;
    if (std::filesystem::is_regular_file(status)) {
        text.resize(static_cast<std::size_t>(std::filesystem::file_size(path, error)));
        file.read(text.data(), static_cast<std::streamsize>(text.size()));
        text.resize(static_cast<std::size_t>(file.gcount()));
    } else {
        text.assign(std::istreambuf_iterator<char>(file), {});
    }
    return text;
}

Result<std::string> write_text(const std::string& path, const std::string& text) {
    const std::string part = path + ".part";
    {
        std::ofstream file(part, std::ios::binary | std::ios::trunc);
        file << text;
        file.flush();
        if (!file) {
            std::remove(part.c_str());
            return Problem{path, 0,
                           std::string("cannot be written: ") + std::strerror(errno) + ". Choose another place."};
        }
    }
    std::error_code error;
    std::filesystem::rename(part, path, error);
    if (error) {
        std::remove(part.c_str());
        return Problem{path, 0, "cannot be written: " + error.message() + ". Choose another place."};
    }
    return path;
}

} // namespace ingot::exchange
