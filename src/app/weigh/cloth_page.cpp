#include "app/weigh/cloth_page.h"

#include "app/kit/kept_lines.h"
#include "app/weigh/fabric_dialog.h"

#include <QSignalBlocker>

namespace rapt::app {
namespace {

constexpr double usualFactor = 0.7;

/// Which list of the cloth a place is in, and where in it.
struct Entry {
    int kind, index;
};
Entry entryOf(const QListWidgetItem& item) {
    const QPoint at = item.data(Qt::UserRole).toPoint();
    return {at.x(), at.y()};
}

template<class T>
void eraseAt(std::vector<T>& list, int index) {
    if (index >= 0 && index < static_cast<int>(list.size())) list.erase(list.begin() + index);
}

} // namespace

ClothPage::ClothPage(Session& s)
    : Page(s), limits(wordsLabel()), places(new QListWidget),
      factor(new NumberEdit("Thick place takes", " %", 0)), hint(quietLabel({})) {
    column->addWidget(limits);
    column->addWidget(button(tr("Change the fabric's limits…"), "editFabric", [this] {
        FabricDialog dialog(session, window());
        dialog.exec();
    }));
    column->addWidget(hairLine());
    column->addWidget(headLabel(tr("Places that want care")));
    places->setObjectName("places");
    places->setAccessibleName(tr("Places of the cloth"));
    column->addWidget(places);
    factor->setRange(5, 100);
    column->addLayout(row(tr("Takes"), factor));
    column->addWidget(
        button(tr("Draw a thick place"), "drawThick", [this] { draw(Place::thick); }));
    column->addWidget(
        button(tr("Draw a forbidden place"), "drawForbidden", [this] { draw(Place::forbidden); }));
    column->addWidget(button(tr("Draw a seam"), "drawSeam", [this] { draw(Place::seam); }));
    column->addWidget(button(tr("Remove it"), "removePlace", [this] { removeChosen(); }));
    column->addWidget(hint);
    connect(&session, &Session::pathDrawn, this, &ClothPage::takePath);
    connect(places, &QListWidget::currentRowChanged, this, [this] { refresh(); });
    connect(factor, &NumberEdit::typed, this, &ClothPage::changeFactor);
}

void ClothPage::editCloth(const QString& name, const std::function<void(Cloth&)>& change) {
    Cloth cloth = session.job().cloth;
    change(cloth);
    session.document.apply(setCloth(cloth, name.toStdString()));
}

void ClothPage::draw(Place place) {
    drawing = place;
    session.setTool(ToolKind::drawPath);
    hint->setText(place == Place::seam
                      ? tr("Click along the seam on the cloth; Enter ends it, Escape stops.")
                      : tr("Click round the place on the cloth; Enter closes it, Escape stops."));
}

void ClothPage::takePath(const Polyline& path) {
    const Place place = std::exchange(drawing, Place::none);
    if (place == Place::none) return;
    hint->clear();
    if (place != Place::seam && path.size() < 3) {
        hint->setText(tr("A place needs three points or more."));
        return;
    }
    editCloth(place == Place::thick       ? tr("Draw a thick place")
              : place == Place::forbidden ? tr("Draw a forbidden place")
                                          : tr("Draw a seam"),
              [&](Cloth& cloth) {
                  const Vec2 middle = boundsOf(path).centre();
                  if (place == Place::thick)
                      cloth.thickZones.push_back({{middle, 10, path}, usualFactor, {}});
                  else if (place == Place::forbidden)
                      cloth.forbiddenZones.push_back({{middle, 10, path}, "forbidden place", {}});
                  else
                      cloth.guides.push_back({"seam", path, true});
              });
    const Cloth& cloth = session.job().cloth;
    const std::size_t count = place == Place::thick       ? cloth.thickZones.size()
                              : place == Place::forbidden ? cloth.forbiddenZones.size()
                                                          : cloth.guides.size();
    const int kind = place == Place::thick ? 0 : place == Place::forbidden ? 1 : 2;
    for (int i = 0; i < places->count(); ++i)
        if (const Entry e = entryOf(*places->item(i));
            e.kind == kind && e.index + 1 == static_cast<int>(count))
            places->setCurrentRow(i);
}

void ClothPage::removeChosen() {
    const QListWidgetItem* item = places->currentItem();
    if (!item) return;
    const Entry at = entryOf(*item);
    editCloth(tr("Remove a place"), [at](Cloth& cloth) {
        if (at.kind == 0) eraseAt(cloth.thickZones, at.index);
        if (at.kind == 1) eraseAt(cloth.forbiddenZones, at.index);
        if (at.kind == 2) eraseAt(cloth.guides, at.index);
    });
}

void ClothPage::changeFactor(double percent) {
    const QListWidgetItem* item = places->currentItem();
    if (!item || entryOf(*item).kind != 0) return;
    const auto index = static_cast<std::size_t>(entryOf(*item).index);
    editCloth(tr("Say what a thick place takes"), [index, percent](Cloth& cloth) {
        if (index < cloth.thickZones.size()) cloth.thickZones[index].limitFactor = percent / 100;
    });
}

void ClothPage::refresh() {
    const auto f = session.library.fabric(session.job().brief.fabric);
    if (f) {
        QString words = tr("%1 takes %2 layers and %3 hits per mm² (%4).")
                            .arg(QString::fromStdString(f->name))
                            .arg(f->maxLayers, 0, 'f', 1)
                            .arg(f->maxHits, 0, 'f', 0)
                            .arg(QString::fromStdString(sourceOf(*f)));
        if (f->maxLineHits)
            words += tr(" It tears along a line from %1 needle points per mm.")
                         .arg(*f->maxLineHits, 0, 'f', 1);
        limits->setText(words);
    }
    const Cloth& cloth = session.job().cloth;
    std::vector<ListLine> lines;
    const auto add = [&](int kind, std::size_t index, const QString& text) {
        lines.push_back({text, QPoint(kind, static_cast<int>(index))});
    };
    for (std::size_t i = 0; i < cloth.thickZones.size(); ++i)
        add(0, i,
            tr("Thick place, takes %1 %").arg(100 * cloth.thickZones[i].limitFactor, 0, 'f', 0));
    for (std::size_t i = 0; i < cloth.forbiddenZones.size(); ++i)
        add(1, i,
            tr("Forbidden: %1")
                .arg(cloth.forbiddenZones[i].name.empty()
                         ? tr("place")
                         : QString::fromStdString(cloth.forbiddenZones[i].name)));
    for (std::size_t i = 0; i < cloth.guides.size(); ++i)
        if (cloth.guides[i].seam)
            add(2, i, tr("Seam: %1").arg(QString::fromStdString(cloth.guides[i].name)));
    showLines(*places, lines);
    places->setFixedHeight(10 + 23 * std::clamp(places->count(), 2, 7));
    const QListWidgetItem* item = places->currentItem();
    const bool thick = item && entryOf(*item).kind == 0;
    factor->setEnabled(thick);
    if (thick)
        factor->setValue(
            100 * cloth.thickZones[static_cast<std::size_t>(entryOf(*item).index)].limitFactor);
}

} // namespace rapt::app
