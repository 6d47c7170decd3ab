#include "app/ledger/outcome_dialog.h"

#include "app/kit/questions.h"
#include "app/kit/readout_parts.h"
#include "app/ledger/record_model.h"
#include "app/theme/theme.h"
#include "base/number.h"

#include <QDialogButtonBox>
#include <QFileInfo>
#include <QFormLayout>
#include <QKeyEvent>
#include <QPainter>

namespace rapt::app {

SpotPicker::SpotPicker(QWidget* parent) : QWidget(parent) {
    setObjectName("spot");
    setAccessibleName(tr("Where it went wrong"));
    setMinimumHeight(120);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    setCursor(Qt::CrossCursor);
    setFocusPolicy(Qt::ClickFocus);
}

void SpotPicker::setPicture(const QImage& picture) {
    image = picture;
    update();
}

void SpotPicker::setSpot(std::optional<Vec2> spot) {
    at = spot;
    update();
}

QRectF SpotPicker::pictureRect() const {
    if (image.isNull()) return {};
    QRectF r(QPointF(), QSizeF(image.size()).scaled(size(), Qt::KeepAspectRatio));
    r.moveCenter(rect().center());
    return r;
}

double SpotPicker::mmPerPixel() const {
    const double own = image.text(mmPerPixelKey).toDouble();
    return own * image.width() / std::max(1.0, pictureRect().width());
}

void SpotPicker::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const Theme& t = theme();
    p.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    if (image.isNull()) {
        p.setPen(t.ink2);
        p.drawText(rect(), Qt::AlignCenter, tr("The picture is being drawn."));
        return;
    }
    const QRectF r = pictureRect();
    p.drawImage(r, image);
    p.setPen(t.rule);
    p.drawRect(r);
    if (!at || mmPerPixel() <= 0) return;
    const QPointF c = r.center() + QPointF(at->x, at->y) / mmPerPixel();
    for (const auto& [colour, width] : {std::pair(QColor(Qt::white), 4.0), {t.stop, 2.0}}) {
        p.setPen(QPen(colour, width));
        p.drawEllipse(c, 9, 9);
        p.drawLine(c - QPointF(14, 0), c - QPointF(5, 0));
        p.drawLine(c + QPointF(5, 0), c + QPointF(14, 0));
        p.drawLine(c - QPointF(0, 14), c - QPointF(0, 5));
        p.drawLine(c + QPointF(0, 5), c + QPointF(0, 14));
    }
}

void SpotPicker::mousePressEvent(QMouseEvent* event) {
    const QRectF r = pictureRect();
    if (!r.contains(event->position()) || mmPerPixel() <= 0) return;
    const QPointF mm = (event->position() - r.center()) * mmPerPixel();
    // A second click on the same place takes it back.
    const Vec2 clicked{mm.x(), mm.y()};
    if (at && distance(*at, clicked) < 8 * mmPerPixel())
        setSpot(std::nullopt);
    else
        setSpot(clicked);
    emit picked();
}

OutcomeDialog::OutcomeDialog(const StitchOut& record, QWidget* parent)
    : QDialog(parent), facts(quietLabel({})), wrong(quietLabel({})), cloth(new SpotPicker),
      cause(new QComboBox), note(new QLineEdit), customer(new QLineEdit), gaps(new QLineEdit),
      minutes(new QLineEdit), shrink(new QCheckBox(tr("shrunk to 1600 pixels"))),
      photoButton(new QPushButton(tr("Add a photo…"))), keep(nullptr) {
    setWindowTitle(tr("How did it come out?"));
    setObjectName("outcomeDialog");
    resize(460, 620);
    auto* column = new QVBoxLayout(this);
    column->setSpacing(8);
    auto* title = headLabel(QString::fromStdString(record.job));
    column->addWidget(title);
    facts->setWordWrap(true);
    column->addWidget(facts);
    buildOutcome();
    column->addWidget(cloth, 1);
    column->addWidget(quietLabel(tr("Click where it went wrong; click again to take it back.")));
    buildWords();
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
    keep = buttons->addButton(tr("Keep"), QDialogButtonBox::AcceptRole);
    keep->setObjectName("keepOutcome");
    keep->setDefault(true);
    column->addWidget(wrong);
    column->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(&outcome, &QButtonGroup::idToggled, this, &OutcomeDialog::refresh);
    connect(gaps, &QLineEdit::textChanged, this, &OutcomeDialog::refresh);
    connect(minutes, &QLineEdit::textChanged, this, &OutcomeDialog::refresh);
    fill(record);
    refresh();
    cloth->setFocus();
}

void OutcomeDialog::buildOutcome() {
    auto* line = new QHBoxLayout;
    for (int k = 0; k < 3; ++k) {
        const QString word = QString::fromStdString(outcomes()[static_cast<std::size_t>(k)]);
        auto* button = new QPushButton;
        button->setAutoDefault(false);
        button->setText(word.left(1).toUpper() + word.mid(1) + "  " + word.left(1).toUpper());
        button->setAccessibleName(word);
        button->setObjectName("outcome-" + word);
        button->setCheckable(true);
        button->setMinimumHeight(36);
        button->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
        outcome.addButton(button, k);
        line->addWidget(button);
    }
    static_cast<QVBoxLayout*>(layout())->addLayout(line);
}

void OutcomeDialog::buildWords() {
    cause->setObjectName("cause");
    cause->addItem(tr("nothing, or not known"), "");
    for (const Cause& c : causes())
        cause->addItem(QString::fromStdString(c.words), QString::fromStdString(c.id));
    note->setObjectName("outcomeNote");
    note->setPlaceholderText(tr("What to keep, what to change next time"));
    customer->setObjectName("outcomeCustomer");
    gaps->setObjectName("outcomeGaps");
    gaps->setPlaceholderText(tr("measured in mm, such as 0.2 0.4"));
    minutes->setObjectName("outcomeMinutes");
    minutes->setPlaceholderText(tr("a person's, for all of it"));
    auto* form = new QFormLayout;
    form->addRow(tr("What was wrong"), cause);
    form->addRow(tr("Note"), note);
    form->addRow(tr("Gaps at joins"), gaps);
    form->addRow(tr("Minutes"), minutes);
    form->addRow(tr("For"), customer);
    auto* photo = new QHBoxLayout;
    photo->addWidget(photoButton);
    shrink->setChecked(true);
    photo->addWidget(shrink);
    form->addRow(tr("Photo"), photo);
    static_cast<QVBoxLayout*>(layout())->addLayout(form);
    photoButton->setObjectName("addPhoto");
    photoButton->setAutoDefault(false);
    connect(photoButton, &QPushButton::clicked, this, [this] {
        const QString path = askOpenName(this, tr("A photo of what came of it"),
                                         tr("Pictures (*.png *.jpg *.jpeg)"));
        if (path.isEmpty()) return;
        photoPath = path;
        photoButton->setText(QFileInfo(path).fileName());
    });
}

void OutcomeDialog::fill(const StitchOut& r) {
    for (int k = 0; k < 3; ++k)
        if (outcomes()[static_cast<std::size_t>(k)] == r.outcome)
            outcome.button(k)->setChecked(true);
    cause->setCurrentIndex(std::max(0, cause->findData(QString::fromStdString(r.cause))));
    note->setText(QString::fromStdString(r.note));
    customer->setText(QString::fromStdString(r.customer));
    QStringList list;
    for (const double g : r.gapsMm) list << QString::number(g);
    gaps->setText(list.join(' '));
    if (r.labourMinutes) minutes->setText(QString::number(*r.labourMinutes));
    if (r.spotX && r.spotY) cloth->setSpot(Vec2{*r.spotX, *r.spotY});
}

std::optional<std::vector<double>> OutcomeDialog::typedGaps() const {
    std::vector<double> list;
    for (const QString& word :
         gaps->text().split(QRegularExpression("[\\s;]+"), Qt::SkipEmptyParts)) {
        const auto gap = parseNumber(word.toStdString());
        if (!gap || *gap < 0 || *gap >= 1000) return std::nullopt;
        list.push_back(*gap);
    }
    return list;
}

std::optional<double> OutcomeDialog::typedMinutes(bool& good) const {
    good = true;
    if (minutes->text().trimmed().isEmpty()) return std::nullopt;
    const auto value = parseNumber(minutes->text().toStdString());
    good = value && *value >= 0 && *value < 1e6;
    return value;
}

void OutcomeDialog::refresh() {
    bool minutesGood = true;
    typedMinutes(minutesGood);
    QString why;
    if (outcome.checkedId() < 0) why = tr("Say how it came out: G, M or S.");
    if (!typedGaps()) why = tr("The gaps cannot be read: numbers in mm, with blanks between.");
    if (!minutesGood) why = tr("The minutes cannot be read.");
    wrong->setText(why);
    keep->setEnabled(why.isEmpty());
    cause->setEnabled(outcome.checkedId() > 0);
}

void OutcomeDialog::writeTo(StitchOut& r) const {
    r.outcome = outcomes()[static_cast<std::size_t>(std::max(0, outcome.checkedId()))];
    r.cause = outcome.checkedId() > 0 ? cause->currentData().toString().toStdString() : "";
    r.note = note->text().trimmed().toStdString();
    r.customer = customer->text().trimmed().toStdString();
    r.gapsMm = typedGaps().value_or(std::vector<double>{});
    bool good = true;
    r.labourMinutes = typedMinutes(good);
    r.spotX = r.spotY = std::nullopt;
    if (const auto spot = cloth->spot()) {
        r.spotX = std::round(spot->x * 10) / 10;
        r.spotY = std::round(spot->y * 10) / 10;
    }
}

/// G, M and S say it from anywhere but a text field, which takes its letters itself.
void OutcomeDialog::keyPressEvent(QKeyEvent* event) {
    const int k = QString("GMS").indexOf(event->text().toUpper());
    if (event->text().isEmpty() || k < 0) return QDialog::keyPressEvent(event);
    outcome.button(k)->setChecked(true);
    (k == 0 ? static_cast<QWidget*>(note) : cause)->setFocus();
}

} // namespace rapt::app
