#include "app/compose/stitch_page.h"

#include <QSignalBlocker>

namespace rapt::app {

StitchPage::StitchPage(Session& s)
    : Page(s), hint(quietLabel({})), fields(new QWidget), part(new QComboBox),
      spacing(new LengthEdit(s, "Row spacing")), stitchLength(new LengthEdit(s, "Stitch length")),
      pull(new LengthEdit(s, "Pull")), angle(new NumberEdit("Angle", "°", 1)),
      passes(new NumberEdit("Passes", "", 0)), underlay(new QComboBox),
      smooth(new QCheckBox(tr("Smooth curves through the points"))), words(wordsLabel()) {
    auto* form = new QVBoxLayout(fields);
    form->setContentsMargins(0, 0, 0, 0);
    form->setSpacing(6);
    part->setObjectName("part");
    underlay->setObjectName("underlay");
    underlay->addItems({tr("none"), tr("light"), tr("full")});
    underlay->setToolTip(tr("Underlay: what is sewn below, to hold the cloth and lift the cover"));
    smooth->setObjectName("smooth");
    spacing->setRange(0.1, 20);
    stitchLength->setRange(0.5, maxStitchMm);
    pull->setRange(-2, 4);
    angle->setRange(-360, 360);
    passes->setRange(1, 9);
    form->addLayout(row(tr("Part"), part));
    form->addLayout(pairRow(tr("Spacing"), spacing, tr("Stitch"), stitchLength));
    form->addLayout(pairRow(tr("Angle"), angle, tr("Pull"), pull));
    form->addLayout(pairRow(tr("Passes"), passes, tr("Below"), underlay));
    form->addWidget(smooth);
    form->addWidget(words);
    column->addWidget(hint);
    column->addWidget(fields);
    connect(part, &QComboBox::activated, this, [this] { refresh(); });
    connect(spacing, &LengthEdit::typed, this, [this](double mm) {
        change(tr("Change the spacing"), [mm](ShapePart& p) { p.spacingMm = mm; });
    });
    connect(stitchLength, &LengthEdit::typed, this, [this](double mm) {
        change(tr("Change the stitch length"), [mm](ShapePart& p) { p.stitchLengthMm = mm; });
    });
    connect(angle, &NumberEdit::typed, this, [this](double degrees) {
        change(tr("Change the stitch angle"), [degrees](ShapePart& p) { p.angleDeg = degrees; });
    });
    connect(pull, &LengthEdit::typed, this, [this](double mm) {
        change(tr("Change the pull compensation"), [mm](ShapePart& p) { p.pullMm = mm; });
    });
    connect(passes, &NumberEdit::typed, this, [this](double n) {
        change(tr("Change the passes"), [n](ShapePart& p) { p.passes = static_cast<int>(n); });
    });
    connect(underlay, &QComboBox::activated, this, [this](int i) {
        change(tr("Change the underlay"),
               [i](ShapePart& p) { p.underlay = static_cast<Underlay>(i); });
    });
    connect(smooth, &QCheckBox::clicked, this, [this](bool on) {
        change(tr("Change the curve"), [on](ShapePart& p) { p.smooth = on; });
    });
}

std::vector<ShapePart> StitchPage::shownParts() const {
    std::vector<ShapePart> parts;
    for (const std::string& id : session.selection.ids()) {
        const Piece* piece = session.job().piece(id);
        const auto* content = piece ? std::get_if<ShapeContent>(&piece->content) : nullptr;
        if (content)
            parts.insert(parts.end(), content->shape->parts.begin(), content->shape->parts.end());
    }
    const int index = part->currentIndex() - 1;
    if (session.selection.ids().size() == 1 && index >= 0 && index < static_cast<int>(parts.size()))
        return {parts[static_cast<std::size_t>(index)]};
    return parts;
}

void StitchPage::change(const QString& name, const std::function<void(ShapePart&)>& changePart) {
    const int only = session.selection.ids().size() == 1 ? part->currentIndex() - 1 : -1;
    auto count = std::make_shared<int>(0);
    session.document.apply({name.toStdString(), [=, ids = session.selection.ids()](Job job) {
                                *count = 0;
                                return changeParts("", ids,
                                                   [&](ShapePart& p) {
                                                       if (only < 0 || (*count)++ == only)
                                                           changePart(p);
                                                   })
                                    .change(std::move(job));
                            }});
}

void StitchPage::refresh() {
    if (shownFor != session.selection.ids() || part->count() == 0) {
        const QSignalBlocker quiet(part);
        shownFor = session.selection.ids();
        part->clear();
        part->addItem(tr("all parts"));
        part->setCurrentIndex(0);
        const auto all = shownParts();
        const QString names[] = {tr("run"), tr("fill"), tr("satin")};
        if (session.selection.ids().size() == 1)
            for (std::size_t i = 0; i < all.size() && i < 200; ++i)
                part->addItem(tr("%1, %2").arg(i + 1).arg(names[static_cast<int>(all[i].kind)]));
    }
    const auto parts = shownParts();
    fields->setVisible(!parts.empty());
    hint->setVisible(parts.empty());
    hint->setText(session.selection.ids().empty()
                      ? tr("Choose a piece to see how it is stitched.")
                      : tr("A design of bare stitches has no recipe. Drawings (SVG) and what is "
                           "drawn on the cloth have one."));
    if (parts.empty()) return;
    bool fill = false, satin = false, run = false;
    for (const ShapePart& p : parts) {
        fill = fill || p.kind == StitchKind::fill;
        satin = satin || p.kind == StitchKind::satin;
        run = run || p.kind == StitchKind::run;
    }
    // Of several parts the first that a field is about is shown.
    const auto first = [&](auto good) {
        for (const ShapePart& p : parts)
            if (good(p)) return p;
        return parts.front();
    };
    const ShapePart rows = first([](const ShapePart& p) { return p.kind != StitchKind::run; });
    const ShapePart lines = first([](const ShapePart& p) { return p.kind != StitchKind::satin; });
    spacing->setMm(rows.spacingMm);
    stitchLength->setMm(lines.stitchLengthMm);
    angle->setValue(first([](const ShapePart& p) { return p.kind == StitchKind::fill; }).angleDeg);
    underlay->setCurrentIndex(static_cast<int>(rows.underlay));
    pull->setMm(rows.pullMm);
    passes->setValue(first([](const ShapePart& p) { return p.kind == StitchKind::run; }).passes);
    smooth->setChecked(parts.front().smooth);
    spacing->setEnabled(fill || satin);
    stitchLength->setEnabled(fill || run);
    angle->setEnabled(fill);
    underlay->setEnabled(fill || satin);
    pull->setEnabled(fill || satin);
    passes->setEnabled(run);
    words->setText(
        tr("Spacing is between rows, and of a satin between neighbouring points on one "
           "side. Pull is added to the width, half on each side. Below is the underlay."));
}

} // namespace rapt::app
