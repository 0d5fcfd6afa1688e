#include "app/parts/photo_view.h"

#include "app/parts/panel.h"
#include "app/theme/theme.h"
#include "workshop/job.h"
#include "workshop/wording.h"

#include <QBuffer>
#include <QImageReader>
#include <QPainter>
#include <QVBoxLayout>

namespace ingot::app {

namespace {

// A camera's picture is larger than any screen: it is made smaller while it is read.
constexpr int largest_side = 1600;

QImage read_picture(const std::string& bytes) {
    QByteArray data = QByteArray::fromStdString(bytes);
    QBuffer buffer(&data);
    QImageReader reader(&buffer);
    reader.setAutoTransform(true);
    const QSize whole = reader.size();
    if (whole.isValid() && std::max(whole.width(), whole.height()) > largest_side)
        reader.setScaledSize(whole.scaled(largest_side, largest_side, Qt::KeepAspectRatio));
    return reader.read();
}

} // namespace

PhotoView::PhotoView(Workshop& workshop, QWidget* parent) : QWidget(parent), workshop_(workshop) {
    setObjectName(QStringLiteral("photo_view"));
    setAccessibleName(tr("Photos of the pack"));
    reading_ = new Job(this);
    connect(reading_, &Job::failed, this,
            [this](const Problem& problem) { words_->setText(wording::problem(problem)); });
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addStretch(1);
    auto* foot = new QHBoxLayout;
    words_ = sentence({}, this);
    words_->setFont(type(13));
    set_muted(words_);
    words_->setObjectName(QStringLiteral("photo_words"));
    foot->addWidget(words_, 1);
    back_ = new PressButton(tr("Photo before"), this);
    next_ = new PressButton(tr("Next photo"), this);
    connect(back_, &PressButton::clicked, this, [this] { show_photo(at_ - 1); });
    connect(next_, &PressButton::clicked, this, [this] { show_photo(at_ + 1); });
    foot->addWidget(back_);
    foot->addWidget(next_);
    layout->addLayout(foot);
    say();
}

void PhotoView::show_pack(Id pack) {
    const auto count = static_cast<std::size_t>(pack == 0 ? 0 : workshop_.open().photo_count(pack));
    if (pack == pack_ && count == photos_.size())
        return;
    pack_ = pack;
    photos_ = count == 0 ? std::vector<Photo>() : workshop_.open().photos(pack);
    at_ = -1;
    picture_ = {};
    show_photo(static_cast<int>(photos_.size()) - 1); // the newest
    say();
}

void PhotoView::show_photo(int at) {
    if (at < 0 || at >= static_cast<int>(photos_.size()))
        return;
    at_ = at;
    picture_ = {};
    const auto bytes =
        std::make_shared<std::string>(workshop_.open().photo_data(photos_[static_cast<std::size_t>(at)].id));
    reading_->begin<QImage>([bytes](const Job::Token& /*token*/) { return read_picture(*bytes); },
                            [this](const QImage& read) {
                                picture_ = read;
                                say();
                                update();
                            });
    say();
    update();
}

void PhotoView::say() {
    const auto count = static_cast<int>(photos_.size());
    back_->setVisible(count > 1);
    next_->setVisible(count > 1);
    back_->setEnabled(at_ > 0);
    next_->setEnabled(at_ + 1 < count);
    setSizePolicy(QSizePolicy::Preferred, at_ < 0 ? QSizePolicy::Maximum : QSizePolicy::Preferred);
    updateGeometry();
    if (at_ < 0) {
        words_->setText(tr("No photo yet. At Open, \"Attach a photo\" keeps one with the pack."));
        return;
    }
    const Photo& photo = photos_[static_cast<std::size_t>(at_)];
    const QString unread = picture_.isNull() && !reading_->busy() ? tr(", which cannot be shown") : QString();
    words_->setText(
        tr("Photo %1 of %2: %3, %4%5")
            .arg(at_ + 1)
            .arg(count)
            .arg(QString::fromStdString(photo.name), QString::fromStdString(photo.added_at).left(10), unread));
    setAccessibleDescription(words_->text());
}

void PhotoView::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    if (at_ < 0)
        return; // the words say so
    const QRect room = rect().adjusted(0, 0, 0, -(words_->height() + 10));
    painter.fillRect(room, colours().well);
    if (picture_.isNull())
        return;
    painter.setRenderHint(QPainter::SmoothPixmapTransform, true);
    const QSize size = picture_.size().scaled(room.size(), Qt::KeepAspectRatio);
    painter.drawImage(QRect(room.center() - QPoint(size.width() / 2, size.height() / 2), size), picture_);
}

} // namespace ingot::app
