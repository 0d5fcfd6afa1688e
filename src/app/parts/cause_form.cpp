#include "app/parts/cause_form.h"

#include "app/parts/questions.h"
#include "workshop/figures.h"
#include "workshop/triage_wording.h"

#include <QCheckBox>
#include <QComboBox>
#include <QCoreApplication>
#include <QLineEdit>

#include <algorithm>
#include <numeric>

namespace ingot::app {

namespace {

QString tr(const char* text) {
    return QCoreApplication::translate("ingot::app", text);
}

// One row of the form: of a fault of groups the line where they are typed, of any other a tick.
struct FaultRow {
    Fault fault{};
    QLineEdit* line = nullptr;
    QCheckBox* tick = nullptr;
    [[nodiscard]] bool filled() const {
        return line != nullptr ? !line->text().trimmed().isEmpty() : tick->isChecked();
    }
};

class CauseForm {
public:
    CauseForm(QWidget* parent, const Workshop& workshop, const Assembly& pack, const Explained& said)
        : series_(pack.layout.series), words_{tr("all"), QStringLiteral("?")},
          box_(parent, tr("What it turned out to be"),
               tr("What was found in %1? Type the groups of each fault (3, 5), %2 for every group, %3 where nobody "
                  "knows which. The chances that Ingot states are held against it, and packs of this kind are expected "
                  "accordingly.")
                   .arg(QString::fromStdString(pack.label), words_.all, words_.unknown)) {
        add_what_is_said(workshop.triage(), pack.id, said);
        for (int f = 0; f < fault_count; ++f)
            add_fault(static_cast<Fault>(f), pack);
        fill(0);
    }

    std::optional<std::vector<NamedFault>> ask() {
        if (!box_.ask())
            return std::nullopt;
        std::vector<NamedFault> out;
        for (const FaultRow& row : rows_)
            if (row.filled())
                out.push_back({row.fault, row.line != nullptr ? groups_of(row).value() : std::vector<int>{}});
        return out;
    }

private:
    void add_what_is_said(const TriageService& triage, Id pack, const Explained& said) {
        combo_ = new QComboBox(&box_);
        combo_->setObjectName(QStringLiteral("cause"));
        const auto offer = [this](std::vector<NamedFault> causes, const QString& words) {
            combo_->addItem(words);
            said_.push_back(std::move(causes));
        };
        if (const auto recorded = triage.outcome(pack))
            offer(recorded->causes, tr("As recorded: %1").arg(wording::faults(recorded->causes).toLower()));
        if (const auto by_units = triage.causes_by_units(pack); !by_units.empty())
            offer(by_units, tr("As its units read: %1").arg(wording::faults(by_units).toLower()));
        constexpr std::size_t most_said = 6;
        for (std::size_t i = 0; i < std::min(most_said, said.explanations.size()); ++i) {
            const auto causes = named_by(said.explanations[i]);
            offer(causes, wording::faults(causes));
        }
        combo_->addItem(tr("As typed below"));
        box_.add_row(tr("As was said"), combo_);
        QObject::connect(combo_, &QComboBox::activated, &box_, [this](int index) { fill(index); });
    }
    void add_fault(Fault fault, const Assembly& pack) {
        if (fault == Fault::disconnected_cell && pack.layout.units_per_group() < 2)
            return;
        FaultRow& row = rows_.emplace_back();
        row.fault = fault;
        if (!concerns_whole_pack(fault)) {
            row.line = box_.add_optional_line(wording::fault(fault), {},
                                              [this, fault](const QString&) { return objection_to(fault); });
            row.line->setObjectName(QStringLiteral("cause_") + QString::fromLatin1(code(fault)));
            QObject::connect(row.line, &QLineEdit::textEdited, &box_, [this] { as_typed(); });
            return;
        }
        row.tick = new QCheckBox(fault == Fault::healthy ? tr("in the whole pack") : tr("the whole pack"), &box_);
        row.tick->setObjectName(QStringLiteral("cause_") + QString::fromLatin1(code(fault)));
        box_.add_row(wording::fault(fault), row.tick);
        QObject::connect(row.tick, &QCheckBox::clicked, &box_, [this] { as_typed(); });
    }
    void as_typed() { combo_->setCurrentIndex(combo_->count() - 1); }
    // With what one line of the list says; the last one leaves the rows as they are.
    void fill(int index) {
        if (index < 0 || static_cast<std::size_t>(index) >= said_.size())
            return;
        for (const FaultRow& row : rows_) {
            const NamedFault* named = nullptr;
            for (const NamedFault& one : said_[static_cast<std::size_t>(index)])
                named = one.fault == row.fault ? &one : named;
            if (row.tick != nullptr)
                row.tick->setChecked(named != nullptr);
            else
                row.line->setText(named != nullptr ? typed(*named) : QString());
        }
    }
    [[nodiscard]] QString typed(const NamedFault& named) const {
        if (named.groups.empty())
            return named.fault == Fault::imbalance ? words_.all : words_.unknown;
        QStringList numbers;
        for (const int g : named.groups)
            numbers << QString::number(g);
        return numbers.join(QStringLiteral(", "));
    }
    [[nodiscard]] std::optional<std::vector<int>> groups_of(const FaultRow& row) const {
        const QString text = row.line->text().trimmed();
        const bool all = text.compare(words_.all, Qt::CaseInsensitive) == 0;
        // All apart from each other is a state of the pack.
        if (text == words_.unknown || (all && row.fault == Fault::imbalance))
            return std::vector<int>{};
        if (!all)
            return figures::typed_groups(text, series_);
        std::vector<int> every(static_cast<std::size_t>(series_));
        std::iota(every.begin(), every.end(), 1);
        return every;
    }
    // Said at the row that is wrong; what concerns no row by itself at the first line.
    [[nodiscard]] QString objection_to(Fault fault) const {
        bool any = false;
        bool sound = false;
        const FaultRow* first = nullptr;
        for (const FaultRow& row : rows_) {
            (row.fault == Fault::healthy ? sound : any) |= row.filled();
            first = first == nullptr && row.line != nullptr ? &row : first;
            if (row.fault == fault && row.filled() && !groups_of(row))
                return tr("Give numbers of groups from 1 to %1, each once.").arg(series_);
        }
        if (first == nullptr || first->fault != fault || any != sound)
            return {};
        return any ? tr("Nothing was wrong, and a fault? Take one of them back.")
                   : tr("Say what was found, or that nothing was wrong.");
    }

    struct Words {
        QString all, unknown;
    };
    int series_;
    Words words_;
    QuestionBox box_;
    QComboBox* combo_ = nullptr;
    std::vector<std::vector<NamedFault>> said_;
    std::vector<FaultRow> rows_;
};

} // namespace

std::optional<std::vector<NamedFault>> ask_causes(QWidget* parent, const Workshop& workshop, const Assembly& pack,
                                                  const Explained& said) {
    return CauseForm(parent, workshop, pack, said).ask();
}

} // namespace ingot::app
