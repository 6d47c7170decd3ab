#pragma once
// What is known of one record: its picture, what came of it, with what it was sewn.

#include "app/document/session.h"
#include "record/stitch_out.h"

#include <QLabel>

namespace rapt::app {

class RecordPane : public QWidget {
    Q_OBJECT
public:
    explicit RecordPane(Session& session, QWidget* parent = nullptr);
    /// Looks the record up; an empty uid clears the pane.
    void showRecord(const QString& uid);
    /// With all that is known; nothing while it is looked up.
    const std::optional<StitchOut>& record() const { return whole; }

signals:
    void known();

private:
    Session& session;
    QString wanted;
    std::optional<StitchOut> whole;
    QLabel *picture, *title, *details;
};

} // namespace rapt::app
