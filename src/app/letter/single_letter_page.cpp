#include "app/letter/single_letter_page.h"

#include "job/edit_lettering.h"
#include "letter/faces.h"

namespace rapt::app {
namespace {

const PlacedLetter* letterOf(const StitchedLettering* set, int index) {
    if (!set) return nullptr;
    for (const PlacedLetter& l : set->setting.letters)
        if (l.index == index && !l.glyphs.empty()) return &l;
    return nullptr;
}

} // namespace

SingleLetterPage::SingleLetterPage(Session& s)
    : Page(s), hint(quietLabel(tr("Choose words, then click one of their letters on the cloth."))),
      which(headLabel({})), fields(new QWidget), columnFields(new QWidget),
      across(new LengthEdit(s, "Letter across")), down(new LengthEdit(s, "Letter down")),
      turn(new NumberEdit("Letter turn", "°", 1)), size(new NumberEdit("Letter size", " %", 0)),
      rows(new NumberEdit("Turn the rows", "°", 0)), thread(new ThreadChoice(s.threads)),
      showColumns(new QCheckBox(tr("Show the columns"))),
      fill(new QCheckBox(tr("Sew this column as a fill"))), column_(new QComboBox),
      columnWords(wordsLabel()) {
    column->addWidget(hint);
    auto* all = new QVBoxLayout(fields);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(6);
    column->addWidget(fields);
    all->addWidget(which);
    all->addLayout(sideBySide({button(tr("← before"), "letterBefore", [this] { step(-1); }),
                               button(tr("next →"), "letterNext", [this] { step(1); })}));
    all->addLayout(pairRow(tr("Across"), across, tr("Down"), down));
    all->addLayout(pairRow(tr("Turn"), turn, tr("Size"), size));
    thread->setObjectName("singleThread");
    all->addLayout(row(tr("Thread"), thread));
    all->addWidget(button(tr("As the others"), "letterReset", [this] {
        const int letter = session.letters.cursor().letter;
        session.document.apply(changeLettering(
            session.selection.ids()[0], "Letter as the others", [letter](Lettering& l) {
                std::erase_if(l.letters,
                              [letter](const LetterChange& c) { return c.letter == letter; });
            }));
    }));
    all->addWidget(hairLine());
    showColumns->setObjectName("showColumns");
    all->addWidget(showColumns);
    auto* own = new QVBoxLayout(columnFields);
    own->setContentsMargins(0, 0, 0, 0);
    own->setSpacing(6);
    all->addWidget(columnFields);
    column_->setObjectName("columnChoice");
    fill->setObjectName("columnFill");
    own->addLayout(row(tr("Column"), column_));
    own->addLayout(row(tr("Turn rows"), rows));
    own->addWidget(fill);
    own->addWidget(columnWords);
    rows->setRange(-60, 60);
    size->setRange(20, 500);
    turn->setRange(-180, 180);
    connect(across, &LengthEdit::typed, this, [this](double mm) {
        change(tr("Nudge a letter"), [=](LetterChange& c) { c.dxMm = mm; });
    });
    connect(down, &LengthEdit::typed, this, [this](double mm) {
        change(tr("Nudge a letter"), [=](LetterChange& c) { c.dyMm = mm; });
    });
    connect(turn, &NumberEdit::typed, this, [this](double d) {
        change(tr("Turn a letter"), [=](LetterChange& c) { c.turnDeg = d; });
    });
    connect(size, &NumberEdit::typed, this, [this](double p) {
        change(tr("Size a letter"), [=](LetterChange& c) { c.scale = p / 100; });
    });
    connect(thread, &ThreadChoice::chosen, this, [this](const Thread& t) {
        change(tr("Thread of a letter"), [=](LetterChange& c) { c.thread = t; });
    });
    connect(rows, &NumberEdit::typed, this, [this](double d) {
        changeColumn(tr("Turn the rows"), [=](ColumnChange& c) { c.turnDeg = d; });
    });
    connect(fill, &QCheckBox::clicked, this, [this](bool on) {
        changeColumn(tr("Column as a fill"), [=](ColumnChange& c) { c.fill = on; });
    });
    connect(showColumns, &QCheckBox::clicked, this, [this](bool on) {
        auto cursor = session.letters.cursor();
        cursor.columns = on;
        session.letters.setCursor(cursor);
    });
    connect(column_, &QComboBox::activated, this, [this](int i) {
        auto cursor = session.letters.cursor();
        cursor.column = i;
        cursor.columns = true;
        session.letters.setCursor(cursor);
    });
    connect(&session.letters, &LetterState::cursorChanged, this, [this] {
        if (isVisible()) refresh();
    });
}

void SingleLetterPage::step(int by) {
    const StitchedLettering* set = session.letters.setting();
    if (!set) return;
    auto cursor = session.letters.cursor();
    const int count = static_cast<int>(set->setting.letters.size());
    for (int tries = 0; tries < count; ++tries) {
        cursor.letter = ((cursor.letter + by) % count + count) % count;
        if (letterOf(set, cursor.letter)) break;
    }
    cursor.column = -1;
    session.setTool(ToolKind::letter);
    session.letters.setCursor(cursor);
}

void SingleLetterPage::change(const QString& name,
                              const std::function<void(LetterChange&)>& changeLetter) {
    const int letter = session.letters.cursor().letter;
    if (!session.selection.words() || letter < 0) return;
    session.document.apply(
        changeLettering(session.selection.ids()[0], name.toStdString(),
                        [=](Lettering& l) { changeLetter(l.changeOf(letter)); }));
    refresh();
}

void SingleLetterPage::changeColumn(const QString& name,
                                    const std::function<void(ColumnChange&)>& changeOne) {
    const int wanted = std::max(0, column_->currentIndex());
    change(name, [=](LetterChange& c) {
        for (ColumnChange& own : c.columns)
            if (own.column == wanted) return changeOne(own);
        c.columns.push_back({wanted, 0, false});
        changeOne(c.columns.back());
    });
}

void SingleLetterPage::refresh() {
    const Lettering* words = session.selection.words();
    const StitchedLettering* set = session.letters.setting();
    const auto& cursor = session.letters.cursor();
    const PlacedLetter* letter = words ? letterOf(set, cursor.letter) : nullptr;
    hint->setVisible(!letter);
    hint->setText(words ? tr("Click one of the letters on the cloth, or step through them.")
                        : tr("Choose words, then click one of their letters on the cloth."));
    fields->setVisible(words != nullptr);
    for (QWidget* w :
         std::initializer_list<QWidget*>{across, down, turn, size, thread, columnFields})
        w->setEnabled(letter != nullptr);
    showColumns->setChecked(cursor.columns);
    if (!letter) {
        which->setText(tr("No letter is chosen"));
        return;
    }
    LetterChange c;
    if (const LetterChange* own = words->change(letter->index)) c = *own;
    which->setText(
        tr("Letter %1: “%2”").arg(letter->index + 1).arg(QString::fromStdString(letter->text)));
    across->setMm(c.dxMm);
    down->setMm(c.dyMm);
    turn->setValue(c.turnDeg);
    size->setValue(100 * c.scale);
    thread->show(c.thread.value_or(words->thread));
    const auto face = openFace(words->face);
    if (!face) return;
    int count = 0;
    double longest = 0;
    const int chosen = std::max(0, cursor.column);
    for (const LetterPart& part : letterParts(*letter, *face, *words))
        for (const Column& one : part.columns) {
            if (count++ != chosen) continue;
            for (const Rung& r : one.rungs) longest = std::max(longest, r.width());
        }
    const QSignalBlocker quiet(column_);
    column_->clear();
    for (int i = 0; i < count; ++i) column_->addItem(tr("%1 of %2").arg(i + 1).arg(count));
    column_->setCurrentIndex(std::min(chosen, count - 1));
    ColumnChange own{chosen, 0, false};
    for (const ColumnChange& k : c.columns)
        if (k.column == chosen) own = k;
    rows->setValue(own.turnDeg);
    fill->setChecked(own.fill);
    columnWords->setText(longest > snagStitchMm && !own.fill
                             ? tr("Rows up to %1: they are split, or sew the column as a fill.")
                                   .arg(session.lengthText(longest))
                             : tr("Rows up to %1.").arg(session.lengthText(longest)));
}

} // namespace rapt::app
