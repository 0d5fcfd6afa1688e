// What an upgrade of Ingot brings for a library that a workshop has of its own: entries that it has not, or has in an
// older version. Nothing of it is taken unasked.
#pragma once

#include "exchange/library_toml.h"

#include <string>
#include <vector>

namespace ingot::exchange {

struct LibraryOffer {
    std::string kind; // as LibraryText has it
    std::string id, name;
    int version = 1;
    int there = 0;    // the version that the workshop has; 0: none
    std::string text; // that entry alone
    // What it cannot be without: the curve of a chemistry.
    std::vector<LibraryText> with = {};
};

// Entries that stand by themselves: chemistries, formats, rule sets, look findings, cautions, symptoms, teardown plans
// and protocols, in that order. Texts that cannot be read are passed over. What a shop changed itself has a version of
// its own, and is offered again only under a higher one.
[[nodiscard]] std::vector<LibraryOffer> library_offers(const std::vector<LibraryText>& shipped,
                                                       const std::vector<LibraryText>& own);

} // namespace ingot::exchange
