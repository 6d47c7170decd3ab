#include "app/letter/neckline_page.h"

#include "app/kit/questions.h"
#include "base/file_io.h"
#include "base/paths.h"
#include "job/edit_lettering.h"
#include "letter/faces.h"
#include "sheets/template_pdf.h"

namespace rapt::app {
namespace {

constexpr const char* guideNames[] = {"neck edge", "centre front", "shoulder seam",
                                      "shoulder seam"};

} // namespace

NecklinePage::NecklinePage(Session& s)
    : Page(s), hint(quietLabel(tr("Choose the words that are to follow the neck."))),
      fields(new QWidget), byDepth(new QWidget), measured(new QComboBox), place(new QComboBox),
      half(new QComboBox), width(new LengthEdit(s, "Neck width")),
      depth(new LengthEdit(s, "Neck depth")), fromEdge(new LengthEdit(s, "From the edge")),
      distance(new LengthEdit(s, "Along the edge")), angle(new NumberEdit("Neck angle", "°", 1)),
      level(new QCheckBox(tr("Turn the garment: words level in the hoop"))),
      trace(new QPushButton(tr("Click it on the cloth"))),
      set(mainButton(tr("Set the words on the neckline"))), neckWords(wordsLabel()),
      planWords(wordsLabel()) {
    column->addWidget(hint);
    auto* all = new QVBoxLayout(fields);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(6);
    column->addWidget(fields);
    buildNeck();
    buildPlace();
    set->setObjectName("setNeckline");
    all->addWidget(set);
    connect(set, &QPushButton::clicked, this, &NecklinePage::setWords);
    auto* plain = button(tr("Template…"), "neckTemplate", [this] { saveTemplate(false); });
    auto* mirrored =
        button(tr("Mirrored…"), "neckTemplateMirrored", [this] { saveTemplate(true); });
    plain->setToolTip(tr("Print it at true scale and lay it on the garment"));
    mirrored->setToolTip(tr("For marking from the back of the cloth"));
    all->addLayout(sideBySide({plain, mirrored}));
}

void NecklinePage::buildNeck() {
    auto* all = static_cast<QVBoxLayout*>(fields->layout());
    measured->setObjectName("neckMeasured");
    measured->addItems({tr("its width and depth"), tr("points or a curve on the cloth")});
    all->addLayout(row(tr("Known by"), measured));
    auto* form = new QVBoxLayout(byDepth);
    form->setContentsMargins(0, 0, 0, 0);
    form->setSpacing(6);
    form->addLayout(pairRow(tr("Width"), width, tr("Depth"), depth));
    all->addWidget(byDepth);
    trace->setObjectName("traceNeck");
    trace->setCheckable(true);
    trace->setToolTip(
        tr("Three points give the circle through them, more give the nearest circle"));
    all->addWidget(trace);
    all->addWidget(neckWords);
    width->setRange(20, 2000);
    depth->setRange(5, 2000);
    connect(measured, &QComboBox::activated, this, [this] { refresh(); });
    connect(width, &LengthEdit::typed, this, [this](double mm) {
        widthMm = mm;
        refresh();
    });
    connect(depth, &LengthEdit::typed, this, [this](double mm) {
        depthMm = mm;
        refresh();
    });
    connect(trace, &QPushButton::clicked, this, [this](bool on) {
        waitsForTrace = on;
        session.setTool(on ? ToolKind::drawPath : ToolKind::select);
        refresh();
    });
    connect(&session, &Session::pathDrawn, this, &NecklinePage::takeTrace);
}

void NecklinePage::buildPlace() {
    auto* all = static_cast<QVBoxLayout*>(fields->layout());
    all->addWidget(hairLine());
    place->setObjectName("neckPlace");
    place->addItems({tr("at an angle"), tr("from the centre front"), tr("from the shoulder seam")});
    half->setObjectName("neckHalf");
    half->addItems({tr("right of the centre"), tr("left of the centre")});
    level->setObjectName("neckLevel");
    all->addLayout(row(tr("Off the edge"), fromEdge));
    all->addLayout(row(tr("Middle"), place));
    all->addLayout(row(tr("Angle"), angle));
    all->addLayout(row(tr("Along it"), distance));
    all->addLayout(row(tr("Lies"), half));
    all->addWidget(level);
    all->addWidget(planWords);
    fromEdge->setRange(0, 1000);
    distance->setRange(0, 3000);
    angle->setRange(0, 180);
    connect(fromEdge, &LengthEdit::typed, this, [this](double mm) {
        neck.fromEdgeMm = mm;
        refresh();
    });
    connect(place, &QComboBox::activated, this, [this](int i) {
        neck.place = static_cast<NeckPlace>(i);
        neck.at = 0;
        refresh();
    });
    const auto takeAt = [this](double value) {
        neck.at = value;
        refresh();
    };
    connect(angle, &NumberEdit::typed, this, takeAt);
    connect(distance, &LengthEdit::typed, this, takeAt);
    connect(half, &QComboBox::activated, this, [this](int i) {
        neck.toLeft = i == 1;
        refresh();
    });
    connect(level, &QCheckBox::clicked, this, [this](bool on) {
        neck.levelInHoop = on;
        refresh();
    });
}

Result<double> NecklinePage::radius() const {
    if (measured->currentIndex() == 0) return neckRadius(widthMm, depthMm);
    if (!traced) return cannotDo("no neck has been clicked on the cloth yet");
    return traced->circle.radius;
}

void NecklinePage::takeTrace(const Polyline& points) {
    if (!std::exchange(waitsForTrace, false)) return;
    tracedPoints = points.size();
    if (points.size() == 3) {
        const auto circle = circleThrough(points[0], points[1], points[2]);
        if (!circle)
            return emit failed(tr("No radius"), QString::fromStdString(circle.error().reason));
        traced = TracedCircle{*circle, 0};
    } else {
        const auto circle = circleAlong(points);
        if (!circle)
            return emit failed(tr("No radius"), QString::fromStdString(circle.error().reason));
        traced = *circle;
    }
    // The ends of what was clicked are the shoulder seams.
    const Vec2 c = traced->circle.centre;
    const auto angleOf = [c](Vec2 p) {
        return std::abs(std::atan2(p.x - c.x, p.y - c.y)) * 180 / 3.14159265358979;
    };
    neck.halfAngleDeg =
        std::clamp(std::max(angleOf(points.front()), angleOf(points.back())), 10.0, 180.0);
    refresh();
}

Result<NeckPlan> NecklinePage::plan() const {
    const Lettering* words = session.selection.words();
    const auto r = radius();
    if (!r) return r.error();
    if (!words) return cannotDo("no words are chosen");
    NeckWords wanted = neck;
    wanted.radiusMm = *r;
    if (measured->currentIndex() == 0) wanted.halfAngleDeg = neckHalfAngle(widthMm, depthMm);
    Lettering straight = scaled(*words, sizeFactor(*onePiece()));
    straight.line = {};
    const auto face = openFace(words->face);
    if (!face) return face.error();
    const auto setting = setLettering(straight, **face, isJoined(words->face));
    if (!setting) return setting.error();
    return planNeckWords(wanted, setting->widthMm, straight.capHeightMm);
}

void NecklinePage::setWords() {
    const auto planned = plan();
    if (!planned)
        return emit failed(tr("The words cannot be set on this neckline"),
                           QString::fromStdString(planned.error().reason));
    const auto r = radius();
    // The neck's lowest place lies at the datum, or where it was clicked.
    const bool clicked = measured->currentIndex() == 1 && traced;
    const Vec2 centre = clicked ? traced->circle.centre : Vec2{0, -*r};
    const std::string id = session.selection.ids()[0];
    const LetterLine line = planned->line;
    Pose pose = onePiece()->pose;
    const double scale = sizeFactor(*onePiece());
    pose.x = centre.x;
    pose.y = centre.y;
    pose.rotationDeg = 0;
    pose.mirror = false;
    pose.scaleX = pose.scaleY = 1;
    Cloth cloth = session.job().cloth;
    // The lines of an earlier neckline go; what was drawn by hand stays.
    std::erase_if(cloth.guides, [](const GuideLine& g) {
        return !g.seam && std::any_of(std::begin(guideNames), std::end(guideNames),
                                      [&](const char* name) { return g.name == name; });
    });
    for (std::size_t i = 0; i < planned->garment.size(); ++i) {
        GuideLine guide{guideNames[i], planned->garment[i]};
        for (Vec2& p : guide.line) p = p + centre;
        cloth.guides.push_back(std::move(guide));
    }
    session.document.apply(together("Set the words on the neckline",
                                    {changeLettering(id, "Neckline",
                                                     [line, scale](Lettering& l) {
                                                         l = scaled(l, scale);
                                                         l.line = line;
                                                     }),
                                     setPose(id, pose, "Neckline"), setCloth(cloth, "Neckline")}));
    refresh();
}

void NecklinePage::saveTemplate(bool mirror) {
    const Derived* checked = session.checked();
    if (!checked) return;
    const QString name =
        askSaveName(window(), mirror ? tr("Mirrored template") : tr("Template"),
                    mirror ? "neckline-mirrored.pdf" : "neckline.pdf", tr("PDF (*.pdf)"));
    if (name.isEmpty()) return;
    TemplateOptions options;
    options.mirror = mirror;
    options.facesFolder = dataFolder() + "/faces";
    const auto made =
        makeTemplate(templateOf(session.job(), checked->stitched().list, session.library), options);
    if (!made) return emit failed(tr("No template"), QString::fromStdString(made.error().reason));
    if (const Status written = writeWholeFile(name.toStdString(), made->pdf); !written)
        emit failed(tr("The template was not saved"),
                    QString::fromStdString(written.error().line()));
}

void NecklinePage::refresh() {
    const Lettering* words = session.selection.words();
    hint->setVisible(!words);
    fields->setVisible(words != nullptr);
    const bool clicked = measured->currentIndex() == 1;
    byDepth->setVisible(!clicked);
    trace->setVisible(clicked);
    trace->setChecked(session.tool() == ToolKind::drawPath && waitsForTrace);
    width->setMm(widthMm);
    depth->setMm(depthMm);
    fromEdge->setMm(neck.fromEdgeMm);
    place->setCurrentIndex(static_cast<int>(neck.place));
    const bool byAngle = neck.place == NeckPlace::angle;
    angle->setEnabled(byAngle);
    distance->setEnabled(!byAngle);
    angle->setValue(byAngle ? neck.at : 0);
    distance->setMm(byAngle ? 0 : neck.at);
    half->setCurrentIndex(neck.toLeft);
    level->setChecked(neck.levelInHoop);
    const auto r = radius();
    QString said = r ? tr("Radius of the neck: %1").arg(session.lengthText(*r))
                     : QString::fromStdString(r.error().reason);
    if (r && clicked && tracedPoints > 3)
        said += tr(", the curve strays %1 from it").arg(session.lengthText(traced->rmsMm, 2));
    if (waitsForTrace && trace->isChecked())
        said = tr("Click the right end, the deepest place and the left end, or more points along "
                  "the edge; Enter ends it.");
    neckWords->setText(said);
    if (!words) return;
    const auto planned = plan();
    set->setEnabled(bool(planned));
    if (!planned) {
        planWords->setText(
            r ? QString::fromUtf8("△ %1.").arg(QString::fromStdString(planned.error().reason))
              : QString());
        return;
    }
    if (!byAngle) angle->setValue(std::abs(planned->angleDeg));
    const double least = std::min(planned->freeLeftMm, planned->freeRightMm);
    QString text =
        tr("Middle %1° from the centre front, baseline radius %2. The words take %3; %4 stay free "
           "to the left seam and %5 to the right.")
            .arg(planned->angleDeg, 0, 'f', 1)
            .arg(session.lengthText(planned->baselineRadiusMm), session.lengthText(planned->usedMm),
                 session.lengthText(planned->freeLeftMm), session.lengthText(planned->freeRightMm));
    if (least < 0) text += QString::fromUtf8("\n△ ") + tr("They reach over a shoulder seam.");
    if (neck.levelInHoop)
        text += tr("\nHoop the garment turned by %1° clockwise.").arg(planned->turnDeg, 0, 'f', 1);
    planWords->setText(text);
}

} // namespace rapt::app
