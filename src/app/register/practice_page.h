#pragma once
// Practice on cloth that was misplaced unseen.

#include "app/compose/compose_page.h"
#include "standins/practice.h"

#include <QCheckBox>
#include <QFutureWatcher>
#include <QTableWidget>

namespace rapt::app {

class PracticePage : public ComposePage {
    Q_OBJECT
public:
    explicit PracticePage(Session& session);
    void refresh() override;

private:
    void begin();
    void misplaced();
    void revealNext();
    void end();

    QPushButton *beginButton, *revealButton, *endButton;
    QCheckBox* cards;
    QLabel *words, *own;
    QTableWidget* table;
    QFutureWatcher<std::shared_ptr<const Result<PracticeScene>>> misplacing;
    std::optional<HiddenCloth> hidden;
    std::optional<Registration> kept; ///< what there was before
    std::shared_ptr<const std::string> keptScan;
    std::vector<Revealed> places;
    std::size_t shown = 0; ///< of the places
    int hoopingAsked = 1;
};

} // namespace rapt::app
