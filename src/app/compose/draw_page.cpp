#include "app/compose/draw_page.h"
#include "app/kit/questions.h"

#include "base/file_io.h"
#include "scan/image.h"

#include <QGridLayout>

namespace rapt::app {
namespace {

constexpr std::size_t maxPictureBytes = 60'000'000;

} // namespace

DrawPage::DrawPage(Session& s)
    : Page(s), pictureFields(new QWidget), width(new LengthEdit(s, "Picture width")),
      x(new LengthEdit(s, "Picture across")), y(new LengthEdit(s, "Picture down")),
      opacity(new QSlider(Qt::Horizontal)), tools(new QButtonGroup(this)),
      thread(new ThreadChoice(s.threads)),
      smooth(new QCheckBox(tr("Smooth curves through the points"))), help(wordsLabel()) {
    auto* grid = new QGridLayout;
    grid->setSpacing(6);
    struct Entry {
        ToolKind tool;
        const char* words;
        const char* name;
    };
    int n = 0;
    for (const Entry& e : {Entry{ToolKind::select, "Move and choose", "toolSelect"},
                           Entry{ToolKind::editPoints, "Points", "toolPoints"},
                           Entry{ToolKind::drawRun, "Run", "toolRun"},
                           Entry{ToolKind::drawSatin, "Satin", "toolSatin"},
                           Entry{ToolKind::drawFill, "Fill", "toolFill"}}) {
        auto* b = new QPushButton(tr(e.words));
        b->setObjectName(e.name);
        b->setCheckable(true);
        tools->addButton(b, static_cast<int>(e.tool));
        const bool wide = e.tool == ToolKind::select;
        grid->addWidget(b, n / 3, n % 3, 1, wide ? 2 : 1);
        n += wide ? 2 : 1;
    }
    column->addLayout(grid);
    column->addWidget(help);
    smooth->setObjectName("drawSmooth");
    thread->setObjectName("drawThread");
    column->addLayout(row(tr("Thread"), thread));
    column->addWidget(smooth);
    column->addWidget(hairLine());
    column->addWidget(headLabel(tr("Picture to draw over")));
    column->addLayout(
        sideBySide({button(tr("Lay one under…"), "layPicture", [this] { layPicture(); }),
                    button(tr("Take it away"), "removePicture",
                           [this] { session.document.apply(setArtwork(std::nullopt)); })}));
    auto* form = new QVBoxLayout(pictureFields);
    form->setContentsMargins(0, 0, 0, 0);
    form->setSpacing(6);
    width->setRange(1, 10'000);
    opacity->setRange(0, 100);
    opacity->setObjectName("pictureOpacity");
    opacity->setAccessibleName(tr("How strongly the picture shows"));
    for (auto* pair : {row(tr("Width"), width), row(tr("Across"), x), row(tr("Down"), y),
                       row(tr("Shows"), opacity)})
        form->addLayout(pair);
    form->addWidget(quietLabel(tr("The picture is never sewn; it stays in the job.")));
    column->addWidget(pictureFields);
    connect(tools, &QButtonGroup::idClicked, this,
            [this](int id) { session.setTool(static_cast<ToolKind>(id)); });
    connect(&session, &Session::toolChanged, this, [this] {
        if (isVisible()) refresh();
    });
    connect(thread, &ThreadChoice::chosen, this,
            [this](const Thread& t) { session.threads.drawing.thread = t; });
    connect(smooth, &QCheckBox::clicked, this,
            [this](bool on) { session.threads.drawing.smooth = on; });
    connect(width, &LengthEdit::typed, this,
            [this](double mm) { changeArtwork([=](Artwork& a) { a.widthMm = mm; }); });
    connect(x, &LengthEdit::typed, this,
            [this](double mm) { changeArtwork([=](Artwork& a) { a.at.x = mm; }); });
    connect(y, &LengthEdit::typed, this,
            [this](double mm) { changeArtwork([=](Artwork& a) { a.at.y = mm; }); });
    connect(opacity, &QSlider::valueChanged, this, [this](int v) {
        changeArtwork([=](Artwork& a) { a.opacity = v / 100.0; }, "opacity");
    });
}

void DrawPage::changeArtwork(const std::function<void(Artwork&)>& change, const char* mergeKey) {
    if (!session.job().artwork) return;
    Artwork artwork = *session.job().artwork;
    change(artwork);
    session.document.apply(setArtwork(artwork), mergeKey);
}

void DrawPage::layPicture() {
    const QString path =
        askOpenName(window(), tr("A picture to draw over"), tr("Pictures (*.png *.jpg *.jpeg)"));
    if (path.isEmpty()) return;
    auto bytes = readWholeFile(path.toStdString(), maxPictureBytes);
    const auto picture =
        bytes ? decodeImage(*bytes, path.toStdString()) : Result<Image>(bytes.error());
    if (!picture) {
        emit failed(tr("This picture cannot be used"),
                    QString::fromStdString(picture.error().line()));
        return;
    }
    Artwork artwork = session.job().artwork.value_or(Artwork{});
    const bool png = bytes->starts_with("\x89PNG");
    artwork.member = png ? "art/picture.png" : "art/picture.jpg";
    artwork.widthMm = std::min(session.job().cloth.widthMm, 200.0);
    session.document.apply(
        setArtwork(artwork, std::make_shared<const std::string>(std::move(*bytes))));
}

void DrawPage::refresh() {
    if (QAbstractButton* b = tools->button(static_cast<int>(session.tool()))) b->setChecked(true);
    switch (session.tool()) {
    case ToolKind::select:
        help->setText(tr("Choose a tool and click its points on the cloth."));
        break;
    case ToolKind::drawRun:
        help->setText(tr("Click along the line. Enter or a double click ends it, Backspace takes "
                         "the last point back, Esc gives up."));
        break;
    case ToolKind::drawSatin:
        help->setText(tr("Click points on alternate sides: left, right, left, right. The ladder "
                         "shows how the stitches will lie. Enter ends it."));
        break;
    case ToolKind::drawFill:
        help->setText(tr("Click round the outline. Enter closes it; angle and spacing are under "
                         "Stitch."));
        break;
    case ToolKind::letter:
    case ToolKind::drawPath:
    case ToolKind::freehand:
    case ToolKind::region:
    case ToolKind::needle:
        help->clear(); // they belong to other pages
        break;
    case ToolKind::editPoints:
        help->setText(tr("Drag a point. A double click on a line adds one, Backspace removes the "
                         "one chosen last."));
        break;
    }
    thread->show(session.threads.drawing.thread);
    smooth->setChecked(session.threads.drawing.smooth);
    const auto& artwork = session.job().artwork;
    pictureFields->setVisible(artwork.has_value());
    if (QWidget* away = findChild<QPushButton*>("removePicture"))
        away->setEnabled(artwork.has_value());
    if (!artwork) return;
    width->setMm(artwork->widthMm);
    x->setMm(artwork->at.x);
    y->setMm(artwork->at.y);
    const QSignalBlocker quiet(opacity);
    opacity->setValue(static_cast<int>(std::lround(artwork->opacity * 100)));
}

} // namespace rapt::app
