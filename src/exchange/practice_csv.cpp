#include "exchange/practice_csv.h"

#include "exchange/columns.h"

namespace ingot::exchange {

namespace {

struct PracticeColumns {
    Column learner{"Learner", Dimension::text, {"learner"}, true, {}, 1, {}};
    Column answered{"Answered", Dimension::text, {"answered"}, true, {}, 1, {}};
    Column kind{"Case", Dimension::text, {"case"}, true, {}, 1, {}};
    Column deal{"Deal", Dimension::text, {"deal"}, true, {}, 1, {}};
    Column right{"Right", Dimension::number, {"right"}, true, {}, 1, {}};
    Column minutes{"Minutes", Dimension::number, {"minutes"}, true, {}, 1, {}};
    Column safety{"Safety", Dimension::number, {"safety"}, true, {}, 1, {}};
    std::vector<Column*> all() { return {&learner, &answered, &kind, &deal, &right, &minutes, &safety}; }
};

} // namespace

Result<std::vector<PracticeResult>> read_practice(std::string_view text, const std::string& file) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        return opened.problem();
    PracticeColumns columns;
    if (const auto found = find_columns(opened.value(), columns.all()); !found)
        return found.problem();
    std::vector<PracticeResult> out;
    Rows rows(opened.value());
    while (rows.next()) {
        PracticeResult result;
        result.learner = rows.text(columns.learner);
        result.answered_at = rows.text(columns.answered);
        result.kind = rows.text(columns.kind);
        result.deal = rows.text(columns.deal);
        result.score.right = rows.number(columns.right).value_or(0);
        result.score.minutes = rows.number(columns.minutes).value_or(0);
        result.score.safety = rows.number(columns.safety).value_or(0);
        if (rows.problem())
            return *rows.problem();
        out.push_back(std::move(result));
    }
    if (rows.problem())
        return *rows.problem();
    return out;
}

std::string write_practice(const std::vector<PracticeResult>& results) {
    std::string out = csv_line({"Learner", "Answered", "Case", "Deal", "Right", "Minutes", "Safety", "Score"});
    for (const PracticeResult& r : results)
        out += csv_line({r.learner, r.answered_at, r.kind, r.deal, csv_number(r.score.right),
                         csv_number(r.score.minutes), csv_number(r.score.safety), csv_number(r.score.total())});
    return out;
}

} // namespace ingot::exchange
