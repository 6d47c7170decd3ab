#include "app/stages/compose_stage.h"

#include "app/cloth/piece_frame.h"
#include "app/theme/theme.h"
#include "formats/stitch_csv.h"
#include "thread/measures.h"

#include <QAction>
#include <QFileInfo>
#include <QPainter>
#include <QSignalBlocker>
#include <QToolButton>
#include <fmt/format.h>

namespace rapt::app {
namespace {

/// The colours of a piece in order of use, without stitching it.
std::vector<Rgb> coloursOf(const Piece& piece) {
    std::vector<Rgb> colours;
    const auto add = [&](const Thread& t) {
        if (std::find(colours.begin(), colours.end(), t.color) == colours.end())
            colours.push_back(t.color);
    };
    if (const auto* design = std::get_if<DesignContent>(&piece.content))
        for (const Thread& t : design->list->threads) add(t);
    if (const auto* shape = std::get_if<ShapeContent>(&piece.content))
        for (const ShapePart& part : shape->shape->parts) add(part.thread);
    return colours;
}

/// The threads of a piece as a strip of colours.
QPixmap swatches(const std::vector<Rgb>& colours) {
    QPixmap pixmap(44, 16);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    const int n = static_cast<int>(std::min<std::size_t>(5, colours.size()));
    for (int i = 0; i < n; ++i) {
        const Rgb c = colours[static_cast<std::size_t>(i)];
        painter.fillRect(i * 9, 2, 8, 12, QColor(c.r, c.g, c.b));
        painter.setPen(theme().rule);
        painter.drawRect(i * 9, 2, 8, 12);
    }
    return pixmap;
}

} // namespace

ComposeStage::ComposeStage(Session& s, QWidget* parent)
    : StageView(s, parent), tools(new QHBoxLayout), list(new QListWidget), numbers(new QWidget),
      name(new QLineEdit), x(new LengthEdit(s, "Across")), y(new LengthEdit(s, "Down")),
      width(new LengthEdit(s, "Width")), height(new LengthEdit(s, "Height")),
      locked(new QCheckBox(tr("Keep the proportion"))), turn(new QLineEdit), keep(new QComboBox),
      facts(wordsLabel()) {
    buildFields();
    connect(list, &QListWidget::itemSelectionChanged, this, &ComposeStage::takeListSelection);
    connect(name, &QLineEdit::editingFinished, this, [this] {
        if (const auto c = chosen(); c && name->isModified() && !name->text().trimmed().isEmpty())
            session.document.apply(renamePiece(c->piece->id, name->text().trimmed().toStdString()));
    });
    connect(x, &LengthEdit::typed, this, [this](double mm) { moveTo(mm, {}); });
    connect(y, &LengthEdit::typed, this, [this](double mm) { moveTo({}, mm); });
    connect(width, &LengthEdit::typed, this, [this](double mm) { resizeTo(mm, {}); });
    connect(height, &LengthEdit::typed, this, [this](double mm) { resizeTo({}, mm); });
    connect(turn, &QLineEdit::editingFinished, this, &ComposeStage::turnTo);
    connect(keep, &QComboBox::activated, this, [this](int i) {
        if (const auto c = chosen())
            session.document.apply(setKeep(c->piece->id, i == 0 ? Keep::spacing : Keep::stitches));
    });
}

void ComposeStage::buildFields() {
    auto* head = new QHBoxLayout;
    head->addWidget(headLabel(tr("Pieces, in sewing order")));
    head->addStretch();
    auto* bring = new QPushButton(tr("Bring in…"));
    bring->setToolTip(tr("Add a stitch list as a piece (Ctrl+I)"));
    connect(bring, &QPushButton::clicked, this, [this] { bringIn(); });
    head->addWidget(bring);
    column->addLayout(head);
    tools->setSpacing(2);
    column->addLayout(tools);
    list->setSelectionMode(QAbstractItemView::ExtendedSelection);
    list->setIconSize({44, 16});
    list->setAccessibleName(tr("Pieces"));
    column->addWidget(list);
    auto* form = new QVBoxLayout(numbers);
    form->setContentsMargins(0, 0, 0, 0);
    form->setSpacing(6);
    locked->setChecked(true);
    turn->setObjectName("Turn");
    keep->addItems({tr("keep the spacing"), tr("keep the stitches")});
    width->setRange(0.5, 10'000);
    height->setRange(0.5, 10'000);
    for (auto* pair : {row(tr("Name"), name), row(tr("Across"), x), row(tr("Down"), y),
                       row(tr("Width"), width), row(tr("Height"), height)})
        form->addLayout(pair);
    form->addWidget(locked);
    form->addLayout(row(tr("Turn"), turn));
    form->addLayout(row(tr("On resize"), keep));
    form->addWidget(facts);
    column->addWidget(numbers);
    column->addStretch();
}

void ComposeStage::addTools(const QList<QAction*>& actions) {
    for (QAction* action : actions) {
        auto* button = new QToolButton;
        button->setDefaultAction(action);
        button->setIconSize({18, 18});
        button->setFocusPolicy(Qt::TabFocus);
        button->setAccessibleName(action->text().remove('&'));
        button->setToolTip(
            QString("%1 (%2)").arg(action->text().remove('&'), action->shortcut().toString()));
        tools->addWidget(button);
    }
    tools->addStretch();
}

void ComposeStage::refresh() {
    refreshList();
    refreshNumbers();
    const Job& job = session.job();
    if (job.pieces.empty()) {
        judgement->say(tr("The cloth is empty."), tr("Bring in a stitch list to begin."));
        return;
    }
    Box box;
    int off = 0;
    if (const CheckedJob* c = session.checked()) {
        for (const PieceSpan& span : c->stitched.spans) box.add(span.extents);
        for (const Finding& f : c->findings) off += f.kind == "off-cloth";
    }
    const QString size =
        QString("%1 × %2").arg(session.lengthText(box.width()), session.lengthText(box.height()));
    if (off > 0)
        judgement->say(off == 1 ? tr("One piece reaches over the edge of the cloth.")
                                : tr("%1 pieces reach over the edge of the cloth.").arg(off),
                       tr("The layout measures %1, the cloth %2 × %3.")
                           .arg(size, session.lengthText(job.cloth.widthMm, 0),
                                session.lengthText(job.cloth.heightMm, 0)));
    else
        judgement->say(
            tr("Everything lies on the cloth."),
            tr("The layout measures %1. Nearest hem: %2.")
                .arg(size,
                     session.lengthText(std::min(
                         {box.minX - job.cloth.box().minX, job.cloth.box().maxX - box.maxX,
                          box.minY - job.cloth.box().minY, job.cloth.box().maxY - box.maxY}))));
}

void ComposeStage::refreshList() {
    const QSignalBlocker quiet(list);
    list->clear();
    list->setFixedHeight(
        std::clamp(26 * static_cast<int>(session.job().pieces.size()) + 8, 86, 240));
    for (const Piece& p : session.job().pieces) {
        auto* entry = new QListWidgetItem(QString::fromStdString(p.name), list);
        entry->setData(Qt::UserRole, QString::fromStdString(p.id));
        entry->setIcon(swatches(coloursOf(p)));
        if (std::holds_alternative<OtherContent>(p.content))
            entry->setText(entry->text() + tr(" (not stitched by this version)"));
        entry->setSelected(session.isSelected(p.id));
    }
}

void ComposeStage::takeListSelection() {
    std::vector<std::string> ids;
    for (const QListWidgetItem* entry : list->selectedItems())
        ids.push_back(entry->data(Qt::UserRole).toString().toStdString());
    session.select(std::move(ids));
}

std::optional<ComposeStage::Chosen> ComposeStage::chosen() const {
    if (session.selection().size() != 1) return std::nullopt;
    const Piece* piece = session.job().piece(session.selection()[0]);
    if (!piece) return std::nullopt;
    const auto box = unscaledBox(*piece);
    if (!box) return std::nullopt;
    return Chosen{piece, *box, piece->pose.affine()(box->centre())};
}

void ComposeStage::refreshNumbers() {
    const auto c = chosen();
    numbers->setVisible(c.has_value());
    if (!c) return;
    if (!name->hasFocus() || !name->isModified())
        name->setText(QString::fromStdString(c->piece->name));
    const Pose& pose = c->piece->pose;
    x->setMm(c->centre.x);
    y->setMm(c->centre.y);
    width->setMm(c->unscaled.width() * std::abs(pose.scaleX));
    height->setMm(c->unscaled.height() * std::abs(pose.scaleY));
    if (!turn->hasFocus() || !turn->isModified())
        turn->setText(QString::number(pose.rotationDeg, 'f', 1) + "°");
    const bool shape = std::holds_alternative<ShapeContent>(c->piece->content);
    keep->setEnabled(shape);
    keep->setCurrentIndex(shape && c->piece->keep == Keep::spacing ? 0 : 1);
    keep->setToolTip(shape ? QString()
                           : tr("A design of bare stitches keeps them; shapes can be stitched "
                                "afresh."));
    const auto stitched = stitchPiece(*c->piece);
    const QString scale =
        pose.scaleX == pose.scaleY
            ? tr("%1 % of its own size").arg(100 * std::abs(pose.scaleX), 0, 'f', 0)
            : tr("%1 % across, %2 % down of its own size")
                  .arg(100 * std::abs(pose.scaleX), 0, 'f', 0)
                  .arg(100 * std::abs(pose.scaleY), 0, 'f', 0);
    facts->setText(tr("%1%2, %L3 stitches, %4 threads. Across and Down give its middle.")
                       .arg(scale, pose.mirror ? tr(", mirrored") : QString())
                       .arg(measure(**stitched).stitches)
                       .arg((*stitched)->threads.size()));
}

void ComposeStage::moveTo(std::optional<double> mmX, std::optional<double> mmY) {
    const auto c = chosen();
    if (!c) return;
    session.document.apply(
        movePieces({c->piece->id}, {mmX ? *mmX - c->centre.x : 0, mmY ? *mmY - c->centre.y : 0}));
}

void ComposeStage::resizeTo(std::optional<double> mmWidth, std::optional<double> mmHeight) {
    const auto c = chosen();
    if (!c) return;
    Pose pose = c->piece->pose;
    const auto factor = [](double wanted, double own, double scale) {
        return own > 0 ? wanted / (own * std::abs(scale)) : 1.0;
    };
    double kx = mmWidth ? factor(*mmWidth, c->unscaled.width(), pose.scaleX) : 1;
    double ky = mmHeight ? factor(*mmHeight, c->unscaled.height(), pose.scaleY) : 1;
    if (locked->isChecked()) kx = ky = mmWidth ? kx : ky;
    pose.scaleX *= kx;
    pose.scaleY *= ky;
    // The middle stays where it is.
    const Vec2 now = pose.affine()(c->unscaled.centre());
    pose.x += c->centre.x - now.x;
    pose.y += c->centre.y - now.y;
    session.document.apply(setPose(c->piece->id, pose, "Resize"));
}

void ComposeStage::turnTo() {
    const auto c = chosen();
    if (!c || !turn->isModified()) return;
    bool good = false;
    const double degrees = turn->text().remove("°").trimmed().toDouble(&good);
    turn->setModified(false);
    if (good && std::abs(degrees) <= 3600)
        session.document.apply(
            turnPieces({c->piece->id}, degrees - c->piece->pose.rotationDeg, c->centre));
    refreshNumbers();
}

void ComposeStage::bringIn() {
    const QString path =
        askOpenName(tr("Bring in a stitch list"), tr("Stitch lists (*.stitch.csv)"));
    if (path.isEmpty()) return;
    const Status added = bringIn(path);
    if (!added)
        complain(tr("This file cannot be brought in"),
                 QString::fromStdString(added.error().line()));
}

Status ComposeStage::bringIn(const QString& path) {
    Result<StitchList> read = readStitchFile(path.toStdString());
    if (!read) return read.error();
    Piece piece;
    const std::string base = QFileInfo(path).fileName().section('.', 0, 0).toStdString();
    piece.id = unusedId(session.job(), base);
    piece.name = read->name.empty() ? base : read->name;
    // A member name of its own, so that two files of one name do not become one.
    std::string member = fmt::format("designs/{}.stitch.csv", piece.id);
    piece.content = DesignContent{member, std::make_shared<const StitchList>(std::move(*read))};
    session.document.apply(addPiece(piece));
    session.select({piece.id});
    return done();
}

} // namespace rapt::app
