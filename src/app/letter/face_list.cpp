#include "app/letter/face_list.h"

#include "app/theme/theme.h"
#include "library/library.h"

#include <QPainter>
#include <QPainterPath>
#include <QStyledItemDelegate>
#include <map>

namespace rapt::app {
namespace {

constexpr int captionPx = 18, tallestPx = 84, shortestPx = 22;

/// What a row is drawn from.
struct Sample {
    QPainterPath path; ///< mm, origin on the baseline at the left
    double capMm = 0, topMm = 0, footMm = 0;
    QString caption;
    bool tooSmall = false;
};

QPainterPath pathOf(const Face& face, const std::string& text, double cap, double& top,
                    double& foot) {
    QPainterPath path;
    path.setFillRule(Qt::WindingFill);
    top = cap;
    const ShapedLine line = face.shape(text);
    for (const ShapedGlyph& g : line.glyphs)
        for (const Polyline& contour : face.outline(g.glyph, cap)) {
            QPolygonF polygon;
            for (const Vec2& p : contour) {
                polygon << QPointF(p.x + g.x * cap, p.y + g.y * cap);
                top = std::max(top, -p.y);
                foot = std::max(foot, p.y);
            }
            path.addPolygon(polygon);
            path.closeSubpath();
        }
    return path;
}

/// Paints the sample at true size: a physical millimetre is a millimetre on the screen.
class SampleDelegate : public QStyledItemDelegate {
public:
    explicit SampleDelegate(QWidget* v) : QStyledItemDelegate(v), view(v) {}
    std::map<int, Sample> samples;

    double pxPerMm() const { return view->physicalDpiX() / 25.4; }
    int heightOf(const Sample& s) const {
        return captionPx + std::clamp(static_cast<int>((s.topMm + s.footMm) * pxPerMm()) + 10,
                                      shortestPx, tallestPx);
    }
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const override {
        const auto it = samples.find(index.row());
        return {100, it == samples.end() ? 40 : heightOf(it->second)};
    }
    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& index) const override {
        const auto it = samples.find(index.row());
        if (it == samples.end()) return;
        const Sample& s = it->second;
        const bool chosen = option.state & QStyle::State_Selected;
        painter->save();
        painter->setClipRect(option.rect);
        if (chosen) {
            QColor tide = theme().tide;
            tide.setAlpha(36);
            painter->fillRect(option.rect, tide);
            painter->fillRect(QRect(option.rect.topLeft(), QSize(3, option.rect.height())),
                              theme().tide);
        }
        const QRect caption = option.rect.adjusted(8, 0, -4, 0);
        painter->setPen(s.tooSmall ? theme().caution : theme().ink2);
        QFont small = option.font;
        small.setPixelSize(11);
        painter->setFont(small);
        painter->drawText(
            QRect(caption.left(), option.rect.bottom() - captionPx, caption.width(), captionPx),
            Qt::AlignLeft | Qt::AlignVCenter,
            QFontMetrics(small).elidedText(s.caption, Qt::ElideRight, caption.width()));
        painter->setRenderHint(QPainter::Antialiasing);
        const double baseline = option.rect.bottom() - captionPx - 3 - s.footMm * pxPerMm();
        painter->translate(option.rect.left() + 8,
                           std::min(baseline, option.rect.bottom() - captionPx - 4.0));
        painter->scale(pxPerMm(), pxPerMm());
        painter->fillPath(s.path, theme().ink);
        painter->restore();
    }

private:
    QWidget* view;
};

std::vector<std::string> idsOf(const FaceShelf& shelf) {
    std::vector<std::string> ids;
    for (const FaceRecord& f : shelf.faces) ids.push_back(f.id);
    return ids;
}

} // namespace

FaceList::FaceList(Session& s, QWidget* parent)
    : QListWidget(parent), session(s), heights([](const HeightsKey& key) {
          Heights least;
          for (const std::string& id : key.faces)
              if (const auto face = openFace(id))
                  least[id] = leastGoodCapMm(*face, key.threadMm, key.fabricMm);
          return least;
      }) {
    connect(&heights, &LookupSignals::ready, this,
            [this] { show(shown.text, shown.cap, shown.chosen); });
    setObjectName("faces");
    setAccessibleName(tr("Faces"));
    setItemDelegate(new SampleDelegate(this));
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    reload();
    connect(this, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
        if (item) emit faceChosen(item->data(Qt::UserRole).toString());
    });
}

void FaceList::reload() {
    shelf = faceShelf();
    const QSignalBlocker quiet(this);
    clear();
    for (const FaceRecord& f : shelf.faces) {
        auto* item = new QListWidgetItem(QString::fromStdString(f.name), this);
        item->setData(Qt::UserRole, QString::fromStdString(f.id));
    }
    for (const RefusedFace& r : shelf.refused) {
        auto* item = new QListWidgetItem(QString::fromStdString(r.file + ": " + r.reason), this);
        item->setFlags(Qt::NoItemFlags);
    }
}

void FaceList::show(const std::string& text, double cap, const std::string& chosen) {
    const QSignalBlocker quiet(this);
    auto* delegate = static_cast<SampleDelegate*>(itemDelegate());
    const auto fabric = session.library.fabric(session.job().brief.fabric);
    const std::string first = text.substr(0, text.find('\n'));
    shown = {text, cap, chosen};
    const Heights* known =
        heights.find({idsOf(shelf), apparentWidthMm(session.letters.look.thread.weight),
                      fabric ? fabric->leastLetterMm : 0});
    for (int i = 0; i < count(); ++i) {
        Sample sample;
        const auto row = static_cast<std::size_t>(i);
        if (row >= shelf.faces.size()) {
            sample.caption = tr("Not usable: %1").arg(item(i)->text());
            sample.tooSmall = true;
            delegate->samples[i] = sample;
            continue;
        }
        const FaceRecord& record = shelf.faces[row];
        const auto face = openFace(record.id);
        if (!face) continue;
        sample.capMm = cap;
        sample.path =
            pathOf(**face, first.empty() ? "Saltmarsh" : first, cap, sample.topMm, sample.footMm);
        const double least = known && known->contains(record.id) ? known->at(record.id) : 0;
        sample.tooSmall = cap < least;
        sample.caption = QString::fromStdString(record.name);
        if (record.joined) sample.caption += tr(", joins");
        if (least > 0) sample.caption += tr(" · good from %1").arg(session.lengthText(least));
        if (sample.tooSmall) sample.caption = tr("%1 · too small").arg(sample.caption);
        delegate->samples[i] = sample;
        if (record.id == chosen) setCurrentRow(i);
    }
    scheduleDelayedItemsLayout();
    if (currentItem()) scrollToItem(currentItem());
}

} // namespace rapt::app
