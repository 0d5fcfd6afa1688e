#include "app/stations/rest/rest_station.h"

#include "app/parts/choice_row.h"
#include "app/parts/due_board.h"
#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/parts/record_table.h"
#include "app/parts/rest_picture.h"
#include "app/theme/theme.h"
#include "exchange/text_file.h"
#include "workshop/figures.h"
#include "workshop/job.h"
#include "workshop/models/rest_model.h"
#include "workshop/rest_calendar.h"
#include "workshop/rest_due.h"
#include "workshop/rest_wording.h"
#include "workshop/wording.h"

#include <QDateTime>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QVBoxLayout>

#include <algorithm>
#include <map>

namespace ingot::app {

namespace {
enum Which { due_now, open, leaking, all };
} // namespace

RestStation::RestStation(Workshop& workshop, QWidget* parent)
    : StationView(workshop, Station::rest, parent), job_(new Job(this)) {
    job_->setObjectName(QStringLiteral("explaining")); // what is shown follows it
    make_commands();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    outer->addWidget(make_shelf(), 3);
    outer->addWidget(make_siblings(), 2);
    connect(which_, &ChoiceRow::changed, this, [this] { table_->filter()->choose_again(); });
    connect(due_view_, &DueBoardView::chosen_changed, this, [this] { walk_tray(); });
    connect(table_, &RecordTable::chosen, this, [this] {
        show_picture();
        emit evidence_changed();
        emit hint_changed();
    });
    connect(picture_, &RestPicture::unit_chosen, this, &RestStation::choose);
    connect(&workshop, &Workshop::changed, this, [this](const ChangeSet& changes) {
        stale_ |= changes.everything || changes.library || changes.rules || !changes.units.empty() ||
                  !changes.assemblies.empty();
    });
    connect(job_, &Job::failed, this, [this](const Problem& problem) { emit told(wording::problem(problem), true); });
}

void RestStation::make_commands() {
    next_ = add_command(tr("&Next that is due"), QKeySequence(tr("Ctrl+PgDown")), tr("The next unit to read today"),
                        [this] { next_due(); });
    keep_ =
        add_command(tr("Keep the &leaks"), QKeySequence(tr("Ctrl+Return")),
                    tr("The self-discharge of every unit that is decided becomes a measurement, for Sort and Match"),
                    [this] { keep(); });
    add_command(tr("Charged &full…"), {},
                tr("The selected unit stands at the end of its charge: its weeks on the shelf begin (retention test)"),
                [this] { charged_full(); });
    add_command(tr("&Discharged after storing…"), {},
                tr("What the selected unit gave after its weeks: what is missing is what it lost"),
                [this] { discharged(); });
    add_command(tr("Next readings as &calendar…"), {}, tr("One event a day with the trays to walk (iCalendar)"),
                [this] { write_calendar(); });
    add_command(tr("S&tock and storage"), {}, tr("Every unit with its home, and what storage asks of it"),
                [this] { emit room_wanted(Room::stock, 0); });
}

void RestStation::write_calendar() {
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Next readings"), QStringLiteral("readings.ics"), tr("Calendar (*.ics)"));
    if (path.isEmpty())
        return;
    const std::string stamp =
        QDateTime::currentDateTimeUtc().toString(QStringLiteral("yyyyMMddTHHmmss'Z'")).toStdString();
    if (fine(exchange::write_text(path.toStdString(), reading_calendar(workshop(), model_->shelf(), stamp))))
        emit told(tr("The next readings were written to %1.").arg(path), false);
}

QWidget* RestStation::make_shelf() {
    auto* panel = new Panel(tr("At rest"), this);
    which_ = new ChoiceRow({tr("Due now"), tr("Open"), tr("Leaking"), tr("All")}, panel);
    which_->setObjectName(QStringLiteral("rest_which"));
    which_->choose(all);
    panel->head()->addWidget(which_);
    panel->head()->addWidget(new PressButton(next_, panel));
    due_view_ = new DueBoardView(panel);
    panel->body()->addWidget(due_view_);
    none_ = sentence({}, panel);
    panel->body()->addWidget(none_);
    table_ = new RecordTable(QStringLiteral("resting_units"), panel);
    table_->setAccessibleName(tr("Units at rest"));
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    model_ = new RestModel(workshop(), table_);
    table_->set_records(model_, {QStringLiteral("code"), QStringLiteral("readings"), QStringLiteral("last_read"),
                                 QStringLiteral("drift"), QStringLiteral("verdict"), QStringLiteral("next"),
                                 QStringLiteral("home")});
    table_->filter()->set_choice([this](Id id) {
        const RestingLine* line = model_->line(id);
        if (line == nullptr || (!tray_rows_.empty() && !tray_rows_.contains(id)))
            return false;
        switch (which_->chosen()) {
        case due_now:
            return model_->due(*line);
        case open:
            return (line->told_by_voltage || line->retention) && line->leak.verdict == LeakVerdict::undecided;
        case leaking:
            return line->leak.verdict == LeakVerdict::leaking;
        default:
            return true;
        }
    });
    panel->body()->addWidget(table_, 1);
    shared_ = sentence({}, panel);
    shared_->setObjectName(QStringLiteral("rest_shared"));
    panel->body()->addWidget(shared_);
    return panel;
}

QWidget* RestStation::make_siblings() {
    auto* below = new Panel(tr("Beside its siblings"), this);
    round_words_ = caption({}, below);
    round_words_->setObjectName(QStringLiteral("rest_round"));
    below->head()->addWidget(round_words_);
    const auto add = [&](const QString& name, QLineEdit*& field, const char* id, int width) {
        field = new QLineEdit(below);
        field->setObjectName(QString::fromLatin1(id));
        field->setAccessibleName(name);
        field->setPlaceholderText(name);
        field->setMaximumWidth(scaled(width));
        field->setMinimumWidth(scaled(56));
        below->head()->addWidget(field);
    };
    below->head()->addWidget(caption(tr("read with"), below));
    add(tr("Meter"), instrument_, "rest_meter", 120);
    below->head()->addWidget(caption(tr("room"), below));
    add(tr("degC"), room_, "rest_room", 64);
    room_->setAccessibleName(tr("Temperature of the room, degC"));
    below->head()->addWidget(new PressButton(keep_, below));
    words_ = sentence({}, below);
    words_->setObjectName(QStringLiteral("rest_words"));
    below->body()->addWidget(words_);
    picture_ = new RestPicture(below);
    picture_->hide(); // until a unit is chosen
    below->body()->addWidget(picture_, 1);
    return below;
}

bool RestStation::judging() const {
    return job_->busy();
}

void RestStation::refresh() {
    if (stale_)
        judge();
    const bool any = model_->rowCount() > 0;
    none_->setVisible(!any);
    none_->setText(job_->busy()
                       ? tr("Looking at what was read …")
                       : tr("Nothing is at rest yet. Every voltage that is read at Test, with its day, begins "
                            "a unit's rest: read it again some days later and Ingot tells leaks from relaxation "
                            "and from the room."));
    table_->setVisible(any);
    keep_->setEnabled(workshop().writable() && any && !job_->busy()); // never what is being judged anew
    next_->setEnabled(any);
}

// What changes while it is judged is judged afterwards: nobody waits for the judgement of a shelf that was.
void RestStation::judge() {
    if (job_->busy())
        return;
    stale_ = false;
    job_->begin<RestShelf>([judge = shelf_judgement(workshop())](
                               const Job::Token& token) { return judge([&token] { return token.wanted(); }); },
                           [this](const RestShelf& shelf) {
                               shown(shelf);
                               if (stale_)
                                   refresh();
                           });
}

void RestStation::show_due() {
    const DueBoard board = due_board(workshop(), model_->shelf());
    const auto day = [](const std::string& text) {
        return text.empty() ? QString(QChar(0x2013))
                            : QLocale().toString(QDate::fromString(QString::fromStdString(text), Qt::ISODate),
                                                 QLocale::ShortFormat);
    };
    // Where a column has too many trays, its last chip holds the rest of them.
    std::vector<DueChip> chips;
    chip_rows_.clear();
    std::map<int, std::size_t> trays_in;
    for (const DueTray& tray : board.trays)
        ++trays_in[static_cast<int>(tray.column)];
    std::map<int, std::size_t> shown_in;
    for (const DueTray& tray : board.trays) {
        const int column = static_cast<int>(tray.column);
        const std::size_t most = DueBoardView::most_in_column;
        const bool crowded = trays_in[column] > most;
        const std::size_t place = shown_in[column]++;
        if (crowded && place >= most) {
            chip_rows_.back().insert(chip_rows_.back().end(), tray.rows.begin(), tray.rows.end());
        } else {
            chip_rows_.push_back(tray.rows);
            const bool rest = crowded && place + 1 == most;
            chips.push_back({column,
                             rest                ? tr("%1 more trays").arg(trays_in[column] - place)
                             : tray.home.empty() ? tr("without a tray")
                                                 : QString::fromStdString(tray.home),
                             0});
        }
        chips.back().units = static_cast<int>(chip_rows_.back().size());
    }
    due_view_->set({tr("overdue"), tr("today"), day(board.days[0]), day(board.days[1]), tr("later")}, std::move(chips));
    due_view_->setVisible(model_->rowCount() > 0);
}

// The chosen tray alone, its first unit waiting for its volts; none chosen: all again.
void RestStation::walk_tray() {
    const int chip = due_view_->chosen();
    tray_rows_.clear();
    if (chip >= 0) {
        const auto& rows = chip_rows_[static_cast<std::size_t>(chip)];
        tray_rows_.insert(rows.begin(), rows.end());
        which_->choose(all);
    }
    table_->filter()->choose_again();
    if (chip >= 0 && table_->filter()->rowCount() > 0)
        choose(table_->filter()->id_at(0));
    emit hint_changed();
}

void RestStation::shown(const RestShelf& shelf) {
    const Id before = table_->selected();
    model_->show(shelf);
    show_due();
    table_->filter()->choose_again();
    table_->select(before);
    refresh();
    const QString shared = wording::shared_by_leakers(shelf);
    shared_->setText(shared);
    shared_->setVisible(!shared.isEmpty());
    show_picture();
    show_round();
    emit evidence_changed();
}

void RestStation::choose(Id unit) {
    if (table_->filter()->row_of(unit) < 0) { // it is at rest, but the choice above hides it
        tray_rows_.clear();
        which_->choose(all);
        table_->filter()->choose_again();
    }
    table_->select(unit);
    show_picture();
    emit evidence_changed();
    emit hint_changed();
}

void RestStation::show_picture() {
    const RestingLine* line = model_->line(table_->selected());
    std::vector<const RestingLine*> fit;
    std::vector<const RestingLine*> others; // and the chosen one
    if (line != nullptr)
        for (const RestingLine& other : model_->shelf().lines)
            if (other.set == line->set && other.told_by_voltage)
                (other.leak.verdict == LeakVerdict::fit && &other != line ? fit : others).push_back(&other);
    // More lines than the eye can part: of the fit ones, which lie on each other, every so many.
    constexpr std::size_t most_drawn = 240;
    const std::size_t stride = fit.size() / most_drawn + 1;
    std::vector<RestingLine> siblings;
    std::vector<QString> codes;
    const auto draw = [&](const RestingLine& drawn) {
        siblings.push_back(drawn);
        codes.push_back(wording::resting_name(workshop(), drawn));
    };
    for (std::size_t i = 0; i < fit.size(); i += stride)
        draw(*fit[i]);
    const std::size_t stride_of_others = others.size() / (2 * most_drawn) + 1;
    for (std::size_t i = 0; i < others.size(); ++i)
        if (i % stride_of_others == 0 || others[i] == line)
            draw(*others[i]);
    picture_->setVisible(line != nullptr && line->told_by_voltage);
    QString words = line == nullptr ? tr("Choose a unit, or scan it.") : wording::leak_reason(*line);
    if (siblings.size() < fit.size() + others.size())
        words += QLatin1Char(' ') +
                 tr("%1 of its %2 siblings are drawn.").arg(siblings.size()).arg(fit.size() + others.size());
    words_->setText(words);
    picture_->set(std::move(siblings), std::move(codes), line == nullptr ? 0 : line->row());
}

// By the time at which each should decide, the earliest first.
void RestStation::next_due() {
    const RestingLine* best = nullptr;
    for (const RestingLine& line : model_->shelf().lines)
        if (model_->due(line) && line.row() != table_->selected() && (best == nullptr || line.due_at < best->due_at))
            best = &line;
    if (best != nullptr)
        choose(best->row());
    else
        emit told(tr("Nothing more is due today."), false);
}

void RestStation::keep() {
    if (!workshop().writable())
        return;
    const auto kept = workshop().rest().keep(model_->shelf());
    if (fine(kept))
        emit told(kept.value() == 0 ? tr("Nothing new is decided.")
                                    : tr("The self-discharge of %n units was kept.", nullptr, kept.value()),
                  false);
}

bool RestStation::show_unit(Id unit) {
    if (workshop().unit(unit) == nullptr)
        return false;
    if (model_->line(unit) == nullptr)
        emit told(tr("%1 is not at rest: its voltage was never read since charge was last moved through it. Read it at "
                     "Test.")
                      .arg(QString::fromStdString(workshop().unit(unit)->code())),
                  false);
    else
        choose(unit);
    return true;
}

QString RestStation::scan_hint() const {
    const RestingLine* line = model_->line(table_->selected());
    return line == nullptr ? tr("a unit's label") : tr("volts of %1").arg(wording::resting_name(workshop(), *line));
}

bool RestStation::round_stands() {
    const QString room = room_->text().trimmed();
    const auto room_c = figures::typed(room);
    if (!room.isEmpty() && !room_c) {
        emit told(tr("\"%1\" is no temperature of a room. Give it in degC, or leave it empty.").arg(room), true);
        return false;
    }
    const std::string meter = instrument_->text().trimmed().toStdString();
    if (workshop().rest().stands(round_, room_c, meter))
        return true;
    const auto begun = workshop().rest().begin_round(room_c, meter);
    if (!fine(begun))
        return false;
    round_ = begun.value();
    round_readings_ = 0;
    return true;
}

void RestStation::show_round() {
    const auto since = QDateTime::fromString(QString::fromStdString(round_.begun_at), Qt::ISODate).toLocalTime();
    round_words_->setText(
        round_.id == 0
            ? QString()
            : tr("round since %1: %2 read").arg(since.toString(QStringLiteral("HH:mm"))).arg(round_readings_));
}

bool RestStation::read(const RestingLine& line, double volts, std::optional<double> resolution) {
    if (!round_stands())
        return false;
    Measurement reading = RestService::reading(round_, volts, resolution);
    if (line.unit != 0) {
        if (!fine(workshop().test().record_reading(line.unit, reading)))
            return false;
        emit acknowledged(QStringLiteral("unit %1 voltage %2").arg(line.unit).arg(volts, 0, 'f', 4));
    } else {
        reading.subject = line.place;
        if (!fine(workshop().triage().record(reading, workshop().now())))
            return false;
        emit acknowledged(QStringLiteral("place %1 voltage %2").arg(-line.row()).arg(volts, 0, 'f', 4));
    }
    ++round_readings_;
    show_round();
    return true;
}

void RestStation::charged_full() {
    const Id unit = table_->selected();
    const UnitState* state = workshop().unit(unit);
    if (state == nullptr) {
        emit told(tr("Choose a unit of the stock first, or scan it."), false);
        return;
    }
    constexpr double most_v = 100;
    const auto volts = ask_figure(this, tr("Charged full"), tr("Volts at the end of its charge"), tr("V"), 0, most_v);
    if (!volts)
        return;
    Measurement reading;
    reading.quantity = Quantity::voltage;
    reading.value = *volts;
    reading.instrument = instrument_->text().trimmed().toStdString();
    reading.protocol = "typed";
    reading.conditions.condition = Condition::end_of_charge;
    if (fine(workshop().test().record_reading(unit, reading)))
        emit told(
            tr("%1 is stored full from today; discharge it in four weeks.").arg(QString::fromStdString(state->code())),
            false);
}

void RestStation::discharged() {
    const Id unit = table_->selected();
    if (workshop().unit(unit) == nullptr) {
        emit told(tr("Choose a unit of the stock first, or scan it."), false);
        return;
    }
    if (const auto possible = workshop().rest().discharged(unit, 0, {}); !fine(possible))
        return;
    constexpr double most_ah = 1000;
    const auto ah = ask_figure(this, tr("Discharged after storing"), tr("Ah that it gave"), tr("Ah"), 0, most_ah);
    if (!ah)
        return;
    const auto reading = workshop().rest().discharged(unit, *ah, {});
    if (fine(reading))
        fine(workshop().test().record_reading(unit, reading.value()));
}

bool RestStation::take_line(const QString& line) {
    const RestingLine* chosen = model_->line(table_->selected());
    const auto volts = figures::typed(line);
    const bool last_figures = line.size() == 4 && line.startsWith(QLatin1Char('0')) &&
                              !line.contains(QLatin1Char('.')) && !line.contains(QLatin1Char(','));
    if (volts && chosen != nullptr && !last_figures) {
        // Downward through what is shown: a round walks the shelf.
        const int row = table_->filter()->row_of(chosen->row());
        if (read(*chosen, *volts, figures::last_digit(line)) && row >= 0 && row + 1 < table_->filter()->rowCount())
            choose(table_->filter()->id_at(row + 1));
        return true;
    }
    const auto unit = workshop().find_unit(line.toStdString());
    return unit.ok() && show_unit(unit.value());
}

std::optional<Quantity> RestStation::wanted_reading() const {
    return model_->line(table_->selected()) != nullptr ? std::optional(Quantity::voltage) : std::nullopt;
}

// The round is this meter's: where another was named, a new one begins.
void RestStation::take_reading(const bench::MeterReading& reading, Quantity quantity, const std::string& instrument) {
    instrument_->setText(QString::fromStdString(instrument));
    Page::take_reading(reading, quantity, instrument);
}

void RestStation::pose() {
    const auto& lines = model_->shelf().lines;
    const auto told = std::max_element(lines.begin(), lines.end(), [](const RestingLine& a, const RestingLine& b) {
        return std::pair(a.leak.own.size(), a.leak.verdict == LeakVerdict::leaking) <
               std::pair(b.leak.own.size(), b.leak.verdict == LeakVerdict::leaking);
    });
    if (told != lines.end())
        choose(told->row());
}

EvidenceContent RestStation::evidence() const {
    EvidenceContent content;
    if (const RestingLine* line = model_->line(table_->selected())) {
        if (line->unit != 0) {
            content = unit_evidence(workshop(), line->unit);
        } else {
            content.subject = wording::resting_name(workshop(), *line);
            content.verdict = wording::leak_verdict(line->leak.verdict);
            content.line = tr("Its links are cut on one side: what it does now is its own.");
        }
        content.notes << wording::leak_reason(*line);
    }
    content.caution = "rest";
    return content;
}

} // namespace ingot::app
