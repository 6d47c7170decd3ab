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
    struct HeightsKey {
        std::vector<std::string> faces;
        double threadMm = 0, fabricMm = 0;
        friend bool operator==(const HeightsKey&, const HeightsKey&) = default;
    };
    using Heights = std::map<std::string, double>; ///< least good cap heights by face, mm
    struct Shown {
        std::string text;
        double cap = 0;
        std::string chosen;
    };
    Session& session;
    FaceShelf shelf;
    Lookup<HeightsKey, Heights> heights;
    Shown shown;
};

} // namespace rapt::app
