#include "app/compose/size_page.h"

#include "app/tools/piece_frame.h"
#include "job/groups.h"
#include "job/stitching.h"
#include "place/sizing.h"
#include "thread/measures.h"

namespace rapt::app {

namespace {

/// Small pieces are sized before the next key is read.
constexpr std::chrono::milliseconds patience{30};

Result<Edit> editOf(const Result<SizedAsOne>& sized) {
    if (!sized) return sized.error();
    return sized->edit;
}

/// The piece at so many percent of its own size, about its middle.
Result<Edit> scaledTo(const Piece& piece, std::optional<double> across, std::optional<double> down,
                      bool locked) {
    const auto list = stitchPiece(piece);
    if (!list) return list.error();
    const auto box = unscaledBox(piece, extentsOf(**list));
    if (!box) return cannotDo("it has no extent that could be resized");
    Pose pose = piece.pose;
    const Vec2 middle = pose.affine()(box->centre());
    if (locked) {
        const double factor = across.value_or(100) / 100 / pose.meanScale();
        pose.scaleX *= factor;
        pose.scaleY *= factor;
    } else {
        if (across) pose.scaleX = std::copysign(*across / 100, pose.scaleX);
        if (down) pose.scaleY = std::copysign(*down / 100, pose.scaleY);
    }
    const Vec2 moved = pose.affine()(box->centre());
    pose.x += middle.x - moved.x;
    pose.y += middle.y - moved.y;
    return setPose(piece.id, pose, "Resize");
}

} // namespace

SizePage::SizePage(Session& s)
    : Page(s), hint(quietLabel({})), fields(new QWidget), name(new QLineEdit),
      x(new LengthEdit(s, "Across")), y(new LengthEdit(s, "Down")),
      width(new LengthEdit(s, "Width")), height(new LengthEdit(s, "Height")),
      percent(new NumberEdit("Percent", " %", 1)),
      percentDown(new NumberEdit("Percent down", " %", 1)), turn(new NumberEdit("Turn", "°", 1)),
      downRow(new QWidget), locked(new QCheckBox(tr("Keep the proportion"))), keep(new QComboBox),
      facts(wordsLabel()) {
    auto* form = new QVBoxLayout(fields);
    form->setContentsMargins(0, 0, 0, 0);
    form->setSpacing(6);
    locked->setChecked(true);
    locked->setObjectName("proportion");
    name->setObjectName("Name");
    keep->setObjectName("keep");
    keep->addItems({tr("keep the spacing"), tr("keep the stitches")});
    for (LengthEdit* e : {x, y})
        e->setToolTip(tr("Of the piece's middle, measured from the datum"));
    width->setRange(0.5, 10'000);
    height->setRange(0.5, 10'000);
    for (NumberEdit* e : {percent, percentDown}) e->setRange(1, 10'000);
    turn->setRange(-3600, 3600);
    form->addLayout(row(tr("Name"), name));
    form->addLayout(pairRow(tr("Across"), x, tr("Down"), y));
    form->addLayout(pairRow(tr("Width"), width, tr("Height"), height));
    form->addWidget(locked);
    form->addLayout(pairRow(tr("Scale"), percent, tr("Turn"), turn));
    auto* down = row(tr("Scale down"), percentDown);
    down->setContentsMargins(0, 0, 0, 0);
    downRow->setLayout(down);
    form->addWidget(downRow);
    form->addLayout(row(tr("On resize"), keep));
    form->addWidget(facts);
    keep->setPlaceholderText(tr("each in its own way"));
    column->addWidget(hint);
    column->addWidget(fields);
    column->addStretch();
    connect(name, &QLineEdit::editingFinished, this, &SizePage::rename);
    connect(x, &LengthEdit::typed, this, [this](double mm) { moveTo(mm, {}); });
    connect(y, &LengthEdit::typed, this, [this](double mm) { moveTo({}, mm); });
    connect(width, &LengthEdit::typed, this, [this](double mm) { resizeTo(mm, {}); });
    connect(height, &LengthEdit::typed, this, [this](double mm) { resizeTo({}, mm); });
    connect(percent, &NumberEdit::typed, this, [this](double p) { scaleTo(p, {}); });
    connect(percentDown, &NumberEdit::typed, this, [this](double p) { scaleTo({}, p); });
    connect(locked, &QCheckBox::toggled, this, &SizePage::refresh);
    connect(turn, &NumberEdit::typed, this, &SizePage::turnTo);
    connect(keep, &QComboBox::activated, this, [this](int i) {
        std::vector<Edit> edits;
        for (const std::string& id : session.selection.ids())
            edits.push_back(setKeep(id, i == 0 ? Keep::spacing : Keep::stitches));
        session.document.apply(together("Change what the size keeps", std::move(edits)));
    });
    connect(&session.document, &Document::changed, this, [this] {
        if (!asked.empty() && !session.holds(askedIn)) asked.clear();
    });
}

void SizePage::refresh() {
    if (session.selection.ids().size() > 1) return refreshSeveral();
    const Piece* piece = onePiece();
    const auto* stitches = piece ? session.stitchesOf(*piece) : nullptr;
    const bool sewn = stitches && stitches->list;
    // While a large piece is stitched the old numbers stay.
    if (piece && !stitches) return;
    fields->setVisible(sewn);
    hint->setVisible(!sewn);
    if (sewn) return refreshOne(*piece, **stitches->list, stitches->extents);
    hint->setText(piece ? QString::fromStdString(stitches->list.error().reason)
                        : tr("Choose a piece on the cloth or in the list."));
}

void SizePage::refreshOne(const Piece& piece, const StitchList& list, const Box& box) {
    centre = session.copyMapOfSelection()(piece.pose.unscaled().affine()(box.centre()));
    showName(QString::fromStdString(piece.name));
    x->setMm(centre.x);
    y->setMm(centre.y);
    if (asked.empty()) {
        width->setMm(box.width());
        height->setMm(box.height());
    }
    const double sx = std::abs(piece.pose.scaleX), sy = std::abs(piece.pose.scaleY);
    percent->setValue(100 * (locked->isChecked() ? std::sqrt(sx * sy) : sx));
    percentDown->setValue(100 * sy);
    locked->setEnabled(true);
    downRow->setVisible(!locked->isChecked());
    turn->setValue(piece.pose.rotationDeg);
    for (QWidget* w : std::initializer_list<QWidget*>{x, y, width, height, percent, turn})
        w->setEnabled(!piece.locked);
    keep->setCurrentIndex(piece.keep == Keep::spacing ? 0 : 1);
    keep->setToolTip(tr("Stitches are laid afresh at the new size, or moved along with it"));
    showFacts(piece, list);
}

/// One frame round all of them; scale and turn count from what they are now.
void SizePage::refreshSeveral() {
    const Box box = session.selectionBox();
    fields->setVisible(!box.empty());
    hint->setVisible(box.empty());
    hint->setText(tr("Nothing of what is chosen is sewn."));
    if (box.empty()) return;
    centre = box.centre();
    std::vector<const Piece*> pieces;
    for (const std::string& id : session.selection.ids())
        if (const Piece* p = session.job().piece(id)) pieces.push_back(p);
    const auto all = [&](auto holds) { return std::all_of(pieces.begin(), pieces.end(), holds); };
    showName(QString::fromStdString(lastName(session.selection.group())));
    name->setPlaceholderText(tr("a name makes them a group"));
    x->setMm(centre.x);
    y->setMm(centre.y);
    if (asked.empty()) {
        width->setMm(box.width());
        height->setMm(box.height());
    }
    percent->setValue(100);
    locked->setEnabled(false);
    downRow->hide();
    turn->setValue(0);
    const bool anyLocked = !all([](const Piece* p) { return !p->locked; });
    for (QWidget* w : std::initializer_list<QWidget*>{x, y, width, height, percent, turn})
        w->setEnabled(!anyLocked);
    const Keep first = pieces.front()->keep;
    keep->setCurrentIndex(!all([&](const Piece* p) { return p->keep == first; }) ? -1
                          : first == Keep::spacing                               ? 0
                                                                                 : 1);
    QString words =
        tr("%n pieces, sized and turned as one.", nullptr, static_cast<int>(pieces.size()));
    if (anyLocked) words += " " + tr("Some are locked; unlock them first.");
    facts->setText(words);
}

/// From its beginning, unless it is being typed.
void SizePage::showName(const QString& text) {
    if (name->isModified() && name->hasFocus()) return;
    name->setText(text);
    name->setCursorPosition(0);
}

void SizePage::rename() {
    const QString text = name->text().trimmed();
    if (!name->isModified() || text.isEmpty()) return;
    if (const Piece* p = onePiece())
        session.document.apply(renamePiece(p->id, text.toStdString()));
    else if (session.selection.ids().size() > 1)
        nameGroup(text.toStdString());
}

/// The chosen group gets the name; what is no group becomes one.
void SizePage::nameGroup(const std::string& text) {
    const Selection& chosen = session.selection;
    const std::string path = chosen.group();
    session.document.apply(path.empty() ? groupPieces(chosen.ids(), chosen.opened(), text)
                                        : renameGroup(path, text));
}

void SizePage::showFacts(const Piece& piece, const StitchList& list) {
    QStringList words;
    if (piece.pose.scaleX != piece.pose.scaleY)
        words << tr("%1 % across, %2 % down of its own size")
                     .arg(100 * std::abs(piece.pose.scaleX), 0, 'f', 0)
                     .arg(100 * std::abs(piece.pose.scaleY), 0, 'f', 0);
    if (piece.pose.mirror) words << tr("mirrored");
    if (piece.locked) words << tr("locked");
    words << tr("%L1 stitches").arg(measure(list).stitches);
    words << (list.threads.size() == 1 ? tr("1 thread")
                                       : tr("%1 threads").arg(list.threads.size()));
    if (session.selection.copy() > 1)
        words << tr("placed by copy %1").arg(session.selection.copy());
    facts->setText(words.join(", ") + ".");
}

void SizePage::moveTo(std::optional<double> mmX, std::optional<double> mmY) {
    const Piece* piece = onePiece();
    if (piece && !session.stitchesOf(*piece)) {
        // Its middle is not known yet: what was typed waits for it.
        const Affine copy = session.copyMapOfSelection();
        return ask([id = piece->id, mmX, mmY, copy](const Job& job,
                                                    const std::stop_token&) -> Result<Edit> {
            const Piece* one = job.piece(id);
            if (!one) return cancelled();
            const auto list = stitchPiece(*one);
            if (!list) return list.error();
            const Vec2 at = copy(one->pose.unscaled().affine()(extentsOf(**list).centre()));
            const Vec2 by{mmX ? *mmX - at.x : 0, mmY ? *mmY - at.y : 0};
            return movePieces({id}, copy.inverse()(by) - copy.inverse()(Vec2{}));
        });
    }
    refresh();
    session.document.apply(
        session.moveSelection({mmX ? *mmX - centre.x : 0, mmY ? *mmY - centre.y : 0}));
}

void SizePage::resizeTo(std::optional<double> mmWidth, std::optional<double> mmHeight) {
    ResizeRequest request;
    request.widthMm = mmWidth;
    request.heightMm = mmHeight;
    ask([ids = session.selection.ids(), request,
         locked = locked->isChecked()](const Job& job, std::stop_token stop) -> Result<Edit> {
        const Piece* one = ids.size() == 1 ? job.piece(ids[0]) : nullptr;
        if (!one) return editOf(sizedAsOne(job, ids, request, stop));
        const auto pose = resizedTo(*one, request.widthMm, request.heightMm, locked);
        if (!pose) return pose.error();
        return setPose(one->id, *pose, "Resize");
    });
}

void SizePage::scaleTo(std::optional<double> across, std::optional<double> down) {
    ResizeRequest request;
    request.scale = across.value_or(100) / 100;
    ask([ids = session.selection.ids(), request, across, down,
         locked = locked->isChecked()](const Job& job, std::stop_token stop) -> Result<Edit> {
        const Piece* one = ids.size() == 1 ? job.piece(ids[0]) : nullptr;
        if (!one) return editOf(sizedAsOne(job, ids, request, stop));
        return scaledTo(*one, across, down, locked);
    });
}

void SizePage::ask(Sizing sizing) {
    if (session.selection.empty()) return;
    askedIn = session.inThisJob();
    asked.push_back(std::move(sizing));
    if (!working->isBusy()) workOut();
}

/// In the background, as everything is stitched at its new size a few times over. What was edited
/// meanwhile is kept: the size is then worked out anew for the job as it is.
void SizePage::workOut() {
    if (asked.empty()) return;
    const quint64 revision = session.document.revision();
    working->ask(
        askedIn,
        [job = session.job(), make = asked.front()](std::stop_token stop) {
            return make(job, stop);
        },
        [this, revision](const Result<Edit>& edit) {
            if (asked.empty()) return;
            if (revision != session.document.revision()) return workOut();
            asked.pop_front();
            if (edit)
                session.document.apply(*edit);
            else
                emit failed(tr("This size cannot be made"),
                            QString::fromStdString(edit.error().reason));
            workOut();
            if (asked.empty()) refresh();
        },
        patience);
}

void SizePage::turnTo(double degrees) {
    if (session.selection.ids().size() > 1) {
        session.document.apply(turnPieces(session.selection.ids(), degrees, centre));
        return refreshSeveral();
    }
    const Piece* piece = onePiece();
    if (!piece) return;
    const Vec2 about = session.copyMapOfSelection().inverse()(centre);
    session.document.apply(turnPieces({piece->id}, degrees - piece->pose.rotationDeg, about));
}

} // namespace rapt::app
