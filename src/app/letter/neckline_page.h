#pragma once
// Neckline: words that follow a neck as it was measured.

#include "app/kit/page.h"
#include "letter/neckline.h"

#include <QCheckBox>

namespace rapt::app {

class NecklinePage : public Page {
    Q_OBJECT
public:
    explicit NecklinePage(Session& session);
    void refresh() override;

private:
    void buildNeck();
    void buildPlace();
    /// How the neck was measured; kept while the page lives.
    Result<double> radius() const;
    Result<NeckPlan> plan() const;
    void takeTrace(const Polyline& traced);
    void setWords();
    void saveTemplate(bool mirror);

    QLabel* hint;
    QWidget *fields, *byDepth;
    QComboBox *measured, *place, *half;
    LengthEdit *width, *depth, *fromEdge, *distance;
    NumberEdit* angle;
    QCheckBox* level;
    QPushButton *trace, *set;
    QLabel *neckWords, *planWords;
    NeckWords neck;
    double widthMm = 180, depthMm = 90;
    std::optional<TracedCircle> traced;
    std::size_t tracedPoints = 0;
    bool waitsForTrace = false;
};

} // namespace rapt::app
