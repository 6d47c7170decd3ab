#pragma once
// What the records teach: proposed with its evidence, accepted or refused by the person, undone.

#include "app/kit/page.h"
#include "app/ledger/charts_page.h"
#include "learn/lessons.h"
#include "library/learnt.h"

#include <QScrollArea>

namespace rapt::app {

class LessonsPage : public Page {
    Q_OBJECT
public:
    explicit LessonsPage(Session& session);
    void refresh() override;
    /// "2 proposals"; empty without any.
    QString summary() const;

signals:
    void changed(); ///< what is proposed

private:
    void fill();
    QWidget* cardOf(const Lesson& lesson);
    void decide(const Lesson& lesson, bool accept);
    void undo(const Lesson& lesson);
    void showEvidence(const Lesson& lesson);

    std::vector<Lesson> lessons;
    std::vector<LearntValue> decided;
    std::vector<StitchOut> records; ///< that they are taught by
    QScrollArea* scroll;
    QLabel *words, *title, *evidence;
    ChartView* plot;
    QWidget* interval = nullptr; ///< house value, learnt one and its interval
    std::string shownLesson;     ///< kind and subject
    bool stale = true;
};

/// True if a lesson is news that nobody decided on yet, or whose evidence has grown by a half
/// since it was refused.
bool isOpen(const Lesson& lesson, const std::vector<LearntValue>& decided);

} // namespace rapt::app
