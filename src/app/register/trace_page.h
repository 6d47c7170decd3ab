#pragma once
// Drawing on the scan: veins by hand or by points, and regions grown from a click.

#include "app/compose/thread_choice.h"
#include "app/kit/page.h"
#include "scan/region.h"

#include <QButtonGroup>
#include <QSlider>

namespace rapt::app {

class TracePage : public Page {
    Q_OBJECT
public:
    explicit TracePage(Session& session);
    void refresh() override;

private:
    void growRegion(Vec2 at);
    void takeRegion(const Result<Contours>& outline, const Affine& toCloth);
    QString accuracyWords();
    QString whyNot();

    QButtonGroup* tools;
    QLabel* help;
    ThreadChoice* thread;
    LengthEdit* width;
    QSlider* tolerance;
    QLabel* accuracy;
    std::unique_ptr<Errands> growing = session.errands();
};

} // namespace rapt::app
