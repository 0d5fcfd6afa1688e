// Log samples, packed by columns: chunks of up to 65,536 samples; in each, time, voltage, current and (if any)
// temperature as little-endian doubles one column after the other, bytes of equal weight together, Zstandard (RFC
// 8878).
#include "store/records.h"

#include <algorithm>
#include <bit>
#include <cstring>
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

void Records::add_chunks(Id run, int sequence, const LogSamples& samples) {
    SQLite::Statement c(database_, "INSERT INTO run_chunk VALUES (?, ?, ?, ?)");
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
        c.reset();
        c.bind(1, static_cast<std::int64_t>(run));
        c.bind(2, sequence++);
        c.bind(3, static_cast<std::int64_t>(count));
        c.bind(4, squeezed.data(), static_cast<int>(size));
        c.exec();
    }
}

Id Records::add_run(const RunRecord& run, const LogSamples& samples) {
    Id id = 0;
    together([&] {
        const bool warm = !samples.temperature_c.empty();
        SQLite::Statement s(
            database_,
            "INSERT INTO run (unit_id, file, instrument, protocol, samples, has_temperature, imported_at) VALUES "
            "(?, ?, ?, ?, ?, ?, ?)");
        if (run.unit_id != 0)
            s.bind(1, static_cast<std::int64_t>(run.unit_id));
        s.bind(2, run.file);
        s.bind(3, run.instrument);
        s.bind(4, run.protocol);
        s.bind(5, static_cast<std::int64_t>(samples.size()));
        s.bind(6, warm ? 1 : 0);
        s.bind(7, run.imported_at);
        s.exec();
        id = database_.getLastInsertRowid();
        add_chunks(id, 0, samples);
    });
    return id;
}

std::vector<RunRecord> Records::runs_of_unit(Id unit) {
    SQLite::Statement s(database_, "SELECT id, unit_id, file, instrument, protocol, imported_at, samples FROM run "
                                   "WHERE unit_id = ? ORDER BY id DESC");
    s.bind(1, static_cast<std::int64_t>(unit));
    std::vector<RunRecord> rows;
    while (s.executeStep())
        rows.push_back({s.getColumn(0).getInt64(), s.getColumn(1).getInt64(), s.getColumn(2), s.getColumn(3),
                        s.getColumn(4), s.getColumn(5), s.getColumn(6).getInt64()});
    return rows;
}

std::vector<Id> Records::runs_of_model(const std::string& model, std::size_t most, Id but_unit) {
    SQLite::Statement s(database_,
                        "SELECT max(r.id) FROM run r JOIN unit u ON u.id = r.unit_id WHERE u.model = ? AND u.id "
                        "<> ? GROUP BY u.id ORDER BY 1 DESC LIMIT ?");
    s.bind(1, model);
    s.bind(2, static_cast<std::int64_t>(but_unit));
    s.bind(3, static_cast<std::int64_t>(most));
    std::vector<Id> runs;
    while (s.executeStep())
        runs.push_back(s.getColumn(0).getInt64());
    return runs;
}

LogSamples Records::samples_of(Id run) {
    SQLite::Statement head(database_, "SELECT has_temperature FROM run WHERE id = ?");
    head.bind(1, static_cast<std::int64_t>(run));
    const bool warm = head.executeStep() && head.getColumn(0).getInt() != 0;
    LogSamples samples;
    std::vector<std::vector<double>*> columns{&samples.time_s, &samples.voltage_v, &samples.current_a};
    if (warm)
        columns.push_back(&samples.temperature_c);
    SQLite::Statement s(database_, "SELECT samples, data FROM run_chunk WHERE run_id = ? ORDER BY sequence");
    s.bind(1, static_cast<std::int64_t>(run));
    std::vector<char> packed;
    while (s.executeStep()) {
        const auto count = static_cast<std::size_t>(s.getColumn(0).getInt64());
        const SQLite::Column data = s.getColumn(1);
        packed.resize(columns.size() * count * sizeof(double));
        const std::size_t size =
            ZSTD_decompress(packed.data(), packed.size(), data.getBlob(), static_cast<std::size_t>(data.getBytes()));
        if (ZSTD_isError(size) != 0 || size != packed.size())
            throw SQLite::Exception("a chunk of samples is damaged");
        for (std::size_t k = 0; k < columns.size(); ++k) {
            const std::size_t at = columns[k]->size();
            columns[k]->resize(at + count);
            unshuffle(packed.data() + k * count * sizeof(double), count, columns[k]->data() + at);
        }
    }
    return samples;
}

void Records::append_samples(Id run, const LogSamples& samples, std::uint64_t last_sequence) {
    together([&] {
        SQLite::Statement head(database_, "SELECT coalesce(max(sequence), -1) + 1 FROM run_chunk WHERE run_id = ?");
        head.bind(1, static_cast<std::int64_t>(run));
        head.executeStep();
        add_chunks(run, head.getColumn(0).getInt(), samples);
        SQLite::Statement count(database_, "UPDATE run SET samples = samples + ? WHERE id = ?");
        count.bind(1, static_cast<std::int64_t>(samples.size()));
        count.bind(2, static_cast<std::int64_t>(run));
        count.exec();
        SQLite::Statement last(database_, "UPDATE bay_run SET last_sequence = ? WHERE run_id = ?");
        last.bind(1, static_cast<std::int64_t>(last_sequence));
        last.bind(2, static_cast<std::int64_t>(run));
        last.exec();
    });
}

void Records::pack_run(Id run) {
    const LogSamples samples = samples_of(run);
    together([&] {
        SQLite::Statement away(database_, "DELETE FROM run_chunk WHERE run_id = ?");
        away.bind(1, static_cast<std::int64_t>(run));
        away.exec();
        add_chunks(run, 0, samples);
    });
}

} // namespace ingot::store
