#pragma once
// The faces to choose from, each shown at the real size that the words will have.

#include "app/document/session.h"
#include "letter/faces.h"

#include <QListWidget>

namespace rapt::app {

class FaceList : public QListWidget {
    Q_OBJECT
public:
    explicit FaceList(Session& session, QWidget* parent = nullptr);

    /// Shows the words (the first line of them) at this cap height; `chosen` is marked.
    void show(const std::string& text, double capHeightMm, const std::string& chosen);
    /// Reads the folders again.
    void reload();

signals:
    void faceChosen(const QString& id);

private:
    Session& session;
    FaceShelf shelf;
};

} // namespace rapt::app
