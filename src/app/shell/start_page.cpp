#include "app/shell/start_page.h"

#include "app/parts/panel.h"
#include "app/theme/theme.h"

#include <QFileInfo>
#include <QVBoxLayout>

namespace ingot::app {

StartPage::StartPage(QWidget* parent) : QWidget(parent) {
    auto* outer = new QVBoxLayout(this);
    outer->addStretch(1);
    auto* panel = new Panel(tr("No workshop is open"), this);
    choices_ = panel;
    busy_ = sentence({}, this);
    busy_->setAlignment(Qt::AlignHCenter);
    busy_->setObjectName(QStringLiteral("busy"));
    busy_->hide();
    outer->addWidget(busy_);
    stop_ = new PressButton(tr("&Stop"), this);
    stop_->hide();
    outer->addWidget(stop_, 0, Qt::AlignHCenter);
    connect(stop_, &PressButton::clicked, this, &StartPage::stop_wanted);
    panel->setMaximumWidth(640);
    panel->body()->setSpacing(12);
    panel->body()->addWidget(
        sentence(tr("A workshop is one file that keeps your packs, units and readings. Make one, then add the first "
                    "pack at Receive: its chemistry, "
                    "how many groups in series, how many units in parallel, and what its label claims."),
                 panel));
    auto* row = new QHBoxLayout;
    auto* make = new PressButton(tr("&New workshop…"), panel, true);
    auto* open = new PressButton(tr("&Open…"), panel);
    auto* demo = new PressButton(tr("Look at the &demo"), panel);
    make->setObjectName(QStringLiteral("start_new"));
    demo->setObjectName(QStringLiteral("start_demo"));
    row->addWidget(make);
    row->addWidget(open);
    row->addWidget(demo);
    row->addStretch(1);
    panel->body()->addLayout(row);
    recent_ = new QWidget(panel);
    new QVBoxLayout(recent_);
    panel->body()->addWidget(recent_);
    outer->addWidget(panel, 0, Qt::AlignHCenter);
    outer->addStretch(2);
    connect(make, &PressButton::clicked, this, &StartPage::new_wanted);
    connect(open, &PressButton::clicked, this, &StartPage::open_wanted);
    connect(demo, &PressButton::clicked, this, &StartPage::demo_wanted);
}

void StartPage::set_busy(const QString& sentence, bool may_stop) {
    busy_->setText(sentence);
    busy_->setVisible(!sentence.isEmpty());
    stop_->setVisible(may_stop);
    choices_->setVisible(sentence.isEmpty());
}

void StartPage::set_recent(const QStringList& files) {
    while (QLayoutItem* item = recent_->layout()->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    if (files.isEmpty())
        return;
    recent_->layout()->addWidget(caption(tr("Opened before"), recent_));
    for (const QString& file : files) {
        auto* button = new PressButton(QFileInfo(file).completeBaseName(), recent_);
        button->setToolTip(file);
        recent_->layout()->addWidget(button);
        connect(button, &PressButton::clicked, this, [this, file] { emit file_wanted(file); });
    }
}

} // namespace ingot::app
