#include "app/letter/words_page.h"

#include "job/edit_lettering.h"

#include <cmath>

namespace rapt::app {

WordsPage::WordsPage(Session& s)
    : Page(s), text(new QPlainTextEdit), onCloth(new QPushButton(tr("Type on the cloth"))),
      faces(new FaceList(s)), measure(new QComboBox), alignment(new QComboBox),
      height(new LengthEdit(s, "Letter height")), tracking(new LengthEdit(s, "Tracking")),
      wordGap(new LengthEdit(s, "Word gap")), lineGap(new LengthEdit(s, "Line gap")),
      pull(new LengthEdit(s, "Letter pull")), sizes(quietLabel({})), warnings(wordsLabel()),
      thread(new ThreadChoice(s.threads)) {
    buildText();
    buildSize();
    buildSpacing();
    connect(&session, &Session::toolChanged, this,
            [this] { onCloth->setChecked(session.tool() == ToolKind::letter); });
}

void WordsPage::buildText() {
    text->setObjectName("words");
    text->setAccessibleName(tr("Words"));
    text->setPlaceholderText(tr("Type the words here, or on the cloth"));
    text->setTabChangesFocus(true);
    text->setFixedHeight(46);
    column->addWidget(text);
    onCloth->setObjectName("typeOnCloth");
    onCloth->setCheckable(true);
    onCloth->setToolTip(tr("Click a place on the cloth and type. Click a letter to nudge, turn or "
                           "size it. (Ctrl+Shift+L)"));
    connect(onCloth, &QPushButton::clicked, this,
            [this](bool on) { session.setTool(on ? ToolKind::letter : ToolKind::select); });
    column->addLayout(sideBySide({onCloth, button(tr("Lettered before…"), "letteredBefore",
                                                  [this] { emit lookUpAsked(); })}));
    connect(text, &QPlainTextEdit::textChanged, this, &WordsPage::takeText);
    connect(faces, &FaceList::faceChosen, this, [this](const QString& id) {
        change(tr("Face"), [id](Lettering& l) { l.face = id.toStdString(); });
    });
}

void WordsPage::buildSize() {
    measure->setObjectName("heightOf");
    measure->setAccessibleName(tr("What the height is of"));
    measure->addItems({tr("Capitals"), tr("Small x"), tr("Whole line")});
    auto* line = new QHBoxLayout;
    line->setSpacing(8);
    line->addWidget(measure, 1, Qt::AlignTop);
    line->addWidget(height, 1);
    column->addLayout(line);
    column->addWidget(sizes);
    faces->setFixedHeight(176);
    column->addWidget(faces);
    column->addWidget(warnings);
    connect(measure, &QComboBox::activated, this, [this] { refresh(); });
    connect(height, &LengthEdit::typed, this, &WordsPage::takeSize);
}

void WordsPage::buildSpacing() {
    column->addWidget(hairLine());
    alignment->setObjectName("letterAlign");
    alignment->addItems({tr("left"), tr("centred"), tr("right")});
    thread->setObjectName("letterThread");
    column->addLayout(pairRow(tr("Tracking"), tracking, tr("Words"), wordGap));
    column->addLayout(pairRow(tr("Lines"), lineGap, tr("Pull"), pull));
    column->addLayout(row(tr("Lines are"), alignment));
    column->addLayout(row(tr("Thread"), thread));
    tracking->setRange(-20, 100);
    wordGap->setRange(-20, 200);
    lineGap->setRange(0, 1000);
    pull->setRange(0, 2);
    pull->setToolTip(tr("Added to the width of every column, as the thread draws the cloth in. New "
                        "words take it from the fabric."));
    lineGap->setToolTip(tr("From baseline to baseline; 0 is 1.6 times the capitals"));
    bind(tracking, tr("Tracking"), &Lettering::trackingMm);
    bind(wordGap, tr("Word gap"), &Lettering::wordGapMm);
    bind(lineGap, tr("Line gap"), &Lettering::lineGapMm);
    bind(pull, tr("Pull"), &Lettering::pullMm);
    connect(alignment, &QComboBox::activated, this, [this](int i) {
        change(tr("Alignment"), [i](Lettering& l) { l.alignment = static_cast<Alignment>(i); });
    });
    connect(thread, &ThreadChoice::chosen, this, [this](const Thread& t) {
        change(tr("Thread of the words"), [t](Lettering& l) { l.thread = t; });
    });
}

void WordsPage::bind(LengthEdit* edit, const QString& name, double Lettering::*member) {
    connect(edit, &LengthEdit::typed, this, [this, name, member](double mm) {
        change(name, [=](Lettering& l) { l.*member = mm; });
    });
}

const Lettering& WordsPage::shown() const {
    const Lettering* words = session.selection.words();
    return words ? *words : session.letters.look;
}

void WordsPage::change(const QString& name, const std::function<void(Lettering&)>& changeWords) {
    changeWords(session.letters.look);
    if (session.selection.words())
        session.document.apply(
            changeLettering(session.selection.ids()[0], name.toStdString(), changeWords));
    refresh();
}

/// Typed words change the selected piece, or begin a new one in the middle of the field.
void WordsPage::takeText() {
    const std::string typed = text->toPlainText().toStdString();
    if (session.selection.words()) {
        if (!typed.empty())
            session.document.apply(changeLettering(session.selection.ids()[0], "Type",
                                                   [typed](Lettering& l) { l.text = typed; }),
                                   "typing");
        return;
    }
    if (QString::fromStdString(typed).trimmed().isEmpty()) return;
    const Lettering words = session.newWords(typed);
    Pose pose;
    if (const auto field = session.field()) {
        pose.x = field->pose.x;
        pose.y = field->pose.y;
    }
    Piece piece = letteringPiece(words, pose);
    piece.id = unusedId(session.job(), piece.id);
    const std::string id = piece.id;
    Edit edit = addPiece(std::move(piece));
    edit.name = "Letter";
    // Chosen first: choosing ends a burst of typing.
    session.selection.chooseSingly({id});
    session.document.apply(edit, "typing");
}

double WordsPage::heightFactor() const {
    const auto face = openFace(shown().face);
    if (!face || measure->currentIndex() == 0) return 1;
    return measure->currentIndex() == 1 ? (*face)->xHeight() : (*face)->totalHeight();
}

void WordsPage::takeSize(double mm) {
    const Piece* piece = onePiece();
    const double scale = piece && session.selection.words() ? sizeFactor(*piece) : 1;
    const double cap = mm / heightFactor() / scale;
    change(tr("Height of the words"), [cap](Lettering& l) { l.capHeightMm = cap; });
}

void WordsPage::refresh() {
    const Lettering& l = shown();
    const bool own = session.selection.words() != nullptr;
    const QString now = own ? QString::fromStdString(l.text) : QString();
    if (text->toPlainText() != now) {
        const QSignalBlocker quiet(text);
        text->setPlainText(now);
        text->moveCursor(QTextCursor::End);
    }
    const Piece* piece = onePiece();
    const double scale = own ? sizeFactor(*piece) : 1;
    const double cap = l.capHeightMm * scale;
    onCloth->setChecked(session.tool() == ToolKind::letter);
    faces->show(l.text, cap, l.face);
    const double factor = heightFactor();
    height->setRange(smallestCapMm * factor, largestCapMm * factor);
    height->setMm(cap * factor);
    tracking->setMm(l.trackingMm);
    wordGap->setMm(l.wordGapMm);
    lineGap->setMm(l.lineGapMm);
    pull->setMm(l.pullMm);
    alignment->setCurrentIndex(static_cast<int>(l.alignment));
    thread->show(l.thread);
    const auto both = [](double mm) {
        return QString("%1 (%2)").arg(
            QString::fromStdString(formatLength(mm, LengthUnit::millimetre)),
            QString::fromStdString(formatLength(mm, LengthUnit::inch)));
    };
    QString said = tr("Capitals %1").arg(both(cap));
    const auto* result = session.letters.settingOrProblem();
    const StitchedLettering* set = session.letters.setting();
    if (set) said += tr(", line %1").arg(session.lengthText(set->setting.widthMm * scale));
    sizes->setText(said);
    QStringList doubts;
    if (result && !*result) doubts << QString::fromStdString(result->error().reason);
    if (set)
        for (const LetterWarning& w : set->warnings) doubts << QString::fromStdString(w.text);
    QStringList lines;
    for (const QString& d : doubts) lines << QString::fromUtf8("△ %1.").arg(d);
    warnings->setText(lines.join("\n"));
    warnings->setVisible(!lines.isEmpty());
}

} // namespace rapt::app
