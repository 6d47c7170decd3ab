#include "app/compose/drawing_dialog.h"

#include "app/kit/readout_parts.h"
#include "app/theme/theme.h"

#include <QDialogButtonBox>
#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>

#include <set>

namespace rapt::app {
namespace {

constexpr double smallMm = 15, clothShare = 0.9, smallBecomesMm = 60;

} // namespace

DrawingPicture::DrawingPicture(QWidget* parent) : QWidget(parent) { setMinimumSize(360, 300); }

void DrawingPicture::show(const Drawing& drawing) {
    shown = drawing;
    update();
}

void DrawingPicture::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), QColor("#efe9dc")); // cloth, whatever the theme
    const Box box = extentsOf(shown);
    if (box.empty() || box.width() + box.height() <= 0) return;
    painter.setRenderHint(QPainter::Antialiasing);
    const double scale = 0.92 * std::min(width() / std::max(1e-6, box.width()),
                                         height() / std::max(1e-6, box.height()));
    painter.translate(width() / 2.0, height() / 2.0);
    painter.scale(scale, scale);
    painter.translate(-box.centre().x, -box.centre().y);
    const auto colour = [](Rgb c) { return QColor(c.r, c.g, c.b); };
    for (const DrawnItem& item : shown.items) {
        QPainterPath path;
        path.setFillRule(item.evenOdd ? Qt::OddEvenFill : Qt::WindingFill);
        for (const SubPath& sub : item.paths) {
            QPolygonF line;
            for (const Vec2& p : sub.points) line << QPointF(p.x, p.y);
            path.addPolygon(line);
            if (sub.closed) path.closeSubpath();
        }
        if (item.fill) painter.fillPath(path, colour(*item.fill));
        if (item.stroke)
            painter.strokePath(path, QPen(colour(*item.stroke), std::max(0.3, item.strokeMm)));
    }
}

DrawingDialog::DrawingDialog(Session& s, Drawing d, const QString& name, QWidget* parent)
    : QDialog(parent), session(s), drawn(std::move(d)), picture(new DrawingPicture),
      width(new LengthEdit(s, tr("Width"))), height(new LengthEdit(s, tr("Height"))),
      threads(new QSpinBox), asDrawn(new QCheckBox(tr("As it is drawn, one over the other"))),
      words(wordsLabel()), take(nullptr), working(s.errands()) {
    setWindowTitle(tr("Bring in %1").arg(name));
    const Box box = extentsOf(drawn);
    widthMm = std::max(0.1, box.width());
    ratio = box.height() / widthMm;
    const Cloth& cloth = session.job().cloth;
    const double fits =
        clothShare * std::min(cloth.widthMm, cloth.heightMm / std::max(1e-6, ratio));
    const double own = widthMm;
    if (widthMm > fits) widthMm = fits;
    if (std::max(widthMm, widthMm * ratio) < smallMm)
        widthMm = smallBecomesMm / std::max(1.0, ratio);
    width->setRange(1, maxCoordinateMm);
    height->setRange(1, maxCoordinateMm);
    threads->setObjectName("drawingThreads");
    threads->setRange(0, 60);
    threads->setSpecialValueText(tr("those that differ"));
    asDrawn->setObjectName("asDrawn");
    auto* options = new QVBoxLayout;
    options->addLayout(pairRow(tr("Width"), width, tr("Height"), height));
    options->addLayout(row(tr("Threads"), threads));
    options->addWidget(asDrawn);
    if (std::abs(own - widthMm) > 0.05)
        options->addWidget(quietLabel(tr("Its own size is %1 wide.").arg(s.lengthText(own))));
    options->addWidget(words);
    options->addStretch();
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
    take = buttons->addButton(tr("Bring it in"), QDialogButtonBox::AcceptRole);
    take->setObjectName("takeDrawing");
    options->addWidget(buttons);
    auto* across = new QHBoxLayout(this);
    across->addWidget(picture, 1);
    across->addLayout(options);
    resize(820, 420);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(width, &TypedEdit::typed, this, [this](double mm) {
        widthMm = mm;
        work();
    });
    connect(height, &TypedEdit::typed, this, [this](double mm) {
        widthMm = mm / std::max(1e-6, ratio);
        work();
    });
    connect(threads, &QSpinBox::valueChanged, this, &DrawingDialog::work);
    connect(asDrawn, &QCheckBox::toggled, this, &DrawingDialog::work);
    work();
}

void DrawingDialog::keyPressEvent(QKeyEvent* event) {
    const bool enter = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
    if (enter && qobject_cast<QLineEdit*>(focusWidget())) return event->accept();
    QDialog::keyPressEvent(event);
}

void DrawingDialog::work() {
    width->setMm(widthMm);
    height->setMm(widthMm * ratio);
    threads->setEnabled(!asDrawn->isChecked());
    take->setEnabled(false);
    words->setText(tr("It is being worked out."));
    SeenOptions options;
    if (threads->value() > 0) options.threads = threads->value();
    working->ask(
        session.inThisJob(),
        [from = drawn, k = widthMm / std::max(1e-6, extentsOf(drawn).width()), options,
         flat = !asDrawn->isChecked()](std::stop_token stop) {
            Drawing sized = scaled(from, k);
            if (!flat) return sized;
            auto seen = asSeen(sized, options, stop);
            if (seen) return std::move(*seen);
            sized.unsupported.push_back("taken as it is drawn, one over the other: " +
                                        seen.error().reason);
            return sized;
        },
        [this](Drawing now) {
            made = std::move(now);
            showMade();
        },
        std::chrono::milliseconds(20));
}

void DrawingDialog::showMade() {
    picture->show(made);
    std::set<std::string> colours;
    for (const DrawnItem& item : made.items)
        for (const auto& c : {item.fill, item.stroke})
            if (c) colours.insert(formatRgb(*c));
    QStringList lines{tr("%n {thread|threads}", nullptr, static_cast<int>(colours.size())) + ", " +
                      tr("%n {piece|pieces}", nullptr, static_cast<int>(made.items.size()))};
    for (std::size_t i = 0; i < made.unsupported.size() && i < 6; ++i)
        lines << "· " + QString::fromStdString(made.unsupported[i]);
    if (made.unsupported.size() > 6) lines << tr("· and %1 more").arg(made.unsupported.size() - 6);
    words->setText(lines.join('\n'));
    take->setEnabled(!made.items.empty());
}

} // namespace rapt::app
