// The photos of a pack, one at a time: as large as the room allows, with its name and when it was added.
#pragma once

#include "workshop/workshop.h"

#include <QImage>
#include <QWidget>

class QLabel;

namespace ingot {
class Job;
}

namespace ingot::app {

class PressButton;

class PhotoView : public QWidget {
    Q_OBJECT
public:
    explicit PhotoView(Workshop& workshop, QWidget* parent = nullptr);
    void show_pack(Id pack);
    // 0-based; nothing where there is none.
    void show_photo(int at);
    [[nodiscard]] const QImage& picture() const { return picture_; } // empty while it is read
    [[nodiscard]] QSize sizeHint() const override { return at_ < 0 ? QSize(160, 40) : QSize(320, 240); }
    [[nodiscard]] QSize minimumSizeHint() const override { return at_ < 0 ? QSize(140, 24) : QSize(160, 120); }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void say();

    Workshop& workshop_;
    Id pack_ = 0;
    std::vector<Photo> photos_;
    int at_ = -1;
    QImage picture_;
    Job* reading_ = nullptr;
    QLabel* words_ = nullptr;
    PressButton* back_ = nullptr;
    PressButton* next_ = nullptr;
};

} // namespace ingot::app
