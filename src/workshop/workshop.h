// A shop's workshop: one file, what is in it, and a service for each station. Window and command line use this and
// nothing below it. Every step is durable before it returns; one signal tells the views what changed.
#pragma once

#include "workshop/build.h"
#include "workshop/catalogue.h"
#include "workshop/import_folder.h"
#include "workshop/inventory.h"
#include "workshop/ledger.h"
#include "workshop/match.h"
#include "workshop/open.h"
#include "workshop/prove.h"
#include "workshop/receive.h"
#include "workshop/rest.h"
#include "workshop/session.h"
#include "workshop/sort.h"
#include "workshop/test.h"
#include "workshop/triage.h"

#include <QObject>

#include <memory>

namespace ingot {

class Workshop : public QObject {
    Q_OBJECT
public:
    // Where the shipped data/ and demo/ folders are: INGOT_DATA_DIR, beside the program, or the source tree.
    [[nodiscard]] static std::string shipped_folder(const std::string& name);
    [[nodiscard]] static Result<std::unique_ptr<Workshop>> create(const std::string& path, const std::string& name);
    [[nodiscard]] static Result<std::unique_ptr<Workshop>> open(const std::string& path);

    // A whole copy of a workshop's file as it is now, open or not; a job may do it. See store::WorkshopFile::copy.
    [[nodiscard]] static Result<bool> copy(const std::string& from, const std::string& to,
                                           const StillWanted& wanted = {});

    // Opened by a job, it lives where `owner` lives from now on. Called by the job.
    void hand_to(const QObject& owner);

    void set_clock(Session::Clock clock) { session_.set_clock(std::move(clock)); }
    [[nodiscard]] std::string now() const { return session_.now(); }
    [[nodiscard]] const std::string& path() const { return session_.path(); }
    [[nodiscard]] std::string name() const { return catalogue_.setting("name"); }
    [[nodiscard]] Access access() const { return session_.access(); }
    [[nodiscard]] bool writable() const { return session_.writable(); }

    // --- What is there ---
    [[nodiscard]] const Inventory& inventory() const { return inventory_; }
    [[nodiscard]] const exchange::Library& library() const { return inventory_.library(); }
    [[nodiscard]] const std::vector<Lot>& lots() const { return inventory_.lots(); }
    [[nodiscard]] const std::vector<Assembly>& packs() const { return inventory_.packs(); }
    [[nodiscard]] const std::vector<Assembly>& builds() const { return inventory_.builds(); }
    [[nodiscard]] const std::vector<UnitState>& units() const { return inventory_.units(); }
    [[nodiscard]] const Assembly* pack(Id id) const { return inventory_.pack(id); }
    [[nodiscard]] const Assembly* build_of(Id id) const { return inventory_.build(id); }
    [[nodiscard]] const Assembly* assembly(Id id) const { return inventory_.assembly(id); }
    [[nodiscard]] const UnitState* unit(Id id) const { return inventory_.unit(id); }
    [[nodiscard]] Result<Id> find_unit(const std::string& typed) const { return inventory_.find_unit(typed); }
    [[nodiscard]] std::array<int, station_count> waiting() const { return inventory_.waiting(); }

    // --- What is done, station by station ---
    ReceiveService& receive() { return receive_; }
    [[nodiscard]] const ReceiveService& receive() const { return receive_; }
    TriageService& triage() { return triage_; }
    [[nodiscard]] const TriageService& triage() const { return triage_; }
    OpenService& open() { return open_; }
    [[nodiscard]] const OpenService& open() const { return open_; }
    TestService& test() { return test_; }
    [[nodiscard]] const TestService& test() const { return test_; }
    RestService& rest() { return rest_; }
    [[nodiscard]] const RestService& rest() const { return rest_; }
    SortService& sort() { return sort_; }
    [[nodiscard]] const SortService& sort() const { return sort_; }
    MatchService& match() { return match_; }
    [[nodiscard]] const MatchService& match() const { return match_; }
    BuildService& build() { return build_; }
    [[nodiscard]] const BuildService& build() const { return build_; }
    ProveService& prove() { return prove_; }
    [[nodiscard]] const ProveService& prove() const { return prove_; }
    CatalogueService& catalogue() { return catalogue_; }
    [[nodiscard]] const CatalogueService& catalogue() const { return catalogue_; }
    [[nodiscard]] const LedgerService& ledger() const { return ledger_; }

    // Brings in a folder of open files (lots, packs, units, readings, builds, logs), each row by the same step as by
    // hand. All or nothing.
    Result<bool> import_folder(const std::string& folder, const ImportWatch& watch = {});

signals:
    void changed(const ingot::ChangeSet& changes);

private:
    friend class Bays; // the bench writes its runs sample by sample
    friend class BaySchedule;
    friend class HandBays;
    Workshop(std::unique_ptr<store::WorkshopFile> file, exchange::Library library);

    Session session_;
    Inventory inventory_;
    ReceiveService receive_{session_, inventory_};
    TriageService triage_{session_, inventory_, receive_};
    OpenService open_{session_, inventory_, receive_};
    TestService test_{session_, inventory_};
    RestService rest_{session_, inventory_};
    SortService sort_{session_, inventory_};
    MatchService match_{session_, inventory_};
    BuildService build_{session_, inventory_};
    ProveService prove_{session_, inventory_};
    CatalogueService catalogue_{session_, inventory_};
    LedgerService ledger_{session_, inventory_};
};

} // namespace ingot
