#pragma once
// Handing the hoopings over to a stick or to the machine: what will happen, then that it did.

#include "app/kit/page.h"
#include "app/kit/rows_table.h"
#include "app/stitchout/machine_handover.h"
#include "app/stitchout/sewing_state.h"

#include <QCheckBox>
#include <QRadioButton>

namespace rapt::app {

class HandoverPage : public Page {
    Q_OBJECT
public:
    explicit HandoverPage(Session& session);
    void refresh() override;
    /// Looks at that folder as the stick.
    void setStick(const QString& folder);

private:
    void look();
    void takeLooked(const Result<Receiver>& looked);
    void showPlan();
    void showFiles();
    void orderPictures();
    void handOver();
    void handToStick();
    void handToMachine();
    void ended(const QString& reason);
    void exportAll();
    const Handing* handing();

    QRadioButton *toStick, *toMachine;
    QPushButton *choose, *give, *exportButton;
    QLabel *where, *there, *result;
    QCheckBox* removeOlder;
    RowsTable* files;
    std::unique_ptr<Errands> drawing = session.errands();
    std::vector<QImage> pictures; ///< of the hoopings of `picturedFor`
    std::shared_ptr<const Handing> picturedFor;
    QString folder;
    std::optional<Receiver> receiver;
    std::optional<Handover> plan;
    std::shared_ptr<const Handing> plannedFor;
    bool working = false;
};

} // namespace rapt::app
