#pragma once
// Files that are brought into a job: read one after the other off the interface thread.

#include "app/document/session.h"
#include "svg/drawing_file.h"

#include <QWidget>
#include <deque>

namespace rapt::app {

class Intake : public QObject {
    Q_OBJECT
public:
    /// `over`: the window that questions are asked in front of.
    Intake(Session& session, QWidget* over);

    /// Adds the stitch list or the drawing of a file, its middle at a place on the cloth; how a
    /// drawing is taken is asked.
    void add(const QString& path, Vec2 at);
    /// The same of an SVG or a picture that is no file, such as what was copied elsewhere.
    void addDrawn(const QByteArray& bytes, const QString& name, Vec2 at);
    /// The design or the drawing of a file in place of a piece's own.
    void replace(const std::string& piece, const QString& path);

signals:
    /// Something could not be done, or not all of it; a title and why.
    void failed(const QString& title, const QString& reason);

private:
    /// One file that waits.
    struct Asked {
        QString path;
        Vec2 at;
        std::string replaces{}; ///< id of a piece; empty: it is added
        QByteArray drawn{};     ///< what is read instead of a file, if there is any
    };
    /// What was read.
    struct Incoming {
        std::optional<StitchList> list;
        std::optional<Drawing> drawing;
    };
    void ask(Asked asked);
    void next();
    static Result<Incoming> read(const Asked& asked, std::stop_token stop);
    Status take(const Asked& asked, Incoming incoming);
    Status addDesign(const Asked& asked, StitchList list);
    Status addDrawing(const Asked& asked, const Drawing& drawn);
    Result<PieceContent> contentOf(const Asked& asked, Incoming incoming);

    Session& session;
    QWidget* over;
    std::unique_ptr<Errands> reading = session.errands();
    std::deque<Asked> waiting; ///< the first is being read
    quint64 opened = 0;        ///< the job that they are for
};

} // namespace rapt::app
