// What a workshop is set up with: its name and settings, the texts of its library, its lots and trays.
#pragma once

#include "core/shop/shop_records.h"

#include <string>
#include <vector>

namespace ingot::store {

class Connection;

class Catalogue {
public:
    explicit Catalogue(Connection& connection) : connection_(connection) {}

    void set(const std::string& key, const std::string& value);
    [[nodiscard]] std::string value(const std::string& key); // "" where it was never set

    void add(const LibraryRow& row);
    [[nodiscard]] std::vector<LibraryRow> library(); // the newest version of each text

    Id add(const Lot& lot);
    [[nodiscard]] std::vector<Lot> lots();
    void set(const Tray& tray);
    [[nodiscard]] std::vector<Tray> trays();

private:
    Connection& connection_;
};

} // namespace ingot::store
