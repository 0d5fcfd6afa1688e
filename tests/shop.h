// A workshop of the tests' own that knows the demo's unit models.
#pragma once

#include "exchange/text_file.h"
#include "workshop/workshop.h"

#include <memory>
#include <string>

namespace ingot::tests {

inline std::unique_ptr<Workshop> new_shop(const std::string& path, const std::string& name) {
    auto shop = Workshop::create(path, name).value();
    const std::string models = Workshop::shipped_folder("demo") + "/models.toml";
    (void)shop->catalogue().bring_in_models(exchange::read_text(models).value(), models).value();
    return shop;
}

} // namespace ingot::tests
