// The shop's book: what each lot gave, which packs went out, what was kept from waste and what went to recycling. Read
// from what stands in the workshop; nothing is estimated: a unit without a capacity adds no energy.
#pragma once

#include "workshop/workshop.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace ingot {

struct BookLot {
    std::string label, source, received;
    std::optional<double> cost; // as entered, in the shop's money
    int packs = 0;
    int units = 0;
    int drive = 0, store = 0, light = 0; // fit for it: in stock, reserved or built in
    int waiting = 0;                     // no verdict yet
    int lost = 0;                        // scrap, quarantined, or gone to recycling
    double kept_wh = 0;                  // of the fit ones whose capacity is measured
    [[nodiscard]] int fit() const { return drive + store + light; }
    // Of those that have a verdict; nothing as long as none has.
    [[nodiscard]] std::optional<double> yield() const;
    [[nodiscard]] std::optional<double> cost_per_wh() const;
};
struct BookPack {
    Id build = 0;
    std::string label, purpose;
    AssemblyState state{};
    int units = 0;
    std::optional<double> usable_ah; // its weakest group; nothing where a unit is not measured
    double wh = 0;                   // at nominal voltage; 0: not known
};
struct BookRecycled {
    std::string chemistry; // id
    int units = 0;
    int weighed = 0;
    double mass_kg = 0; // of those whose model's mass is known
};
// What jobs took against what Worth had said of them, by route.
struct BookJobs {
    WorthRoute route{};
    int jobs = 0;
    double hours = 0, estimated = 0;
    std::optional<double> money, estimated_money; // at the shop's price of an hour; nothing: it has none
    std::optional<double> factor;                 // that Worth takes from them by now; nothing: too few
};
struct ShopBook {
    std::vector<BookLot> lots;          // that gave units first, newest first; units of no lot last, without a label
    std::vector<BookPack> packs;        // joined or further, newest first
    std::vector<BookRecycled> recycled; // most first
    std::vector<BookJobs> jobs;         // of what hours were noted, most first
    double out_wh = 0;                  // in packs that were joined
    double stock_wh = 0;                // fit and in stock
};

// By route, most jobs first. `price_of_hour` 0: the shop has none.
[[nodiscard]] std::vector<BookJobs> book_jobs(const std::vector<JobDone>& done, double price_of_hour);
[[nodiscard]] ShopBook shop_book(const Workshop& workshop);
// What a fit unit of each model cost this shop: its lot's cost over that lot's fit units, in the mean over those in
// stock. Models whose lots have no cost are missing. In the shop's money.
[[nodiscard]] std::map<std::string, double> unit_costs(const Workshop& workshop);
// Lots, then packs, then recycling, then jobs, each with its heads.
[[nodiscard]] std::string book_csv(const ShopBook& book);

} // namespace ingot
