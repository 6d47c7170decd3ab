#pragma once
// Size: where the piece lies, how large it is, how it is turned.

#include "app/compose/compose_page.h"

#include <QCheckBox>

namespace rapt::app {

class SizePage : public ComposePage {
    Q_OBJECT
public:
    explicit SizePage(Session& session);
    void refresh() override;

private:
    void moveTo(std::optional<double> x, std::optional<double> y);
    void resizeTo(std::optional<double> width, std::optional<double> height);
    void scaleTo(std::optional<double> across, std::optional<double> down);
    void turnTo(double degrees);
    void showFacts(const Piece& piece, const StitchList& list);

    QLabel* hint;
    QWidget* fields;
    QLineEdit* name;
    LengthEdit *x, *y, *width, *height;
    NumberEdit *percent, *percentDown, *turn;
    QWidget* downRow; ///< of `percentDown`; shown when the sides are free
    QCheckBox* locked;
    QComboBox* keep;
    QLabel* facts;
    Vec2 centre; ///< of the shown copy, cloth frame
};

} // namespace rapt::app
