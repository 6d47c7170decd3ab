#include "app/compose/border_page.h"

#include "thread/measures.h"

namespace rapt::app {

BorderPage::BorderPage(Session& s)
    : Page(s), hint(quietLabel(tr("Choose one piece: the motif."))),
      lengthEdit(new LengthEdit(s, "Border length")), height(new LengthEdit(s, "Border height")),
      strip(new LengthEdit(s, "Strip width")), frame(new QCheckBox(tr("A frame, all round"))),
      block(new QCheckBox(tr("A motif in each corner"))), words(wordsLabel()),
      makeButton(button(tr("Make the border"), "makeBorder", [this] { make(); })) {
    request.lengthMm = 400;
    request.stripMm = 30;
    for (LengthEdit* e : {lengthEdit, height}) e->setRange(1, 9000);
    strip->setRange(1, 2000);
    frame->setObjectName("borderFrame");
    block->setObjectName("borderBlock");
    column->addWidget(hint);
    column->addLayout(pairRow(tr("Length"), lengthEdit, tr("Strip"), strip));
    column->addWidget(frame);
    column->addLayout(row(tr("Outer height"), height));
    column->addWidget(block);
    column->addWidget(words);
    column->addWidget(makeButton);
    connect(&session, &Session::chosenReady, this, [this] {
        if (isVisible()) refresh();
    });
    connect(lengthEdit, &LengthEdit::typed, this, [this](double mm) {
        request.lengthMm = mm;
        refresh();
    });
    connect(strip, &LengthEdit::typed, this, [this](double mm) {
        request.stripMm = mm;
        refresh();
    });
    connect(height, &LengthEdit::typed, this, [this](double mm) {
        request.heightMm = mm;
        refresh();
    });
    connect(frame, &QCheckBox::clicked, this, [this](bool on) {
        request.heightMm = on ? std::optional(0.75 * request.lengthMm) : std::nullopt;
        refresh();
    });
    connect(block, &QCheckBox::clicked, this, [this](bool on) {
        request.corner = on ? BorderCorner::block : BorderCorner::open;
        refresh();
    });
}

/// The chosen piece as it is sewn; null while it is worked out.
std::shared_ptr<const StitchList> BorderPage::motif() const {
    const Piece* p = onePiece();
    const auto* stitches = p ? session.stitchesOf(*p) : nullptr;
    return stitches && stitches->list ? *stitches->list : nullptr;
}

void BorderPage::refresh() {
    const auto list = motif();
    hint->setVisible(!onePiece());
    lengthEdit->setMm(request.lengthMm);
    strip->setMm(request.stripMm);
    height->setMm(request.heightMm.value_or(0.75 * request.lengthMm));
    height->setEnabled(request.heightMm.has_value());
    frame->setChecked(request.heightMm.has_value());
    block->setChecked(request.corner == BorderCorner::block);
    block->setEnabled(request.heightMm.has_value());
    makeButton->setEnabled(false);
    words->clear();
    if (!list) return;
    const auto plan = planBorder(extentsOf(*list), request);
    if (!plan) {
        words->setText("△ " + QString::fromStdString(plan.error().reason) + ".");
        return;
    }
    makeButton->setEnabled(true);
    QString text = tr("%1 motifs of %2").arg(plan->along).arg(session.lengthText(plan->alongMm));
    if (request.heightMm)
        text += tr(" on a long side, %1 of %2 on a high one")
                    .arg(plan->down)
                    .arg(session.lengthText(plan->downMm));
    const double stretch = 100 * (plan->scaleAlong / plan->scaleAcross - 1);
    words->setText(text + tr("; drawn out by %1 %.").arg(stretch, 0, 'f', 1));
}

/// The border takes the motif's place, as linked copies round the datum.
void BorderPage::make() {
    const Piece* p = onePiece();
    const auto list = motif();
    if (!p || !list) return;
    const auto made = borderJob(*list, "designs/" + p->id + "-motif.stitch.csv", request);
    if (!made) {
        emit failed(tr("The border was not made."), QString::fromStdString(made.error().reason));
        return;
    }
    const std::string id = p->id;
    session.document.apply({"Make a border", [made = *made, id](Job job) {
                                std::map<std::string, std::string> names;
                                for (Piece piece : made.pieces) {
                                    const std::string own = unusedId(job, piece.id);
                                    names[piece.id] = own;
                                    piece.id = own;
                                    job.pieces.push_back(std::move(piece));
                                }
                                for (Repeat repeat : made.repeats) {
                                    for (std::string& piece : repeat.pieces) piece = names[piece];
                                    repeat.id = repeat.pieces.front() + "-copies";
                                    job.repeats.push_back(std::move(repeat));
                                }
                                job = deletePieces({id}).change(std::move(job));
                                job.cloth.widthMm = std::max(job.cloth.widthMm, made.cloth.widthMm);
                                job.cloth.heightMm =
                                    std::max(job.cloth.heightMm, made.cloth.heightMm);
                                return job;
                            }});
    session.selection.choose({});
}

} // namespace rapt::app
