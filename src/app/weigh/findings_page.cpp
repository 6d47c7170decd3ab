#include "app/weigh/findings_page.h"

#include "app/ledger/last_time.h"
#include "app/theme/theme.h"
#include "app/weigh/findings_list.h"

#include <QPainter>

namespace rapt::app {
namespace {

constexpr int barCount = 16;

} // namespace

LoadHistogram::LoadHistogram(Session& s, QWidget* parent) : QWidget(parent), session(s) {
    setFixedHeight(92);
}

void LoadHistogram::refresh() {
    const Derived* checked = session.checked();
    const auto fabric = session.library.fabric(session.job().brief.fabric);
    const LoadKind kind = session.weighing.kind();
    const auto weighed = checked ? checked->weighed : nullptr;
    // Every cell of a large map is looked at: only when it is another one.
    if (fabric && weighed && weighed == shown && kind == shownKind &&
        limit == (kind == LoadKind::layers ? fabric->maxLayers : fabric->maxHits))
        return;
    shown = weighed;
    shownKind = kind;
    bars.assign(barCount, 0);
    if (!checked || !fabric) return update();
    const bool byLayers = kind == LoadKind::layers;
    const LoadSummary& s = checked->load().summary();
    limit = byLayers ? fabric->maxLayers : fabric->maxHits;
    top = 1.15 * std::max(limit, byLayers ? s.peakLayers : s.peakHits);
    double total = 0;
    for (const LoadMap::Tile& t : checked->load().tiles())
        for (const float v : byLayers ? t.layers : t.hits) {
            if (v <= 0.05f) continue;
            const auto bar = static_cast<std::size_t>(static_cast<double>(v) / top * barCount);
            bars[std::min<std::size_t>(bar, barCount - 1)] += 1;
            total += 1;
        }
    if (total > 0)
        for (double& b : bars) b /= total;
    update();
}

void LoadHistogram::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const double base = height() - 20;
    const double most = std::max(1e-9, *std::max_element(bars.begin(), bars.end()));
    const double step = static_cast<double>(width()) / barCount;
    for (int i = 0; i < barCount; ++i) {
        const double share = bars[static_cast<std::size_t>(i)];
        if (share <= 0) continue;
        // Even a few cells must be seen: they are what breaks needles.
        const double high = std::max(3.0, (base - 22) * share / most);
        const bool over = (i + 1) * top / barCount > limit + 1e-9 &&
                          i * top / barCount >= limit - top / barCount / 2;
        painter.fillRect(QRectF(i * step, base - high, step - 1.5, high),
                         over ? theme().stop : theme().tide);
    }
    painter.setPen(theme().rule);
    painter.drawLine(QPointF(0, base), QPointF(width(), base));
    const double x = width() * limit / top;
    painter.setPen(QPen(theme().ink, 1.6));
    painter.drawLine(QPointF(x, 4), QPointF(x, base));
    painter.setFont(faceOf(12));
    const char* unit = session.weighing.kind() == LoadKind::layers ? "layers" : "hits per mm²";
    const QString text = tr("limit %1").arg(limit, 0, 'f', 1);
    const double wide = QFontMetricsF(painter.font()).horizontalAdvance(text);
    painter.drawText(QPointF(x + 5 + wide > width() ? x - 5 - wide : x + 5, 14), text);
    painter.setPen(theme().ink2);
    painter.drawText(QPointF(0, height() - 4), "0");
    painter.drawText(QRectF(0, height() - 18, width(), 18), Qt::AlignRight,
                     QString("%1 %2").arg(top, 0, 'f', 1).arg(unit));
}

FindingsPage::FindingsPage(Session& s)
    : Page(s), kind(new QComboBox), histogram(new LoadHistogram(s)) {
    column->setSpacing(10);
    kind->addItems({tr("layers of thread"), tr("needle hits per mm²")});
    kind->setAccessibleName(tr("What the map shows"));
    column->addLayout(row(tr("Map shows"), kind));
    column->addWidget(headLabel(tr("Load over the sewn cloth")));
    column->addWidget(histogram);
    column->addWidget(new FindingsList(session));
    column->addWidget(new LastTime(session));
    column->addStretch();
    connect(kind, &QComboBox::activated, this, [this](int i) {
        session.weighing.setKind(i == 0 ? LoadKind::layers : LoadKind::hits);
    });
}

void FindingsPage::refresh() {
    histogram->refresh();
    kind->setCurrentIndex(session.weighing.kind() == LoadKind::layers ? 0 : 1);
}

} // namespace rapt::app
