#pragma once
// A person's own frames: measured, typed, drawn with what each position reaches, kept.

#include "app/kit/page.h"

namespace rapt::app {

/// The frame's outer edge, its opening and the field of every position.
class FramePicture : public QWidget {
    Q_OBJECT
public:
    explicit FramePicture(QWidget* parent = nullptr);
    void show(const Hoop& hoop);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Hoop frame;
};

class FramesPage : public Page {
    Q_OBJECT
public:
    explicit FramesPage(Session& session);
    void refresh() override;

private:
    void load(const std::string& id);
    void setKind(int index);
    void changed();
    void growOuter();
    void keep();
    void addNew();
    LengthEdit* length(const char* name, double low, double high, std::function<void(double)> set);

    QComboBox *choice, *kind, *shape, *arm;
    QLineEdit* name;
    LengthEdit *width, *height, *outerWidth, *outerHeight, *corner, *step, *slideFrom, *slideTo;
    NumberEdit *positions, *firstTag;
    QWidget *stepRow, *slideRow, *cornerRow;
    FramePicture* picture;
    QLabel* problem;
    QPushButton *keepButton, *own;
    Hoop frame;
};

} // namespace rapt::app
