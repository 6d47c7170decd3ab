#pragma once
// What came of the last stitch-outs on this cloth, in two lines.

#include "app/document/session.h"

#include <QLabel>

namespace rapt::app {

/// Empty and hidden while there is no record on the job's fabric.
class LastTime : public QLabel {
    Q_OBJECT
public:
    explicit LastTime(Session& session, QWidget* parent = nullptr);

private:
    void look();

    Session& session;
    std::string shownFor; ///< fabric
};

} // namespace rapt::app
