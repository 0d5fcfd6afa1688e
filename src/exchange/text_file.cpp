#include "exchange/text_file.h"

#include <cerrno>
#include <cstdio>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <fstream>
#include <iostream>
#include <iterator>
#include <unistd.h>

namespace ingot::exchange {

Result<std::string> read_text(const std::string& path) {
    if (path == "-")
        return std::string(std::istreambuf_iterator<char>(std::cin), {});
    std::error_code error;
    const auto status = std::filesystem::status(path, error);
    if (!std::filesystem::exists(status))
        return Problem{path, 0, said("there is no such file. Check the name.")};
    if (std::filesystem::is_directory(status))
        return Problem{path, 0, said("this is a folder; a file is needed.")};
    std::ifstream file(path, std::ios::binary);
    if (!file)
        return Problem{path, 0, said("cannot be read: {}.", std::strerror(errno))};
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

// The bytes are on the disk before the old file gives way, and the folder knows the new one.
Result<std::string> write_text(const std::string& path, const std::string& text) {
    const std::string part = path + ".part";
    const auto failed = [&](const std::string& why) {
        std::remove(part.c_str());
        return Problem{path, 0, said("cannot be written: {}. Choose another place.", why)};
    };
    std::FILE* file = std::fopen(part.c_str(), "wb");
    if (file == nullptr)
        return failed(std::strerror(errno));
    const bool written = std::fwrite(text.data(), 1, text.size(), file) == text.size() && std::fflush(file) == 0 &&
                         ::fsync(::fileno(file)) == 0;
    const int error_of_write = errno;
    if (std::fclose(file) != 0 || !written)
        return failed(std::strerror(written ? errno : error_of_write));
    std::error_code error;
    std::filesystem::rename(part, path, error);
    if (error)
        return failed(error.message());
    const auto folder = std::filesystem::absolute(path, error).parent_path();
    if (const int handle = ::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC); handle >= 0) {
        (void)::fsync(handle); // some file systems have no such thing
        ::close(handle);
    }
    return path;
}

} // namespace ingot::exchange
