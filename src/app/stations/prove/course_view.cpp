#include "app/stations/prove/course_view.h"

#include "app/parts/course_picture.h"
#include "app/parts/panel.h"
#include "exchange/board_log_csv.h"
#include "exchange/text_file.h"
#include "workshop/build_wording.h"
#include "workshop/figures.h"
#include "workshop/job.h"
#include "workshop/prove_wording.h"
#include "workshop/wording.h"
#include "workshop/workshop.h"

#include <QFileInfo>
#include <QLabel>
#include <QVBoxLayout>

namespace ingot::app {

namespace {

// What a simulation hangs on: asked again only where it changed, not with every reading of the bench.
QString fingerprint(const BuildQuestion& question) {
    QString out = QString::number(question.build);
    for (const double ah : question.capacity_ah)
        out += QLatin1Char(' ') + QString::number(ah);
    for (const JoinedCell& unit : question.units)
        out += QLatin1Char(' ') + QString::number(unit.resistance_ohm);
    for (const DesignFigure figure : {DesignFigure::load_profile, DesignFigure::load_w, DesignFigure::continuous_a})
        out += QLatin1Char(';') + QString::fromStdString(question.design.word(figure));
    return out;
}

// A log that was read beside the window, with what it says.
struct ReadLog {
    std::optional<BoardLog> log;
    PackCourse course;
    std::optional<Problem> problem;
};

} // namespace

CourseView::CourseView(Workshop& workshop, QWidget* parent) : QWidget(parent), workshop_(workshop) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* panel = new Panel(tr("The pack over time"), this);
    words_ = sentence({}, panel);
    words_->setObjectName(QStringLiteral("course_words"));
    panel->body()->addWidget(words_);
    picture_ = new CoursePicture(panel);
    panel->body()->addWidget(picture_, 1);
    outer->addWidget(panel, 1);
    job_ = new Job(this);
    job_->setObjectName(QStringLiteral("explaining")); // what is shown follows it
    connect(job_, &Job::failed, this, [this](const Problem& problem) {
        reading_ = false;
        show_course();
        emit changed();
        emit told(wording::problem(problem), true);
    });
}

void CourseView::show_pack(Id pack) {
    if (pack != pack_) {
        reading_ = false;
        job_->drop();
        pack_ = pack;
        log_.reset();
        file_.clear();
        course_ = {};
        asked_.clear();
    }
    if (reading_)
        return;
    if (pack_ != 0 && asked_ == fingerprint(workshop_.build().question(pack_)))
        show_course();
    else
        work();
}

void CourseView::work() {
    if (pack_ == 0) {
        show_course();
        return;
    }
    reading_ = false;
    CourseQuestion question{workshop_.build().question(pack_), log_};
    asked_ = fingerprint(question.question);
    job_->begin<PackCourse>(
        [question = std::move(question)](const Job::Token& token) {
            return course_of(question, [&] { return token.wanted(); });
        },
        [this](const PackCourse& course) {
            course_ = course;
            show_course();
            emit changed();
        });
    show_course();
}

void CourseView::read_log(const QString& path) {
    if (pack_ == 0)
        return;
    reading_ = true;
    job_->begin<ReadLog>(
        [this, question = workshop_.build().question(pack_), path = path.toStdString()](const Job::Token& token) {
            ReadLog out;
            const auto text = exchange::read_text(path);
            if (!text) {
                out.problem = text.problem();
                return out;
            }
            auto log = exchange::read_board_log_csv(
                text.value(), path, static_cast<int>(question.groups.size()), [&](double share) {
                    token.tell([this, share] { words_->setText(tr("Reading, %1 …").arg(figures::percent(share, 0))); });
                    return token.wanted();
                });
            if (!log) {
                out.problem = log.problem();
                return out;
            }
            out.log = std::move(log.value());
            out.course = course_of({question, out.log}, [&] { return token.wanted(); });
            return out;
        },
        [this, path](const ReadLog& read) {
            reading_ = false;
            if (read.problem) {
                emit changed();
                emit told(wording::problem(*read.problem), true);
                work();
                return;
            }
            log_ = read.log;
            asked_ = fingerprint(workshop_.build().question(pack_));
            file_ = QFileInfo(path).fileName();
            course_ = read.course;
            show_course();
            emit changed();
            emit told(tr("%n rows of %1 are read.", nullptr, static_cast<int>(log_->rows())).arg(file_), false);
        });
    show_course();
    emit changed();
}

void CourseView::stop() {
    job_->stop();
}

void CourseView::forget_log() {
    log_.reset();
    file_.clear();
    work();
}

void CourseView::take_figures() {
    if (!log_ || reading_)
        return;
    const auto taken = workshop_.prove().record_log(pack_, *log_, course_.reading);
    if (!taken)
        emit told(wording::problem(taken.problem()), true);
    else
        emit told(tr("%n figures of the log stand in the proof.", nullptr, taken.value()), false);
}

void CourseView::show_course() {
    const PackProof proof = pack_ == 0 ? PackProof() : workshop_.prove().proof(pack_);
    picture_->setVisible(course_.build != 0 && (log_.has_value() || course_.simulated.has_value()));
    picture_->set(course_, log_, workshop_.library().practice.proof, proof.readings.item(ProofItem::run_time));
    if (pack_ == 0)
        words_->setText(tr("A joined pack shows here how it should run, and its board's log how it did."));
    else if (job_->busy())
        words_->setText(tr("Working it out …"));
    else if (log_)
        words_->setText(course_.load ? tr("%1: read volts against those simulated under its own current.").arg(file_)
                                     : tr("%1: %2").arg(file_, wording::sentence(course_.load_objection)));
    else if (!course_.simulated)
        words_->setText(wording::sentence(course_.objection));
    else
        words_->setText(tr("Simulated under the load of its design, from full. A board's log, CSV, is laid over it."));
}

EvidenceContent CourseView::evidence() const {
    EvidenceContent content;
    if (pack_ == 0 || course_.build == 0)
        return content;
    if (const Assembly* pack = workshop_.assembly(pack_))
        content.subject = QString::fromStdString(pack->label);
    if (!log_) {
        content.verdict = course_.simulated ? tr("Should run %1").arg(wording::run_time(course_.simulated->run_time_s))
                                            : tr("Not simulated");
        if (!course_.simulated) {
            content.line = wording::sentence(course_.objection);
            return content;
        }
        content.line = tr("%1, %2 Wh; group %3 ends it")
                           .arg(figures::pack_capacity(course_.simulated->usable_ah),
                                figures::plain(course_.simulated->usable_wh, 0))
                           .arg(course_.simulated->ended_by + 1);
        return content;
    }
    const auto words = wording::board_log(course_.reading, *log_, workshop_.library().practice.proof);
    content.verdict = words.verdict;
    content.line = words.line;
    content.notes = words.notes;
    if (course_.load)
        content.notes << tr("Under its load it reads %1 against the simulation on average, %2 at most.")
                             .arg(figures::millivolts_signed(course_.load->mean_v),
                                  figures::millivolts_signed(course_.load->largest_v).remove(QLatin1Char('+')));
    else
        content.notes << wording::sentence(course_.load_objection);
    return content;
}

} // namespace ingot::app
