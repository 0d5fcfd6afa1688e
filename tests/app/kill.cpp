// The real application acknowledges readings one by one and is killed at random moments; nothing acknowledged is
// missing.
#include "../store/open_store.h"

#include "temporary.h"

#include <catch2/catch.hpp>

#include <array>
#include <csignal>
#include <cstdlib>
#include <filesystem>
#include <map>
#include <poll.h>
#include <random>
#include <sys/prctl.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace ingot;
using tests::Temporary;

namespace {

struct Child {
    pid_t pid = -1;
    int to = -1;
    int from = -1;
};

Child start(const std::string& workshop, const std::string& tester = {}) {
    std::array<int, 2> in{};
    std::array<int, 2> out{};
    REQUIRE(::pipe(in.data()) == 0);
    REQUIRE(::pipe(out.data()) == 0);
    const pid_t pid = ::fork();
    if (pid == 0) {
        ::dup2(in[0], 0);
        ::dup2(out[1], 1);
        for (const int d : {in[0], in[1], out[0], out[1]})
            ::close(d);
        const std::string program = std::string(INGOT_BINARY_DIR) + "/ingot";
        if (tester.empty())
            ::execl(program.c_str(), "ingot", "--scanner", "-", workshop.c_str(), nullptr);
        ::execl(program.c_str(), "ingot", "--scanner", "-", "--tester", tester.c_str(), workshop.c_str(), nullptr);
        ::_exit(127);
    }
    ::close(in[0]);
    ::close(out[1]);
    return {pid, in[1], out[0]};
}

// Reads what has come within the time; false at the end of the stream.
bool read_some(int from, int wait_ms, std::string& text) {
    pollfd p{from, POLLIN, 0};
    if (::poll(&p, 1, wait_ms) <= 0)
        return true;
    char buffer[4096];
    const auto got = ::read(from, buffer, sizeof buffer);
    if (got <= 0)
        return false;
    text.append(buffer, static_cast<std::size_t>(got));
    return true;
}

void say(int to, const std::string& line) {
    const std::string text = line + "\n";
    if (::write(to, text.data(), text.size()) < 0)
        return; // it is dead already
}

} // namespace

TEST_CASE("Readings acknowledged before a kill -9 are all there, and the file opens") {
    std::signal(SIGPIPE, SIG_IGN);
    const Temporary folder;
    const std::string path = folder.file("shop.ingot");
    REQUIRE(std::system((std::string(INGOT_BINARY_DIR) + "/ingot-cli demo " + path + " >/dev/null").c_str()) == 0);
    std::string label;
    {
        tests::Store records(store::WorkshopFile::open(path).value());
        label = records.units.all()[30].code.text();
    }
    std::mt19937 random(20261125);
    std::size_t acknowledged_in_all = 0;
    std::map<double, int> expected; // value: how many were acknowledged
    int serial = 0;
    constexpr int rounds = 25;
    for (int round = 0; round < rounds; ++round) {
        const Child child = start(path);
        say(child.to, label);
        std::string text;
        const int kill_after = std::uniform_int_distribution<int>(1, 40)(random);
        const int dawdle_us = std::uniform_int_distribution<int>(0, 3000)(random);
        std::vector<double> sent;
        std::size_t seen = 0;
        // Readings go out without waiting for their answers, so that the kill may fall anywhere inside one.
        for (int i = 0; i < 60; ++i) {
            const double value = 3.0 + ++serial * 0.0001;
            sent.push_back(value);
            say(child.to, std::to_string(value).substr(0, 6));
        }
        while (seen < static_cast<std::size_t>(kill_after) && read_some(child.from, 15'000, text)) {
            seen = static_cast<std::size_t>(std::count(text.begin(), text.end(), '\n'));
            if (text.empty())
                break;
        }
        ::usleep(static_cast<useconds_t>(dawdle_us));
        ::kill(child.pid, SIGKILL);
        while (read_some(child.from, 200, text) && text.size() < 1'000'000) {
            pollfd p{child.from, POLLIN, 0};
            if (::poll(&p, 1, 0) <= 0)
                break;
        }
        int status = 0;
        ::waitpid(child.pid, &status, 0);
        ::close(child.to);
        ::close(child.from);
        REQUIRE(WIFSIGNALED(status));
        REQUIRE(seen > 0);
        // The last line may be cut; whole lines count.
        std::size_t from = 0;
        for (std::size_t end = text.find('\n'); end != std::string::npos; from = end + 1, end = text.find('\n', from)) {
            const std::string line = text.substr(from, end - from);
            REQUIRE(line.substr(0, 9) == "ack unit ");
            ++expected[std::stod(line.substr(line.rfind(' ') + 1))];
            ++acknowledged_in_all;
        }
        auto opened = store::WorkshopFile::open(path);
        REQUIRE(opened.ok());
        CHECK(opened.value()->access() == Access::writing); // the lock went with the process
        tests::Store records(std::move(opened).value());
        std::map<double, int> there;
        for (const auto& u : records.units.all())
            for (const Measurement& m : records.measurements.of_unit(u.id))
                if (m.instrument == "bench meter" && m.protocol == "typed")
                    ++there[m.value];
        for (const auto& [value, count] : expected) {
            INFO("reading " << value << " in round " << round);
            CHECK(there[value] >= count);
        }
    }
    CHECK(acknowledged_in_all > static_cast<std::size_t>(rounds));
    WARN(acknowledged_in_all << " readings acknowledged over " << rounds << " kills, none missing");
}

TEST_CASE("Killed while runs are under way, Ingot picks them up; at most the last second is not yet written") {
    std::signal(SIGPIPE, SIG_IGN);
    const Temporary folder;
    const std::string path = folder.file("shop.ingot");
    REQUIRE(std::system((std::string(INGOT_BINARY_DIR) + "/ingot-cli demo " + path + " >/dev/null").c_str()) == 0);
    std::vector<std::string> labels;
    {
        tests::Store records(store::WorkshopFile::open(path).value());
        std::map<Id, double> volts;
        records.measurements.each_unit([&](Id unit, const std::vector<Measurement>& history) {
            for (const Measurement& m : history)
                if (m.quantity == Quantity::voltage)
                    volts[unit] = m.value;
        });
        for (const auto& unit : records.units.all())
            if (unit.model == "H26" && unit.whereabouts == Whereabouts::stock && volts[unit.id] > 3.3 &&
                labels.size() < 4)
                labels.push_back(unit.code.text());
    }
    const std::string socket = folder.file("tester");
    const pid_t sim = ::fork();
    if (sim == 0) {
        ::prctl(PR_SET_PDEATHSIG, SIGKILL); // a test that fails leaves nothing behind
        const std::string program = std::string(INGOT_BINARY_DIR) + "/ingot-sim";
        ::execl(program.c_str(), "ingot-sim", "--socket", socket.c_str(), nullptr);
        ::_exit(127);
    }
    for (int n = 0; n < 100 && !std::filesystem::exists(socket); ++n)
        ::usleep(50'000);
    std::string text;
    const auto wait_for_lines = [&](const Child& child, std::size_t lines) {
        for (int n = 0; n < 20 && static_cast<std::size_t>(std::count(text.begin(), text.end(), '\n')) < lines; ++n)
            read_some(child.from, 100, text);
        return static_cast<std::size_t>(std::count(text.begin(), text.end(), '\n')) >= lines;
    };
    const Child first = start(path, "socket:" + socket);
    // Until it has found the tester a bay is not acknowledged; a bay that is taken is only shown.
    bool all = false;
    for (int n = 0; n < 30 && !all; ++n) {
        ::usleep(1'000'000);
        for (std::size_t i = 0; i < labels.size(); ++i) {
            say(first.to, labels[i]);
            say(first.to, "B" + std::to_string(i + 1));
            say(first.to, "yes");
        }
        all = wait_for_lines(first, labels.size());
    }
    REQUIRE(all);
    ::usleep(5'000'000);
    ::kill(first.pid, SIGKILL);
    int status = 0;
    ::waitpid(first.pid, &status, 0);
    ::close(first.to);
    ::close(first.from);
    std::map<Id, std::size_t> written;
    {
        auto file = store::WorkshopFile::open(path);
        REQUIRE(file.ok());
        tests::Store records(std::move(file).value());
        const auto runs = records.runs.open();
        REQUIRE(runs.size() == labels.size());
        for (const auto& run : runs) {
            CHECK(run.state == "running");
            const LogSamples samples = records.runs.samples_of(run.run);
            REQUIRE(samples.size() >= 2); // one sample a second for four seconds, less the last one or two
            CHECK(samples.time_s.back() >= 2);
            written[run.run] = samples.size();
        }
    }
    const Child second = start(path, "socket:" + socket);
    // Read beside it, as a second window does.
    const auto grown = [&] {
        auto opened = store::WorkshopFile::open(path);
        if (!opened.ok())
            return false;
        tests::Store beside(std::move(opened).value());
        return std::all_of(written.begin(), written.end(), [&](const auto& before) {
            return beside.runs.samples_of(before.first).size() > before.second + 2;
        });
    };
    ::usleep(6'000'000); // it takes the writer's lock first
    for (int n = 0; n < 40 && !grown(); ++n)
        ::usleep(1'000'000);
    ::kill(second.pid, SIGKILL);
    ::waitpid(second.pid, &status, 0);
    ::close(second.to);
    ::close(second.from);
    ::kill(sim, SIGKILL);
    ::waitpid(sim, &status, 0);
    auto file = store::WorkshopFile::open(path);
    REQUIRE(file.ok());
    tests::Store records(std::move(file).value());
    for (const auto& run : records.runs.open()) {
        CHECK(run.state == "running");
        CHECK(run.gaps == 0);
        const LogSamples samples = records.runs.samples_of(run.run);
        CHECK(samples.size() > written[run.run]);
        // What the tester measured while nobody listened is there too.
        for (std::size_t i = 1; i < samples.size(); ++i)
            CHECK(samples.time_s[i] - samples.time_s[i - 1] < 2);
    }
}
