// The rounds that prove a joined pack: the line of rounds, its groups in every round, and the boxes of the round in
// hand.
#pragma once

#include "app/stations/station.h"
#include "workshop/prove.h"

#include <optional>
#include <vector>

class QLabel;

namespace ingot::app {

class ProofLine;
class ProofPicture;
class ReadingBoxes;

class ProofView : public QWidget {
    Q_OBJECT
public:
    ProofView(Workshop& workshop, QWidget* parent);
    void show_pack(Id pack);
    [[nodiscard]] const PackProof& proof() const { return proof_; }
    [[nodiscard]] ProofRound round() const { return round_; }
    void show_round(ProofRound round);
    [[nodiscard]] int group() const { return group_; } // that is looked at, from 1; 0: none
    void choose_group(int group);
    // A figure, an answer, or nothing (the next box); true: dealt with, also by an objection.
    bool take_line(const QString& line);
    bool strike_last();
    void echo(const QString& typed);
    [[nodiscard]] QString hint() const;
    [[nodiscard]] bool wants_volts() const;
    [[nodiscard]] EvidenceContent evidence() const;
    // What is to be mended, in words to begin with; empty: nothing is out of line.
    [[nodiscard]] QString what_to_mend() const;

signals:
    void changed(); // what Evidence and the scan field say
    void told(const QString& sentence, bool objection);
    void acknowledged(const QString& what);

private:
    enum class BoxKind { load, group, terminals, unit, item };
    struct Box {
        BoxKind kind{};
        int number = 0; // group, or place of a unit
        ProofItem item{};
    };
    [[nodiscard]] std::vector<Box> boxes() const;
    [[nodiscard]] bool under_current() const; // amperes come first
    [[nodiscard]] bool empty(const Box& box) const;
    [[nodiscard]] int first_empty() const; // an index; the first where none is
    void show_boxes(const QString& typed = {});
    void next_box();
    void show();
    void look_again(); // and say that Evidence and the scan field say something else
    void went_on();
    [[nodiscard]] std::optional<int> unread_units() const;
    void take_answer(ProofItem item, ProveService::Answer answer);
    void take_figure(const Box& box, double value, const QString& line);
    [[nodiscard]] Result<Id> record(const Box& box, double value, double digit);
    // The group that is spoken of: the one looked at where something is out of line with it, else the first that is.
    [[nodiscard]] int spoken_group() const;
    void say_causes(int group, EvidenceContent& content) const;
    void say_findings(const RoundVerdict& verdict, EvidenceContent& content) const;

    Workshop& workshop_;
    PackProof proof_;
    ProofRound round_ = ProofRound::at_rest;
    ProofLine* line_ = nullptr;
    ProofPicture* picture_ = nullptr;
    ReadingBoxes* boxes_ = nullptr;
    QLabel* how_ = nullptr;
    int active_ = 0;
    int group_ = 0;
    std::optional<double> load_a_; // typed, before the first group is read
};

} // namespace ingot::app
