#include "app/register/trace_page.h"

#include "recipe/drawn.h"

#include <QGridLayout>

namespace rapt::app {

TracePage::TracePage(Session& s)
    : Page(s), tools(new QButtonGroup(this)), help(wordsLabel()),
      thread(new ThreadChoice(s.threads)), width(new LengthEdit(s, tr("Width of veins"))),
      tolerance(new QSlider(Qt::Horizontal)), accuracy(wordsLabel()) {
    auto* grid = new QGridLayout;
    grid->setSpacing(6);
    int n = 0;
    for (const auto& [tool, words, name] :
         {std::tuple{ToolKind::select, "Place by hand", "traceSelect"},
          {ToolKind::freehand, "Vein by hand", "traceFreehand"},
          {ToolKind::drawRun, "Vein by points", "tracePoints"},
          {ToolKind::region, "Region by colour", "traceRegion"}}) {
        auto* b = new QPushButton(tr(words));
        b->setObjectName(name);
        b->setCheckable(true);
        tools->addButton(b, static_cast<int>(tool));
        grid->addWidget(b, n / 2, n % 2);
        ++n;
    }
    column->addLayout(grid);
    column->addWidget(help);
    thread->setObjectName("traceThread");
    column->addLayout(row(tr("Thread"), thread));
    width->setRange(0, 12);
    width->field()->setObjectName("veinWidth");
    column->addLayout(row(tr("Satin width, 0 for a run"), width));
    tolerance->setRange(2, 60);
    tolerance->setObjectName("tolerance");
    tolerance->setAccessibleName(tr("How much colours may differ in a region"));
    column->addLayout(row(tr("Colour tolerance"), tolerance));
    accuracy->setObjectName("traceAccuracy");
    column->addWidget(hairLine());
    column->addWidget(accuracy);
    column->addStretch();
    connect(tools, &QButtonGroup::idClicked, this, [this](int id) {
        auto tool = static_cast<ToolKind>(id);
        if (tool == ToolKind::drawRun && session.registering.satinWidthMm > 0)
            tool = ToolKind::drawSatin;
        session.setTool(tool);
    });
    connect(&session, &Session::toolChanged, this, [this] {
        if (isVisible()) refresh();
    });
    connect(thread, &ThreadChoice::chosen, this,
            [this](const Thread& t) { session.threads.drawing.thread = t; });
    connect(width, &LengthEdit::typed, this,
            [this](double mm) { session.registering.satinWidthMm = mm; });
    connect(tolerance, &QSlider::valueChanged, this,
            [this](int v) { session.registering.tolerance = v; });
    connect(&session.registering, &RegisterState::regionAsked, this, &TracePage::growRegion);
    connect(growing.get(), &Errands::busyChanged, this, &TracePage::refresh);
}

/// What is drawn before the person chose how the hooping is sewn would be moved away from the
/// cloth.
QString TracePage::whyNot() {
    if (!session.scan()) return tr("Read a scan first; then draw on the cloth as it really lies.");
    const Registration* r = session.job().registration(session.hooping() + 1);
    if (r && !r->observations.empty() && r->choice == CorrectionChoice::open)
        return tr("Choose first how this hooping is sewn (Fit), so that what you draw stays where "
                  "you draw it.");
    return {};
}

void TracePage::refresh() {
    const QString why = whyNot();
    for (QAbstractButton* b : tools->buttons()) b->setEnabled(why.isEmpty());
    const ToolKind tool =
        session.tool() == ToolKind::drawSatin ? ToolKind::drawRun : session.tool();
    if (QAbstractButton* b = tools->button(static_cast<int>(tool))) b->setChecked(true);
    thread->show(session.threads.drawing.thread);
    width->setMm(session.registering.satinWidthMm);
    const QSignalBlocker quiet(tolerance);
    tolerance->setValue(static_cast<int>(session.registering.tolerance));
    if (!why.isEmpty())
        help->setText(why);
    else if (tool == ToolKind::freehand)
        help->setText(tr("Draw with the button held; the line is steadied."));
    else if (tool == ToolKind::drawRun)
        help->setText(tr("Click its points; Return or a double click ends it."));
    else if (tool == ToolKind::region)
        help->setText(growing->isBusy()
                          ? tr("Growing…")
                          : tr("Click a printed colour: what is alike round it becomes a fill, its "
                               "holes are kept."));
    else
        help->setText(tr("Drag, turn and size pieces on the scan; arrow keys with Alt move by "
                         "0.1 mm."));
    accuracy->setText(accuracyWords());
}

QString TracePage::accuracyWords() {
    const auto* known = session.assessment();
    const Derived* derived = session.checked();
    if (!known || !*known || !derived) return {};
    const Hooping& h = session.job().hoopings[static_cast<std::size_t>(session.hooping())];
    const Affine toField = h.pose.affine().inverse();
    QStringList words;
    for (const PieceSpan& span : derived->stitched().spans) {
        const Piece* piece = session.job().piece(span.id);
        if (!piece || span.copy > 1 || !piece->name.starts_with("Drawn")) continue;
        double worst = 0;
        for (const Vec2 c : span.extents.corners())
            worst = std::max(worst, (*known)->trust.valueAt(toField(c)));
        words << tr("%1: expect %2 mm%3")
                     .arg(QString::fromStdString(piece->name))
                     .arg(worst, 0, 'f', 2)
                     .arg(worst > (*known)->limitMm ? tr(" △ poorly known there") : QString());
    }
    return words.join("<br>");
}

void TracePage::growRegion(Vec2 at) {
    const auto* scan = session.scan();
    const QString why = whyNot();
    if (!why.isEmpty() || !scan || growing->isBusy()) return;
    const int number = session.hooping() + 1;
    const Hooping& h = session.job().hoopings[static_cast<std::size_t>(number) - 1];
    const Affine toCloth =
        h.frame.affine().then(h.pose.affine().inverse()).then(fieldToCloth(session.job(), number));
    RegionOptions options;
    options.tolerance = session.registering.tolerance;
    growing->ask(
        session.atThisHooping(),
        [flat = scan->flat, options, click = toCloth.inverse()(at)](std::stop_token) {
            return grownRegion(flat->image, flat->map, click, options);
        },
        [this, toCloth](const Result<Contours>& outline) { takeRegion(outline, toCloth); });
}

void TracePage::takeRegion(const Result<Contours>& outline, const Affine& toCloth) {
    if (!outline)
        return emit failed(tr("No region here"),
                           QString::fromStdString(outline.error().reason) + ".");
    Contours onCloth = *outline;
    for (Polyline& line : onCloth)
        for (Vec2& p : line) p = toCloth(p);
    Vec2 middle;
    Piece piece;
    piece.name = "Drawn region";
    piece.id = unusedId(session.job(), piece.name);
    piece.content = ShapeContent{std::make_shared<const Shape>(
        centred(filledOutline(onCloth, session.threads.drawing.thread), middle))};
    piece.pose.x = middle.x;
    piece.pose.y = middle.y;
    const std::string id = piece.id;
    Edit edit = session.addDrawn(std::move(piece));
    edit.name = "Fill a region of the scan";
    session.document.apply(edit);
    session.selection.chooseSingly({id});
}

} // namespace rapt::app
