#pragma once
// The short way to a registered hooping: the step that is next, and all of them on demand.

#include "app/kit/readout_parts.h"

#include <QCheckBox>
#include <QToolButton>

namespace rapt::app {

class GuideStrip : public QWidget {
    Q_OBJECT
public:
    explicit GuideStrip(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void rebuild();

    Session& session;
    QLabel* next;
    QPushButton* tick;
    QToolButton* more;
    QWidget* all;
    QVBoxLayout* lines;
};

} // namespace rapt::app
