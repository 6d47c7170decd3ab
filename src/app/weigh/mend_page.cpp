#include "app/weigh/mend_page.h"

#include "app/kit/kept_lines.h"
#include "job/edit_weigh.h"
#include "thread/runs.h"

namespace rapt::app {
namespace {

constexpr const char* orderTitle = "Order for the fewest thread changes";

/// The piece as it was made: its scale and spacing its own.
Piece asMade(const Piece& piece) {
    Piece made = piece;
    made.pose.scaleX = made.pose.scaleY = 1;
    made.respacing = {};
    made.leftOutRuns.clear();
    return made;
}

} // namespace

MendPage::MendPage(Session& s)
    : Page(s), hint(quietLabel(tr("Choose one piece on the cloth or under Pieces."))),
      fields(new QWidget), ruler(new ScaleRuler), reasons(quietLabel({})),
      shareWords(quietLabel({})), share(new QSlider(Qt::Horizontal)),
      spacing(new LengthEdit(s, "Lay at")), longest(new LengthEdit(s, "Longest stitch")),
      tuck(new LengthEdit(s, "Tuck under")), ownSpacing(new QPushButton(tr("Its own"))),
      relieved(new QCheckBox(tr("Give way to what lies on it"))),
      runsHead(headLabel(tr("Thread runs that are sewn"))), runs(new QListWidget),
      compare(new QCheckBox(tr("Compare with nothing mended"))), orderWords(quietLabel({})),
      ranges([](const RangeKey& key) -> std::optional<SafeRange> {
          const auto list = stitchPiece(key.made);
          return list ? std::optional(safeRange(**list, key.fabric)) : std::nullopt;
      }) {
    column->addWidget(hint);
    column->addWidget(fields);
    buildPiece();
    column->addWidget(hairLine());
    buildJob();
    connect(ordering.get(), &Errands::busyChanged, this, [this] {
        orderButton->setText(ordering->isBusy() ? tr("Stop looking for an order") : tr(orderTitle));
    });
    connect(&ranges, &LookupSignals::ready, this, &MendPage::refresh);
}

void MendPage::buildPiece() {
    auto* form = new QVBoxLayout(fields);
    form->setContentsMargins(0, 0, 0, 0);
    form->setSpacing(6);
    form->addWidget(headLabel(tr("Safe range with its stitches kept")));
    form->addWidget(ruler);
    form->addWidget(reasons);
    form->addWidget(headLabel(tr("How it is laid at its size")));
    share->setRange(0, 100);
    share->setPageStep(10);
    share->setObjectName("keepShare");
    share->setAccessibleName(tr("Share of the spacing that is kept"));
    form->addWidget(share);
    form->addWidget(shareWords);
    spacing->setRange(0.1, 5);
    longest->setRange(1, maxStitchMm);
    tuck->setRange(0, 10);
    ownSpacing->setObjectName("ownSpacing");
    auto* line = new QHBoxLayout;
    line->addLayout(row(tr("Row spacing"), spacing), 1);
    line->addWidget(ownSpacing);
    form->addLayout(line);
    form->addLayout(row(tr("Divide stitches over"), longest));
    relieved->setObjectName("relieved");
    relieved->setToolTip(tr("What later pieces hide of it is not sewn; worked out anew whenever a "
                            "piece moves"));
    form->addWidget(relieved);
    form->addLayout(row(tr("Tuck under"), tuck));
    form->addWidget(runsHead);
    runs->setObjectName("runs");
    runs->setAccessibleName(tr("Thread runs"));
    form->addWidget(runs);
    connectPiece();
}

void MendPage::connectPiece() {
    connect(share, &QSlider::valueChanged, this, [this](int value) {
        if (!refreshing)
            changeRespacing([value](RespaceOptions& o) { o.spacingShare = value / 100.0; });
    });
    connect(spacing, &LengthEdit::typed, this,
            [this](double mm) { changeRespacing([mm](RespaceOptions& o) { o.spacingMm = mm; }); });
    connect(ownSpacing, &QPushButton::clicked, this,
            [this] { changeRespacing([](RespaceOptions& o) { o.spacingMm.reset(); }); });
    connect(longest, &LengthEdit::typed, this,
            [this](double mm) { changeRespacing([mm](RespaceOptions& o) { o.longestMm = mm; }); });
    connect(relieved, &QCheckBox::toggled, this, [this](bool on) {
        if (!refreshing) changeRelief(on);
    });
    connect(tuck, &LengthEdit::typed, this, [this](double mm) {
        const Piece* piece = onePiece();
        if (!piece) return;
        Relief relief = piece->relief.value_or(Relief{});
        relief.tuckMm = mm;
        session.document.apply(setRelief({piece->id}, relief));
    });
    connect(runs, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        const Piece* piece = onePiece();
        if (!refreshing && piece)
            session.document.apply(leaveOutRun(piece->id, item->data(Qt::UserRole).toInt(),
                                               item->checkState() != Qt::Checked));
    });
}

void MendPage::buildJob() {
    column->addWidget(headLabel(tr("The whole job")));
    compare->setObjectName("compare");
    compare->setToolTip(tr("Left of the line the stitches as if nothing had been mended; drag it"));
    column->addWidget(compare);
    column->addLayout(sideBySide(
        {button(tr("Relieve all"), "relieveAll",
                [this] {
                    Relief relief;
                    if (const auto f = session.library.fabric(session.job().brief.fabric))
                        relief.tuckMm = f->tuckMm;
                    session.document.apply(setRelief(idsOf(session.job()), relief));
                }),
         button(tr("Make all whole"), "makeWhole",
                [this] { session.document.apply(setRelief(idsOf(session.job()), {})); })}));
    orderButton = button(tr(orderTitle), "orderThreads", [this] { orderThreads(); });
    column->addWidget(orderButton);
    column->addWidget(orderWords);
    connect(compare, &QCheckBox::toggled, this, [this](bool on) {
        if (!refreshing) session.weighing.setParting(on ? std::optional(0.5) : std::nullopt);
    });
}

void MendPage::refresh() {
    refreshing = true;
    const Piece* piece = onePiece();
    fields->setVisible(piece != nullptr);
    hint->setVisible(!piece);
    compare->setChecked(session.weighing.parting().has_value());
    compare->setEnabled(session.weighing.parting() || unmended(session.job()));
    if (piece) {
        showRange(*piece);
        const RespaceOptions& o = piece->respacing;
        const bool afresh = piece->keep == Keep::spacing;
        share->setValue(afresh ? static_cast<int>(std::lround(100 * o.spacingShare)) : 0);
        shareWords->setText(
            share->value() == 100 ? tr("keeps its spacing: stitches are laid afresh")
            : share->value() == 0 ? tr("keeps its stitches: rows move with the size")
                                  : tr("keeps %1 % of its spacing").arg(share->value()));
        showSpacing(*piece);
        ownSpacing->setEnabled(o.spacingMm.has_value());
        longest->setMm(o.longestMm);
        relieved->setChecked(piece->relief.has_value());
        tuck->setMm(piece->relief.value_or(Relief{}).tuckMm);
        tuck->setEnabled(piece->relief.has_value());
        showRuns(*piece);
        fields->setEnabled(!piece->locked);
    }
    refreshing = false;
}

void MendPage::showSpacing(const Piece& piece) {
    const Derived* checked = session.checked();
    if (!checked) return;
    for (const PieceFacts& f : checked->facts())
        if (f.piece == piece.id && f.spacingNowMm)
            spacing->setMm(piece.respacing.spacingMm.value_or(*f.spacingNowMm));
}

/// The range is worked out in the background, once for a design and a fabric.
void MendPage::showRange(const Piece& piece) {
    const auto fabric = session.library.fabric(session.job().brief.fabric);
    if (!fabric) return;
    Piece key;
    key.content = asMade(piece).content;
    const std::optional<SafeRange>* known = ranges.find({key, *fabric});
    if (!known) reasons->setText(tr("being worked out…"));
    if (!known || !*known) return;
    const SafeRange& range = **known;
    ruler->show(range, piece.pose.meanScale(), piece.keep == Keep::spacing);
    const auto line = [](const RangeEnd& end) {
        return QString("%1 %: %2.")
            .arg(100 * end.scale, 0, 'f', 0)
            .arg(end.reason.empty() ? tr("no limit found") : QString::fromStdString(end.reason));
    };
    reasons->setText((range.empty() ? tr("No size suits: lay it afresh.") + "\n" : QString()) +
                     line(range.least) + "\n" + line(range.most));
}

void MendPage::showRuns(const Piece& piece) {
    std::vector<ListLine> lines;
    const auto& out = piece.leftOutRuns;
    int number = 0;
    if (const auto* design = std::get_if<DesignContent>(&piece.content)) {
        for (const StitchList& run : runsOf(*design->list)) {
            const Thread thread = run.threads.empty() ? Thread{} : run.threads[0];
            ++number;
            lines.push_back({tr("%1. %2").arg(number).arg(QString::fromStdString(thread.name)),
                             number, std::find(out.begin(), out.end(), number) == out.end(),
                             QColor(thread.color.r, thread.color.g, thread.color.b)});
        }
    }
    showLines(*runs, lines);
    runs->setFixedHeight(10 + 23 * std::min(6, std::max(1, number)));
    runs->setVisible(number > 1);
    runsHead->setVisible(number > 1);
}

void MendPage::changeRespacing(const std::function<void(RespaceOptions&)>& change) {
    const Piece* piece = onePiece();
    if (!piece) return;
    RespaceOptions options = piece->respacing;
    if (piece->keep == Keep::stitches) options.spacingShare = 0;
    change(options);
    // A slider that is dragged is one step back.
    session.document.apply(setRespacing({piece->id}, options),
                           "respacing " + QString::fromStdString(piece->id));
}

void MendPage::changeRelief(bool on) {
    const Piece* piece = onePiece();
    if (!piece) return;
    std::optional<Relief> relief;
    if (on) {
        relief.emplace();
        if (const auto f = session.library.fabric(session.job().brief.fabric))
            relief->tuckMm = f->tuckMm;
    }
    session.document.apply(setRelief({piece->id}, relief));
}

/// In the background: the proof may take seconds. Pressed again, or with the job changed meanwhile,
/// the search is dropped.
void MendPage::orderThreads() {
    if (ordering->isBusy()) return ordering->cancel();
    orderWords->setText(tr("No order was looked for to the end.")); // until one is there
    ordering->ask(
        session.asItIsNow(),
        [job = session.job()](std::stop_token stop) { return orderJob(job, {}, stop); },
        [this](const Result<JobOrder>& ordered) { takeOrder(ordered); });
}

void MendPage::takeOrder(const Result<JobOrder>& ordered) {
    if (!ordered)
        return emit failed(tr("The pieces cannot be put in order"),
                           QString::fromStdString(ordered.error().reason));
    orderWords->setText(tr("%1 → %2 thread changes, %3; %4 → %5 mm of travel.")
                            .arg(ordered->changesBefore)
                            .arg(ordered->changesAfter)
                            .arg(ordered->changesAfter == ordered->lowerBound
                                     ? tr("proved fewest")
                                     : tr("at least %1 are needed").arg(ordered->lowerBound))
                            .arg(ordered->travelBeforeMm, 0, 'f', 0)
                            .arg(ordered->travelAfterMm, 0, 'f', 0));
    session.document.apply({"Order the threads", [job = ordered->job](Job) { return job; }});
}

} // namespace rapt::app
