#include "app/letter/curve_page.h"

#include "job/edit_lettering.h"
#include "recipe/flatten.h"

#include <numbers>

namespace rapt::app {

CurvePage::CurvePage(Session& s)
    : Page(s), hint(quietLabel(tr("Choose the words that are to follow a curve."))),
      kind(new QComboBox), side(new QComboBox), from(new QComboBox), fields(new QWidget),
      arcFields(new QWidget), radius(new LengthEdit(s, "Radius")),
      middle(new NumberEdit("Middle at", "°", 1)),
      even(new QCheckBox(tr("Keep the gaps as on a straight line"))),
      upright(new QCheckBox(tr("Letters stay upright"))),
      draw(new QPushButton(tr("Draw the path on the cloth"))), words(wordsLabel()) {
    kind->setObjectName("lineKind");
    kind->addItems({tr("a straight line"), tr("an arc"), tr("round a circle"), tr("a drawn path")});
    side->setObjectName("arcSide");
    side->addItems({tr("outside, tops away"), tr("inside, tops inward")});
    from->setObjectName("arcFrom");
    from->addItems({tr("its top"), tr("its bottom"), tr("an angle of its own")});
    even->setObjectName("evenGaps");
    upright->setObjectName("upright");
    draw->setObjectName("drawPath");
    draw->setCheckable(true);
    column->addWidget(hint);
    auto* all = new QVBoxLayout(fields);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(6);
    all->addLayout(row(tr("Stand on"), kind));
    auto* arc = new QVBoxLayout(arcFields);
    arc->setContentsMargins(0, 0, 0, 0);
    arc->setSpacing(6);
    arc->addLayout(row(tr("Radius"), radius));
    arc->addLayout(row(tr("Side"), side));
    arc->addLayout(row(tr("Middle at"), from));
    arc->addLayout(row(tr("Turned by"), middle));
    all->addWidget(arcFields);
    all->addWidget(draw);
    all->addWidget(even);
    all->addWidget(upright);
    all->addWidget(words);
    column->addWidget(fields);
    radius->setRange(1, 5000);
    middle->setRange(-360, 360);
    connect(kind, &QComboBox::activated, this, &CurvePage::chooseKind);
    connect(radius, &LengthEdit::typed, this,
            [this](double mm) { change(tr("Radius"), [=](LetterLine& l) { l.radiusMm = mm; }); });
    connect(middle, &NumberEdit::typed, this, [this](double degrees) {
        change(tr("Turn the words round"), [=](LetterLine& l) { l.middleDeg = degrees; });
    });
    connect(side, &QComboBox::activated, this, [this](int i) {
        change(tr("Side of the arc"), [i](LetterLine& l) {
            l.side = static_cast<ArcSide>(i);
            l.middleDeg = 0;
        });
    });
    connect(from, &QComboBox::activated, this, [this](int i) {
        if (i == 2) return middle->field()->setFocus();
        change(tr("Middle of the words"), [i](LetterLine& l) {
            const bool home = (l.side == ArcSide::outside) == (i == 0);
            l.middleDeg = home ? 0 : 180;
        });
    });
    connect(even, &QCheckBox::clicked, this, [this](bool on) {
        change(tr("Gaps on the curve"), [on](LetterLine& l) { l.even = on; });
    });
    connect(upright, &QCheckBox::clicked, this, [this](bool on) {
        change(tr("Upright letters"), [on](LetterLine& l) { l.upright = on; });
    });
    connect(draw, &QPushButton::clicked, this, [this](bool on) {
        waitsForPath = on;
        session.setTool(on ? ToolKind::drawPath : ToolKind::select);
    });
    connect(&session, &Session::pathDrawn, this, &CurvePage::takePath);
}

void CurvePage::change(const QString& name, const std::function<void(LetterLine&)>& changeLine) {
    if (!session.selection.words()) return;
    session.document.apply(changeLettering(session.selection.ids()[0], name.toStdString(),
                                           [changeLine](Lettering& l) { changeLine(l.line); }));
    refresh();
}

void CurvePage::chooseKind(int index) {
    const Lettering* l = session.selection.words();
    if (!l) return;
    const auto wanted = static_cast<LineKind>(index);
    if (wanted == LineKind::path && l->line.path.size() < 2) {
        draw->setChecked(true);
        waitsForPath = true;
        session.setTool(ToolKind::drawPath);
        refresh();
        return;
    }
    const StitchedLettering* set = session.letters.setting();
    const double width = set ? set->setting.widthMm : 100;
    const bool wasStraight = l->line.kind == LineKind::straight;
    // A new arc starts as a third of its circle, where the words are.
    const double room = wanted == LineKind::circle ? 1.05 * width / (2 * std::numbers::pi)
                                                   : 3 * width / (2 * std::numbers::pi);
    const double start = std::ceil(std::max(room, 1.2 * l->capHeightMm));
    const double down = wanted == LineKind::straight ? 0 : start;
    Edit line =
        changeLettering(session.selection.ids()[0], "Line of the words", [=](Lettering& own) {
            own.line.kind = wanted;
            if (wasStraight && wanted != LineKind::straight) {
                own.line.radiusMm = start;
                own.line.even = true;
            }
        });
    // The origin of an arc is its centre: the words stay where they are.
    std::vector<Edit> edits{line};
    const bool becomesRound =
        wasStraight && (wanted == LineKind::arc || wanted == LineKind::circle);
    if (becomesRound) edits.push_back(movePieces(session.selection.ids(), {0, down}));
    session.document.apply(together("Line of the words", edits));
    refresh();
}

void CurvePage::takePath(const Polyline& path) {
    if (!std::exchange(waitsForPath, false) || !session.selection.words() || path.size() < 2)
        return;
    const Piece* piece = onePiece();
    const Affine back = piece->pose.affine().inverse();
    Polyline own = path.size() > 2 ? smoothCurve(path, false, 16) : path;
    for (Vec2& p : own) p = back(p);
    change(tr("Along a drawn path"), [own](LetterLine& l) {
        l.kind = LineKind::path;
        l.path = own;
        l.even = true;
    });
}

void CurvePage::refresh() {
    const Lettering* l = session.selection.words();
    hint->setVisible(!l);
    fields->setVisible(l != nullptr);
    draw->setChecked(session.tool() == ToolKind::drawPath && waitsForPath);
    if (!l) return;
    const LetterLine& line = l->line;
    const bool round = line.kind == LineKind::arc || line.kind == LineKind::circle;
    kind->setCurrentIndex(static_cast<int>(line.kind));
    arcFields->setVisible(round);
    even->setVisible(line.kind != LineKind::straight && line.kind != LineKind::circle);
    upright->setVisible(line.kind != LineKind::straight);
    draw->setVisible(line.kind == LineKind::path || draw->isChecked());
    radius->setMm(line.radiusMm);
    side->setCurrentIndex(static_cast<int>(line.side));
    const bool home = line.middleDeg == 0, opposite = std::abs(line.middleDeg) == 180;
    const bool outside = line.side == ArcSide::outside;
    from->setCurrentIndex(home ? (outside ? 0 : 1) : opposite ? (outside ? 1 : 0) : 2);
    middle->setValue(line.middleDeg);
    even->setChecked(line.even);
    upright->setChecked(line.upright);
    const StitchedLettering* set = session.letters.setting();
    if (draw->isChecked())
        words->setText(tr("Click along the path; Enter or a double click ends it."));
    else if (!set) {
        const auto* result = session.letters.settingOrProblem();
        words->setText(
            result ? QString::fromUtf8("△ %1.").arg(QString::fromStdString(result->error().reason))
                   : tr("being worked out…"));
    } else if (set->setting.roomMm > 0)
        words->setText(tr("The words take %1 of %2.")
                           .arg(session.lengthText(set->setting.widthMm),
                                session.lengthText(set->setting.roomMm)));
    else
        words->setText(tr("The words are %1 long.").arg(session.lengthText(set->setting.widthMm)));
}

} // namespace rapt::app
