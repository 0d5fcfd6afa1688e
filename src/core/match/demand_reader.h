// Reads the demands of one problem off its units, quickly and again and again. Not a public header.
#pragma once

#include "core/match/ways.h"

#include <array>
#include <vector>

namespace ingot::matching {

class DemandReader {
public:
    explicit DemandReader(const MatchProblem& problem);

    [[nodiscard]] const FilledPool& filled() const { return filled_; }
    [[nodiscard]] int origin(std::size_t unit) const { return origin_[unit]; } // -1: of none that is asked for
    [[nodiscard]] std::size_t origins() const { return sizes_.size(); }
    [[nodiscard]] int model(std::size_t unit) const { return model_[unit]; }
    // Units missing from an origin of which so many are used, or too many of it.
    [[nodiscard]] int broken(int origin, int used) const;
    // By demand, of one group; and all together.
    [[nodiscard]] std::array<int, demand_count> broken(const std::vector<std::size_t>& group) const;
    [[nodiscard]] int total(const std::vector<std::size_t>& group) const;

private:
    [[nodiscard]] int odd_models(const std::vector<std::size_t>& group) const;
    [[nodiscard]] int meetings(const std::vector<std::size_t>& group) const;
    // So many units would have to leave for the rest to lie within the window.
    [[nodiscard]] int outside_window(const std::vector<std::size_t>& group, double window_v) const;
    [[nodiscard]] int overloaded(const std::vector<std::size_t>& group, double load_a) const;

    const MatchProblem& problem_;
    FilledPool filled_;
    std::vector<std::vector<std::size_t>> enemies_;
    std::vector<int> origin_, sizes_, model_;
    std::size_t models_ = 0;
};

} // namespace ingot::matching
