#pragma once
// Pictures of the work as files: thread, lines, shapes, a film.

#include "app/document/session.h"

class QMenu;

namespace rapt::app {

/// Asks for a name and writes in the background, whatever is done in the window meanwhile: what was
/// asked for is the job as it was then. Closing waits for it.
class PictureSaver : public QObject {
    Q_OBJECT
public:
    PictureSaver(Session& session, QWidget* window);
    enum class Kind { thread, lines, shapes, film };
    /// Does nothing if the person thinks better of it.
    void save(Kind kind);

signals:
    void failed(const QString& title, const Error& error);

private:
    Session& session;
    QWidget* window;
};

} // namespace rapt::app
