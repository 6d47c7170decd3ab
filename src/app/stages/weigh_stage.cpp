#include "app/stages/weigh_stage.h"

#include "app/ledger/last_time.h"
#include "app/panels/page_tabs.h"
#include "app/theme/theme.h"
#include "app/weigh/cloth_page.h"
#include "app/weigh/mend_page.h"
#include "app/weigh/pieces_page.h"

#include <QPainter>

namespace rapt::app {
namespace {

constexpr int barCount = 16;

/// Of what is sewn on this cloth; Divide and Register speak of their own. Null without one.
const Finding* worstStop(const Derived& checked) {
    const auto isOfPlan = [&](const Finding& f) {
        const auto* plan = checked.planned ? &checked.planned->findings : nullptr;
        return plan && std::any_of(plan->begin(), plan->end(),
                                   [&](const Finding& p) { return p.kind == f.kind; });
    };
    for (const Finding& f : checked.findings())
        if (f.severity == Severity::stop && !isOfPlan(f)) return &f;
    return nullptr;
}

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

WeighStage::WeighStage(Session& s, QWidget* parent)
    : StageView(s, parent), kind(new QComboBox), histogram(new LoadHistogram(s)),
      tabs(new QButtonGroup(this)), tabRow(new QHBoxLayout) {
    kind->addItems({tr("layers of thread"), tr("needle hits per mm²")});
    kind->setAccessibleName(tr("What the map shows"));
    connect(kind, &QComboBox::activated, this, [this](int i) {
        session.weighing.setKind(i == 0 ? LoadKind::layers : LoadKind::hits);
    });
    buildPages();
    connect(&session.weighing, &WeighState::partingChanged, this, &WeighStage::refreshIfShown);
    connect(&session, &Session::stageChanged, this, [this] {
        // What is compared or played elsewhere would be taken for what is sewn.
        if (session.stage() != Stage::weigh) session.weighing.setParting({});
    });
}

void WeighStage::buildPages() {
    tabRow->setSpacing(4);
    column->addLayout(tabRow);
    auto* first = new QWidget;
    auto* lines = new QVBoxLayout(first);
    lines->setContentsMargins(0, 0, 0, 0);
    lines->setSpacing(10);
    lines->addLayout(row(tr("Map shows"), kind));
    lines->addWidget(headLabel(tr("Load over the sewn cloth")));
    lines->addWidget(histogram);
    lines->addWidget(new FindingsList(session));
    lines->addWidget(new LastTime(session));
    lines->addStretch();
    addPage(tr("Findings"), first);
    const std::pair<QString, ComposePage*> others[] = {{tr("Pieces"), new PiecesPage(session)},
                                                       {tr("Mend"), new MendPage(session)},
                                                       {tr("Cloth"), new ClothPage(session)}};
    for (const auto& [title, page] : others) {
        livePages.push_back(page);
        connect(page, &ComposePage::failed, this,
                [this](const QString& what, const QString& why) { complain(what, why); });
        addPage(title, page);
    }
    column->addStretch();
    connect(tabs, &QButtonGroup::idClicked, this,
            [this](int id) { showPage(static_cast<Page>(id)); });
    showPage(findings);
}

void WeighStage::addPage(const QString& title, QWidget* page) {
    addTab(*tabs, *tabRow, title, "weighTab");
    sheets.push_back(page);
    column->addWidget(page);
}

void WeighStage::showPage(Page page) {
    tabs->button(page)->setChecked(true);
    for (std::size_t k = 0; k < sheets.size(); ++k)
        sheets[k]->setVisible(k == static_cast<std::size_t>(page));
    refreshIfShown();
}

void WeighStage::refresh() {
    histogram->refresh();
    kind->setCurrentIndex(session.weighing.kind() == LoadKind::layers ? 0 : 1);
    judge();
    for (ComposePage* page : livePages)
        if (!page->isHidden()) page->refresh();
}

void WeighStage::judge() {
    const Derived* checked = session.checked();
    const auto fabric = session.library.fabric(session.job().brief.fabric);
    if (!checked || !fabric) {
        const auto d = session.derived();
        judgement->say(tr("The load cannot be judged."), d ? d->problem : QString());
        return;
    }
    const QString ground = QString::fromStdString(fabric->name).toLower();
    const LoadSummary& s = checked->load().summary();
    const Finding* worst = worstStop(*checked);
    const bool isDense = worst && (worst->kind == "layers" || worst->kind == "hits");
    if (session.job().pieces.empty()) {
        judgement->say(tr("There is nothing to weigh yet."), tr("Bring in a design in Compose."));
    } else if (worst && !isDense) {
        judgement->say(QString::fromStdString(worst->text) + ".",
                       QString::fromStdString(worst->cause));
    } else if (isDense) {
        const Piece* p = worst->pieces.empty() ? nullptr : session.job().piece(worst->pieces[0]);
        judgement->say(tr("%1 is too dense for %2.")
                           .arg(p ? QString::fromStdString(p->name) : tr("The layout"), ground),
                       QString::fromStdString(worst->cause));
    } else {
        // A spot over the limit that is smaller than a stitch's share is no reason to change
        // anything.
        const bool spot = s.peakLayers > fabric->maxLayers;
        judgement->say(
            tr("%1 takes this layout.").arg(QString::fromStdString(fabric->name)),
            (spot ? tr("It takes %2 layers; %1 lie on a spot too small to matter, %3 in the mean.")
                  : tr("The most is %1 layers of %2, the mean %3."))
                .arg(s.peakLayers, 0, 'f', 1)
                .arg(fabric->maxLayers, 0, 'f', 1)
                .arg(s.meanLayers, 0, 'f', 1));
    }
}

} // namespace rapt::app
