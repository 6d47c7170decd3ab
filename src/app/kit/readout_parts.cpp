#include "app/kit/readout_parts.h"

#include "app/theme/theme.h"
#include "base/number.h"

#include <QFrame>
#include <QStyle>

namespace rapt::app {

Judgement::Judgement(QWidget* parent) : QWidget(parent), head(new QLabel), body(new QLabel) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 4);
    layout->setSpacing(6);
    for (QLabel* label : {head, body}) {
        label->setWordWrap(true);
        label->setTextInteractionFlags(Qt::TextSelectableByMouse);
        layout->addWidget(label);
    }
    head->setFont(faceOf(17, true));
    head->setStyleSheet("font-size: 17px; font-weight: bold;");
    body->setProperty("quiet", true);
    head->setObjectName("judgement");
}

void Judgement::say(const QString& sentence, const QString& reason) {
    head->setText(sentence);
    body->setText(reason);
    body->setVisible(!reason.isEmpty());
}

TypedEdit::TypedEdit(const QString& name, QWidget* parent)
    : QWidget(parent), edit(new QLineEdit), problem(new QLabel) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(2);
    layout->addWidget(edit);
    layout->addWidget(problem);
    problem->setProperty("wrong", true);
    problem->setWordWrap(true);
    problem->hide();
    edit->setAccessibleName(name);
    edit->setObjectName(name);
    setFocusProxy(edit);
    connect(edit, &QLineEdit::editingFinished, this, &TypedEdit::take);
    edit->installEventFilter(this);
}

bool TypedEdit::eventFilter(QObject* watched, QEvent* event) {
    const bool asks = event->type() == QEvent::ShortcutOverride;
    if (!asks && event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    const bool takesBack = key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo);
    if (asks && takesBack && !edit->isModified()) {
        event->ignore(); // it is a shortcut then
        return true;
    }
    if (!asks && key->key() == Qt::Key_Escape && edit->isModified()) {
        show();
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

void TypedEdit::setRange(double l, double h) {
    low = l;
    high = h;
}

void TypedEdit::setValue(double value) {
    shown = value;
    if (!edit->isModified()) show();
}

void TypedEdit::show() {
    edit->setText(words(shown));
    edit->setModified(false);
    edit->setCursorPosition(0);
    edit->setProperty("wrong", false);
    edit->style()->polish(edit);
    problem->hide();
    problem->clear();
}

void TypedEdit::take() {
    if (!edit->isModified()) return;
    const Result<double> value = read(edit->text().trimmed().toStdString());
    QString complaint;
    if (!value)
        complaint = QString::fromStdString(value.error().reason);
    else if (*value < low || *value > high)
        complaint = tr("allowed is %1 to %2").arg(words(low), words(high));
    if (!complaint.isEmpty()) {
        problem->setText(complaint);
        problem->show();
        edit->setProperty("wrong", true);
        edit->style()->polish(edit);
        return;
    }
    edit->setModified(false);
    shown = *value;
    show();
    emit typed(*value);
}

LengthEdit::LengthEdit(Session& s, const QString& name, QWidget* parent)
    : TypedEdit(name, parent), session(s) {
    connect(&session, &Session::viewChanged, this, [this] {
        if (!field()->isModified()) show();
    });
}

Result<double> LengthEdit::read(const std::string& text) const {
    return parseLength(text, session.unit());
}

QString LengthEdit::words(double mm) const {
    // Spacings need the second decimal; a place of 0 does not.
    const bool fine = mm != 0 && std::abs(mm) < 1;
    return session.lengthText(mm, fine ? 2 : 1);
}

NumberEdit::NumberEdit(const QString& name, const QString& s, int d, QWidget* parent)
    : TypedEdit(name, parent), sign(s), decimals(d) {}

Result<double> NumberEdit::read(const std::string& text) const {
    QString plain = QString::fromStdString(text);
    if (!sign.isEmpty() && plain.endsWith(sign.trimmed())) plain.chop(sign.trimmed().size());
    const auto value = parseNumber(plain.trimmed().toStdString());
    if (!value)
        return badInput(tr("'%1' is not a number").arg(QString::fromStdString(text)).toStdString());
    return *value;
}

QString NumberEdit::words(double value) const {
    return QString::number(value, 'f', decimals) + sign;
}

QLabel* headLabel(const QString& text) {
    auto* label = new QLabel(text);
    label->setProperty("head", true);
    label->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    return label;
}

QLabel* quietLabel(const QString& text) {
    auto* label = new QLabel(text);
    label->setProperty("quiet", true);
    label->setWordWrap(true);
    return label;
}

QLabel* wordsLabel(const QString& text) {
    auto* label = new QLabel(text);
    label->setWordWrap(true);
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    return label;
}

QHBoxLayout* row(const QString& label, QWidget* field) {
    auto* layout = new QHBoxLayout;
    layout->setSpacing(8);
    auto* words = new QLabel(label);
    words->setProperty("quiet", true);
    words->setMinimumWidth(74);
    words->setBuddy(field);
    // Long entries must not push the readout wider than it is.
    if (auto* combo = qobject_cast<QComboBox*>(field)) {
        combo->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        combo->setMinimumContentsLength(8);
    }
    layout->addWidget(words, 0, Qt::AlignTop | Qt::AlignLeft);
    words->setContentsMargins(0, 6, 0, 0);
    layout->addWidget(field, 1);
    return layout;
}

QHBoxLayout* pairRow(const QString& first, QWidget* a, const QString& second, QWidget* b) {
    auto* layout = new QHBoxLayout;
    layout->setSpacing(8);
    const std::pair<QString, QWidget*> fields[] = {{first, a}, {second, b}};
    for (const auto& [label, field] : fields) {
        auto* words = new QLabel(label);
        words->setProperty("quiet", true);
        words->setMinimumWidth(46);
        words->setBuddy(field);
        words->setContentsMargins(0, 6, 0, 0);
        layout->addWidget(words, 0, Qt::AlignTop | Qt::AlignLeft);
        layout->addWidget(field, 1, Qt::AlignTop);
    }
    return layout;
}

QPushButton* mainButton(const QString& text) {
    auto* button = new QPushButton(text);
    button->setProperty("main", true);
    return button;
}

QWidget* hairLine() {
    auto* line = new QFrame;
    line->setFixedHeight(1);
    line->setStyleSheet(QString("background: palette(mid);"));
    return line;
}

} // namespace rapt::app
