// What a person says beside measurements: inspection findings, quarantines, notes, overruled verdicts, strip drawings,
// photos, and the events of the shop. Struck out or closed, never deleted.
#pragma once

#include "core/prove/proof_note.h"
#include "core/shop/shop_records.h"

#include <map>
#include <string>
#include <vector>

namespace ingot::store {

class Connection;

class Remarks {
public:
    explicit Remarks(Connection& connection) : connection_(connection) {}

    Id add(const Finding& finding);
    void strike_finding(Id finding, const std::string& reason, const std::string& now);
    [[nodiscard]] std::vector<Finding> findings(); // that stand
    [[nodiscard]] std::vector<Finding> findings_of_unit(Id unit);

    Id add(const Quarantine& quarantine);
    void close_quarantine(Id quarantine, const std::string& reason, const std::string& now);
    [[nodiscard]] std::vector<Quarantine> quarantines();

    Id add(const PackNote& note);
    void strike_note(Id note, const std::string& now);
    [[nodiscard]] std::vector<PackNote> notes(); // that stand, oldest first

    Id add(const Particular& particular);
    [[nodiscard]] std::vector<Particular> particulars(); // oldest first; the newest of a kind counts

    Id add(const ProofNote& note);
    [[nodiscard]] std::vector<ProofNote> proof_notes(Id assembly); // oldest first; the newest about a thing counts

    Id add(const Overrule& overrule); // one that stands for the unit is withdrawn
    void withdraw_overrule(Id overrule, const std::string& now);
    [[nodiscard]] std::vector<Overrule> overrules(); // that stand, oldest first

    void set_drawing(Id assembly, const std::string& drawing, const std::string& now);
    [[nodiscard]] std::map<Id, std::string> drawings();

    Id add(const Photo& photo);                              // at most largest_photo_bytes
    [[nodiscard]] std::map<Id, int> photo_counts();          // by assembly
    [[nodiscard]] std::vector<Photo> photos_of(Id assembly); // without their data
    [[nodiscard]] std::string photo_data(Id photo);

    void add(const Event& event);
    [[nodiscard]] std::vector<Event> events_of(const std::string& subject); // oldest first
    // The newest `most` before one (0: of all), newest first.
    [[nodiscard]] std::vector<Event> page(Id before, std::size_t most);

private:
    Connection& connection_;
};

} // namespace ingot::store
