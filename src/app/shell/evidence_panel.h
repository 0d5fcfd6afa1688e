// For what is selected: verdict, reasons as gauges against their limits, the caution that belongs here, Overrule.
#pragma once

#include "app/parts/panel.h"
#include "app/stations/page.h"

#include <QWidget>

class QLabel;
class QVBoxLayout;

namespace ingot::app {

class PressButton;

class EvidencePanel : public QWidget {
    Q_OBJECT
public:
    static constexpr int least_width = 220;
    explicit EvidencePanel(QWidget* parent = nullptr);
    void show_content(const EvidenceContent& content, const exchange::Library& library, bool writable);

signals:
    void overrule_wanted(ingot::Id unit);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void clear();
    Panel* add_card(Panel::Kind kind, const QString& title, int size);
    void add_subject(const EvidenceContent& content);
    void add_reason(const Evidence& evidence);
    void add_ways(const std::vector<WayCard>& ways);
    void add_caution(const exchange::Caution& caution);

    QWidget* content_ = nullptr;
    QVBoxLayout* list_ = nullptr;
    PressButton* overrule_ = nullptr;
    QLabel* decided_by_ = nullptr;
    Id unit_ = 0;
};

} // namespace ingot::app
