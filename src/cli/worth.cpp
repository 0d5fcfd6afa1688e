// ingot-cli worth: the routes for one pack, side by side.
#include "cli/verbs.h"

#include "core/worth/worth.h"
#include "exchange/text_file.h"
#include "exchange/worth_json.h"
#include "workshop/triage_wording.h"
#include "workshop/workshop.h"

#include <fmt/format.h>

namespace ingot::cli {

Result<Output> worth(const WorthArguments& arguments) {
    const std::string name = arguments.file == "-" ? "standard input" : arguments.file;
    const auto text = exchange::read_text(arguments.file);
    if (!text)
        return text.problem();
    const auto library = exchange::read_library(Workshop::shipped_folder("data"));
    if (!library)
        return library.problem();
    const auto read = exchange::read_worth_case(text.value(), name, library.value().usual_worth);
    if (!read)
        return read.problem();
    const auto weighed = weigh_routes(read.value());
    if (!weighed)
        return Problem{name, 0, weighed.problem().sentence};
    const WorthResult& result = weighed.value();
    Output out;
    out.json["aim"] = code(read.value().aim);
    out.json["winner"] = result.winner ? Json(code(*result.winner)) : Json(nullptr);
    out.json["break_even_unit_price"] = result.break_even_unit ? Json(*result.break_even_unit) : Json(nullptr);
    out.json["cost_of_a_unit_taken_out"] = result.unit_cost ? Json(*result.unit_cost) : Json(nullptr);
    out.json["routes"] = Json::array();
    out.text += fmt::format("{:<26} {:>9} {:>7} {:>9} {:>9} {:>8} {:>6} {:>6} {:>9} {:>5}\n", "route", "parts", "hours",
                            "cost", "Wh", "per Wh", "years", "works", "left over", "mark");
    for (const RouteFigures& f : result.routes) {
        Json entry = {{"route", code(f.route)}, {"possible", f.possible}};
        if (!f.possible) {
            entry["obstacle"] = f.obstacle;
            out.json["routes"].push_back(std::move(entry));
            out.text += fmt::format("{:<26} {}\n", code(f.route), wording::obstacle(f.obstacle).toStdString());
            continue;
        }
        entry.update({{"parts", f.parts},
                      {"hours", f.hours},
                      {"labour", f.labour},
                      {"charger", f.charger},
                      {"board", f.board},
                      {"left_over", f.left_over},
                      {"cost", f.cost},
                      {"energy_wh", f.wh},
                      {"cost_per_wh", f.cost_per_wh},
                      {"days_waited", f.days},
                      {"years", f.years},
                      {"chance", f.chance},
                      {"warranty_years", f.warranty_years},
                      {"cost_per_wh_year", f.cost_per_wh_year},
                      {"mark", f.mark}});
        out.json["routes"].push_back(std::move(entry));
        out.text +=
            fmt::format("{:<26} {:>9.2f} {:>7.2f} {:>9.2f} {:>9.1f} {:>8.3f} {:>6.1f} {:>4.0f} % {:>9.2f} {:>5.2f}{}\n",
                        code(f.route), f.parts, f.hours, f.cost, f.wh, f.cost_per_wh, f.years, f.chance * 100,
                        f.left_over, f.mark, result.winner == f.route ? "  <" : "");
    }
    if (result.break_even_unit)
        out.text += fmt::format("A bought unit may cost {:.2f}.\n", *result.break_even_unit);
    out.json["turning_points"] = Json::array();
    for (const TurningPoint& t : result.turning_points) {
        out.json["turning_points"].push_back({{"route", code(t.route)},
                                              {"figure", code(t.figure)},
                                              {"wins_now", t.wins},
                                              {"must_be", t.more ? "more" : "less"},
                                              {"than", t.value},
                                              {"now", t.now}});
        out.text += wording::turning_point(t).toStdString() + "\n";
    }
    return out;
}

} // namespace ingot::cli
