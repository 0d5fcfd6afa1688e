// The practice bench: packs, resting cells and cycled modules with hidden faults, dealt by level and number. Nothing is
// read from the workshop but its library, and nothing is written to it.
#pragma once

#include "app/stations/page.h"
#include "workshop/practice.h"

#include <array>

class QComboBox;
class QLabel;
class QLineEdit;
class QSpinBox;
class QStackedWidget;

namespace ingot::app {

class Panel;
class DealLanes;
class PracticeCards;
class PracticeSeries;
class RestPicture;
class VoltageLadder;

class PracticePage : public Page {
    Q_OBJECT
public:
    explicit PracticePage(Workshop& workshop, QWidget* parent = nullptr);
    [[nodiscard]] QString title() const override { return tr("Practice"); }
    void refresh() override;
    // The number of a card takes it; a deal's number ("3-4172") deals it.
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override { return tr("a card's number, or a deal's: 3-4172"); }
    [[nodiscard]] EvidenceContent evidence() const override;
    void pose() override;

    void deal(PracticeCase kind, int level, int seed);
    // A case of an instructor's own; what cannot be read or dealt is told, and the deal before stays.
    void deal_file(const QString& path);
    [[nodiscard]] const PracticeBench& bench() const { return bench_; }
    [[nodiscard]] bool answered() const { return score_.has_value(); }
    [[nodiscard]] const std::optional<PracticeScore>& score() const { return score_; }
    [[nodiscard]] PracticeCards* cards() const { return cards_; }
    // Where scores are kept: beside the application's own data, never in a workshop.
    [[nodiscard]] static QString scores_file();

private:
    struct AnswerRow {
        QComboBox* group = nullptr;
        QComboBox* fault = nullptr;
        QSpinBox* sure = nullptr;
    };
    QWidget* make_head();
    QWidget* make_answer();
    void add_commands();
    void next_deal();
    void dealt();
    void deal_own(const OwnDeal& own);
    void fill_levels();
    void ask_file();
    void take(int card);
    void take_measure(PracticeMeasure measure);
    void answer();
    void judge_pack();
    void finish(const PracticeScore& score);
    void show_all();
    void show_pack();
    void show_leak();
    void show_cycles();
    void show_match();
    [[nodiscard]] QString worth_of(PracticeMeasure measure) const;
    [[nodiscard]] QString truth() const;
    void show_answers();
    [[nodiscard]] std::vector<PracticeAnswer> answers() const;
    [[nodiscard]] QString number() const;
    void keep(const PracticeScore& score);
    void export_scores();
    [[nodiscard]] EvidenceContent before() const;
    [[nodiscard]] EvidenceContent after() const;

    PracticeBench bench_;
    std::optional<OwnDeal> own_; // what is dealt from a file
    QStringList seen_;           // what single measurements said
    std::optional<PracticeScore> score_;
    std::optional<PracticeJudged> judged_;
    Job* job_ = nullptr;

    QLabel *deal_ = nullptr, *spent_ = nullptr;
    QComboBox *case_ = nullptr, *level_box_ = nullptr;
    QLineEdit* learner_ = nullptr;
    Panel* picture_ = nullptr;
    QStackedWidget* stack_ = nullptr;
    VoltageLadder* ladder_ = nullptr;
    RestPicture* rest_ = nullptr;
    PracticeSeries* series_ = nullptr;
    DealLanes* lanes_ = nullptr;
    PracticeCards* cards_ = nullptr;
    QLabel* seen_words_ = nullptr;
    std::array<AnswerRow, 2> rows_;
    QComboBox* verdict_ = nullptr;
    QAction *answer_ = nullptr, *next_ = nullptr, *again_ = nullptr, *take_ = nullptr, *export_ = nullptr,
            *file_ = nullptr;
    bool filling_ = false;
};

} // namespace ingot::app
