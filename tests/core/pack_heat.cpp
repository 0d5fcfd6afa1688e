// How warm each place becomes: against closed forms and against ngspice, which knows heat as charge on capacitors.
#include "core/build/pack_heat.h"

#include "core/cells/random.h"
#include "spice.h"

#include <cmath>
#include <numbers>
#include <sstream>

using namespace ingot;

namespace {

HeatedPack heated_block(int columns, int rows, double heat_w, double duration_s, bool staggered = false) {
    HeatedPack pack;
    pack.diameter_m = 0.0183;
    pack.height_m = 0.065;
    pack.pitch_m = 0.0195;
    pack.cell_mass_kg = 0.045;
    pack.duration_s = duration_s;
    for (int r = 0; r < rows; ++r)
        for (int c = 0; c < columns; ++c)
            pack.centres_m.push_back({(c + (staggered && r % 2 == 1 ? 0.5 : 0)) * pack.pitch_m,
                                      r * pack.pitch_m * (staggered ? std::sqrt(3.0) / 2 : 1)});
    pack.heat_w.assign(pack.centres_m.size(), heat_w);
    return pack;
}

} // namespace

TEST_CASE("One cell alone warms by the closed form of one heat capacity and one film; nothing is warm at first") {
    // q / G (1 - exp(-t G / C)), a handbook's first exercise (lumped capacity).
    const double film = to_air_w_per_k(0.0183, 0.065, 1);
    CHECK(film == Approx(5 * (std::numbers::pi * 0.0183 * 0.065 + std::numbers::pi / 2 * 0.0183 * 0.0183)));
    const double capacity = 0.045 * 900;
    for (const double t : {60.0, 600.0, 3600.0, 36000.0}) {
        const PackWarmth warm = warm_pack(heated_block(1, 1, 0.4, t)).value();
        CHECK(warm.warmer_k[0] == Approx(0.4 / film * (1 - std::exp(-t * film / capacity))).epsilon(2e-4));
        CHECK(warm.steady_k == Approx(0.4 / film));
    }
    // Two bare cylinders in air by the shape factor, 2 pi L / acosh(2 (w/D)^2 - 1): from memory of the handbooks'
    // tables.
    CHECK(to_neighbour_w_per_k(0.02, 0.065, 0.04) == Approx(0.026 * 2 * std::numbers::pi * 0.065 / std::acosh(7.0)));
    CHECK(to_neighbour_w_per_k(0.02, 0.065, 0.02) > to_neighbour_w_per_k(0.02, 0.065, 0.021));
}

TEST_CASE("A block of unlike cells equals ngspice's network of capacitors, resistors and sources, place by place") {
    for (const bool staggered : {false, true}) {
        HeatedPack pack = heated_block(5, 4, 0, 2400, staggered);
        Random random(staggered ? 7 : 3);
        for (double& heat : pack.heat_w)
            heat = 0.1 + 0.5 * random.unit();
        // The network is written here from places and films alone.
        std::ostringstream netlist;
        netlist.precision(12);
        netlist << "heat\n";
        const int inside = staggered ? 6 : 4;
        const double across = to_neighbour_w_per_k(pack.diameter_m, pack.height_m, pack.pitch_m);
        const auto near = [&](std::size_t a, std::size_t b) {
            return std::hypot(pack.centres_m[a][0] - pack.centres_m[b][0],
                              pack.centres_m[a][1] - pack.centres_m[b][1]) < 1.2 * pack.pitch_m;
        };
        for (std::size_t i = 0; i < pack.heat_w.size(); ++i) {
            int beside = 0;
            for (std::size_t k = 0; k < pack.heat_w.size(); ++k)
                if (k != i && near(i, k)) {
                    ++beside;
                    if (k > i)
                        netlist << "rn" << i << "_" << k << " n" << i << " n" << k << " " << 1 / across << "\n";
                }
            const double air = to_air_w_per_k(pack.diameter_m, pack.height_m, double(inside - beside) / inside);
            netlist << "ra" << i << " n" << i << " 0 " << 1 / air << "\n"
                    << "c" << i << " n" << i << " 0 " << pack.cell_mass_kg * 900 << " ic=0\n"
                    << "i" << i << " 0 n" << i << " dc " << pack.heat_w[i] << "\n";
        }
        netlist << ".tran 5 2400 uic\n.end\n";
        const PackWarmth warm = warm_pack(pack).value();
        const tests::Spice spice(netlist.str());
        for (std::size_t i = 0; i < pack.heat_w.size(); ++i)
            CHECK(warm.warmer_k[i] ==
                  Approx(spice.at(tests::Spice::vector("n" + std::to_string(i)), 2400)).epsilon(2e-3));
    }
}

TEST_CASE("Heat by place: the middle is hottest, mirror images alike, twice the loss twice as warm, nothing is lost") {
    const PackWarmth warm = warm_pack(heated_block(7, 5, 0.3, 3000)).value();
    CHECK(warm.hottest == 17);
    CHECK((warm.coolest == 0 || warm.coolest == 6 || warm.coolest == 28 || warm.coolest == 34));
    for (std::size_t r = 0; r < 5; ++r)
        for (std::size_t c = 0; c < 7; ++c) {
            CHECK(warm.warmer_k[r * 7 + c] == Approx(warm.warmer_k[r * 7 + 6 - c]));
            CHECK(warm.warmer_k[r * 7 + c] == Approx(warm.warmer_k[(4 - r) * 7 + c]));
        }
    const PackWarmth twice = warm_pack(heated_block(7, 5, 0.6, 3000)).value();
    CHECK(twice.warmer_k[17] == Approx(2 * warm.warmer_k[17]));
    CHECK(twice.steady_k == Approx(2 * warm.steady_k));
    CHECK(warm.steady_k > warm.warmer_k[17]);
    // In a minute next to nothing has left the block: all of it is in the cells.
    const PackWarmth brief = warm_pack(heated_block(7, 5, 0.3, 10)).value();
    double stored = 0;
    for (const double k : brief.warmer_k)
        stored += k * 0.045 * 900;
    CHECK(stored == Approx(35 * 0.3 * 10).epsilon(0.01));
}

TEST_CASE("Heat by place objects to what cannot be") {
    HeatedPack pack = heated_block(2, 2, 0.3, 600);
    const auto refuses = [](HeatedPack wrong, const auto& spoil) {
        spoil(wrong);
        return !warm_pack(wrong).ok();
    };
    CHECK_FALSE(refuses(pack, [](HeatedPack&) {}));
    CHECK(refuses(pack, [](HeatedPack& p) { p.heat_w.pop_back(); }));
    CHECK(refuses(pack, [](HeatedPack& p) { p.heat_w[0] = -1; }));
    CHECK(refuses(pack, [](HeatedPack& p) { p.cell_mass_kg = 0; }));
    CHECK(refuses(pack, [](HeatedPack& p) { p.height_m = 0; }));
    CHECK(refuses(pack, [](HeatedPack& p) { p.pitch_m = 0.01; }));
    CHECK(refuses(pack, [](HeatedPack& p) { p.duration_s = 0; }));
    CHECK(refuses(HeatedPack{}, [](HeatedPack&) {}));
}
