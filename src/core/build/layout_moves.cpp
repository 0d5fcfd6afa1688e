#include "core/build/layout_moves.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <sstream>

namespace ingot {

namespace {

using Face = StripDrawing::Face;
using Kind = LayoutMove::Kind;

constexpr double mm = 1e-3;
constexpr double um = 1e-6; // what is less is no move

struct MoveWord {
    const char* word;
    Kind kind;
    std::size_t words; // that follow
};
constexpr std::array<MoveWord, 5> move_words{{{"cell", Kind::cell, 3},
                                              {"lead", Kind::lead, 2},
                                              {"sense", Kind::sense, 2},
                                              {"link", Kind::link, 2},
                                              {"cut", Kind::cut, 2}}};

std::optional<double> number_of(const std::string& text) {
    double value = 0;
    const char* first = text.data() + (text.starts_with('+') ? 1 : 0);
    const auto [end, error] = std::from_chars(first, text.data() + text.size(), value);
    if (error != std::errc() || end != text.data() + text.size() || !std::isfinite(value))
        return std::nullopt;
    return value;
}

std::optional<int> count_of(const std::string& text) {
    int value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc() || end != text.data() + text.size())
        return std::nullopt;
    return value;
}

std::optional<LayoutPlace> place_of(const std::string& text) {
    const std::size_t dot = text.find('.');
    if (dot == std::string::npos)
        return std::nullopt;
    const auto group = count_of(text.substr(0, dot));
    const auto cell = count_of(text.substr(dot + 1));
    if (!group || !cell || *group < 1 || *cell < 1)
        return std::nullopt;
    return LayoutPlace{*group, *cell};
}

std::string word_of(const LayoutPlace& place) {
    return std::to_string(place.group) + "." + std::to_string(place.cell);
}

// In mm, as short as it reads back.
std::string word_of(double metres) {
    std::ostringstream out;
    out << std::round(metres / um) * um / mm + 0.0; // no minus before nothing
    return out.str();
}

std::string word_of(const LayoutMove& move) {
    switch (move.kind) {
    case Kind::cell:
        return "cell " + word_of(move.at) + " " + word_of(move.x_m) + " " + word_of(move.y_m);
    case Kind::lead:
        return (move.number == 0 ? "lead minus " : "lead plus ") + word_of(move.at);
    case Kind::sense:
        return "sense " + std::to_string(move.number) + " " + word_of(move.at);
    case Kind::link:
        return "link " + word_of(move.at) + " " + word_of(move.to);
    case Kind::cut:
        return "cut " + word_of(move.at) + " " + word_of(move.to);
    }
    return {};
}

// Nothing: it is no move.
std::optional<LayoutMove> move_of(const std::vector<std::string>& words) {
    const auto* known = std::find_if(move_words.begin(), move_words.end(),
                                     [&](const MoveWord& one) { return words.front() == one.word; });
    if (known == move_words.end() || words.size() != known->words + 1)
        return std::nullopt;
    LayoutMove out;
    out.kind = known->kind;
    const auto at = place_of(words[out.kind == Kind::lead || out.kind == Kind::sense ? 2 : 1]);
    if (!at)
        return std::nullopt;
    out.at = *at;
    if (out.kind == Kind::cell) {
        constexpr double farthest = 5000; // mm
        const auto x = number_of(words[2]);
        const auto y = number_of(words[3]);
        if (!x || !y || std::fabs(*x) > farthest || std::fabs(*y) > farthest)
            return std::nullopt;
        out.x_m = *x * mm;
        out.y_m = *y * mm;
    } else if (out.kind == Kind::lead) {
        if (words[1] != "minus" && words[1] != "plus")
            return std::nullopt;
        out.number = words[1] == "plus" ? 1 : 0;
    } else if (out.kind == Kind::sense) {
        const auto number = count_of(words[1]);
        if (!number || *number < 0)
            return std::nullopt;
        out.number = *number;
    } else {
        const auto to = place_of(words[2]);
        if (!to)
            return std::nullopt;
        out.to = *to;
    }
    return out;
}

class Hand {
public:
    explicit Hand(Layout& layout) : layout_(layout) {
        for (std::size_t c = 0; c < layout.cells.size(); ++c)
            if (layout.cells[c].group >= first_.size())
                first_.push_back(c);
        across_ = first_.size() > 1 ? first_[1] : layout.cells.size();
    }

    // Nothing: done. Otherwise what is in the way.
    [[nodiscard]] std::optional<Sentence> make(const LayoutMove& move) {
        const auto at = cell(move.at);
        if (!at)
            return no_place(move.at);
        switch (move.kind) {
        case Kind::cell:
            layout_.cells[*at].x_m += move.x_m;
            layout_.cells[*at].y_m += move.y_m;
            return std::nullopt;
        case Kind::lead:
            return lead(move, *at);
        case Kind::sense:
            return sense(move, *at);
        case Kind::link:
        case Kind::cut: {
            const auto to = cell(move.to);
            if (!to)
                return no_place(move.to);
            return link(move, *at, *to);
        }
        }
        return std::nullopt;
    }

private:
    [[nodiscard]] std::optional<std::size_t> cell(const LayoutPlace& place) const {
        const auto group = static_cast<std::size_t>(place.group - 1);
        const auto k = static_cast<std::size_t>(place.cell - 1);
        if (place.group < 1 || place.cell < 1 || group >= first_.size() || k >= across_)
            return std::nullopt;
        return first_[group] + k;
    }
    [[nodiscard]] Sentence no_place(const LayoutPlace& place) const {
        return said("there is no place {}: its groups are 1 to {}, of {} cells.", word_of(place), first_.size(),
                    across_);
    }

    [[nodiscard]] std::optional<Sentence> lead(const LayoutMove& move, std::size_t at) {
        const std::size_t end = move.number == 0 ? 0 : first_.size() - 1;
        if (layout_.cells[at].group != end)
            return said("{} is not in group {}, where that lead leaves.", word_of(move.at), end + 1);
        for (LayoutPiece& piece : layout_.pieces)
            if (piece.kind == LayoutPiece::Kind::lead) {
                const LayoutCell& now = layout_.cells[piece.cells.front()];
                const bool plus = now.plus == piece.face;
                if (now.group == end && plus == (move.number == 1))
                    piece.cells = {at};
            }
        return std::nullopt;
    }

    [[nodiscard]] std::optional<Sentence> sense(const LayoutMove& move, std::size_t at) {
        const auto number = static_cast<std::size_t>(move.number);
        if (number >= layout_.sense.size())
            return said("there is no sense lead {}: they are 0 to {}.", move.number, layout_.sense.size() - 1);
        // The joint of two groups is met at the plus of the one or at the minus of the other.
        const std::size_t group = layout_.cells[at].group;
        const LayoutCell& cell = layout_.cells[at];
        if (group + 1 != number && group != number)
            return said("{} does not lie at that joint: sense lead {} is between groups {} and {}.", word_of(move.at),
                        move.number, number, number + 1);
        const Face minus = cell.plus == Face::front ? Face::back : Face::front;
        layout_.sense[number] = {group + 1 == number ? cell.plus : minus, at};
        return std::nullopt;
    }

    [[nodiscard]] std::optional<Sentence> link(const LayoutMove& move, std::size_t a, std::size_t b) {
        std::size_t from = a;
        std::size_t to = b;
        if (layout_.cells[from].group > layout_.cells[to].group)
            std::swap(from, to);
        if (layout_.cells[from].group + 1 != layout_.cells[to].group)
            return said("{} and {} are not of neighbouring groups: a link between them would short what lies between.",
                        word_of(move.at), word_of(move.to));
        const auto there = std::find_if(layout_.pieces.begin(), layout_.pieces.end(), [&](const LayoutPiece& piece) {
            return piece.kind == LayoutPiece::Kind::series && piece.cells.front() == from && piece.cells.back() == to;
        });
        const bool is_there = there != layout_.pieces.end();
        if (move.kind == Kind::cut) {
            if (!is_there)
                return said("there is no link from {} to {}.", word_of(move.at), word_of(move.to));
            layout_.pieces.erase(there);
            return std::nullopt;
        }
        if (is_there)
            return said("there is a link from {} to {} already.", word_of(move.at), word_of(move.to));
        // Before the leads, as a proposal has them.
        const auto leads = std::find_if(layout_.pieces.begin(), layout_.pieces.end(),
                                        [](const LayoutPiece& p) { return p.kind == LayoutPiece::Kind::lead; });
        layout_.pieces.insert(leads, {LayoutPiece::Kind::series, layout_.cells[from].plus, 0, {from, to}});
        return std::nullopt;
    }

    Layout& layout_;
    std::vector<std::size_t> first_; // cell of each group
    std::size_t across_ = 0;
};

bool same_pair(const LayoutMove& a, const LayoutMove& b) {
    return (a.at == b.at && a.to == b.to) || (a.at == b.to && a.to == b.at);
}

} // namespace

Result<std::vector<LayoutMove>> layout_moves_from(const std::string& words) {
    std::vector<LayoutMove> out;
    std::istringstream all(words.substr(moved_arrangement(words).empty() ? 0 : words.find(':') + 1));
    for (std::string one; std::getline(all, one, ';');) {
        std::istringstream line(one);
        std::vector<std::string> parts;
        for (std::string part; line >> part;)
            parts.push_back(part);
        if (parts.empty())
            continue;
        const auto move = move_of(parts);
        if (!move)
            return Problem{"", 0,
                           said("\"{}\" is no move. A move reads \"cell 3.2 0.5 -1\" (mm), \"lead plus 7.1\", "
                                "\"sense 3 2.4\", \"link 1.1 2.3\" or \"cut 1.2 2.2\".",
                                one.substr(std::min(one.find_first_not_of(' '), one.size())))};
        out = and_move(std::move(out), *move);
    }
    return out;
}

std::string moved_arrangement(const std::string& words) {
    const std::size_t colon = words.find(':');
    return colon == std::string::npos ? std::string() : words.substr(0, colon);
}

std::string words_of(const std::vector<LayoutMove>& moves) {
    std::string out;
    for (const LayoutMove& move : moves) {
        if (!out.empty())
            out += "; ";
        out += word_of(move);
    }
    return out;
}

std::vector<LayoutMove> and_move(std::vector<LayoutMove> moves, const LayoutMove& move) {
    const auto found = std::find_if(moves.begin(), moves.end(), [&](const LayoutMove& one) {
        switch (move.kind) {
        case Kind::cell:
            return one.kind == Kind::cell && one.at == move.at;
        case Kind::lead:
        case Kind::sense:
            return one.kind == move.kind && one.number == move.number;
        case Kind::link:
        case Kind::cut:
            return (one.kind == Kind::link || one.kind == Kind::cut) && same_pair(one, move);
        }
        return false;
    });
    if (found == moves.end()) {
        moves.push_back(move);
        return moves;
    }
    switch (move.kind) {
    case Kind::cell:
        found->x_m += move.x_m;
        found->y_m += move.y_m;
        if (std::fabs(found->x_m) < um && std::fabs(found->y_m) < um)
            moves.erase(found);
        break;
    case Kind::lead:
    case Kind::sense:
        found->at = move.at;
        break;
    case Kind::link:
    case Kind::cut:
        if (found->kind != move.kind)
            moves.erase(found);
        break;
    }
    return moves;
}

Result<Layout> moved_by_hand(Layout layout, const std::vector<LayoutMove>& moves, double case_width_m,
                             double case_height_m) {
    if (layout.cells.empty())
        return Problem{"", 0, said("there is no cell to move.")};
    Hand hand(layout);
    for (const LayoutMove& move : moves)
        if (const auto in_the_way = hand.make(move))
            return Problem{word_of(move), 0, *in_the_way};
    measure_layout(layout, case_width_m, case_height_m);
    return layout;
}

} // namespace ingot
