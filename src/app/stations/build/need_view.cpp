#include "app/stations/build/need_view.h"

#include "app/parts/panel.h"
#include "app/parts/record_table.h"
#include "app/parts/window_bars.h"
#include "app/theme/theme.h"
#include "workshop/book.h"
#include "workshop/build_wording.h"
#include "workshop/figures.h"

#include <QComboBox>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QTableWidget>
#include <QVBoxLayout>

namespace ingot::app {

namespace {
constexpr std::array charger_kinds{ChargerKind::cc_cv, ChargerKind::minus_dv, ChargerKind::trickle, ChargerKind::lead};
}

NeedView::NeedView(Workshop& workshop, const std::vector<QAction*>& commands, QWidget* parent)
    : BuildView(workshop, parent) {
    using F = DesignFigure;
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(8);
    auto* need = new Panel(tr("What the device needs"), this);
    boxes_ = new DesignBoxes(tr("What the device needs"),
                             {F::off_v, F::nominal_v, F::bears_v, F::continuous_a, F::peak_a, F::load_w, F::run_s,
                              F::charger_v, F::new_charger_v, F::old_series, F::wanted_ah},
                             need);
    boxes_->setObjectName(QStringLiteral("need_boxes"));
    need->body()->addWidget(boxes_);
    auto* words = new QHBoxLayout;
    words->setSpacing(8);
    charger_ = new QComboBox(need);
    charger_->setObjectName(QStringLiteral("charger_kind"));
    charger_->setAccessibleName(tr("Old charger"));
    charger_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    charger_->addItem(tr("charger not known"));
    for (const ChargerKind kind : charger_kinds)
        charger_->addItem(wording::charger_kind(kind), QString::fromLatin1(code(kind)));
    old_ = new QComboBox(need);
    old_->setObjectName(QStringLiteral("old_chemistry"));
    old_->setAccessibleName(tr("Chemistry of the old pack"));
    old_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    old_->addItem(tr("old pack not known"));
    for (const auto& [id, chemistry] : workshop.library().chemistries)
        old_->addItem(tr("was %1").arg(QString::fromStdString(chemistry.name)), QString::fromStdString(id));
    board_ = new QLineEdit(need);
    board_->setObjectName(QStringLiteral("board"));
    board_->setAccessibleName(tr("Protection board"));
    board_->setPlaceholderText(tr("board: 7S 20 A, wakes on …"));
    moves_over_ = new QLineEdit(need);
    moves_over_->setObjectName(QStringLiteral("moves_over"));
    moves_over_->setAccessibleName(tr("What moves over from the old pack"));
    moves_over_->setPlaceholderText(tr("moves over: sensor, coil, fuse, plug"));
    board_kind_ = new QComboBox(need);
    board_kind_->setObjectName(QStringLiteral("board_kind"));
    board_kind_->setAccessibleName(tr("What protects it"));
    board_kind_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    board_kind_->addItem(tr("protected by: not known"));
    for (int k = 0; k < board_kind_count; ++k)
        board_kind_->addItem(wording::board_kind(static_cast<BoardKind>(k)),
                             QString::fromLatin1(code(static_cast<BoardKind>(k))));
    joining_ = new QComboBox(need);
    joining_->setObjectName(QStringLiteral("joining"));
    joining_->setAccessibleName(tr("How units are joined"));
    joining_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    joining_->addItem(tr("joined by: not known"));
    for (int k = 0; k < joining_kind_count; ++k)
        joining_->addItem(wording::joining_kind(static_cast<JoiningKind>(k)),
                          QString::fromLatin1(code(static_cast<JoiningKind>(k))));
    words->addWidget(old_, 2);
    words->addWidget(charger_, 2);
    words->addWidget(moves_over_, 3);
    need->body()->addLayout(words);
    auto* safe = new QHBoxLayout;
    safe->setSpacing(8);
    safe->addWidget(board_kind_, 2);
    safe->addWidget(joining_, 2);
    safe->addWidget(board_, 3);
    need->body()->addLayout(safe);
    outer->addWidget(need);

    auto* windows = new Panel(tr("Full windows on one axis"), this);
    none_ = sentence({}, windows);
    windows->body()->addWidget(none_);
    bars_ = new WindowBars(windows);
    windows->body()->addWidget(bars_);
    outer->addWidget(windows);

    auto* fill = new Panel(tr("What could fill it"), this);
    fill_words_ = new QLabel(fill);
    set_muted(fill_words_);
    fill->head()->insertWidget(1, fill_words_);
    for (QAction* command : commands)
        fill->head()->addWidget(new PressButton(command, fill, command == commands.back()));
    fillings_ = new QTableWidget(0, 7, fill);
    fillings_->setObjectName(QStringLiteral("fillings"));
    fillings_->setAccessibleName(tr("Models in stock that could fill the chosen design"));
    fillings_->setHorizontalHeaderLabels(
        {tr("model"), tr("in stock / needed"), tr("design"), tr("Wh"), tr("run"), tr("kg"), tr("cost")});
    dress_table(*fillings_);
    fillings_->verticalHeader()->setDefaultSectionSize(scaled(25));
    for (int column = 1; column < fillings_->columnCount(); ++column) // as their figures
        fillings_->horizontalHeaderItem(column)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    fillings_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    fillings_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    fillings_->setSelectionMode(QAbstractItemView::SingleSelection);
    fillings_->setTabKeyNavigation(false);
    fillings_->setMinimumHeight(scaled(54)); // a model
    fill->body()->addWidget(fillings_, 1);
    outer->addWidget(fill, 1);

    connect(fillings_, &QTableWidget::itemSelectionChanged, this, &NeedView::chosen_changed);
    connect(boxes_, &FigureBoxes::chosen, this, &BuildView::hint_changed);
    connect(bars_, &WindowBars::chosen_changed, this, [this] {
        show_fillings();
        emit chosen_changed(); // another design, with or without stock that could fill it
        emit evidence_changed();
    });
    connect(charger_, &QComboBox::activated, this, [this] {
        if (!filling_)
            set_figure(DesignFigure::charger_kind, charger_->currentData().toString());
    });
    connect(old_, &QComboBox::activated, this, [this] {
        if (!filling_)
            set_figure(DesignFigure::old_chemistry, old_->currentData().toString());
    });
    connect(board_kind_, &QComboBox::activated, this, [this] {
        if (!filling_)
            set_figure(DesignFigure::board_kind, board_kind_->currentData().toString());
    });
    connect(joining_, &QComboBox::activated, this, [this] {
        if (!filling_)
            set_figure(DesignFigure::joining, joining_->currentData().toString());
    });
    connect(board_, &QLineEdit::editingFinished, this, [this] { keep_words(DesignFigure::board, board_); });
    connect(moves_over_, &QLineEdit::editingFinished, this,
            [this] { keep_words(DesignFigure::moves_over, moves_over_); });
}

void NeedView::keep_words(DesignFigure figure, QLineEdit* line) {
    if (!filling_ && line->isModified() && build() != 0)
        set_figure(figure, line->text().trimmed());
    line->setModified(false);
}

void NeedView::refresh() {
    filling_ = true;
    const BuildDesign& design = workshop().build().design(build());
    const bool may = build() != 0 && workshop().writable();
    boxes_->show_design(design);
    // Of a new build the first figure is asked at once.
    if (const Assembly* fresh = workshop().build_of(build());
        may && fresh != nullptr && workshop().inventory().wants_units(*fresh) && !boxes_->figure() && !design.device())
        boxes_->set_active(0);
    charger_->setCurrentIndex(
        std::max(0, charger_->findData(QString::fromStdString(design.word(DesignFigure::charger_kind)))));
    old_->setCurrentIndex(
        std::max(0, old_->findData(QString::fromStdString(design.word(DesignFigure::old_chemistry)))));
    board_->setText(QString::fromStdString(design.word(DesignFigure::board)));
    moves_over_->setText(QString::fromStdString(design.word(DesignFigure::moves_over)));
    board_kind_->setCurrentIndex(
        std::max(0, board_kind_->findData(QString::fromStdString(design.word(DesignFigure::board_kind)))));
    joining_->setCurrentIndex(
        std::max(0, joining_->findData(QString::fromStdString(design.word(DesignFigure::joining)))));
    for (QWidget* widget : std::initializer_list<QWidget*>{charger_, old_, board_, moves_over_, board_kind_, joining_})
        widget->setEnabled(may);
    board_->setCursorPosition(0);
    moves_over_->setCursorPosition(0);
    filling_ = false;
    const auto device = design.device();
    none_->setVisible(!device);
    bars_->setVisible(device.has_value());
    none_->setText(
        build() == 0
            ? tr("Begin a build (Work menu), or match a set and reserve it; what its device needs is asked here.")
            : tr("The nominal voltage of the device is not known yet: choose its box, type it, Enter. "
                 "Then every chemistry is held against the device over its whole window."));
    const Assembly* record = workshop().build_of(build());
    std::map<std::string, QString> names;
    for (const auto& [id, chemistry] : workshop().library().chemistries)
        names[id] = QString::fromStdString(chemistry.name);
    bars_->set(device ? workshop().build().conversions_for(build()) : std::vector<ConversionDesign>(),
               device.value_or(DeviceWindow{}), names, record == nullptr ? std::string() : record->chemistry,
               record == nullptr ? 0 : record->layout.series * record->layout.cells_per_unit);
    costs_ = unit_costs(workshop());
    show_fillings();
}

void NeedView::show_fillings() {
    const ConversionDesign* design = bars_->chosen();
    fillings_->setRowCount(0);
    offered_.clear();
    fill_words_->setText(design == nullptr ? QString() : bars_->name(*design));
    if (design == nullptr)
        return;
    offered_ = workshop().build().fillings(build(), design->chemistry, design->series);
    fillings_->setRowCount(static_cast<int>(offered_.size()));
    for (int row = 0; row < fillings_->rowCount(); ++row) {
        const auto& [stock, sizing] = offered_[static_cast<std::size_t>(row)];
        const auto cell = [&](int column, const QString& text) {
            auto* item = new QTableWidgetItem(text);
            if (column > 0)
                item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            fillings_->setItem(row, column, item);
        };
        cell(0, QString::fromStdString(stock.model));
        cell(1, sizing.enough ? tr("%1 / %2").arg(stock.in_stock).arg(sizing.units)
                              : tr("%1 / %2, too few").arg(stock.in_stock).arg(sizing.units));
        cell(2, tr("%1S%2P").arg(design->series / stock.cells_per_unit).arg(sizing.parallel) +
                    (sizing.by_current ? tr(", for the current") : QString()));
        cell(3, figures::plain(sizing.energy_wh, 0));
        cell(4, sizing.run_s ? figures::seconds(*sizing.run_s) : QString(QChar(0x2013)));
        cell(5, sizing.mass_kg ? figures::plain(*sizing.mass_kg, 2) : QString(QChar(0x2013)));
        const auto cost = costs_.find(stock.model);
        cell(6, cost == costs_.end()   ? QString(QChar(0x2013))
                : sizing.energy_wh > 0 ? tr("%1, %2 a Wh")
                                             .arg(figures::plain(cost->second * sizing.units, 0),
                                                  figures::plain(cost->second * sizing.units / sizing.energy_wh, 3))
                                       : figures::plain(cost->second * sizing.units, 0));
    }
}

bool NeedView::may_take_design() const {
    const Assembly* record = workshop().build_of(build());
    return record != nullptr && workshop().writable() && workshop().inventory().wants_units(*record) &&
           bars_->chosen() != nullptr && !offered_.empty();
}

bool NeedView::take_design() {
    const ConversionDesign* design = bars_->chosen();
    if (!may_take_design() || design == nullptr)
        return false;
    const int row = std::max(0, fillings_->currentRow());
    const auto& [stock, sizing] = offered_.at(static_cast<std::size_t>(row));
    const PackLayout layout{design->series / stock.cells_per_unit, sizing.parallel, stock.cells_per_unit};
    const Assembly before = *workshop().build_of(build());
    const std::string before_model = workshop().build().design(build()).word(DesignFigure::wanted_model);
    const auto form = [this, id = build()](const std::string& chemistry, const PackLayout& groups,
                                           const std::string& model) {
        return
            [this, id, chemistry, groups, model] { return workshop().build().set_form(id, chemistry, groups, model); };
    };
    emit step_wanted(tr("take a design"), form(design->chemistry, layout, stock.model),
                     form(before.chemistry, before.layout, before_model));
    return true;
}

bool NeedView::take_line(const QString& line) {
    return type_figure(*boxes_, line);
}

void NeedView::echo(const QString& typed) {
    if (boxes_->figure())
        boxes_->set_active(boxes_->active(), typed);
}

QString NeedView::scan_hint() const {
    const auto figure = boxes_->figure();
    if (!figure || build() == 0)
        return tr("choose a box, then type");
    const QString unit = wording::design_unit(*figure);
    return tr("number: %1, %2").arg(wording::design_figure(*figure), unit);
}

EvidenceContent NeedView::evidence() const {
    EvidenceContent content;
    const ConversionDesign* design = bars_->chosen();
    if (build() == 0)
        return content;
    content.subject = label();
    const auto device = workshop().build().design(build()).device();
    // What must not be built like this stands first, whatever else is chosen.
    for (const UnsafeFinding& finding : workshop().build().safety(build(), false)) {
        if (finding.refuses && content.hazard_title.isEmpty()) {
            content.hazard_title = tr("Not like this");
            content.hazard_line = wording::unsafe(finding);
        } else
            content.ways.push_back({finding.refuses ? tr("Not like this") : tr("To be minded"),
                                    wording::unsafe(finding), !finding.refuses});
    }
    if (design == nullptr || !device) {
        content.verdict = tr("What does it run?");
        content.line =
            tr("Off, nominal and the most it bears stand on its label or are read with the old pack in. What "
               "is not known stays open.");
        content.caution = "build";
        return content;
    }
    content.subject = tr("%1, %2").arg(label(), bars_->name(*design));
    content.verdict = wording::conversion_verdict(design->verdict);
    for (const Clash& clash : design->clashes)
        content.notes << wording::clash(clash, *design, *device);
    if (design->clashes.empty())
        content.notes << tr("Nothing that is known of the device clashes.");
    if (design->needs_board)
        content.notes << wording::needs_board(design->series,
                                              workshop().build().design(build()).number(DesignFigure::continuous_a));
    QStringList open;
    for (const DesignFigure figure :
         {DesignFigure::off_v, DesignFigure::bears_v, DesignFigure::charger_v, DesignFigure::charger_kind})
        if (!workshop().build().design(build()).knows(figure))
            open << wording::design_figure(figure);
    if (!open.isEmpty())
        content.notes << tr("Not known, so not held against it: %1.").arg(open.join(QStringLiteral(", ")));
    for (const ConversionDesign& other : bars_->designs())
        if (other.verdict == ConversionVerdict::keep && design->verdict != ConversionVerdict::keep) {
            content.ways.push_back({tr("Keep the chemistry: %1").arg(bars_->name(other)),
                                    tr("A good answer where charger or firmware must stay."), true});
            break;
        }
    for (const Clash& clash : design->clashes)
        if (content.hazard_title.isEmpty() &&
            (clash.clash == ConversionClash::charger_over_limit || clash.clash == ConversionClash::charge_method)) {
            content.hazard_title = tr("The old charger must go");
            content.hazard_line = tr("Mark it for the old chemistry only, so that nobody puts the new pack on it.");
        }
    content.caution = "build";
    return content;
}

} // namespace ingot::app
