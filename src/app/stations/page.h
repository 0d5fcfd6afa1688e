// What fills the centre of the window: a station's work surface, or one of the rooms beside the route. Takes scans,
// says what the Evidence panel shows, and has commands that belong to it alone.
#pragma once

#include "app/parts/explanation_bars.h"
#include "app/rooms/room.h"
#include "app/stations/step_command.h"
#include "workshop/wording.h"
#include "workshop/workshop.h"

#include <QAction>
#include <QWidget>

namespace ingot::bench {
struct MeterReading;
}

namespace ingot {
class Job;
}

namespace ingot::app {

// One way forward.
struct WayCard {
    QString title, below;
    bool advised = true;
};

// What the Evidence panel shows for the thing that is selected.
struct EvidenceContent {
    QString subject;
    std::optional<Duty> mark;
    QString verdict;
    QString line;                             // one sentence under the verdict
    std::vector<Evidence> reasons;            // as gauges or sentences
    std::vector<ExplanationBar> explanations; // best first
    QString tell_apart;                       // the reading that would settle it
    std::vector<WayCard> ways;
    QStringList notes;
    std::string caution;               // id in the library
    QString hazard_title, hazard_line; // what could hurt at this very moment; empty: nothing beyond the caution
    QString hand_title;                // what the hand has to do now; empty: nothing
    QString hand_line;
    Id unit = 0;        // when a unit's verdict can be overruled here
    QString decided_by; // rule set
};

class Page : public QWidget {
    Q_OBJECT
public:
    explicit Page(Workshop& workshop, QWidget* parent = nullptr);

    [[nodiscard]] virtual QString title() const = 0;
    // Called when the workshop changed and the page is on screen.
    virtual void refresh() = 0;
    // A line from the scan field. True: it was meant for this page and dealt with (also by an objection).
    virtual bool take_line(const QString& line) = 0;
    // Keys while the scan field is being typed in; for a reading round.
    virtual void echo(const QString& typed) { Q_UNUSED(typed); }
    virtual bool step_back() { return false; } // Backspace in an empty scan field, or Esc
    [[nodiscard]] virtual QString scan_hint() const = 0;
    // What a meter's reading would be here and now; nothing: it has no place. `meter_bay`: of a tester, in which the
    // thing to be read stands.
    [[nodiscard]] virtual std::optional<Quantity> wanted_reading() const { return std::nullopt; }
    [[nodiscard]] virtual int meter_bay() const { return 0; }
    // Such a reading, V or ohm; as if it had been typed, unless the page keeps the meter's name.
    virtual void take_reading(const bench::MeterReading& reading, Quantity quantity, const std::string& instrument);
    [[nodiscard]] virtual EvidenceContent evidence() const = 0;
    // Shows a unit if the page can.
    virtual bool show_unit(Id unit) {
        Q_UNUSED(unit);
        return false;
    }
    // What has the keys when the page comes on screen; nothing: the scan field.
    [[nodiscard]] virtual QWidget* hands_on() const { return nullptr; }
    // Prepares the view for a picture in the documentation.
    virtual void pose() {}
    // The page's commands, for the menus. Their shortcuts work while the page is on screen, and nowhere else.
    [[nodiscard]] const QList<QAction*>& commands() const { return commands_; }

signals:
    void evidence_changed();
    void hint_changed();
    void told(const QString& sentence, bool objection); // shown until read
    void alarmed(const QString& sentence);              // kept until it is read, whatever is told after it
    void acknowledged(const QString& what);             // a reading is durable
    void go_to(ingot::Station station);
    void unit_wanted(ingot::Id unit); // at the station where it is worked on
    void pack_wanted(ingot::Id pack);
    void units_wanted(ingot::Id build);                      // Match is to find units for it
    void room_wanted(ingot::app::Room room, ingot::Id pack); // `pack` 0: a room that is about no pack
    void left();                                             // back to the station
    void undo_pushed(QUndoCommand* command);

protected:
    // Shows the problem of a failed step; true if it went well.
    template <class T> bool fine(const Result<T>& result) {
        if (!result.ok())
            emit told(wording::problem(result.problem()), true);
        return result.ok();
    }
    [[nodiscard]] Workshop& workshop() const { return workshop_; }

    // Does `forward`; if it went well, Ctrl+Z does `back`.
    bool do_step(const QString& text, const Act& forward, const Act& back);
    // The same for a step that was done already.
    void keep_step(const QString& text, const Act& forward, const Act& back);
    // A pack goes to another state, and back with Ctrl+Z where the workshop allows that way too.
    bool send_pack(Id pack, AssemblyState state, const QString& text, const std::string& reason = {});

    QAction* add_command(const QString& text, const QKeySequence& keys, const QString& tip,
                         const std::function<void()>& run);

    // What a person knows of the pack, as notes of its Evidence.
    void add_particulars(EvidenceContent& content, Id pack) const;
    // What the units of this unit's pack say it turned out to be, as long as nobody recorded it; where it can be.
    void add_causes_by_units(EvidenceContent& content, Id unit) const;
    // Asks what a person knows of the pack and notes it.
    void ask_pack_particulars(Id pack);
    // Asks what the pack turned out to be, once what was read of it is explained.
    void ask_true_cause(Id pack);
    // Asks why a matched set is broken, and breaks it; Ctrl+Z makes it whole again.
    void ask_break_set(Id assembly);
    // Readings of the pack's groups from a file that is asked for.
    void bring_in_readings(Id pack);
    // Label of a pack, to be scanned anywhere.
    void print_pack_label(Id pack);

    // For a room that is entered from a station: Esc goes back there.
    QAction* add_way_back();

private:
    Job* recalling_ = nullptr; // what was said of a pack, before its true cause is asked for
    Workshop& workshop_;
    QList<QAction*> commands_;
};

// Evidence of a unit's verdict, as every page shows it.
EvidenceContent unit_evidence(const Workshop& workshop, Id unit);

} // namespace ingot::app
