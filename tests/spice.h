// Runs a circuit in ngspice, a circuit simulator from Debian, and hands out its vectors.
#pragma once

#include <catch2/catch.hpp>

#include <ngspice/sharedspice.h>

#include <cstring>
#include <sstream>
#include <string>
#include <vector>

namespace ingot::tests {

class Spice {
public:
    explicit Spice(const std::string& netlist) {
        static const bool started = [] {
            const auto quiet = [](char*, int, void*) { return 0; };
            const auto quiet_exit = [](int, bool, bool, int, void*) { return 0; };
            return ngSpice_Init(quiet, quiet, quiet_exit, nullptr, nullptr, nullptr, nullptr) == 0;
        }();
        REQUIRE(started);
        std::istringstream in(netlist);
        std::vector<std::string> lines;
        for (std::string line; std::getline(in, line);)
            lines.push_back(line);
        std::vector<char*> pointers;
        for (std::string& line : lines)
            pointers.push_back(line.data());
        pointers.push_back(nullptr);
        REQUIRE(ngSpice_Circ(pointers.data()) == 0);
        run("run");
        time_ = vector("time");
    }
    static void run(const char* command) {
        std::string text = command;
        REQUIRE(ngSpice_Command(text.data()) == 0);
    }
    [[nodiscard]] static std::vector<double> vector(std::string name) {
        const pvector_info info = ngGet_Vec_Info(name.data());
        REQUIRE(info != nullptr);
        return {info->v_realdata, info->v_realdata + info->v_length};
    }
    [[nodiscard]] const std::vector<double>& time() const { return time_; }
    [[nodiscard]] double at(const std::vector<double>& values, double t) const {
        std::size_t i = 1;
        while (i + 1 < time_.size() && time_[i] < t)
            ++i;
        const double share = (t - time_[i - 1]) / (time_[i] - time_[i - 1]);
        return values[i - 1] + (values[i] - values[i - 1]) * share;
    }

private:
    std::vector<double> time_;
};

} // namespace ingot::tests
