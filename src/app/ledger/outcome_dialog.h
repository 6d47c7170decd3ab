#pragma once
// How a stitch-out came out: said in ten seconds, by keyboard.

#include "app/ledger/new_record.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace rapt::app {

/// The cloth, on which a click says where something went wrong.
class SpotPicker : public QWidget {
    Q_OBJECT
public:
    explicit SpotPicker(QWidget* parent = nullptr);
    void setPicture(const QImage& picture);
    void setSpot(std::optional<Vec2> spot);
    std::optional<Vec2> spot() const { return at; }
    QSize sizeHint() const override { return {380, 190}; }

signals:
    void picked();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    QRectF pictureRect() const;
    double mmPerPixel() const; ///< of the widget
    QImage image;
    std::optional<Vec2> at; ///< cloth frame
};

class OutcomeDialog : public QDialog {
    Q_OBJECT
public:
    /// Shows what is said of the record already.
    explicit OutcomeDialog(const StitchOut& record, QWidget* parent = nullptr);
    void setPicture(const QImage& picture) { cloth->setPicture(picture); }
    /// Facts that filled themselves, in a line.
    void setFacts(const QString& words) { facts->setText(words); }
    /// Writes what was said into a record.
    void writeTo(StitchOut& record) const;
    /// A photo that was chosen; empty without one.
    const QString& photo() const { return photoPath; }
    int photoPixels() const { return shrink->isChecked() ? 1600 : 0; }

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void buildOutcome();
    void buildWords();
    void fill(const StitchOut& record);
    void refresh();
    std::optional<std::vector<double>> typedGaps() const;
    std::optional<double> typedMinutes(bool& good) const;

    QButtonGroup outcome;
    QLabel *facts, *wrong;
    SpotPicker* cloth;
    QComboBox* cause;
    QLineEdit *note, *customer, *gaps, *minutes;
    QCheckBox* shrink;
    QPushButton *photoButton, *keep;
    QString photoPath;
};

} // namespace rapt::app
