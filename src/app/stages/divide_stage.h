#pragma once
// Divide: which hoop, how many hoopings, where each goes.

#include "app/stages/stage_view.h"
#include "divide/division.h"

#include <QFutureWatcher>
#include <QListWidget>
#include <QTableWidget>

namespace rapt::app {

class DivideStage : public StageView {
    Q_OBJECT
public:
    explicit DivideStage(Session& session, QWidget* parent = nullptr);

protected:
    void refresh() override;

private:
    /// What one hoop would come to.
    struct Offer {
        std::string hoop;
        std::optional<Division> division;
        QString reason; ///< why not
    };
    struct Offers {
        quint64 revision = 0;
        std::vector<Offer> list;
    };
    static Offers workOut(const Job& job, std::shared_ptr<const StitchedJob> sewn,
                          const Library& library, quint64 revision);
    void requestOffers();
    void takeOffers();
    void planChosen();
    void refreshJudgement();
    void refreshHoopings();

    QTableWidget* table;
    QPushButton* plan;
    QListWidget* hoopings;
    QLabel* details;
    Offers offers;
    QFutureWatcher<Offers> watcher;
};

} // namespace rapt::app
