#include "app/rooms/hazards_page.h"

#include "app/parts/panel.h"
#include "app/parts/questions.h"
#include "app/parts/record_table.h"
#include "app/theme/theme.h"
#include "workshop/models/shop_models.h"
#include "workshop/wording.h"

#include <QLabel>
#include <QVBoxLayout>

namespace ingot::app {

HazardsPage::HazardsPage(Workshop& workshop, QWidget* parent) : Page(workshop, parent) {
    setObjectName(QStringLiteral("hazards_page"));
    close_ = add_command(tr("&Close the hazard…"), QKeySequence(tr("Ctrl+Return")),
                         tr("With what was found and what was done; it stays on record"), [this] { close_selected(); });
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    const auto& cautions = workshop.library().cautions;
    if (const auto found = cautions.find("quarantine"); found != cautions.end()) {
        auto* card = new Panel(QString::fromStdString(found->second.title), this);
        card->set_kind(Panel::Kind::caution);
        for (const std::string& line : found->second.sentences)
            card->body()->addWidget(sentence(QString::fromStdString(line), card));
        outer->addWidget(card);
    }
    auto* panel = new Panel(tr("Hazards open"), this);
    panel->head()->addWidget(new PressButton(close_, panel, true));
    none_ = sentence(tr("No hazard is open. What is put in quarantine at any station stands here until it is closed."),
                     panel);
    panel->body()->addWidget(none_);
    table_ = new RecordTable(QStringLiteral("hazards_open"), panel);
    table_->setAccessibleName(tr("Hazards open"));
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    hazards_ = new HazardsModel(workshop, table_);
    table_->set_records(hazards_);
    panel->body()->addWidget(table_, 1);
    outer->addWidget(panel, 1);
    connect(table_, &RecordTable::chosen, this, [this] {
        refresh();
        emit evidence_changed();
    });
    connect(table_, &RecordTable::opened, this, [this] { close_selected(); });
}

void HazardsPage::refresh() {
    const bool any = hazards_->rowCount() > 0;
    none_->setVisible(!any);
    table_->setVisible(any);
    close_->setEnabled(workshop().writable() && table_->selected() != 0);
}

void HazardsPage::close_selected() {
    const Id id = table_->selected();
    if (id == 0 || !workshop().writable())
        return;
    const auto reason =
        ask_reason(this, tr("Close the quarantine"), tr("What was found, and what was done? It stays on record."));
    if (reason)
        fine(workshop().receive().close_quarantine(id, reason->toStdString()));
}

bool HazardsPage::take_line(const QString& line) {
    const HistorySubject subject = workshop().ledger().named(line.toStdString());
    for (int row = 0; row < hazards_->rowCount(); ++row) {
        const Quarantine* quarantine = hazards_->record(hazards_->id_at(row));
        if (!subject.nothing() && quarantine->unit == subject.unit && quarantine->assembly == subject.assembly) {
            table_->select(quarantine->id);
            refresh();
            emit evidence_changed();
            return true;
        }
    }
    return line.isEmpty();
}

EvidenceContent HazardsPage::evidence() const {
    const Quarantine* quarantine = hazards_->record(table_->selected());
    EvidenceContent content;
    content.caution = "quarantine";
    if (quarantine == nullptr)
        return content;
    if (quarantine->unit != 0)
        content = unit_evidence(workshop(), quarantine->unit);
    content.caution = "quarantine";
    content.mark = Duty::quarantine;
    content.subject = QString::fromStdString(workshop().receive().subject_of(*quarantine));
    content.verdict = wording::duty(Duty::quarantine);
    content.line = tr("until it is closed with what was found");
    return content;
}

} // namespace ingot::app
