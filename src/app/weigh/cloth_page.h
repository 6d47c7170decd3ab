#pragma once
// What the cloth takes and where it wants care: the fabric, thick and forbidden places, seams.

#include "app/kit/page.h"

#include <QListWidget>

namespace rapt::app {

class ClothPage : public Page {
    Q_OBJECT
public:
    explicit ClothPage(Session& session);
    void refresh() override;

private:
    enum class Place { none, thick, forbidden, seam };
    void draw(Place place);
    void takePath(const Polyline& path);
    void removeChosen();
    void changeFactor(double percent);
    void editCloth(const QString& name, const std::function<void(Cloth&)>& change);

    QLabel* limits;
    QListWidget* places;
    NumberEdit* factor;
    QLabel* hint;
    Place drawing = Place::none;
};

} // namespace rapt::app
