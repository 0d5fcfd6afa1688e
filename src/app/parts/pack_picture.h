// A pack as groups in series, units in parallel: what S x P means, drawn.
#pragma once

#include "core/cells/claim.h"

#include <QWidget>

namespace ingot::app {

class PackPicture : public QWidget {
    Q_OBJECT
public:
    explicit PackPicture(QWidget* parent = nullptr);
    void set(const PackLayout& layout, std::vector<QString> group_words = {}, std::vector<bool> warned = {});
    [[nodiscard]] QSize minimumSizeHint() const override { return {300, 84}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    PackLayout layout_;
    std::vector<QString> words_;
    std::vector<bool> warned_;
};

} // namespace ingot::app
