// Log samples, packed by columns: chunks of up to 65,536 samples; in each, time, voltage, current and (if any)
// temperature as little-endian doubles one column after the other, bytes of equal weight together, Zstandard (RFC
// 8878).
#include "store/connection.h"
#include "store/runs.h"

#include <algorithm>
#include <bit>
#include <stdexcept>
#include <zstd.h>

namespace ingot::store {

namespace {

constexpr std::size_t chunk_samples = 65'536;
constexpr int compression_level = 1;
static_assert(std::endian::native == std::endian::little, "chunks are written in memory order");

// Bytes of equal weight of neighbouring samples are alike; side by side they compress far better.
void shuffle(const double* values, std::size_t count, char* out) {
    const char* bytes = reinterpret_cast<const char*>(values);
    for (std::size_t b = 0; b < sizeof(double); ++b)
        for (std::size_t i = 0; i < count; ++i)
            out[b * count + i] = bytes[i * sizeof(double) + b];
}

void unshuffle(const char* in, std::size_t count, double* values) {
    char* bytes = reinterpret_cast<char*>(values);
    for (std::size_t b = 0; b < sizeof(double); ++b)
        for (std::size_t i = 0; i < count; ++i)
            bytes[i * sizeof(double) + b] = in[b * count + i];
}

} // namespace

void Runs::add_chunks(Id run, int sequence, const LogSamples& samples) {
    std::vector<const std::vector<double>*> columns{&samples.time_s, &samples.voltage_v, &samples.current_a};
    if (!samples.temperature_c.empty())
        columns.push_back(&samples.temperature_c);
    std::vector<char> packed;
    std::vector<char> squeezed;
    for (std::size_t from = 0; from < samples.size(); from += chunk_samples) {
        const std::size_t count = std::min(chunk_samples, samples.size() - from);
        packed.resize(columns.size() * count * sizeof(double));
        for (std::size_t k = 0; k < columns.size(); ++k)
            shuffle(columns[k]->data() + from, count, packed.data() + k * count * sizeof(double));
        squeezed.resize(ZSTD_compressBound(packed.size()));
        const std::size_t size =
            ZSTD_compress(squeezed.data(), squeezed.size(), packed.data(), packed.size(), compression_level);
        if (ZSTD_isError(size) != 0)
            throw std::runtime_error(ZSTD_getErrorName(size));
        connection_.run("INSERT INTO run_chunk VALUES (?, ?, ?, ?)", run, sequence++, static_cast<std::int64_t>(count),
                        Blob{squeezed.data(), size});
    }
}

Id Runs::add(const Run& run, const LogSamples& samples) {
    Id id = 0;
    connection_.together([&] {
        connection_.run(
            "INSERT INTO run (unit_id, assembly_id, file, instrument, protocol, samples, has_temperature, imported_at, "
            "began_at, ended_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
            OrNull{run.unit}, OrNull{run.assembly}, run.file, run.instrument, run.protocol,
            static_cast<std::int64_t>(samples.size()), samples.temperature_c.empty() ? 0 : 1, run.recorded_at,
            run.began_at, run.ended_at);
        id = connection_.last_id();
        int position = 2;
        for (const Id unit : run.behind)
            connection_.run("INSERT INTO run_behind (run_id, position, unit_id) VALUES (?, ?, ?)", id, position++,
                            unit);
        add_chunks(id, 0, samples);
    });
    return id;
}

LogSamples Runs::samples_of(Id run) {
    bool warm = false;
    {
        Query head = connection_.query("SELECT has_temperature FROM run WHERE id = ?", run);
        warm = head.next() && head.whole(0) != 0;
    }
    LogSamples samples;
    std::vector<std::vector<double>*> columns{&samples.time_s, &samples.voltage_v, &samples.current_a};
    if (warm)
        columns.push_back(&samples.temperature_c);
    std::vector<char> packed;
    Query row = connection_.query("SELECT samples, data FROM run_chunk WHERE run_id = ? ORDER BY sequence", run);
    while (row.next()) {
        const auto count = static_cast<std::size_t>(row.id(0));
        const std::string data = row.blob(1);
        if (count > chunk_samples)
            throw std::runtime_error("a chunk of samples is damaged");
        packed.resize(columns.size() * count * sizeof(double));
        const std::size_t size = ZSTD_decompress(packed.data(), packed.size(), data.data(), data.size());
        if (ZSTD_isError(size) != 0 || size != packed.size())
            throw std::runtime_error("a chunk of samples is damaged");
        for (std::size_t k = 0; k < columns.size(); ++k) {
            const std::size_t at = columns[k]->size();
            columns[k]->resize(at + count);
            unshuffle(packed.data() + k * count * sizeof(double), count, columns[k]->data() + at);
        }
    }
    return samples;
}

void Runs::append(Id run, const LogSamples& samples, std::uint64_t last_sequence) {
    connection_.together([&] {
        int sequence = 0;
        {
            Query head =
                connection_.query("SELECT coalesce(max(sequence), -1) + 1 FROM run_chunk WHERE run_id = ?", run);
            sequence = head.next() ? head.whole(0) : 0;
        }
        add_chunks(run, sequence, samples);
        connection_.run("UPDATE run SET samples = samples + ? WHERE id = ?", static_cast<std::int64_t>(samples.size()),
                        run);
        connection_.run("UPDATE bay_run SET last_sequence = ? WHERE run_id = ?",
                        static_cast<std::int64_t>(last_sequence), run);
    });
}

void Runs::pack(Id run) {
    const LogSamples samples = samples_of(run);
    connection_.together([&] {
        connection_.run("DELETE FROM run_chunk WHERE run_id = ?", run);
        add_chunks(run, 0, samples);
    });
}

} // namespace ingot::store
