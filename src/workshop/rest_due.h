// Which shelves are to be read when: trays (and packs with cut links) by the day on which their readings should decide.
#pragma once

#include "workshop/workshop.h"

#include <QDateTime>
#include <QString>

#include <array>
#include <functional>
#include <string>
#include <vector>

namespace ingot {

enum class DueColumn { overdue, today, next_day, day_after, later };
inline constexpr int due_column_count = 5;

struct DueTray {
    std::string home; // a tray, or a pack's label; empty: without a tray
    DueColumn column{};
    std::vector<Id> rows; // of RestingLine, in the order of the shelf
};
struct DueBoard {
    std::array<std::string, 2> days; // "2026-11-30", local: what next_day and day_after are; empty: nothing due then
    std::vector<DueTray> trays;      // column after column, the most units first
};

// Gathers and judges on the calling thread, over a connection of its own that only reads. Throws std::runtime_error
// with the reason where the file cannot be opened. Nothing when it is no longer wanted.
[[nodiscard]] RestShelf judge_beside(const std::string& path, const Wanted& wanted = {});
// The judgement of the shelf as it stands, to be run on any thread: of many units it is gathered there as well.
[[nodiscard]] std::function<RestShelf(const Wanted&)> shelf_judgement(Workshop& workshop);

// One shelf on one day.
struct DueVisit {
    QDateTime at; // when the first of its readings is expected to decide; local. It may have passed.
    QString home; // a tray, or a pack's label; empty: without a tray
    int units = 0;
};
// By day, then by home.
[[nodiscard]] std::vector<DueVisit> due_visits(const Workshop& workshop, const RestShelf& shelf);

// Days are the bench's own, not UTC's. The next days are those on which something is due, not tomorrow for its own
// sake.
[[nodiscard]] DueBoard due_board(const Workshop& workshop, const RestShelf& shelf);

} // namespace ingot
