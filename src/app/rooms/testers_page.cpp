#include "app/rooms/testers_page.h"

#include "app/parts/panel.h"
#include "app/parts/record_table.h"
#include "workshop/models/testers_model.h"

#include <QComboBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QVBoxLayout>

namespace ingot::app {

TestersPage::TestersPage(Workshop& workshop, Bays& bays, QWidget* parent) : Page(workshop, parent), bays_(bays) {
    setObjectName(QStringLiteral("testers_page"));
    attach_ = add_command(tr("&Attach the tester"), {}, tr("Look for it at this address; it keeps the name"),
                          [this] { attach(); });
    forget_ =
        add_command(tr("Forget the teste&r"), {}, tr("The shop has the selected one no longer"), [this] { forget(); });
    add_way_back();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    auto* panel = new Panel(tr("Testers on the bench"), this);
    none_ = sentence(tr("No tester is known yet. Say below where one is; its bays are then numbered on. Without a "
                        "device: Work > Start the simulated tester, at Test."),
                     panel);
    panel->body()->addWidget(none_);
    table_ = new RecordTable(QStringLiteral("testers"), panel);
    table_->setAccessibleName(tr("Testers on the bench"));
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    testers_ = new TestersModel(bays, table_);
    table_->set_records(testers_);
    panel->body()->addWidget(table_, 1);
    outer->addWidget(panel, 1);

    auto* form_panel = new Panel(tr("One more, or the selected one"), this);
    auto* form = new QFormLayout;
    form->setHorizontalSpacing(16);
    form->setVerticalSpacing(8);
    address_ = new QComboBox(form_panel);
    address_->setObjectName(QStringLiteral("tester_address"));
    address_->setAccessibleName(tr("Where the tester is"));
    address_->setEditable(true);
    address_->lineEdit()->setPlaceholderText(tr("serial:PORT,SPEED,8N1 or socket:PATH"));
    connect(address_->lineEdit(), &QLineEdit::returnPressed, this, [this] { attach(); });
    form->addRow(caption(tr("where"), form_panel), address_);
    name_ = new QLineEdit(form_panel);
    name_->setObjectName(QStringLiteral("tester_name"));
    name_->setAccessibleName(tr("What the tester is called"));
    name_->setPlaceholderText(tr("as it says itself"));
    connect(name_, &QLineEdit::returnPressed, this, [this] { attach(); });
    form->addRow(caption(tr("name"), form_panel), name_);
    dialect_ = new QComboBox(form_panel);
    dialect_->setObjectName(QStringLiteral("tester_dialect"));
    dialect_->setAccessibleName(tr("How the tester speaks"));
    for (const std::string& dialect : bench::dialects())
        dialect_->addItem(QString::fromStdString(dialect));
    form->addRow(caption(tr("speaks"), form_panel), dialect_);
    form_panel->body()->addLayout(form);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(new PressButton(attach_, form_panel, true));
    buttons->addWidget(new PressButton(forget_, form_panel));
    buttons->addStretch(1);
    form_panel->body()->addLayout(buttons);
    outer->addWidget(form_panel);
    connect(table_, &RecordTable::chosen, this, [this] { show_chosen(); });
    connect(&bays_, &Bays::changed, this, [this] {
        refresh();
        emit evidence_changed();
    });
}

const TesterView* TestersPage::chosen() const {
    return testers_->tester(table_->selected());
}

void TestersPage::refresh() {
    none_->setVisible(testers_->rowCount() == 0);
    table_->setVisible(testers_->rowCount() > 0);
    if (!address_->lineEdit()->hasFocus() && address_->count() == 0)
        for (const std::string& port : device_ports())
            address_->addItem(QString::fromStdString(port));
    attach_->setEnabled(workshop().writable());
    forget_->setEnabled(workshop().writable() && chosen() != nullptr);
}

void TestersPage::show_chosen() {
    if (const TesterView* tester = chosen()) {
        address_->setEditText(QString::fromStdString(tester->place.address));
        name_->setText(QString::fromStdString(tester->place.name));
        dialect_->setCurrentIndex(std::max(0, dialect_->findText(QString::fromStdString(tester->place.dialect))));
    }
    refresh();
    emit evidence_changed();
}

// The one that answers there already is only called otherwise: what runs in its bays is not touched.
void TestersPage::attach() {
    const std::string address = address_->currentText().trimmed().toStdString();
    const std::string name = name_->text().trimmed().toStdString();
    const std::string dialect = dialect_->currentText().toStdString();
    const TesterView* known = testers_->tester(testers_->row_of_address(address));
    const bool speaks_so =
        known != nullptr && (known->place.dialect.empty() ? "scpi" : known->place.dialect) == dialect;
    if (known != nullptr && known->state == bench::DeviceState::ready && speaks_so) {
        if (name != known->place.name && fine(bays_.rename(address, name)))
            emit told(tr("It is called %1 now.").arg(QString::fromStdString(name)), false);
    } else if (!fine(bays_.attach(TesterPlace{name, address, dialect, 0}))) {
        return;
    }
    table_->select(testers_->row_of_address(address));
    address_->lineEdit()->clearFocus();
    refresh();
    emit evidence_changed();
}

void TestersPage::forget() {
    const TesterView* tester = chosen();
    if (tester != nullptr && fine(bays_.forget(tester->place.address)))
        refresh();
}

bool TestersPage::take_line(const QString& line) {
    if (!line.startsWith(QStringLiteral("serial:")) && !line.startsWith(QStringLiteral("socket:")))
        return line.isEmpty();
    address_->setEditText(line);
    name_->clear();
    attach();
    return true;
}

EvidenceContent TestersPage::evidence() const {
    EvidenceContent content;
    content.subject = tr("Testers");
    content.caution = "test";
    const TesterView* tester = chosen();
    if (tester == nullptr) {
        content.line = tr("Each tester has a name, and its bays are numbered on from those of the one before it.");
        return content;
    }
    content.verdict = QString::fromStdString(tester->place.name);
    content.line = tester->words;
    int taken = 0;
    for (const BayView& bay : bays_.bays())
        taken += bay.address == tester->place.address && bay.look != BayLook::free ? 1 : 0;
    if (taken > 0)
        content.notes << tr("%n bays of it are taken.", nullptr, taken);
    content.notes << tr("Readings that it takes name it, and are compared as those of one instrument.");
    return content;
}

void TestersPage::pose() {
    refresh();
    if (table_->selected() == 0 && testers_->rowCount() > 0)
        table_->select(testers_->id_at(0));
    show_chosen();
}

} // namespace ingot::app
