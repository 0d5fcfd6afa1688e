// A mixed-integer program for GLPK, row by row.
#pragma once

#include <catch2/catch.hpp>

#include <glpk.h>

#include <climits>
#include <vector>

namespace ingot::tests {

class GlpkProgram {
public:
    explicit GlpkProgram(int columns) : lp_(glp_create_prob()) {
        glp_set_obj_dir(lp_, GLP_MAX);
        glp_add_cols(lp_, columns);
    }
    ~GlpkProgram() { glp_delete_prob(lp_); }
    GlpkProgram(const GlpkProgram&) = delete;
    GlpkProgram& operator=(const GlpkProgram&) = delete;

    [[nodiscard]] glp_prob* lp() const { return lp_; }
    void row(std::vector<int> columns, std::vector<double> values, int type, double low, double high) const {
        columns.insert(columns.begin(), 0);
        values.insert(values.begin(), 0.0);
        const int r = glp_add_rows(lp_, 1);
        glp_set_row_bnds(lp_, r, type, low, high);
        glp_set_mat_row(lp_, r, static_cast<int>(columns.size()) - 1, columns.data(), values.data());
    }
    // The best found; `tune` may set a gap and a time.
    template <class Tune> [[nodiscard]] double best(const Tune& tune) const {
        glp_iocp options;
        glp_init_iocp(&options);
        options.presolve = GLP_ON;
        options.msg_lev = GLP_MSG_OFF;
        options.gmi_cuts = GLP_ON;
        tune(options);
        glp_term_out(GLP_OFF);
        const bool timed = options.tm_lim != INT_MAX; // then the best so far will do
        const int ended = glp_intopt(lp_, &options);
        REQUIRE((ended == 0 || timed));
        REQUIRE((glp_mip_status(lp_) == GLP_OPT || (timed && glp_mip_status(lp_) == GLP_FEAS)));
        return glp_mip_obj_val(lp_);
    }

private:
    glp_prob* lp_;
};

} // namespace ingot::tests
