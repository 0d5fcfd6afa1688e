// ingot-cli donors: which groups move where so that most packs live.
#include "cli/verbs.h"

#include "core/donors/donors.h"
#include "exchange/donors_csv.h"
#include "exchange/library_toml.h"
#include "exchange/text_file.h"
#include "workshop/workshop.h"

#include <chrono>
#include <fmt/format.h>

namespace ingot::cli {

Result<Output> donors(const DonorsArguments& arguments) {
    const auto data = exchange::read_library(Workshop::shipped_folder("data"));
    if (!data)
        return data.problem();
    const std::string name = arguments.packs == "-" ? "standard input" : arguments.packs;
    const auto text = exchange::read_text(arguments.packs);
    if (!text)
        return text.problem();
    const auto read = exchange::read_donor_groups(text.value(), name);
    if (!read)
        return read.problem();
    const auto& groups = read.value();
    DonorRules rules;
    rules.cells_per_unit = arguments.cells_per_unit;
    rules.voltage_window_v = arguments.voltage_window_v;
    if (arguments.capacity_tolerance_percent)
        rules.capacity_tolerance = *arguments.capacity_tolerance_percent / 100;
    rules.one_model = arguments.one_model;
    const auto start = std::chrono::steady_clock::now();
    const DonorObserver observer = [&] {
        return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count() < arguments.time_limit_s;
    };
    const auto planned = plan_donors(groups, *data.value().chemistry(arguments.chemistry), rules, observer);
    if (!planned)
        return Problem{name, 0, planned.problem().sentence};
    const DonorPlan& plan = planned.value();

    Output out;
    out.json["packs_rebuilt"] = plan.packs_rebuilt();
    out.json["bound"] = plan.bound;
    out.json["proved"] = plan.proved;
    out.text +=
        fmt::format("{} packs rebuilt (no plan makes more than {}), {} groups moved; {}\n", plan.packs_rebuilt(),
                    plan.bound, plan.moved, plan.proved ? "proved the best" : "the best found, a better one may exist");
    out.json["packs"] = Json::array();
    for (const RebuiltPack& pack : plan.packs) {
        Json places = Json::array();
        std::string moves;
        for (const PlacedGroup& p : pack.groups) {
            const DonorGroup& from = groups[p.from];
            places.push_back({{"position", p.position}, {"from_pack", from.pack}, {"from_group", from.group}});
            if (from.pack != pack.pack)
                moves += fmt::format("  place {}: group {} of {}\n", p.position, from.group, from.pack);
        }
        out.json["packs"].push_back({{"pack", pack.pack}, {"groups", places}});
        out.text += fmt::format("{}{}\n{}", pack.pack, moves.empty() ? ": as it is" : "", moves);
    }
    out.json["moved"] = plan.moved;
    out.json["leftover"] = Json::array();
    for (const std::size_t i : plan.leftover)
        out.json["leftover"].push_back({{"pack", groups[i].pack}, {"group", groups[i].group}});
    out.json["not_good"] = Json::array();
    for (std::size_t i = 0; i < groups.size(); ++i)
        if (!plan.good[i])
            out.json["not_good"].push_back({{"pack", groups[i].pack}, {"group", groups[i].group}});
    out.text += fmt::format("{} good groups are left over\n", plan.leftover.size());
    return out;
}

} // namespace ingot::cli
