#include "app/divide/frames_page.h"

#include "app/theme/theme.h"
#include "divide/frames.h"
#include "divide/ring.h"

#include <QPainter>
#include <QSignalBlocker>

namespace rapt::app {
namespace {

constexpr const char* kinds[] = {"single", "two-sided", "stepped", "sliding", "quarter-turn"};
constexpr const char* arms[] = {"left", "right", "back", "front"};

QWidget* wrapped(QLayout* layout) {
    auto* widget = new QWidget;
    layout->setContentsMargins(0, 0, 0, 0);
    widget->setLayout(layout);
    return widget;
}

/// Positions of a kind of frame, `stepMm` apart.
std::vector<FramePosition> positionsOf(const std::string& kind, int count, double stepMm) {
    std::vector<FramePosition> all;
    if (kind == "two-sided") return {{{0, -stepMm / 2}, 0}, {{0, stepMm / 2}, 180}};
    if (kind == "quarter-turn") {
        for (int i = 0; i < 4; ++i) all.push_back({turned({0, -stepMm}, 90.0 * i), 90.0 * i});
        return all;
    }
    if (kind == "stepped") {
        for (int i = 0; i < count; ++i) all.push_back({{(i - (count - 1) / 2.0) * stepMm, 0}, 0});
        return all;
    }
    return {{}};
}

double stepOf(const Hoop& h) {
    if (h.positions.size() < 2) return 0;
    if (h.kind == "quarter-turn") return length(h.positions[0].at);
    return distance(h.positions[0].at, h.positions[1].at);
}

} // namespace

FramePicture::FramePicture(QWidget* parent) : QWidget(parent) {
    setFixedHeight(150);
    setAccessibleName(tr("What each position reaches"));
}

void FramePicture::show(const Hoop& hoop) {
    frame = hoop;
    update();
}

void FramePicture::paintEvent(QPaintEvent*) {
    if (frame.widthMm <= 0 || frame.outerWidthMm <= 0) return;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Box outer = frame.outer();
    const double k = std::min((width() - 12) / outer.width(), (height() - 12) / outer.height());
    painter.translate(width() / 2.0, height() / 2.0);
    const auto rect = [&](const Box& b) {
        return QRectF(b.minX * k, b.minY * k, b.width() * k, b.height() * k);
    };
    painter.setPen(QPen(theme().ink2, 1.2));
    painter.setBrush(theme().tideSoft);
    painter.drawRoundedRect(rect(outer), 5, 5);
    painter.setBrush(theme().panel);
    painter.setPen(QPen(theme().rule, 1));
    painter.drawRoundedRect(rect(ringOf(frame).opening), 3, 3);
    QColor fill = theme().tide;
    fill.setAlpha(30);
    for (std::size_t i = 0; i < frame.positions.size(); ++i)
        for (const double slide : frame.slide
                                      ? std::vector<double>{frame.slide->fromMm, frame.slide->toMm}
                                      : std::vector<double>{0}) {
            const FramePosition& p = frame.positions[i];
            QPolygonF field;
            for (const Vec2& c : fieldOutline(frame)) {
                const Vec2 at = turned(c, p.turnDeg) + p.at + Vec2{slide, 0};
                field << QPointF(at.x * k, at.y * k);
            }
            painter.setPen(QPen(theme().tide, 1.4));
            painter.setBrush(fill);
            painter.drawPolygon(field);
            painter.setPen(theme().ink);
            painter.setFont(faceOf(13, true));
            const QPointF middle((p.at.x + slide) * k, p.at.y * k);
            painter.drawText(QRectF(middle - QPointF(12, 10), QSizeF(24, 20)), Qt::AlignCenter,
                             frame.slide ? (slide == frame.slide->fromMm ? "◂" : "▸")
                                         : QString::number(i + 1));
        }
    for (const FrameTag& t : frame.tags)
        painter.fillRect(QRectF(t.at.x * k - 2, t.at.y * k - 2, 4, 4), theme().ink);
    const QPointF ends[] = {
        {outer.minX * k, 0}, {outer.maxX * k, 0}, {0, outer.minY * k}, {0, outer.maxY * k}};
    for (int s = 0; s < 4; ++s)
        if (frame.arm == arms[s]) {
            painter.setPen(QPen(theme().ink, 5, Qt::SolidLine, Qt::FlatCap));
            painter.drawLine(ends[s], ends[s] * 1.03);
        }
}

FramesPage::FramesPage(Session& s)
    : Page(s), choice(new QComboBox), kind(new QComboBox), shape(new QComboBox), arm(new QComboBox),
      name(new QLineEdit), positions(new NumberEdit("Positions", "", 0)),
      firstTag(new NumberEdit("First tag", "", 0)), picture(new FramePicture),
      problem(quietLabel({})), keepButton(mainButton(tr("Keep this frame"))),
      own(new QPushButton(tr("New from this"))) {
    choice->setObjectName("frameChoice");
    name->setObjectName("frameName");
    kind->setObjectName("frameKind");
    kind->addItems(
        {tr("one position"), tr("two-sided"), tr("stepped"), tr("sliding"), tr("quarter-turn")});
    shape->addItems({tr("rectangle"), tr("rounded"), tr("oval")});
    shape->setObjectName("frameShape");
    arm->addItems({tr("on the left"), tr("on the right"), tr("at the back"), tr("in front")});
    width = length("Field width", 5, 3000, [this](double mm) {
        frame.widthMm = mm;
        growOuter();
    });
    height = length("Field height", 5, 3000, [this](double mm) {
        frame.heightMm = mm;
        growOuter();
    });
    outerWidth = length("Outer width", 5, 5000, [this](double mm) { frame.outerWidthMm = mm; });
    outerHeight = length("Outer height", 5, 5000, [this](double mm) { frame.outerHeightMm = mm; });
    corner = length("Corner", 0, 1500, [this](double mm) { frame.cornerMm = mm; });
    step = length("Step", 0, 3000, [this](double mm) {
        frame.positions = positionsOf(frame.kind, static_cast<int>(frame.positions.size()), mm);
        growOuter();
    });
    slideFrom = length("Slide from", -3000, 3000, [this](double mm) {
        if (frame.slide) frame.slide->fromMm = mm;
    });
    slideTo = length("Slide to", -3000, 3000, [this](double mm) {
        if (frame.slide) frame.slide->toMm = mm;
    });
    positions->setRange(2, 12);
    firstTag->setRange(0, 90);
    column->addLayout(row(tr("Frame"), choice));
    column->addLayout(row(tr("Name"), name));
    column->addLayout(pairRow(tr("Kind"), kind, tr("Arm"), arm));
    column->addLayout(row(tr("Field"), shape));
    column->addLayout(pairRow(tr("Width"), width, tr("Height"), height));
    column->addWidget(cornerRow = wrapped(row(tr("Corner radius"), corner)));
    column->addLayout(pairRow(tr("Outer w."), outerWidth, tr("Outer h."), outerHeight));
    column->addWidget(stepRow = wrapped(pairRow(tr("Step"), step, tr("Number"), positions)));
    column->addWidget(slideRow = wrapped(pairRow(tr("Slides"), slideFrom, tr("to"), slideTo)));
    column->addLayout(row(tr("Frame tags from"), firstTag));
    column->addWidget(picture);
    column->addWidget(problem);
    column->addLayout(sideBySide({own, keepButton}));
    keepButton->setObjectName("keepFrame");
    own->setObjectName("newFrame");
    connect(choice, &QComboBox::activated, this,
            [this] { load(choice->currentData().toString().toStdString()); });
    connect(name, &QLineEdit::editingFinished, this, [this] {
        frame.name = name->text().trimmed().toStdString();
        changed();
    });
    connect(kind, &QComboBox::activated, this, &FramesPage::setKind);
    connect(shape, &QComboBox::activated, this, [this](int i) {
        frame.shape = static_cast<Hoop::Shape>(i);
        frame.cornerMm = frame.shape == Hoop::Shape::rounded
                             ? std::min(20.0, std::min(frame.widthMm, frame.heightMm) / 4)
                             : 0;
        changed();
    });
    connect(arm, &QComboBox::activated, this, [this](int i) {
        frame.arm = arms[i];
        changed();
    });
    connect(positions, &NumberEdit::typed, this, [this](double n) {
        frame.positions = positionsOf(frame.kind, static_cast<int>(n), stepOf(frame));
        changed();
    });
    connect(firstTag, &NumberEdit::typed, this, [this](double first) {
        // Round the frame, outside every field: corners and the middles of the long sides.
        frame.tags.clear();
        const double x = frame.outerWidthMm / 2 - 11, y = frame.outerHeightMm / 2 - 11;
        int id = static_cast<int>(first);
        for (const Vec2 at :
             {Vec2{-x, -y}, Vec2{0, -y}, Vec2{x, -y}, Vec2{x, y}, Vec2{0, y}, Vec2{-x, y}})
            frame.tags.push_back({id++, at, 12});
        changed();
    });
    connect(own, &QPushButton::clicked, this, &FramesPage::addNew);
    connect(keepButton, &QPushButton::clicked, this, &FramesPage::keep);
}

LengthEdit* FramesPage::length(const char* label, double low, double high,
                               std::function<void(double)> set) {
    auto* edit = new LengthEdit(session, label);
    edit->setRange(low, high);
    connect(edit, &LengthEdit::typed, this, [this, set = std::move(set)](double mm) {
        set(mm);
        changed();
    });
    return edit;
}

void FramesPage::refresh() {
    const QSignalBlocker quiet(choice);
    const QString kept = QString::fromStdString(frame.id);
    choice->clear();
    for (const Hoop& h : session.library.hoops)
        choice->addItem(QString::fromStdString(h.name), QString::fromStdString(h.id));
    if (frame.id.empty() && !session.library.hoops.empty()) {
        const auto& owned = session.job().brief.hoops;
        load(owned.empty() ? session.library.hoops[0].id : owned[0]);
        return;
    }
    choice->setCurrentIndex(choice->findData(kept));
    changed();
}

void FramesPage::load(const std::string& id) {
    const auto hoop = session.library.hoop(id);
    if (!hoop) return;
    frame = *hoop;
    choice->setCurrentIndex(choice->findData(QString::fromStdString(id)));
    changed();
}

void FramesPage::setKind(int index) {
    frame.kind = kinds[index];
    frame.slide.reset();
    const double apart = frame.kind == "stepped" ? frame.widthMm * 0.8
                         : frame.kind == "quarter-turn"
                             ? std::abs(frame.widthMm - frame.heightMm) / 2
                             : frame.heightMm + 12;
    frame.positions = positionsOf(frame.kind, 3, apart);
    if (frame.kind == "sliding") frame.slide = Slide{-frame.widthMm, frame.widthMm};
    growOuter();
    changed();
}

/// A frame that does not go round its fields gets 20 mm of ring, until it is measured.
void FramesPage::growOuter() {
    const Box reach = frame.reach();
    if (frame.outerWidthMm < reach.width()) frame.outerWidthMm = reach.width() + 40;
    if (frame.outerHeightMm < reach.height()) frame.outerHeightMm = reach.height() + 40;
}

/// Shows the frame as it is typed, and what is wrong with it.
void FramesPage::changed() {
    if (!name->hasFocus()) name->setText(QString::fromStdString(frame.name));
    for (int i = 0; i < 5; ++i)
        if (frame.kind == kinds[i]) kind->setCurrentIndex(i);
    for (int i = 0; i < 4; ++i)
        if (frame.arm == arms[i]) arm->setCurrentIndex(i);
    shape->setCurrentIndex(static_cast<int>(frame.shape));
    width->setMm(frame.widthMm);
    height->setMm(frame.heightMm);
    outerWidth->setMm(frame.outerWidthMm);
    outerHeight->setMm(frame.outerHeightMm);
    corner->setMm(frame.cornerMm);
    step->setMm(stepOf(frame));
    positions->setValue(static_cast<double>(frame.positions.size()));
    firstTag->setValue(frame.tags.empty() ? 0 : frame.tags.front().id);
    if (frame.slide) {
        slideFrom->setMm(frame.slide->fromMm);
        slideTo->setMm(frame.slide->toMm);
    }
    cornerRow->setVisible(frame.shape == Hoop::Shape::rounded);
    stepRow->setVisible(frame.positions.size() > 1);
    positions->setEnabled(frame.kind == "stepped");
    slideRow->setVisible(frame.slide.has_value());
    picture->show(frame);
    const auto problems = problemsOf(frame);
    problem->setText(
        problems.empty()
            ? tr("Measure the field on the frame's template, not on the frame. Kept in "
                 "your library; the shipped ones come back if you delete it there.")
            : "△ " + QString::fromStdString(problems[0]) + ".");
    keepButton->setEnabled(problems.empty());
}

void FramesPage::keep() {
    const Status kept = session.setHoop(frame);
    if (!kept) {
        emit failed(tr("The frame was not kept."), QString::fromStdString(kept.error().line()));
        return;
    }
    refresh();
    Brief brief = session.job().brief;
    if (std::find(brief.hoops.begin(), brief.hoops.end(), frame.id) != brief.hoops.end()) return;
    brief.hoops.push_back(frame.id);
    session.document.apply(setBrief(brief, "Own a frame"));
}

void FramesPage::addNew() {
    int n = 1;
    const auto taken = [&](const std::string& id) {
        return std::any_of(session.library.hoops.begin(), session.library.hoops.end(),
                           [&](const Hoop& h) { return h.id == id; });
    };
    while (taken("own-" + std::to_string(n))) ++n;
    frame.id = "own-" + std::to_string(n);
    frame.name = tr("My frame %1").arg(n).toStdString();
    changed();
    name->setFocus();
    name->selectAll();
}

} // namespace rapt::app
