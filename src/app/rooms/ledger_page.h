// The Ledger: every pack, unit, measurement, run, build and event. Search as you type, sort by the heads, the history
// of one thing on one page; what is marked can be copied, exported and printed.
#pragma once

#include "app/stations/page.h"
#include "workshop/models/history_model.h"
#include "workshop/models/ledger_models.h"
#include "workshop/models/shop_models.h"

class QLabel;
class QLineEdit;
class QStackedWidget;
class QTimer;

namespace ingot::app {

class ChoiceRow;
class Panel;
class RecordTable;

class LedgerPage : public Page {
    Q_OBJECT
public:
    enum class List { packs, units, measurements, runs, builds, events };
    static constexpr int list_count = 6;

    explicit LedgerPage(Workshop& workshop, QWidget* parent = nullptr);
    [[nodiscard]] QString title() const override { return tr("Ledger"); }
    void refresh() override;
    bool take_line(const QString& line) override;
    bool step_back() override;
    [[nodiscard]] QString scan_hint() const override;
    [[nodiscard]] EvidenceContent evidence() const override;
    bool show_unit(Id unit) override;
    void pose() override;

    void show_list(List list);
    void show_history(const HistorySubject& subject);
    [[nodiscard]] List list() const { return list_; }
    [[nodiscard]] RecordTable* table() const; // that is on screen
    [[nodiscard]] bool in_history() const;
    void write_csv(const QString& path);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void build_list_page();
    void build_history_page();
    RecordTable* make_table(List list);
    RecordModel* make_model(List list, QObject* parent);
    void search();
    void count();
    void set_live(bool live);
    void open_selected();
    void work_on_selected();
    void take_back();
    void give_run();
    [[nodiscard]] HistorySubject selected_subject() const;
    [[nodiscard]] bool sliced_searching() const;
    void export_csv();
    void print();
    [[nodiscard]] HistorySubject subject_of(List list, Id id) const; // what a row is about

    QAction* history_ = nullptr;
    QAction* work_on_ = nullptr;
    QAction* back_ = nullptr;
    QStackedWidget* pages_ = nullptr;
    ChoiceRow* kinds_ = nullptr;
    QLineEdit* search_ = nullptr;
    QLabel* count_ = nullptr;
    QStackedWidget* tables_ = nullptr;
    QTimer* pause_ = nullptr; // between two keys
    std::array<RecordTable*, list_count> made_{};
    MeasurementsModel* measurements_ = nullptr;
    RunsModel* runs_ = nullptr;
    EventsModel* events_ = nullptr;
    Panel* history_panel_ = nullptr;
    RecordTable* history_table_ = nullptr;
    HistoryModel* history_model_ = nullptr;
    List list_ = List::packs;
};

} // namespace ingot::app
