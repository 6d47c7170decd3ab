#pragma once
// What the records teach: proposed with its evidence, accepted or refused by the person, undone.

#include "app/compose/compose_page.h"
#include "learn/lessons.h"
#include "library/learnt.h"

#include <QScrollArea>

namespace rapt::app {

class LessonsPage : public ComposePage {
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

    std::vector<Lesson> lessons;
    std::vector<LearntValue> decided;
    QScrollArea* scroll;
    QLabel* words;
    bool stale = true;
};

/// True if a lesson is news that nobody decided on yet, or whose evidence has grown by a half
/// since it was refused.
bool isOpen(const Lesson& lesson, const std::vector<LearntValue>& decided);

} // namespace rapt::app
