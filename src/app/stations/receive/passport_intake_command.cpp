// A pack that comes in with its passport.
#include "app/stations/receive/receive_station.h"
#include "exchange/passport_json.h"
#include "exchange/text_file.h"
#include "workshop/passport_intake.h"

#include <QComboBox>
#include <QFileDialog>

namespace ingot::app {

void ReceiveStation::take_in_by_passport() {
    const QString path = QFileDialog::getOpenFileName(this, tr("Passport"), {}, tr("Passports (*.json)"));
    if (!path.isEmpty())
        take_in_passport_file(path);
}

bool ReceiveStation::take_in_passport_file(const QString& path) {
    const auto text = exchange::read_text(path.toStdString());
    if (!fine(text))
        return false;
    const auto passport = exchange::read_passport(text.value(), path.toStdString());
    if (!fine(passport))
        return false;
    // A pack of this bench is known already: it is looked at where it was proved.
    if (const Id build = built_here(workshop(), passport.value()); build != 0) {
        emit told(tr("%1 was built here: what it is, and how it fared, stands at Prove.")
                      .arg(QString::fromStdString(passport.value().label)),
                  false);
        emit pack_wanted(build);
        return true;
    }
    const Id lot = lot_->currentData().toLongLong();
    if (lot == 0) {
        emit told(tr("Packs belong to a lot. Make the lot first."), true);
        return false;
    }
    const auto made = take_in_passport(workshop(), lot, passport.value());
    if (!fine(made))
        return false;
    refresh();
    select(made.value());
    emit told(tr("%1 came in with its passport: layout, capacity and board stand as it says. Look at it all the same.")
                  .arg(QString::fromStdString(workshop().pack(made.value())->label)),
              false);
    return true;
}

} // namespace ingot::app
