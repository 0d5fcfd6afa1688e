// Inside the donor plan: the good groups, the windows they must share, and which of them may stand in one pack.
#pragma once

#include <boost/dynamic_bitset.hpp>

#include <algorithm>
#include <limits>
#include <string>
#include <vector>

namespace ingot::donors_detail {

using Set = boost::dynamic_bitset<>; // of good groups

// Good groups, renumbered 0..n-1.
struct Good {
    std::vector<std::size_t> original;
    std::vector<int> pack;                   // index of the pack
    std::vector<double> volts, log_capacity; // log capacity: NaN where not known
    std::vector<int> model;                  // numbered
    [[nodiscard]] int size() const { return static_cast<int>(original.size()); }
};

struct Packs {
    std::vector<std::string> names;
    std::vector<std::vector<std::size_t>> groups; // indices of the input, by place
    std::vector<int> good;                        // how many of them
    std::vector<char> host, first; // whether it may be rebuilt; whether it is to be, where there is a choice
    [[nodiscard]] int hosts() const { return static_cast<int>(std::count(host.begin(), host.end(), 1)); }
};

struct Windows {
    double volts = std::numeric_limits<double>::infinity();
    double log_capacity = std::numeric_limits<double>::infinity();
    bool one_model = false;
};

// Whether a value lies in the window that begins at `from`. What is not known (NaN) fits.
[[nodiscard]] bool inside(double value, double from, double width);

// Sets of groups that may all stand together and cannot be extended, at least `least` strong. In a large shop not all
// of them: `complete` says whether it was.
[[nodiscard]] std::vector<Set> maximal_sets(const Good& good, const Windows& windows, int least, bool& complete);

} // namespace ingot::donors_detail
