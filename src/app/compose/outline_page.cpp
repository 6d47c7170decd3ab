#include "app/compose/outline_page.h"

#include "job/edit_copies.h"
#include "job/stitching.h"
#include "thread/measures.h"

namespace rapt::app {
namespace {

constexpr double cutStitchMm = 2.0, basteStitchMm = 5.0;
constexpr double roomMm = 6; ///< round the piece when an outline is first asked for

QWidget* labelled(const QString& label, QWidget* field) {
    auto* widget = new QWidget;
    QHBoxLayout* layout = row(label, field);
    layout->setContentsMargins(0, 0, 0, 0);
    widget->setLayout(layout);
    return widget;
}

} // namespace

OutlinePage::OutlinePage(Session& s)
    : Page(s), hint(quietLabel(tr("Choose the piece that the line goes round."))),
      form(new QComboBox), purpose(new QComboBox), fields(new QWidget),
      width(new LengthEdit(s, "Outline width")), height(new LengthEdit(s, "Outline height")),
      corner(new LengthEdit(s, "Corner radius")), offset(new LengthEdit(s, "Offset")),
      stitchLength(new LengthEdit(s, "Outline stitch")), widthRow(labelled(tr("Width"), width)),
      heightRow(labelled(tr("Height"), height)), cornerRow(labelled(tr("Corners"), corner)),
      offsetRow(labelled(tr("Offset"), offset)), thread(new ThreadChoice(s.threads)),
      words(wordsLabel()) {
    form->setObjectName("outlineForm");
    form->addItems({tr("no outline"), tr("rectangle"), tr("oval"), tr("along the stitches")});
    purpose->setObjectName("outlinePurpose");
    purpose->addItems({tr("cutting line"), tr("basting line")});
    thread->setObjectName("outlineThread");
    for (LengthEdit* e : {width, height}) e->setRange(1, 5000);
    corner->setRange(0, 2000);
    offset->setRange(0.2, 200);
    stitchLength->setRange(0.5, maxStitchMm);
    column->addWidget(hint);
    column->addLayout(row(tr("Outline"), form));
    auto* layout = new QVBoxLayout(fields);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(6);
    layout->addLayout(row(tr("It is a"), purpose));
    for (QWidget* w : {widthRow, heightRow, cornerRow, offsetRow}) layout->addWidget(w);
    layout->addLayout(row(tr("Stitch"), stitchLength));
    layout->addLayout(row(tr("Thread"), thread));
    layout->addWidget(words);
    column->addWidget(fields);
    connect(form, &QComboBox::activated, this, &OutlinePage::chooseForm);
    connect(purpose, &QComboBox::activated, this, [this](int i) {
        change([i](Outline& o) {
            o.cut = i == 0;
            o.stitchLengthMm = o.cut ? cutStitchMm : basteStitchMm;
        });
    });
    const auto bind = [this](LengthEdit* edit, double Outline::*member) {
        connect(edit, &LengthEdit::typed, this,
                [this, member](double mm) { change([=](Outline& o) { o.*member = mm; }); });
    };
    bind(width, &Outline::widthMm);
    bind(height, &Outline::heightMm);
    bind(corner, &Outline::cornerMm);
    bind(offset, &Outline::offsetMm);
    bind(stitchLength, &Outline::stitchLengthMm);
    connect(thread, &ThreadChoice::chosen, this,
            [this](const Thread& t) { change([t](Outline& o) { o.thread = t; }); });
}

void OutlinePage::chooseForm(int index) {
    const Piece* piece = onePiece();
    if (!piece) return;
    if (index == 0) {
        session.document.apply(setOutline({piece->id}, std::nullopt));
        return;
    }
    Outline outline = piece->outline.value_or(Outline{});
    outline.form = static_cast<Outline::Form>(index - 1);
    if (!piece->outline) {
        const auto* stitches = session.stitchesOf(*piece);
        const Box box = stitches ? stitches->extents : session.selectionBox();
        if (!box.empty()) {
            outline.widthMm = std::ceil(box.width() + 2 * roomMm);
            outline.heightMm = std::ceil(box.height() + 2 * roomMm);
        }
        outline.stitchLengthMm = cutStitchMm;
        if (!session.threads.palette().threads.empty())
            outline.thread = session.threads.palette().threads[0].thread;
    }
    session.document.apply(setOutline({piece->id}, outline));
}

void OutlinePage::change(const std::function<void(Outline&)>& changeOutline) {
    const Piece* piece = onePiece();
    if (!piece || !piece->outline) return;
    Outline outline = *piece->outline;
    changeOutline(outline);
    session.document.apply(setOutline({piece->id}, outline));
}

void OutlinePage::refresh() {
    const Piece* piece = onePiece();
    hint->setVisible(!piece);
    form->setEnabled(piece != nullptr);
    const bool has = piece && piece->outline;
    form->setCurrentIndex(has ? static_cast<int>(piece->outline->form) + 1 : 0);
    fields->setVisible(has);
    if (!has) return;
    const Outline& o = *piece->outline;
    const bool along = o.form == Outline::Form::contour;
    widthRow->setVisible(!along);
    heightRow->setVisible(!along);
    cornerRow->setVisible(o.form == Outline::Form::rectangle);
    offsetRow->setVisible(along);
    purpose->setCurrentIndex(o.cut ? 0 : 1);
    width->setMm(o.widthMm);
    height->setMm(o.heightMm);
    corner->setMm(o.cornerMm);
    offset->setMm(o.offsetMm);
    stitchLength->setMm(o.stitchLengthMm);
    thread->show(o.thread);
    words->setText(session.job().repeatOf(piece->id)
                       ? tr("Sewn before all copies, every line in one run of this thread.")
                       : tr("Sewn before the piece. Its size stays when the piece is resized."));
}

} // namespace rapt::app
