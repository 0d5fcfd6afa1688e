// Runs: headers, steps, packed samples; runs on a tester's bays, cycles, and what waits for a bay.
#pragma once

#include "core/measure/run.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace ingot::store {

class Connection;

class Runs {
public:
    explicit Runs(Connection& connection) : connection_(connection) {}

    // Samples, packed by columns and compressed, in chunks; see docs/formats/workshop.md.
    Id add(const Run& run, const LogSamples& samples);
    void add(Id run, const RunStep& step);
    [[nodiscard]] std::vector<RunStep> steps_of(Id run);
    [[nodiscard]] std::vector<Run> of_unit(Id unit); // newest first; also those in which it stood behind another
    [[nodiscard]] std::vector<Run> of_assembly(Id assembly); // on its terminals, newest first
    [[nodiscard]] std::optional<Run> find(Id run);
    void give(Id run, Id unit); // it was made on another unit than was said; its cycles go with it
    // The newest `most` before one (0: of all), newest first.
    [[nodiscard]] std::vector<Run> page(Id before, std::size_t most);
    [[nodiscard]] LogSamples samples_of(Id run);
    // The newest runs of other units of a model, one each.
    [[nodiscard]] std::vector<Id> of_model(const std::string& model, std::size_t most, Id but_unit);
    // The same of runs by this protocol (id and version) with a discharge that ended as meant.
    [[nodiscard]] std::vector<Id> discharged_like(const std::string& model, const std::string& protocol,
                                                  std::size_t most, Id but_unit);
    // When charge was last moved through each unit; empty texts are left out.
    [[nodiscard]] std::map<Id, std::string> last_run_at();
    [[nodiscard]] std::string last_run_at(Id unit);
    [[nodiscard]] std::string last_run_at_assembly(Id assembly); // on its terminals
    // Samples of a run that goes on, as another chunk. `last_sequence` is the tester's number of the last of them.
    void append(Id run, const LogSamples& samples, std::uint64_t last_sequence);
    // Many small chunks become few.
    void pack(Id run);
    [[nodiscard]] std::int64_t count();

    Id begin(const Run& run, const BayRun& bay_run);
    void update(const BayRun& bay_run);       // step, loops, state, stop, gaps, times
    [[nodiscard]] std::vector<BayRun> open(); // not lifted
    void add(const Cycle& cycle);
    [[nodiscard]] std::vector<Cycle> cycles(); // by unit, then run and number
    [[nodiscard]] std::vector<Cycle> cycles_of(Id unit);

    void set(const Waiting& waiting);
    void leave_queue(Id unit);
    [[nodiscard]] std::vector<Waiting> queue();

private:
    void add_chunks(Id run, int sequence, const LogSamples& samples);
    [[nodiscard]] std::vector<Id> behind(Id run);
    [[nodiscard]] std::vector<Run> with_behind(std::vector<Run> runs);

    Connection& connection_;
};

} // namespace ingot::store
