#include "app/rooms/strips_page.h"

#include "app/parts/panel.h"
#include "app/parts/photo_view.h"
#include "app/parts/strip_picture.h"
#include "app/theme/theme.h"

#include <QLabel>
#include <QVBoxLayout>

namespace ingot::app {

StripsPage::StripsPage(Workshop& workshop, QWidget* parent) : PackRoom(workshop, Room::strips, parent) {
    QAction* back = add_way_back();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    panel_ = new Panel(title(), this);
    panel_->head()->addWidget(new PressButton(back, panel_));
    auto* help =
        sentence(tr("Choose a group, then the one it is joined to: the strip appears, or goes. Arrows walk, Space "
                    "chooses, F says which face is free to slide. Draw it before anything is cut."),
                 panel_);
    help->setFont(type(13));
    panel_->body()->addWidget(help);
    picture_ = new StripPicture(panel_);
    picture_->setObjectName(QStringLiteral("strip_picture"));
    picture_->setProperty(single_letters, true);
    panel_->body()->addWidget(picture_, 3);
    words_ = sentence({}, panel_);
    words_->setObjectName(QStringLiteral("strip_words"));
    panel_->body()->addWidget(words_);
    outer->addWidget(panel_, 3);
    photos_ = new PhotoView(workshop, this);
    outer->addWidget(photos_, 2);
    connect(picture_, &StripPicture::drawn, this, &StripsPage::keep);
}

void StripsPage::set_pack(Id id) {
    PackRoom::set_pack(id);
    refresh();
    emit evidence_changed();
}

void StripsPage::refresh() {
    panel_->set_title(title());
    photos_->show_pack(pack());
    picture_->setVisible(record() != nullptr);
    picture_->setEnabled(workshop().writable());
    if (const Assembly* pack = record();
        pack != nullptr && !(picture_->drawing() == workshop().open().strip_drawing(pack->id) &&
                             picture_->series() == pack->layout.series))
        picture_->set(workshop().open().strip_drawing(pack->id), pack->layout.series);
    say();
}

QWidget* StripsPage::hands_on() const {
    return record() != nullptr && picture_->isEnabled() ? picture_ : nullptr;
}

void StripsPage::keep() {
    const auto drawn = [this, id = pack()](const StripDrawing& drawing) {
        return [this, id, drawing] { return workshop().open().keep_strip_drawing(id, drawing); };
    };
    const StripDrawing before = workshop().open().strip_drawing(pack());
    if (!do_step(tr("a strip"), drawn(picture_->drawing()), drawn(before)))
        picture_->set(before, record()->layout.series);
    say();
}

void StripsPage::say() {
    const Assembly* pack = record();
    if (pack == nullptr) {
        words_->setText(tr("Go to Open, choose a pack and come from there."));
        return;
    }
    QStringList gaps;
    for (const int g : picture_->drawing().gaps(pack->layout.series))
        gaps << tr("%1 to %2").arg(g).arg(g + 1);
    words_->setText(
        (workshop().open().strips_drawn(pack->id) ? tr("Kept.") : tr("This is the usual way; nothing is kept yet.")) +
        QLatin1Char(' ') +
        (gaps.isEmpty() ? tr("The series path is whole.")
                        : tr("No strip yet from group %1.").arg(gaps.join(QStringLiteral(", ")))));
}

EvidenceContent StripsPage::evidence() const {
    EvidenceContent content;
    content.caution = "open";
    if (const Assembly* pack = record())
        content.subject = QString::fromStdString(pack->label);
    return content;
}

} // namespace ingot::app
