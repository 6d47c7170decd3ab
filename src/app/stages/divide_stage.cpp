#include "app/stages/divide_stage.h"

#include "app/theme/theme.h"

#include <QHeaderView>
#include <QSignalBlocker>
#include <QtConcurrent>

namespace rapt::app {

DivideStage::DivideStage(Session& s, QWidget* parent)
    : StageView(s, parent), table(new QTableWidget), plan(mainButton(tr("Plan with this hoop"))),
      hoopings(new QListWidget), details(wordsLabel()) {
    table->setColumnCount(3);
    table->setHorizontalHeaderLabels({tr("Hoop"), tr("Hoopings"), tr("Joins")});
    table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    table->horizontalHeader()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    table->horizontalHeader()->setSectionResizeMode(2, QHeaderView::ResizeToContents);
    table->verticalHeader()->hide();
    table->verticalHeader()->setDefaultSectionSize(24);
    table->setSelectionBehavior(QAbstractItemView::SelectRows);
    table->setSelectionMode(QAbstractItemView::SingleSelection);
    table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table->setShowGrid(false);
    table->setAccessibleName(tr("Hoops compared"));
    table->setFixedHeight(30 + 24 * static_cast<int>(session.library.hoops.size()));
    hoopings->setAccessibleName(tr("Hoopings"));
    plan->setObjectName("plan");
    column->addWidget(headLabel(tr("What each hoop would take")));
    column->addWidget(table);
    column->addWidget(plan);
    column->addWidget(headLabel(tr("Hoopings, in the order they are sewn")));
    hoopings->setMinimumHeight(96);
    hoopings->setMaximumHeight(118);
    column->addWidget(hoopings);
    column->addWidget(details);
    column->addStretch();
    connect(&watcher, &QFutureWatcher<Offers>::finished, this, &DivideStage::takeOffers);
    connect(plan, &QPushButton::clicked, this, &DivideStage::planChosen);
    connect(table, &QTableWidget::cellDoubleClicked, this, &DivideStage::planChosen);
    connect(hoopings, &QListWidget::currentRowChanged, this,
            [this](int i) { session.setHooping(i); });
}

void DivideStage::refresh() {
    if (session.isCurrent() && session.checked() && offers.revision != session.document.revision())
        requestOffers();
    refreshJudgement();
    refreshHoopings();
}

void DivideStage::requestOffers() {
    if (watcher.isRunning()) return; // asked again when it is done
    const auto derived = session.derived();
    watcher.setFuture(
        QtConcurrent::run([job = session.job(), sewn = derived->sewn, library = session.library,
                           revision = session.document.revision()] {
            return workOut(job, sewn, library, revision);
        }));
}

DivideStage::Offers DivideStage::workOut(const Job& job, std::shared_ptr<const StitchedJob> sewn,
                                         const Library& library, quint64 revision) {
    Offers offers{revision, {}};
    for (const Hoop& hoop : library.hoops) {
        StitchCache cache;
        const auto division = divideIntoHoopings(job, cache, {{hoop}}, library);
        Offer offer{hoop.id, {}, {}};
        if (division)
            offer.division = *division;
        else
            offer.reason = QString::fromStdString(division.error().reason);
        offers.list.push_back(std::move(offer));
    }
    return offers;
}

void DivideStage::takeOffers() {
    offers = watcher.result();
    if (offers.revision != session.document.revision()) {
        refreshIfShown();
        return;
    }
    const Brief& brief = session.job().brief;
    const int kept = table->currentRow();
    table->setRowCount(static_cast<int>(offers.list.size()));
    int best = -1;
    for (int i = 0; i < static_cast<int>(offers.list.size()); ++i) {
        const Offer& offer = offers.list[static_cast<std::size_t>(i)];
        const bool owned =
            std::find(brief.hoops.begin(), brief.hoops.end(), offer.hoop) != brief.hoops.end();
        const auto hoop = session.library.hoop(offer.hoop);
        const QString name =
            QString::fromStdString(hoop ? hoop->name : offer.hoop).section(',', 0, 0);
        const QString size = QString("%1 × %2").arg(hoop->widthMm).arg(hoop->heightMm);
        QStringList texts{owned ? size + tr(", owned") : size, tr("too small"), {}};
        if (offer.division && !offer.division->hoopings.empty()) {
            const auto n = offer.division->hoopings.size();
            texts[1] = offer.division->provenMinimal
                           ? QString::number(n)
                           : tr("%1 (least %2)").arg(n).arg(offer.division->lowerBound);
            texts[2] =
                n < 2 ? tr("none") : tr("%1 mm").arg(offer.division->predictedJoinRmsMm, 0, 'f', 2);
            const auto& now = best < 0 ? offer : offers.list[static_cast<std::size_t>(best)];
            if (owned && (best < 0 || n < now.division->hoopings.size())) best = i;
        }
        for (int c = 0; c < 3; ++c) {
            auto* cell = new QTableWidgetItem(texts[c]);
            cell->setToolTip(offer.division ? name : offer.reason);
            if (!offer.division) cell->setForeground(theme().ink2);
            table->setItem(i, c, cell);
        }
    }
    table->selectRow(kept >= 0 ? kept : std::max(0, best));
    refreshJudgement();
}

void DivideStage::planChosen() {
    const int i = table->currentRow();
    if (i < 0 || i >= static_cast<int>(offers.list.size())) return;
    const Offer& offer = offers.list[static_cast<std::size_t>(i)];
    if (!offer.division) {
        judgement->say(tr("This hoop cannot take the layout."), offer.reason);
        return;
    }
    if (offers.revision != session.document.revision()) return refresh();
    session.document.apply(setHoopings(offer.division->hoopings, offer.division->predictedJoinRmsMm,
                                       offer.division->cuts));
}

void DivideStage::refreshJudgement() {
    const Job& job = session.job();
    const auto derived = session.derived();
    if (job.pieces.empty()) {
        judgement->say(tr("There is nothing to hoop yet."), tr("Bring in a design in Compose."));
        return;
    }
    if (job.hoopings.empty()) {
        judgement->say(tr("No hoopings are planned yet."),
                       tr("Choose a hoop below; the table says what each would take."));
        return;
    }
    if (session.isCurrent() && derived && derived->planned && derived->hoopings().empty()) {
        QString reason = tr("The layout was changed since. Plan it again.");
        for (const Finding& f : derived->isWhole() ? derived->findings() : std::vector<Finding>{})
            if (f.kind == "hoopings") reason = QString::fromStdString(f.text);
        judgement->say(tr("The plan no longer suits the layout."), reason);
        return;
    }
    const auto n = job.hoopings.size();
    judgement->say(
        n == 1 ? tr("One hooping takes it all.") : tr("%1 hoopings, no piece is cut.").arg(n),
        n == 1
            ? tr("Mark the cloth at its marks, then register it.")
            : tr("Every hooping is measured from the datum lines. Where two of them meet, expect "
                 "%1 mm (RMS) between them.")
                  .arg(job.predictedJoinRmsMm, 0, 'f', 2));
}

void DivideStage::refreshHoopings() {
    const QSignalBlocker quiet(hoopings);
    const auto derived = session.derived();
    const Job& job = session.job();
    hoopings->clear();
    for (std::size_t i = 0; i < job.hoopings.size(); ++i) {
        const Hooping& h = job.hoopings[i];
        QString text = tr("%1   centre %2, %3")
                           .arg(i + 1)
                           .arg(session.lengthText(h.pose.x), session.lengthText(h.pose.y));
        if (h.pose.rotationDeg != 0) text += tr(", turned %1°").arg(h.pose.rotationDeg);
        hoopings->addItem(text);
    }
    const int chosen = session.hooping();
    hoopings->setCurrentRow(chosen);
    if (chosen < 0) {
        details->clear();
        return;
    }
    const Hooping& h = job.hoopings[static_cast<std::size_t>(chosen)];
    // Copies and outlines are counted with the piece that they come from.
    std::vector<std::pair<const Piece*, int>> counted;
    for (const std::string& id : h.pieces) {
        const Piece* p = job.piece(id);
        if (!p) continue;
        const auto same = std::find_if(counted.begin(), counted.end(),
                                       [&](const auto& c) { return c.first == p; });
        const bool outline = id.find(":outline") != std::string::npos;
        if (same == counted.end())
            counted.emplace_back(p, outline ? 0 : 1);
        else if (!outline)
            ++same->second;
    }
    QStringList names;
    for (const auto& [p, n] : counted)
        names << QString::fromStdString(p->name) + (n > 1 ? QString(" ×%1").arg(n) : QString());
    QStringList marks;
    for (const Mark& m : h.marks)
        marks << QString("%1 at %2, %3")
                     .arg(QString::fromStdString(m.name), session.lengthText(m.at.x),
                          session.lengthText(m.at.y));
    QString stitches;
    if (derived && derived->planned &&
        static_cast<std::size_t>(chosen) < derived->hoopings().size())
        stitches = tr(" (%L1 stitches)")
                       .arg(derived->hoopings()[static_cast<std::size_t>(chosen)].stitches);
    details->setText(tr("<b>Sews</b> %1%2.<br><b>Marks</b> %3.")
                         .arg(names.join(", ").toHtmlEscaped(), stitches, marks.join("; ")));
}

} // namespace rapt::app
