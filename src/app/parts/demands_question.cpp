#include "app/parts/demands_question.h"

#include "app/parts/questions.h"
#include "workshop/figures.h"
#include "workshop/wording.h"

#include <QCheckBox>
#include <QCoreApplication>
#include <QLineEdit>

namespace ingot::app {

namespace {

QString written(const std::optional<double>& value) {
    return value ? figures::plain(*value, 3) : QString();
}

QString no_figure(const QString& answer) {
    const auto tr = [](const char* text) { return QCoreApplication::translate("ingot::app", text); };
    const auto value = figures::typed(answer);
    return answer.trimmed().isEmpty() || (value && *value > 0) ? QString() : tr("A figure above 0, or nothing.");
}

} // namespace

std::optional<NamedDemands> ask_demands(QWidget* parent, const NamedDemands& first) {
    const auto tr = [](const char* text) { return QCoreApplication::translate("ingot::app", text); };
    QuestionBox box(parent, tr("What the match is to keep"),
                    tr("Each may cost capacity; what it costs is said beside the answer."));
    auto* model = new QCheckBox(wording::demand(Demand::one_model_per_group), &box);
    model->setChecked(first.demands.one_model_per_group);
    box.add_row(QString(), model);
    auto* whole = new QCheckBox(tr("units of one old group go together or not at all"), &box);
    whole->setChecked(first.demands.whole_origins);
    box.add_row(QString(), whole);
    auto* window = box.add_optional_line(tr("Voltages in a group differ by at most, V"),
                                         written(first.demands.join_window_v), no_figure);
    auto* load = box.add_optional_line(tr("The pack gives for long, A (no unit beyond its own)"),
                                       written(first.demands.load_a), no_figure);
    auto* name = box.add_optional_line(tr("Keep them under the name"), QString::fromStdString(first.name));
    if (!box.ask())
        return std::nullopt;
    NamedDemands out;
    out.name = name->text().trimmed().toStdString();
    out.demands.one_model_per_group = model->isChecked();
    out.demands.whole_origins = whole->isChecked();
    out.demands.join_window_v = figures::typed(window->text());
    out.demands.load_a = figures::typed(load->text());
    return out;
}

} // namespace ingot::app
