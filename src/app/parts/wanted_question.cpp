#include "app/parts/wanted_question.h"

#include "app/parts/questions.h"
#include "workshop/wording.h"

#include <QCoreApplication>

namespace ingot::app {

std::optional<WantedBuild> ask_wanted_build(QWidget* parent, const QString& title) {
    const auto line = ask_line(
        parent, title,
        QCoreApplication::translate("WantedQuestion", "What for, its groups as far as known, and what it must give"),
        {}, [](const QString& answer) {
            const auto wanted = wanted_build_from(answer.toStdString());
            return wanted ? QString() : wording::problem(wanted.problem());
        });
    return line ? std::optional(wanted_build_from(line->toStdString()).value()) : std::nullopt;
}

} // namespace ingot::app
