#pragma once
// Handing the hoopings over to a stick or to the machine: what will happen, then that it did.

#include "app/compose/compose_page.h"
#include "app/machine/machine_handover.h"
#include "app/state/sewing_state.h"

#include <QCheckBox>
#include <QRadioButton>

namespace rapt::app {

class HandoverPage : public ComposePage {
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
    QString folder;
    std::optional<Receiver> receiver;
    std::optional<Handover> plan;
    std::shared_ptr<const Handing> plannedFor;
    bool working = false;
};

} // namespace rapt::app
