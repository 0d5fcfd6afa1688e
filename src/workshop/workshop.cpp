#include "workshop/workshop.h"

#include "exchange/worth_json.h"

#include <QCoreApplication>
#include <QFileInfo>

#include <algorithm>
#include <fmt/format.h>

namespace ingot {

namespace {

constexpr const char* default_rules = "capacity-tested";

exchange::LibraryText as_text(const store::Records::LibraryRow& row) {
    return {row.kind, row.name, row.text};
}

// Kinds of library files that did not exist yet when the workshop was made come from what is shipped.
std::vector<exchange::LibraryText> add_missing_kinds(std::vector<exchange::LibraryText>& texts) {
    std::vector<exchange::LibraryText> missing;
    const auto shipped = exchange::read_library_texts(Workshop::shipped_folder("data"));
    if (!shipped)
        return missing;
    for (const auto& text : shipped.value())
        if (std::none_of(texts.begin(), texts.end(), [&](const auto& t) { return t.kind == text.kind; }))
            missing.push_back(text);
    texts.insert(texts.end(), missing.begin(), missing.end());
    return missing;
}

} // namespace

std::string Workshop::shipped_folder(const std::string& name) {
    const QString env = qEnvironmentVariable("INGOT_DATA_DIR");
    std::vector<QString> places;
    if (!env.isEmpty())
        places.push_back(env);
    if (QCoreApplication::instance() != nullptr)
        places.push_back(QCoreApplication::applicationDirPath() + QStringLiteral("/../share/ingot"));
    places.push_back(QStringLiteral(INGOT_SOURCE_DIR));
    for (const QString& place : places) {
        const QString folder = place + QLatin1Char('/') + QString::fromStdString(name);
        if (QFileInfo(folder).isDir())
            return folder.toStdString();
    }
    return (places.front() + QLatin1Char('/')).toStdString() + name;
}

Workshop::Workshop(std::unique_ptr<store::WorkshopFile> file, exchange::Library library)
    : file_(std::move(file)), records_(*file_), library_(std::move(library)) {}

Result<std::unique_ptr<Workshop>> Workshop::create(const std::string& path, const std::string& name) {
    const auto texts = exchange::read_library_texts(shipped_folder("data"));
    if (!texts)
        return texts.problem();
    auto library = exchange::parse_library(texts.value());
    if (!library)
        return library.problem();
    auto file = store::WorkshopFile::create(path);
    if (!file)
        return file.problem();
    std::unique_ptr<Workshop> workshop(new Workshop(std::move(file).value(), std::move(library).value()));
    // What the workshop uses is copied into its file: later data files do not change past verdicts.
    workshop->records_.together([&] {
        workshop->records_.set_meta("name", name);
        workshop->records_.set_meta("created_at", workshop->now());
        for (const auto& text : texts.value())
            workshop->records_.add_library_text(text.kind, text.name, 1, text.text);
    });
    workshop->load();
    return workshop;
}

Result<std::unique_ptr<Workshop>> Workshop::open(const std::string& path) {
    auto file = store::WorkshopFile::open(path);
    if (!file)
        return file.problem();
    try {
        store::Records records(*file.value());
        std::vector<exchange::LibraryText> texts;
        for (const auto& row : records.library_texts())
            texts.push_back(as_text(row));
        if (const auto missing = add_missing_kinds(texts);
            !missing.empty() && file.value()->access() == store::Access::writing)
            records.together([&] {
                for (const auto& text : missing)
                    records.add_library_text(text.kind, text.name, 1, text.text);
            });
        auto library = exchange::parse_library(texts);
        if (!library)
            return Problem{path, 0, "its library cannot be read: " + library.problem().text()};
        std::unique_ptr<Workshop> workshop(new Workshop(std::move(file).value(), std::move(library).value()));
        workshop->load();
        return workshop;
    } catch (const SQLite::Exception& exception) {
        return Problem{path, 0,
                       std::string("is damaged (") + exception.what() +
                           "). It was not changed. Open the newest backup copy."};
    }
}

std::string Workshop::now() const {
    return clock_().toUTC().toString(Qt::ISODateWithMs).toStdString();
}

void Workshop::load() {
    name_ = records_.meta("name");
    const auto found = library_.rule_sets.find(default_rules);
    if (!rules_changed_) // what is being tried stays
        rules_ = found != library_.rule_sets.end() ? found->second : library_.rule_sets.begin()->second;
    if (const std::string kept = records_.meta("worth"); !kept.empty())
        if (const auto worth = exchange::read_worth_case(kept, "meta"))
            worth_ = worth.value();
    load_packs();
    load_units();
    load_readings();
}

void Workshop::load_packs() {
    lots_ = records_.lots();
    packs_ = records_.packs();
    findings_ = records_.findings();
    quarantines_ = records_.quarantines();
    notes_ = records_.pack_notes();
    inside_ = records_.inside_groups();
    trays_ = records_.trays();
    builds_ = records_.builds();
    drawings_ = records_.drawings();
    photo_counts_ = records_.photo_counts();
}

void Workshop::set_model(UnitState& unit) {
    unit.facts.model = unit.record.model;
    if (const UnitModel* model = library_.model(unit.record.model))
        unit.facts.chemistry = model->chemistry;
    else if (const store::PackRecord* origin = pack(unit.record.pack_id))
        unit.facts.chemistry = origin->chemistry;
}

void Workshop::mark(UnitState& unit) {
    unit.findings.clear();
    for (const auto& finding : findings_)
        if (finding.unit_id == unit.record.id)
            unit.findings.push_back(finding.code);
    unit.quarantined = false;
    unit.facts.quarantine_findings.clear();
    for (const auto& quarantine : quarantines_)
        if (quarantine.unit_id == unit.record.id && quarantine.closed_at.empty()) {
            unit.quarantined = true;
            unit.facts.quarantine_findings.push_back(quarantine.reason);
        }
}

const Workshop::Touched Workshop::touched_nothing{};
const Workshop::Touched Workshop::touched_packs{false, true, {}};
const Workshop::Touched Workshop::touched_everything{true, false, {}};

void Workshop::read_again(const Touched& touched) {
    if (touched.everything) {
        load();
        return;
    }
    load_packs();
    if (!touched.units.empty())
        overrules_ = records_.overrules();
    bool other_model = false;
    for (const Id id : touched.units) {
        UnitState* unit = unit_at(id);
        auto record = records_.unit(id);
        if (unit == nullptr || !record)
            continue;
        other_model |= record->model != unit->record.model;
        unit->record = std::move(*record);
        set_model(*unit);
        mark(*unit);
        judge(*unit);
    }
    if (other_model) { // of unknown models each is judged against its siblings
        prepare_references();
        judge_all();
    }
}

void Workshop::load_units() {
    overrules_ = records_.overrules();
    units_.clear();
    unit_index_.clear();
    auto records = records_.units();
    units_.reserve(records.size());
    unit_index_.reserve(records.size());
    for (auto& record : records) {
        UnitState unit;
        unit.facts.id = record.code.text();
        unit.record = std::move(record);
        set_model(unit);
        unit_index_[unit.record.id] = units_.size();
        units_.push_back(std::move(unit));
    }
    for (const auto& finding : findings_)
        if (UnitState* unit = unit_at(finding.unit_id))
            unit->findings.push_back(finding.code);
    for (const auto& quarantine : quarantines_)
        if (UnitState* unit = unit_at(quarantine.unit_id); unit != nullptr && quarantine.closed_at.empty()) {
            unit->quarantined = true;
            unit->facts.quarantine_findings.push_back(quarantine.reason);
        }
}

void Workshop::load_readings() {
    group_readings_.clear();
    pack_readings_.clear();
    explained_.clear();
    ++load_count_;
    for (const auto& reading : records_.standing_facts())
        apply_reading(reading);
    prepare_references();
    judge_all();
}

void Workshop::apply_reading(const store::ReadingFact& reading) {
    if (reading.pack_id != 0) {
        forget_explanation(reading.pack_id);
        if (reading.quantity != Quantity::voltage)
            return;
        pack_readings_[reading.pack_id].push_back(reading);
        group_readings_[reading.pack_id][reading.condition].by_group[reading.group] = reading.value;
        return;
    }
    UnitState* unit = unit_at(reading.unit_id);
    if (unit == nullptr)
        return;
    UnitFacts& facts = unit->facts;
    switch (reading.quantity) {
    case Quantity::voltage:
        if (reading.condition == Condition::rest || reading.condition == Condition::stored)
            facts.rest_voltage_v = reading.value;
        break;
    case Quantity::dc_resistance:
        facts.dc_resistance_ohm = reading.value;
        break;
    case Quantity::ac_resistance:
        facts.ac_resistance_ohm = reading.value;
        break;
    case Quantity::capacity:
        facts.capacity_ah = reading.value;
        facts.capacity_ah->uncertainty = reading.uncertainty;
        break;
    case Quantity::self_discharge:
        facts.self_discharge_ah_per_day = reading.value;
        break;
    case Quantity::temperature:
        break;
    }
}

void Workshop::prepare_references() {
    std::vector<UnitFacts> facts;
    facts.reserve(units_.size());
    for (const UnitState& unit : units_)
        facts.push_back(unit.facts);
    references_ = references_from_pool(facts);
}

void Workshop::judge(UnitState& unit) {
    const auto siblings = references_.find(unit.record.model);
    const store::PackRecord* origin = pack(unit.record.pack_id);
    std::optional<double> claimed_ah;
    if (origin != nullptr && origin->claim.capacity_ah && objections(*origin).empty())
        claimed_ah = *origin->claim.capacity_ah / origin->layout.parallel;
    unit.reference =
        reference_for(library_.model(unit.record.model), siblings == references_.end() ? nullptr : &siblings->second,
                      claimed_ah, origin != nullptr ? origin->layout.cells_per_unit : 1);
    unit.verdict = sort_unit(unit.facts, unit.reference, library_.chemistry(unit.facts.chemistry), rules_);
    for (const auto& overrule : overrules_) {
        if (overrule.unit_id != unit.record.id || unit.verdict.duty == Duty::quarantine)
            continue;
        unit.verdict.overruled_from = unit.verdict.duty;
        unit.verdict.duty = duty_from(overrule.duty).value_or(unit.verdict.duty);
        Evidence evidence;
        evidence.kind = EvidenceKind::overruled;
        evidence.allows = unit.verdict.duty;
        evidence.decides = true;
        evidence.note = overrule.reason;
        unit.verdict.evidence.insert(unit.verdict.evidence.begin(), evidence);
    }
}

void Workshop::judge_all() {
    for (UnitState& unit : units_)
        judge(unit);
}

UnitState* Workshop::unit_at(Id id) {
    const auto found = unit_index_.find(id);
    return found == unit_index_.end() ? nullptr : &units_[found->second];
}

const UnitState* Workshop::unit(Id id) const {
    const auto found = unit_index_.find(id);
    return found == unit_index_.end() ? nullptr : &units_[found->second];
}

const UnitState* Workshop::unit_by_code(const UnitCode& code) const {
    const auto found =
        std::find_if(units_.begin(), units_.end(), [&](const UnitState& u) { return u.record.code == code; });
    return found == units_.end() ? nullptr : &*found;
}

Result<Id> Workshop::find_unit(const std::string& typed) const {
    if (looks_like_unit_code(typed)) {
        const auto code = parse_unit_code(typed);
        if (!code)
            return code.problem();
        if (const UnitState* unit = unit_by_code(code.value()))
            return unit->record.id;
        return Problem{"", 0, code.value().text() + " is not in this workshop."};
    }
    constexpr std::size_t most_figures = 4;
    const bool figures = !typed.empty() && typed.size() <= most_figures &&
                         std::all_of(typed.begin(), typed.end(), [](char c) { return c >= '0' && c <= '9'; });
    if (!figures)
        return Problem{"", 0,
                       "\"" + typed +
                           "\" is neither a unit code (like K4-0193 with its check character) nor its last figures."};
    const int number = std::stoi(typed);
    const UnitState* match = nullptr;
    for (const UnitState& unit : units_) {
        if (unit.record.code.number != number)
            continue;
        if (match != nullptr)
            return Problem{
                "", 0, typed + " is not unique: " + match->code() + " and " + unit.code() + ". Type the whole code."};
        match = &unit;
    }
    if (match == nullptr)
        return Problem{"", 0, "No unit has the number " + typed + "."};
    return match->record.id;
}

const store::PackRecord* Workshop::pack(Id id) const {
    const auto found = std::find_if(packs_.begin(), packs_.end(), [&](const auto& p) { return p.id == id; });
    return found == packs_.end() ? nullptr : &*found;
}

const store::BuildRecord* Workshop::build(Id id) const {
    const auto found = std::find_if(builds_.begin(), builds_.end(), [&](const auto& b) { return b.id == id; });
    return found == builds_.end() ? nullptr : &*found;
}

std::vector<store::QuarantineRecord> Workshop::open_quarantines() const {
    std::vector<store::QuarantineRecord> open;
    for (const auto& quarantine : quarantines_)
        if (quarantine.closed_at.empty())
            open.push_back(quarantine);
    return open;
}

std::string Workshop::subject_of(const store::QuarantineRecord& quarantine) const {
    if (const store::PackRecord* p = pack(quarantine.pack_id))
        return p->label;
    if (const UnitState* u = unit(quarantine.unit_id))
        return u->code();
    return {};
}

std::array<int, station_count> Workshop::waiting() const {
    std::array<int, station_count> counts{};
    const auto at = [&](Station station) -> int& { return counts[static_cast<std::size_t>(station)]; };
    for (const auto& p : packs_) {
        at(Station::receive) += p.stage == "receive" ? 1 : 0;
        at(Station::triage) += p.stage == "triage" ? 1 : 0;
        at(Station::open) += p.stage == "open" ? 1 : 0;
    }
    for (const UnitState& unit : units_) {
        if (!unit.in_stock())
            continue;
        at(Station::test) += !unit.facts.capacity_ah && unit.verdict.duty == Duty::rest_again ? 1 : 0;
        at(Station::sort) += unit.facts.capacity_ah ? 1 : 0;
        at(Station::match) += unit.verdict.duty <= Duty::light ? 1 : 0;
    }
    for (const auto& b : builds_)
        at(Station::build) += b.state == "taking" ? 1 : 0;
    return counts;
}

std::optional<Problem> Workshop::read_only_problem() const {
    switch (access()) {
    case store::Access::writing:
        return std::nullopt;
    case store::Access::reading_other_window:
        return Problem{
            "", 0, "This workshop is open in another window, so it can only be read here. Work in the other window."};
    case store::Access::reading_only_file:
        return Problem{"", 0,
                       "This workshop's file is read-only. Copy it to a place where you may write, and open the copy."};
    }
    return std::nullopt;
}

Result<Id> Workshop::guarded(const std::function<Id()>& work, const Touched& touched) {
    if (auto problem = read_only_problem())
        return *problem;
    Id id = 0;
    try {
        records_.together([&] { id = work(); });
    } catch (const SQLite::Exception& exception) {
        return Problem{path(), 0,
                       std::string("could not be written (") + exception.what() +
                           "). Nothing was recorded. Check the disk."};
    }
    if (!touched.nothing()) {
        read_again(touched);
        emit changed();
    }
    return id;
}

Result<bool> Workshop::guarded_step(const std::function<void()>& work, const Touched& touched) {
    const auto done = guarded(
        [&] {
            work();
            return Id{0};
        },
        touched);
    if (!done)
        return done.problem();
    return true;
}

} // namespace ingot
