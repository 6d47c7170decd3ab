#pragma once
// How a drawing is to be taken over: its size, its threads, as one sees it or as it is drawn.

#include "app/document/session.h"
#include "svg/as_seen.h"

#include <QCheckBox>
#include <QDialog>
#include <QSpinBox>

class QLabel;
class QPushButton;

namespace rapt::app {

class LengthEdit;

/// The flat areas and lines of a drawing, as large as there is room.
class DrawingPicture : public QWidget {
    Q_OBJECT
public:
    explicit DrawingPicture(QWidget* parent = nullptr);
    void show(const Drawing& drawing);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Drawing shown;
};

/// Works out what would be sewn while the person chooses, in the background.
class DrawingDialog : public QDialog {
    Q_OBJECT
public:
    DrawingDialog(Session& session, Drawing drawn, const QString& name, QWidget* parent);
    /// Sized and flattened as chosen; what was left out is in `unsupported`.
    const Drawing& drawing() const { return made; }

protected:
    /// Enter in a field is for the field, and does not bring the drawing in.
    void keyPressEvent(QKeyEvent* event) override;

private:
    void work();
    void showMade();

    Session& session;
    Drawing drawn, made;
    double widthMm = 0, ratio = 1; ///< of what is painted; height over width
    DrawingPicture* picture;
    LengthEdit *width, *height;
    QSpinBox* threads;
    QCheckBox* asDrawn;
    QLabel* words;
    QPushButton* take;
    std::unique_ptr<Errands> working;
};

} // namespace rapt::app
