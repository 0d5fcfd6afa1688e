#include "exchange/library_toml.h"

#include "exchange/columns.h"
#include "exchange/protocol_toml.h"
#include "exchange/text_file.h"
#include "exchange/toml_tables.h"
#include "exchange/worth_json.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <filesystem>
#include <fmt/format.h>
#include <numeric>
#include <sstream>

namespace ingot::exchange {

namespace {

constexpr std::array<const char*, 13> kinds{"ocv",           "chemistries", "formats", "models",   "rule-sets",
                                            "look-findings", "cautions",    "triage",  "symptoms", "teardown",
                                            "protocols",     "practice",    "worth"};

OcvCurve parse_curve(const std::string& text, const std::string& file) {
    auto opened = CsvReader::open(text, file);
    if (!opened)
        throw Broken{opened.problem()};
    CsvReader& reader = opened.value();
    Column soc{"State of Charge / %", Dimension::text, {"state of charge", "soc"}, true, {}, 1, {}};
    Column ocv{"Voltage / V", Dimension::volt, {"voltage", "ocv"}, true, {}, 1, {}};
    if (const auto found = find_columns(reader, {&soc, &ocv}); !found)
        throw Broken{found.problem()};
    std::vector<double> socs;
    std::vector<double> volts;
    std::vector<std::string_view> fields;
    while (true) {
        const auto more = reader.next(fields);
        if (!more)
            throw Broken{more.problem()};
        if (!more.value())
            break;
        const auto s = number_in(reader, fields, soc);
        const auto v = number_in(reader, fields, ocv);
        for (const auto* value : {&s, &v}) {
            if (!*value)
                throw Broken{value->problem()};
            if (!value->value())
                throw Broken{reader.problem(said("a point of an OCV curve needs both numbers."))};
        }
        if (!socs.empty() && (*s.value() / 100 <= socs.back() || *v.value() <= volts.back()))
            throw Broken{reader.problem(said("an OCV curve must rise in both columns from line to line."))};
        socs.push_back(*s.value() / 100);
        volts.push_back(*v.value());
    }
    if (socs.size() < 2)
        throw Broken{reader.problem(said("an OCV curve needs two points at least."))};
    return {socs, volts};
}

Chemistry parse_chemistry(const TableReader& t, const std::map<std::string, OcvCurve>& curves) {
    Chemistry c;
    c.id = t.text("id");
    c.name = t.text("name");
    c.version = t.whole("version", 1);
    c.source = t.text("source");
    c.lithium = t.flag("lithium");
    c.voltage_tells_charge = t.flag("voltage_tells_charge");
    const TableReader v = t.table("voltage");
    c.nominal_low_v = v.number("nominal_low_v");
    c.nominal_high_v = v.number("nominal_high_v");
    c.usual_nominal_v = v.number_if("usual_nominal_v").value_or(0);
    c.full_v = v.number("full_v");
    c.charge_limit_v = v.number_if("charge_limit_v");
    c.charge_reaches_v = v.number_if("charge_reaches_v").value_or(0);
    c.charge_tolerance_v = v.number_if("charge_tolerance_v").value_or(0);
    c.test_cutoff_v = v.number("test_cutoff_v");
    c.highest_cutoff_v = v.number_if("highest_cutoff_v").value_or(0);
    c.floor_v = v.number("floor_v");
    c.scrap_below_v = v.number("scrap_below_v");
    c.quarantine_below_v = v.number("quarantine_below_v");
    const TableReader b = t.table("bands");
    c.bands = {b.number("dead_below_v"), b.number("deep_below_v"), b.number("low_below_v"), b.number("working_up_to_v"),
               b.number("over_above_v")};
    if (!(c.bands.dead_below_v < c.bands.deep_below_v && c.bands.deep_below_v < c.bands.low_below_v &&
          c.bands.low_below_v < c.bands.working_up_to_v && c.bands.working_up_to_v <= c.bands.over_above_v))
        b.fail(said("the bands must rise from dead_below_v to over_above_v."));
    if (c.scrap_below_v > c.quarantine_below_v)
        v.fail(said("scrap_below_v must not be above quarantine_below_v."));
    const std::string curve = t.text("ocv");
    const auto found = curves.find(curve);
    if (found == curves.end())
        t.fail(said("OCV curve \"{}\" is not among the files in data/ocv.", curve), t.raw().get("ocv"));
    c.ocv = found->second;
    if (t.raw().contains("storage")) {
        const TableReader s = t.table("storage");
        c.storage = {s.number_if("low_soc").value_or(0), s.number_if("high_soc").value_or(0), s.number("look_days"),
                     s.text("source")};
        if (c.storage.low_soc < 0 || c.storage.high_soc > 1 || c.storage.low_soc > c.storage.high_soc)
            s.fail(said("low_soc and high_soc are shares of charge from 0 to 1, the lower first."));
    }
    return c;
}

CellFormat parse_format(const TableReader& t) {
    constexpr double metres_per_mm = 1e-3;
    CellFormat f;
    f.id = t.text("id");
    f.iec_size = t.text_or("iec_size", "");
    f.broad_m = t.number_if("broad_mm").value_or(0) * metres_per_mm;
    f.thick_m = t.number_if("thick_mm").value_or(0) * metres_per_mm;
    if (f.broad_m <= 0 || f.thick_m <= 0)
        f.diameter_m = t.number("diameter_mm") * metres_per_mm;
    f.height_m = t.number("height_mm") * metres_per_mm;
    f.source = t.text("source");
    f.version = t.whole("version", 1);
    if (f.height_m <= 0 || (f.diameter_m <= 0 && f.thick_m <= 0))
        t.fail(said("a size is over 0 mm."));
    if (!t.raw().contains("capacity"))
        return f; // nobody says what it may hold
    for (const TableReader& c : t.tables("capacity"))
        f.capacities.push_back({c.texts("chemistries"), c.number("smallest_ah"), c.number("largest_ah"),
                                c.number("check_above_ah"), c.number("impossible_above_ah")});
    return f;
}

UnitModel parse_model(const TableReader& t) {
    UnitModel m;
    m.id = t.text("id");
    m.name = t.text("name");
    m.chemistry = t.text("chemistry");
    m.format = t.text_or("format", "");
    m.cells_in_series = t.whole("cells_in_series", 1);
    m.rated_ah = t.number("rated_ah");
    m.new_dc_resistance_ohm = t.number_if("new_dc_resistance_ohm");
    m.new_ac_resistance_ohm = t.number_if("new_ac_resistance_ohm");
    m.continuous_a = t.number_if("continuous_a").value_or(0);
    m.peak_a = t.number_if("peak_a").value_or(0);
    m.charge_a = t.number_if("charge_a").value_or(0);
    m.charge_limit_v = t.number_if("charge_limit_v");
    m.mass_kg = t.number_if("mass_kg").value_or(0);
    if (const auto low = t.raw()["low_self_discharge"]) {
        const auto self_discharge = low.value_exact<bool>();
        if (!self_discharge)
            t.fail(said("low_self_discharge is true or false."), t.raw().get("low_self_discharge"));
        m.low_self_discharge = *self_discharge;
    }
    m.version = t.whole("version", 1);
    m.source = t.text("source");
    if (m.rated_ah <= 0)
        t.fail(said("rated_ah must be more than 0."), t.raw().get("rated_ah"));
    if (m.peak_a > 0 && m.peak_a < m.continuous_a)
        t.fail(said("peak_a is less than continuous_a: what it gives for seconds it gives for long, too."),
               t.raw().get("peak_a"));
    if (m.charge_limit_v && !(*m.charge_limit_v > 0))
        t.fail(said("charge_limit_v must be more than 0."), t.raw().get("charge_limit_v"));
    if (m.cells_in_series < 1)
        t.fail(said("cells_in_series must be 1 or more."), t.raw().get("cells_in_series"));
    return m;
}

constexpr std::array<const char*, 3> working_duties{"drive", "store", "light"};

// What a school demands, under its key.
std::array<std::pair<const char*, Duty*>, 5> demands_of(RuleSet& rules) {
    return {{{"without_capacity", &rules.without_capacity},
             {"without_resistance", &rules.without_resistance},
             {"without_self_discharge", &rules.without_self_discharge},
             {"without_voltage", &rules.without_voltage},
             {"with_care", &rules.with_care}}};
}

RuleSet parse_rules(const TableReader& t) {
    RuleSet r;
    r.id = t.text("id");
    r.name = t.text("name");
    r.school = t.text("school");
    r.version = t.whole("version", 1);
    r.source = t.text("source");
    for (const auto& [key, duty] : demands_of(r))
        if (t.raw().contains(key)) {
            const auto known = duty_from(t.text(key));
            if (!known || (*known > Duty::light && *known != Duty::rest_again))
                t.fail(said("{} is drive, store, light or {}.", key, code(Duty::rest_again)));
            *duty = *known;
        }
    r.recovers_deep = t.raw()["recovers_deep"].value_or(false);
    const TableReader chemistries = t.table("chemistry");
    for (const auto& [key, node] : chemistries.raw()) {
        const std::string id(key.str());
        const TableReader chemistry = chemistries.table(id.c_str());
        std::array<DutyLimits, 3> limits;
        for (std::size_t i = 0; i < working_duties.size(); ++i) {
            const TableReader duty = chemistry.table(working_duties[i]);
            limits[i] = {duty.number("least_capacity"),         duty.number("largest_resistance"),
                         duty.number("largest_self_discharge"), duty.number_if("least_current_it"),
                         duty.number_if("largest_age_years"),   duty.number_if("largest_self_discharge_low"),
                         duty.number_if("largest_rise_k")};
            if (i > 0 && !loosens(limits[i - 1], limits[i]))
                duty.fail(said("limits must loosen from drive to store to light."));
        }
        r.by_chemistry[id] = limits;
    }
    if (!r.by_chemistry.contains("default"))
        t.fail(said("table [chemistry.default] is missing; it serves every chemistry without one of its own."));
    if (t.raw().contains("model")) {
        const TableReader models = t.table("model");
        for (const auto& [key, node] : models.raw()) {
            const std::string id(key.str());
            const TableReader model = models.table(id.c_str());
            ModelLimits limits;
            for (std::size_t i = 0; i < working_duties.size(); ++i) {
                if (!model.raw().contains(working_duties[i]))
                    continue;
                const TableReader duty = model.table(working_duties[i]);
                limits.least_capacity_ah[i] = duty.number_if("least_capacity_ah");
                limits.largest_resistance_ohm[i] = duty.number_if("largest_resistance_ohm");
            }
            r.by_model[id] = limits;
        }
    }
    return r;
}

LookFinding parse_finding(const TableReader& t) {
    LookFinding f{t.text("id"),       t.text("name"),   t.text("what_to_do"),
                  Consequence::go_on, t.text("source"), t.whole("version", 1)};
    const auto consequence = consequence_from(t.text("consequence"));
    if (!consequence)
        t.fail(said("consequence must be go-on, with-care, quarantine or refuse."), t.raw().get("consequence"));
    f.consequence = *consequence;
    return f;
}

double share(const TableReader& t, const char* key) {
    const double value = t.number(key);
    if (!(value > 0 && value < 1))
        t.fail(said("\"{}\" must lie between 0 and 1.", key), t.raw().get(key));
    return value;
}

TeardownPlan parse_plan(const TableReader& t) {
    TeardownPlan plan;
    plan.id = t.text("id");
    plan.name = t.text("name");
    plan.fits = t.text("fits");
    plan.kind = t.text_or("kind", "");
    plan.source = t.text("source");
    plan.version = t.whole("version", 1);
    if (plan.fits != "high-voltage" && plan.fits != "modules" && plan.fits != "any")
        t.fail(said("\"fits\" must be high-voltage, modules or any."));
    for (const TableReader& step : t.tables("step"))
        plan.steps.push_back({step.text("id"), step.text("text"), step.text_or("caution", "")});
    return plan;
}

// Files of older workshops do not name what was added later.
std::array<double, fault_count> of_each_fault(const TableReader& from, double all_discharged, double elsewhere) {
    std::array<double, fault_count> values{};
    for (int f = 0; f < fault_count; ++f) {
        const auto fault = static_cast<Fault>(f);
        const bool later = fault == Fault::all_discharged || fault == Fault::elsewhere;
        values[static_cast<std::size_t>(f)] = later && !from.raw().contains(code(fault))
                                                  ? (fault == Fault::elsewhere ? elsewhere : all_discharged)
                                                  : share(from, code(fault));
    }
    return values;
}

// A symptom again: in its place.
void parse_symptoms(const TableReader& t, std::vector<Symptom>& into) {
    for (const TableReader& s : t.tables("symptom")) {
        Symptom symptom{s.text("id"), s.text("name"), of_each_fault(s.table("met"), 0.3, 0.1),
                        s.raw()["refuses_charge"].value_or(false)};
        const auto there =
            std::find_if(into.begin(), into.end(), [&](const Symptom& known) { return known.id == symptom.id; });
        if (there == into.end())
            into.push_back(std::move(symptom));
        else
            *there = std::move(symptom);
    }
}

TriageKnowledge parse_triage(const TableReader& t) {
    TriageKnowledge k;
    k.version = t.whole("version", 1);
    k.source = t.text("source");
    const TableReader expect = t.table("expect");
    k.second_fault = share(expect, "second_fault");
    k.misread = share(expect, "misread");
    k.meter_error_v = share(expect, "meter_error_v");
    k.usual_charge = share(expect, "usual_charge");
    k.usual_capacity = share(expect, "usual_capacity");
    k.usual_resistance = share(expect, "usual_resistance");
    k.usual_ocv_v = share(expect, "usual_ocv_v");
    if (expect.raw().contains("levels_itself"))
        k.levels_itself = share(expect, "levels_itself");
    const TableReader prior = t.table("prior");
    k.prior = of_each_fault(prior, 0.004, 0.004);
    if (std::accumulate(k.prior.begin(), k.prior.end(), 0.0) >= 1)
        prior.fail(said("the chances must add up to less than 1; the rest is \"something else\"."));
    parse_symptoms(t, k.symptoms);
    if (t.raw().contains("usual_ohm_ah"))
        for (const auto& [chemistry, value] : *t.raw()["usual_ohm_ah"].as_table()) {
            const double ohm_ah = value.value_or(0.0);
            if (!(ohm_ah > 0))
                t.fail(said("\"usual_ohm_ah\": {} must be over 0.", std::string(chemistry.str())), &value);
            k.usual_ohm_ah[std::string(chemistry.str())] = ohm_ah;
        }
    return k;
}

Practice parse_practice(const TableReader& t) {
    const auto positive = [](const TableReader& from, const char* key) {
        const double value = from.number(key);
        if (!(value > 0))
            from.fail(said("\"{}\" must be over 0.", key), from.raw().get(key));
        return value;
    };
    Practice out;
    const TableReader joining = t.table("joining");
    out.joining = {positive(joining, "good_v"), positive(joining, "largest_v"), positive(joining, "resistor_below_v"),
                   positive(joining, "largest_share")};
    if (!(out.joining.good_v <= out.joining.largest_v && out.joining.largest_v <= out.joining.resistor_below_v))
        joining.fail(said("\"good_v\", \"largest_v\" and \"resistor_below_v\" must rise."));
    const TableReader tester = t.table("tester");
    out.usual_tester = {positive(tester, "current_gain"), positive(tester, "current_offset_a")};
    if (t.raw().contains("strip_material")) // a workshop of an earlier version has none
        for (const TableReader& m : t.tables("strip_material"))
            out.strip_materials.push_back({m.text("id"), positive(m, "resistivity_ohm_m"),
                                           m.number_if("per_kelvin").value_or(0), m.text("source")});
    if (t.raw().contains("proof")) {
        const TableReader proof = t.table("proof");
        out.proof = {positive(proof, "excellent_v"), positive(proof, "acceptable_v"),
                     positive(proof, "most_v"),      positive(proof, "sum_share"),
                     positive(proof, "fall_v"),      positive(proof, "least_rest_days"),
                     positive(proof, "sag_v"),       positive(proof, "over_limit_v")};
        // A workshop of an earlier version names no more than these.
        const auto usual = [&](const char* key, double& limit) {
            if (proof.raw().contains(key))
                limit = positive(proof, key);
        };
        usual("unit_v", out.proof.unit_v);
        usual("insulation_ohm", out.proof.insulation_ohm);
        usual("insulation_ohm_per_v", out.proof.insulation_ohm_per_v);
        usual("output_share", out.proof.output_share);
        usual("sensor_least_ohm", out.proof.sensor_least_ohm);
        usual("sensor_most_ohm", out.proof.sensor_most_ohm);
        usual("capacity_share", out.proof.capacity_share);
        usual("run_share", out.proof.run_share);
        usual("wake_hours", out.proof.wake_hours);
        usual("sag_share", out.proof.sag_share);
        if (!(out.proof.excellent_v < out.proof.acceptable_v && out.proof.acceptable_v < out.proof.most_v))
            proof.fail(said("\"excellent_v\", \"acceptable_v\" and \"most_v\" must rise."));
    }
    if (t.raw().contains("strip_density")) {
        constexpr double per_mm2 = 1e6;
        const TableReader density = t.table("strip_density");
        out.strip_density = {positive(density, "cool") * per_mm2, positive(density, "fair") * per_mm2,
                             positive(density, "warm") * per_mm2};
        if (!(out.strip_density->cool_a_per_m2 < out.strip_density->fair_a_per_m2 &&
              out.strip_density->fair_a_per_m2 < out.strip_density->warm_a_per_m2))
            density.fail(said("\"cool\", \"fair\" and \"warm\" must rise."));
    }
    const TableReader conditioning = t.table("conditioning");
    out.conditioning_bar_share = positive(conditioning, "bar_ah") / positive(conditioning, "of_rated_ah");
    return out;
}

// A shop's own copy stands in a file of its own: the higher version counts, of two alike the later.
template <class Entry> void keep_newest(std::map<std::string, Entry>& into, Entry made) {
    const auto there = into.find(made.id);
    if (there == into.end())
        into[std::string(made.id)] = std::move(made);
    else if (made.version >= there->second.version)
        there->second = std::move(made);
}
template <class Entry> void keep_newest(std::vector<Entry>& into, Entry made) {
    const auto there = std::find_if(into.begin(), into.end(), [&](const Entry& known) { return known.id == made.id; });
    if (there == into.end())
        into.push_back(std::move(made));
    else if (made.version >= there->version)
        *there = std::move(made);
}

void parse_into(Library& library, std::map<std::string, OcvCurve>& curves, const LibraryText& file) {
    if (file.kind == "ocv") {
        curves[std::filesystem::path(file.name).stem().string()] = parse_curve(file.text, file.name);
        return;
    }
    if (file.kind == "worth") {
        const auto usual = read_worth_case(file.text, file.name, library.usual_worth);
        if (!usual)
            throw Broken{usual.problem()};
        library.usual_worth = usual.value();
        return;
    }
    const toml::table parsed = parse_toml(file.text, file.name);
    const TableReader t(parsed, file.name);
    if (file.kind == "chemistries") {
        Chemistry c = parse_chemistry(t, curves);
        library.chemistries[c.id] = std::move(c);
    } else if (file.kind == "formats") {
        for (const TableReader& f : t.tables("format"))
            keep_newest(library.formats, parse_format(f));
    } else if (file.kind == "models") {
        for (const TableReader& m : t.tables("model")) {
            UnitModel model = parse_model(m);
            if (!library.chemistries.contains(model.chemistry))
                m.fail(said("chemistry \"{}\" is not in the library.", model.chemistry), m.raw().get("chemistry"));
            library.models[model.id] = std::move(model);
        }
    } else if (file.kind == "rule-sets") {
        RuleSet rules = parse_rules(t);
        library.rule_sets[rules.id] = std::move(rules);
    } else if (file.kind == "look-findings") {
        for (const TableReader& table : t.tables("finding"))
            keep_newest(library.findings, parse_finding(table));
    } else if (file.kind == "cautions") {
        for (const TableReader& c : t.tables("caution"))
            keep_newest(library.cautions, Caution{c.text("id"), c.text("title"), c.texts("sentences"), c.text("source"),
                                                  c.whole("version", 1)});
    } else if (file.kind == "teardown") {
        for (const TableReader& table : t.tables("plan"))
            keep_newest(library.teardown, parse_plan(table));
    } else if (file.kind == "protocols") {
        for (const TableReader& p : t.tables("protocol"))
            keep_newest(library.protocols, parse_protocol(p));
    } else if (file.kind == "triage") {
        library.triage = parse_triage(t);
    } else if (file.kind == "symptoms") {
        parse_symptoms(t, library.triage.symptoms);
    } else if (file.kind == "practice") {
        library.practice = parse_practice(t);
    }
}

// What each shop has of its own: nothing of it is shipped.
bool shops_own(std::string_view kind) {
    return kind == "models" || kind == "symptoms";
}

template <class Map> auto find_in(const Map& map, const std::string& id) {
    const auto found = map.find(id);
    return found == map.end() ? nullptr : &found->second;
}

} // namespace

const StripMaterial* Practice::strip_material(const std::string& id) const {
    for (const StripMaterial& material : strip_materials)
        if (material.id == id)
            return &material;
    return nullptr;
}

std::optional<StripDensity> Practice::density_limits(const StripMaterial& material) const {
    if (!strip_density || strip_materials.empty())
        return std::nullopt;
    const double factor = std::sqrt(strip_materials.front().resistivity_ohm_m / material.resistivity_ohm_m);
    return StripDensity{strip_density->cool_a_per_m2 * factor, strip_density->fair_a_per_m2 * factor,
                        strip_density->warm_a_per_m2 * factor};
}

const Chemistry* Library::chemistry(const std::string& id) const {
    return find_in(chemistries, id);
}
const CellFormat* Library::format(const std::string& id) const {
    return find_in(formats, id);
}
const UnitModel* Library::model(const std::string& id) const {
    return find_in(models, id);
}
const Protocol* Library::protocol(const std::string& id) const {
    return find_in(protocols, id);
}
const LookFinding* Library::finding(const std::string& id) const {
    const auto found = std::find_if(findings.begin(), findings.end(), [&](const LookFinding& f) { return f.id == id; });
    return found == findings.end() ? nullptr : &*found;
}

Result<std::vector<LibraryText>> read_library_texts(const std::string& folder) {
    std::vector<LibraryText> texts;
    for (const char* kind : kinds) {
        const std::filesystem::path path = std::filesystem::path(folder) / kind;
        std::error_code error;
        std::vector<std::filesystem::path> files;
        for (std::filesystem::directory_iterator it(path, error), end; !error && it != end; it.increment(error))
            if (it->path().extension() == ".toml" || it->path().extension() == ".csv" ||
                it->path().extension() == ".json")
                files.push_back(it->path());
        if (files.empty() && !shops_own(kind))
            return Problem{path.string(), 0, said("no data file is there. Install Ingot's data folder again.")};
        std::sort(files.begin(), files.end());
        for (const auto& file : files) {
            const auto text = read_text(file.string());
            if (!text)
                return text.problem();
            texts.push_back({kind, file.filename().string(), text.value()});
        }
    }
    return texts;
}

Result<Library> parse_library(const std::vector<LibraryText>& texts) {
    Library library;
    std::map<std::string, OcvCurve> curves;
    try {
        // In the order of `kinds`: curves before the chemistries that name them, chemistries before models.
        for (const char* kind : kinds)
            for (const LibraryText& text : texts)
                if (text.kind == kind)
                    parse_into(library, curves, text);
    } catch (const Broken& broken) {
        return broken.problem;
    }
    return library;
}

Result<Library> read_library(const std::string& folder) {
    const auto texts = read_library_texts(folder);
    if (!texts)
        return texts.problem();
    return parse_library(texts.value());
}

Result<RuleSet> parse_rule_set(const std::string& text, const std::string& file) {
    try {
        const toml::table parsed = parse_toml(text, file);
        return parse_rules(TableReader(parsed, file));
    } catch (const Broken& broken) {
        return broken.problem;
    }
}

std::string write_model(const UnitModel& model) {
    std::ostringstream out;
    const auto text = [&](const char* key, const std::string& value) {
        out << key << " = " << toml::value<std::string>(value) << '\n';
    };
    const auto figure = [&](const char* key, const std::optional<double>& value) { // as short as it reads back equal
        if (value && *value > 0)
            out << fmt::format("{} = {}\n", key, *value);
    };
    out << "[[model]]\n";
    text("id", model.id);
    text("name", model.name);
    text("chemistry", model.chemistry);
    if (!model.format.empty())
        text("format", model.format);
    out << fmt::format("cells_in_series = {}\n", model.cells_in_series);
    figure("rated_ah", model.rated_ah);
    figure("new_dc_resistance_ohm", model.new_dc_resistance_ohm);
    figure("new_ac_resistance_ohm", model.new_ac_resistance_ohm);
    figure("continuous_a", model.continuous_a);
    figure("peak_a", model.peak_a);
    figure("charge_a", model.charge_a);
    figure("charge_limit_v", model.charge_limit_v);
    figure("mass_kg", model.mass_kg);
    if (model.low_self_discharge)
        out << "low_self_discharge = true\n";
    out << fmt::format("version = {}\n", model.version);
    text("source", model.source);
    return out.str();
}

std::string write_teardown_plan(const TeardownPlan& plan) {
    std::ostringstream out;
    toml::array steps;
    for (const TeardownStep& step : plan.steps) {
        toml::table one{{"id", step.id}, {"text", step.text}};
        if (!step.caution.empty())
            one.insert("caution", step.caution);
        steps.push_back(std::move(one));
    }
    out << "[[plan]]\n"
        << toml::table{{"id", plan.id},
                       {"name", plan.name},
                       {"fits", plan.fits},
                       {"version", plan.version},
                       {"source", plan.source}}
        << "\n";
    if (!plan.kind.empty())
        out << "kind = " << toml::value<std::string>(plan.kind) << "\n";
    for (const auto& step : steps)
        out << "[[plan.step]]\n" << *step.as_table() << "\n";
    return out.str();
}

std::string write_rule_set(const RuleSet& rules) {
    std::ostringstream out;
    toml::table root{{"id", rules.id},           {"name", rules.name},     {"school", rules.school},
                     {"version", rules.version}, {"source", rules.source}, {"chemistry", toml::table{}}};
    RuleSet demands = rules;
    for (const auto& [key, duty] : demands_of(demands))
        root.insert(key, code(*duty));
    if (rules.recovers_deep)
        root.insert("recovers_deep", true);
    for (const auto& [chemistry, limits] : rules.by_chemistry) {
        toml::table duties;
        for (std::size_t i = 0; i < working_duties.size(); ++i) {
            toml::table duty{{"least_capacity", limits[i].least_capacity},
                             {"largest_resistance", limits[i].largest_resistance},
                             {"largest_self_discharge", limits[i].largest_self_discharge}};
            if (limits[i].least_current_it)
                duty.insert("least_current_it", *limits[i].least_current_it);
            if (limits[i].largest_age_years)
                duty.insert("largest_age_years", *limits[i].largest_age_years);
            if (limits[i].largest_self_discharge_low)
                duty.insert("largest_self_discharge_low", *limits[i].largest_self_discharge_low);
            if (limits[i].largest_rise_k)
                duty.insert("largest_rise_k", *limits[i].largest_rise_k);
            duties.insert(working_duties[i], std::move(duty));
        }
        root["chemistry"].as_table()->insert(chemistry, std::move(duties));
    }
    if (!rules.by_model.empty())
        root.insert("model", toml::table{});
    for (const auto& [model, limits] : rules.by_model) {
        toml::table duties;
        for (std::size_t i = 0; i < working_duties.size(); ++i) {
            toml::table duty;
            if (limits.least_capacity_ah[i])
                duty.insert("least_capacity_ah", *limits.least_capacity_ah[i]);
            if (limits.largest_resistance_ohm[i])
                duty.insert("largest_resistance_ohm", *limits.largest_resistance_ohm[i]);
            if (!duty.empty())
                duties.insert(working_duties[i], std::move(duty));
        }
        root["model"].as_table()->insert(model, std::move(duties));
    }
    out << root << "\n";
    return out.str();
}

} // namespace ingot::exchange
