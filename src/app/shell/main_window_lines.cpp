// What is scanned or typed: for the page on screen, a label, or the words of a command.
#include "app/shell/main_window.h"

#include "app/rooms/ledger_page.h"
#include "app/shell/scan_field.h"
#include "workshop/wording.h"

#include <QMenu>
#include <QMenuBar>

#include <set>

namespace ingot::app {

void MainWindow::take_line(const QString& line) {
    Page* v = current_view();
    if (v == nullptr)
        return;
    if (line.isEmpty()) {
        v->take_line(line);
        return;
    }
    if (v->take_line(line)) {
        scan_->set_hint(v->scan_hint());
        return;
    }
    const std::string text = line.toStdString();
    if (looks_like_unit_code(text)) {
        const auto found = workshop_->find_unit(text);
        if (!found) {
            tell(wording::sentence(found.problem().sentence), true);
            return;
        }
        show_unit(found.value());
        return;
    }
    if (const HistorySubject subject = workshop_->ledger().named(text); subject.assembly != 0) {
        show_pack(subject.assembly);
        return;
    }
    run_command(line);
}

// A label opens its unit: here if this page shows units, else at Test.
void MainWindow::show_unit(Id unit) {
    const bool from_room = current_page_ != view(current_);
    if (!from_room && current_page_->show_unit(unit))
        return;
    go_to(Station::test);
    view(Station::test)->show_unit(unit);
}

// A pack or a build, at the station where it is worked on; where none is, its history.
void MainWindow::show_pack(Id pack) {
    const Assembly* assembly = workshop_->assembly(pack);
    if (assembly == nullptr)
        return;
    std::optional<Station> where;
    switch (assembly->state) {
    case AssemblyState::received:
        where = Station::receive;
        break;
    case AssemblyState::in_triage:
    case AssemblyState::under_repair:
        where = Station::triage;
        break;
    case AssemblyState::to_open:
        where = Station::open;
        break;
    case AssemblyState::planned:
    case AssemblyState::taken:
        where = Station::build;
        break;
    case AssemblyState::joined:
    case AssemblyState::proved:
        where = assembly->came_in() ? where : std::optional(Station::prove);
        break;
    case AssemblyState::in_service:
    case AssemblyState::returned:
        where = Station::prove;
        break;
    default:
        break;
    }
    if (where) {
        go_to(*where);
        if (view(*where)->take_line(QString::fromStdString(assembly->label)))
            return;
    }
    go_to(Room::ledger);
    qobject_cast<LedgerPage*>(view(Room::ledger))->show_history({0, pack});
}

namespace {

QString plain_words(const QAction* action) {
    return action->text().remove(QLatin1Char('&'));
}

void collect(const QMenu* menu, const QString& words, QList<QAction*>& fitting) {
    for (QAction* action : menu->actions()) {
        if (action->menu() != nullptr)
            collect(action->menu(), words, fitting);
        else if (plain_words(action).startsWith(words, Qt::CaseInsensitive))
            fitting.append(action);
    }
}

} // namespace

// Commands first, those of the page on screen before others'; then packs and units.
std::vector<Completion> MainWindow::offer(const QString& typed) {
    std::vector<Completion> out;
    std::set<QString> seen;
    const auto add = [&](const QString& words, const QString& where, const QString& keys) {
        if (out.size() >= WordCompleter::most || !words.contains(typed, Qt::CaseInsensitive) ||
            !seen.insert(words).second)
            return;
        QStringList shown{words};
        for (const QString& more : {where, keys})
            if (!more.isEmpty())
                shown << more;
        out.push_back({words, shown.join(QStringLiteral("  \u00B7  "))});
    };
    QList<QAction*> here;
    for (const QAction* action : menuBar()->actions())
        if (action->menu() != nullptr)
            collect(action->menu(), {}, here);
    for (const QAction* action : here)
        if (action->isEnabled())
            add(plain_words(action), {}, action->shortcut().toString(QKeySequence::NativeText));
    if (!workshop_)
        return out;
    for (int i = 0; i < station_count; ++i) {
        const auto station = static_cast<Station>(i);
        for (const QAction* command : view(station)->commands())
            add(plain_words(command), station_name(station), command->shortcut().toString(QKeySequence::NativeText));
    }
    for (const Assembly& pack : workshop_->packs())
        add(QString::fromStdString(pack.label), wording::assembly_state(pack.state), {});
    for (const Assembly& build : workshop_->builds())
        add(QString::fromStdString(build.label), wording::assembly_state(build.state), {});
    const std::string upper = typed.toUpper().toStdString();
    for (const UnitState& unit : workshop_->units())
        if (out.size() < WordCompleter::most && unit.code().find(upper) != std::string::npos)
            add(QString::fromStdString(unit.code()), tr("unit"), {});
    return out;
}

// Words find a command of the menus. One of another page brings that page; it is not done unseen.
void MainWindow::run_command(const QString& words) {
    QList<QAction*> fitting;
    for (const QAction* action : menuBar()->actions())
        if (action->menu() != nullptr)
            collect(action->menu(), words, fitting);
    for (QAction* whole : QList<QAction*>(fitting)) // the whole name of one is not the beginning of another's
        if (plain_words(whole).compare(words, Qt::CaseInsensitive) == 0)
            fitting = {whole};
    if (fitting.size() == 1) {
        if (fitting.front()->isEnabled())
            fitting.front()->trigger();
        else
            tell(workshop_ && !workshop_->writable()
                     ? tr("\"%1\" would change the workshop, which is open for reading only.")
                           .arg(plain_words(fitting.front()))
                     : tr("\"%1\" is not possible now: what it is done to is not selected or not ready.")
                           .arg(plain_words(fitting.front())),
                 true);
        return;
    }
    QStringList names;
    for (QAction* action : fitting)
        names << plain_words(action);
    if (fitting.isEmpty() && workshop_)
        for (int i = 0; i < station_count; ++i)
            for (QAction* command : view(static_cast<Station>(i))->commands())
                if (plain_words(command).startsWith(words, Qt::CaseInsensitive)) {
                    go_to(static_cast<Station>(i));
                    scan_->setText(plain_words(command));
                    tell(tr("\"%1\" is done at %2. It is open now; Enter does it.")
                             .arg(plain_words(command), station_name(static_cast<Station>(i))),
                         false);
                    return;
                }
    tell(fitting.isEmpty() ? tr("\"%1\" is neither a label, a reading that is wanted here, nor a command.").arg(words)
                           : tr("Which one? %1").arg(names.join(QStringLiteral(", "))),
         true);
}

} // namespace ingot::app
