#pragma once
// Practice on cloth that was misplaced unseen.

#include "app/kit/page.h"
#include "standins/practice.h"

#include <QCheckBox>
#include <QTableWidget>

namespace rapt::app {

class PracticePage : public Page {
    Q_OBJECT
public:
    explicit PracticePage(Session& session);
    ~PracticePage() override { session.document.setWritten({}); }
    void refresh() override;

private:
    void begin();
    void misplaced(const Result<PracticeScene>& scene, int hooping);
    void revealNext();
    void end();
    /// The job without the practice: what there was before in its place.
    Job withoutPractice(const Job& job) const;

    QPushButton *beginButton, *revealButton, *endButton;
    QCheckBox* cards;
    QLabel *words, *own;
    QTableWidget* table;
    std::unique_ptr<Errands> misplacing = session.errands();
    /// One practice, of one hooping of one job.
    struct Going {
        Address job;
        HiddenCloth hidden;
        Registration before; ///< what there was; empty if there was nothing
        std::shared_ptr<const std::string> scanBefore;
        bool hadOne = false;   ///< before
        bool revealed = false; ///< to the end
    };
    std::optional<Going> going;
    std::vector<Revealed> places;
    std::size_t shown = 0; ///< of the places
};

} // namespace rapt::app
