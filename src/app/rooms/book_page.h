// The shop's book: yields by lot, packs that went out, energy kept from waste, what went to recycling.
#pragma once

#include "app/stations/page.h"
#include "workshop/book.h"

class QLabel;

namespace ingot::app {

class Figure;
class StatedPicture;
class YieldBars;

class BookPage : public Page {
    Q_OBJECT
public:
    explicit BookPage(Workshop& workshop, QWidget* parent = nullptr);
    [[nodiscard]] QString title() const override { return tr("The shop's book"); }
    void refresh() override;
    bool take_line(const QString& line) override;
    [[nodiscard]] QString scan_hint() const override { return tr("a lot's label selects it"); }
    [[nodiscard]] EvidenceContent evidence() const override;
    [[nodiscard]] const ShopBook& book() const { return book_; }
    [[nodiscard]] YieldBars* bars() const { return bars_; }

    // As a list on A4 pages.
    [[nodiscard]] bool write_pdf_to(const QString& path) const;

private:
    void write_csv();
    void write_pdf();
    [[nodiscard]] QStringList said_of_jobs() const;

    ShopBook book_;
    YieldBars* bars_ = nullptr;
    Figure *kept_ = nullptr, *out_ = nullptr, *stock_ = nullptr, *gone_ = nullptr, *hours_ = nullptr;
    QLabel *none_ = nullptr, *packs_ = nullptr;
    StatedPicture* stated_ = nullptr;
};

} // namespace ingot::app
