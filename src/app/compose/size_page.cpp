#include "app/compose/size_page.h"

#include "app/cloth/piece_frame.h"
#include "job/stitching.h"
#include "place/sizing.h"
#include "thread/measures.h"

namespace rapt::app {

SizePage::SizePage(Session& s)
    : ComposePage(s), hint(quietLabel({})), fields(new QWidget), name(new QLineEdit),
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
    column->addWidget(hint);
    column->addWidget(fields);
    connect(name, &QLineEdit::editingFinished, this, [this] {
        const Piece* p = onePiece();
        if (p && name->isModified() && !name->text().trimmed().isEmpty())
            session.document.apply(renamePiece(p->id, name->text().trimmed().toStdString()));
    });
    connect(x, &LengthEdit::typed, this, [this](double mm) { moveTo(mm, {}); });
    connect(y, &LengthEdit::typed, this, [this](double mm) { moveTo({}, mm); });
    connect(width, &LengthEdit::typed, this, [this](double mm) { resizeTo(mm, {}); });
    connect(height, &LengthEdit::typed, this, [this](double mm) { resizeTo({}, mm); });
    connect(percent, &NumberEdit::typed, this, [this](double p) { scaleTo(p, {}); });
    connect(percentDown, &NumberEdit::typed, this, [this](double p) { scaleTo({}, p); });
    connect(locked, &QCheckBox::toggled, this, &SizePage::refresh);
    connect(turn, &NumberEdit::typed, this, &SizePage::turnTo);
    connect(keep, &QComboBox::activated, this, [this](int i) {
        if (const Piece* p = onePiece())
            session.document.apply(setKeep(p->id, i == 0 ? Keep::spacing : Keep::stitches));
    });
}

void SizePage::refresh() {
    const Piece* piece = onePiece();
    const auto* stitches = piece ? session.stitchesOf(*piece) : nullptr;
    const bool sewn = stitches && stitches->list;
    // While a large piece is stitched the old numbers stay.
    if (piece && !stitches) return;
    fields->setVisible(sewn);
    hint->setVisible(!sewn);
    if (!sewn) {
        const Box box = session.selectionBox();
        hint->setText(
            session.selection.ids().empty() ? tr("Choose a piece on the cloth or in the list.")
            : piece                         ? QString::fromStdString(stitches->list.error().reason)
                    : tr("%1 pieces, together %2 × %3. Move and turn them together; sizes "
                         "are set one by one, or under Place.")
                          .arg(session.selection.ids().size())
                          .arg(session.lengthText(box.width()), session.lengthText(box.height())));
        return;
    }
    const Box& box = stitches->extents;
    centre = session.copyMapOfSelection()(piece->pose.unscaled().affine()(box.centre()));
    if (!name->hasFocus() || !name->isModified())
        name->setText(QString::fromStdString(piece->name));
    x->setMm(centre.x);
    y->setMm(centre.y);
    width->setMm(box.width());
    height->setMm(box.height());
    const double sx = std::abs(piece->pose.scaleX), sy = std::abs(piece->pose.scaleY);
    percent->setValue(100 * (locked->isChecked() ? std::sqrt(sx * sy) : sx));
    percentDown->setValue(100 * sy);
    downRow->setVisible(!locked->isChecked());
    turn->setValue(piece->pose.rotationDeg);
    for (QWidget* w : std::initializer_list<QWidget*>{x, y, width, height, percent, turn})
        w->setEnabled(!piece->locked);
    keep->setCurrentIndex(piece->keep == Keep::spacing ? 0 : 1);
    keep->setToolTip(tr("Stitches are laid afresh at the new size, or moved along with it"));
    showFacts(*piece, **stitches->list);
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
    session.document.apply(
        session.moveSelection({mmX ? *mmX - centre.x : 0, mmY ? *mmY - centre.y : 0}));
}

void SizePage::resizeTo(std::optional<double> mmWidth, std::optional<double> mmHeight) {
    const Piece* piece = onePiece();
    if (!piece) return;
    const auto pose = resizedTo(*piece, mmWidth, mmHeight, locked->isChecked());
    if (pose)
        session.document.apply(setPose(piece->id, *pose, "Resize"));
    else
        emit failed(tr("This size cannot be made"), QString::fromStdString(pose.error().reason));
}

void SizePage::scaleTo(std::optional<double> across, std::optional<double> down) {
    const Piece* piece = onePiece();
    const auto* stitches = piece ? session.stitchesOf(*piece) : nullptr;
    const auto box = stitches ? unscaledBox(*piece, stitches->extents) : std::nullopt;
    if (!box) return;
    Pose pose = piece->pose;
    const Vec2 middle = pose.affine()(box->centre());
    const auto sized = [](double scale, double percentWanted) {
        return std::copysign(percentWanted / 100, scale);
    };
    if (locked->isChecked()) {
        const double now = pose.meanScale();
        const double factor = across.value_or(100) / 100 / now;
        pose.scaleX *= factor;
        pose.scaleY *= factor;
    } else {
        if (across) pose.scaleX = sized(pose.scaleX, *across);
        if (down) pose.scaleY = sized(pose.scaleY, *down);
    }
    const Vec2 moved = pose.affine()(box->centre());
    pose.x += middle.x - moved.x;
    pose.y += middle.y - moved.y;
    session.document.apply(setPose(piece->id, pose, "Resize"));
}

void SizePage::turnTo(double degrees) {
    const Piece* piece = onePiece();
    if (!piece) return;
    const Vec2 about = session.copyMapOfSelection().inverse()(centre);
    session.document.apply(turnPieces({piece->id}, degrees - piece->pose.rotationDeg, about));
}

} // namespace rapt::app
