// Builds before they have units: begun, given their form, served in an order.
#include "workshop/build.h"

#include <algorithm>
#include <fmt/format.h>

namespace ingot {

Result<Id> BuildService::begin(const WantedBuild& wanted, const std::string& label) {
    for (const Assembly& other : inventory_.builds())
        if (!label.empty() && other.label == label)
            return Problem{"", 0, said("build {} exists already.", label)};
    Assembly build;
    build.label = label.empty() ? inventory_.next_build_label() : label;
    build.state = AssemblyState::planned;
    build.layout = {wanted.series, wanted.parallel, 1};
    build.created_at = session_.now();
    BuildDesign tried;
    std::vector<std::pair<DesignFigure, std::string>> figures;
    if (!wanted.purpose.empty())
        figures.emplace_back(DesignFigure::purpose, wanted.purpose);
    if (wanted.usable_ah)
        figures.emplace_back(DesignFigure::wanted_ah, fmt::format("{}", *wanted.usable_ah));
    if (wanted.least_duty)
        figures.emplace_back(DesignFigure::least_duty, code(*wanted.least_duty));
    for (const auto& [figure, value] : figures)
        if (const auto fits = tried.set(figure, value); !fits)
            return fits.problem();
    ChangeSet changes;
    return session_.commit(
        [&] {
            const Id id = session_.assemblies.add(build);
            for (const auto& [figure, value] : figures)
                session_.assemblies.set_figure(id, figure, value, build.created_at);
            session_.record_event("build begun", build.label, wanted.purpose);
            changes.assemblies.insert(id);
            return id;
        },
        changes);
}

Result<bool> BuildService::set_form(Id id, const std::string& chemistry, const PackLayout& layout,
                                    const std::string& model) {
    const Assembly* record = inventory_.build(id);
    if (record == nullptr || !inventory_.wants_units(*record))
        return Problem{"", 0, said("Units are reserved for this build: its form stands. Give it up to begin anew.")};
    if (!chemistry.empty() && inventory_.library().chemistry(chemistry) == nullptr)
        return Problem{"", 0, said("The library knows no chemistry \"{}\".", chemistry)};
    if (layout.series < 1 || layout.series > 200 || layout.parallel < 1 || layout.parallel > 500 ||
        layout.cells_per_unit < 1)
        return Problem{"", 0, said("1 to 200 groups in series, 1 to 500 units in parallel.")};
    if (design(id).refills() && (chemistry != record->chemistry || layout != record->layout))
        return Problem{"", 0,
                       said("{} goes into {}: that pack decides its chemistry and groups.", record->label,
                            design(id).word(DesignFigure::refill_pack))};
    Assembly build = *record;
    build.chemistry = chemistry;
    build.layout = layout;
    return session_.step(
        [&] {
            session_.assemblies.set_matched(build);
            session_.assemblies.set_figure(id, DesignFigure::wanted_model, model, session_.now());
            session_.record_event("build given its form", build.label,
                                  fmt::format("{}S{}P", layout.series, layout.parallel));
        },
        ChangeSet::assembly(id));
}

Result<bool> BuildService::serve(Id id, int places) {
    std::vector<const Assembly*> order = inventory_.wanting();
    const auto at = std::find_if(order.begin(), order.end(), [&](const Assembly* b) { return b->id == id; });
    if (at == order.end())
        return Problem{"", 0, said("This build wants no units any more.")};
    const auto from = static_cast<int>(at - order.begin());
    const int to = std::clamp(from + places, 0, static_cast<int>(order.size()) - 1);
    if (to == from)
        return Problem{"", 0, places < 0 ? said("It is served first already.") : said("It is served last already.")};
    const Assembly* moved = *at;
    order.erase(at);
    order.insert(order.begin() + to, moved);
    ChangeSet changes;
    std::vector<std::pair<Id, std::string>> figures;
    for (std::size_t i = 0; i < order.size(); ++i)
        if (const std::string number = std::to_string(i + 1);
            design(order[i]->id).word(DesignFigure::priority) != number) {
            figures.emplace_back(order[i]->id, number);
            changes.assemblies.insert(order[i]->id);
        }
    return session_.step(
        [&] {
            for (const auto& [build, number] : figures)
                session_.assemblies.set_figure(build, DesignFigure::priority, number, session_.now());
        },
        changes);
}

} // namespace ingot
