#pragma once
// Curve: the line that the words stand on.

#include "app/kit/page.h"

#include <QCheckBox>

namespace rapt::app {

class CurvePage : public Page {
    Q_OBJECT
public:
    explicit CurvePage(Session& session);
    void refresh() override;

private:
    void change(const QString& name, const std::function<void(LetterLine&)>& change);
    void chooseKind(int index);
    /// Takes a path drawn on the cloth as the line of the selected words.
    void takePath(const Polyline& path);

    QLabel* hint;
    QComboBox *kind, *side, *from;
    QWidget *fields, *arcFields;
    LengthEdit* radius;
    NumberEdit* middle;
    QCheckBox *even, *upright;
    QPushButton* draw;
    QLabel* words;
    bool waitsForPath = false;
};

} // namespace rapt::app
