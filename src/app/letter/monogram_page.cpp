#include "app/letter/monogram_page.h"

#include "job/edit_lettering.h"

namespace rapt::app {

MonogramPage::MonogramPage(Session& s)
    : Page(s), given(new QLineEdit), middle(new QLineEdit), surname(new QLineEdit),
      order(new QComboBox), layout_(new QComboBox), frame(new QComboBox),
      cap(new LengthEdit(s, "Initial height")), gap(new LengthEdit(s, "Gap to the frame")),
      words(wordsLabel()), makeIt(mainButton(tr("Put the monogram on the cloth"))) {
    const std::pair<QLineEdit*, const char*> fields[] = {
        {given, "Given"}, {middle, "Middle"}, {surname, "Surname"}};
    for (const auto& [edit, name] : fields) {
        edit->setObjectName(QString("monogram") + name);
        edit->setAccessibleName(tr(name));
        edit->setPlaceholderText(tr("name or initial"));
        column->addLayout(row(tr(name), edit));
        connect(edit, &QLineEdit::textChanged, this, [this] { refresh(); });
    }
    order->setObjectName("monogramOrder");
    order->addItems({tr("equal, in the order of the names"), tr("surname larger in the middle")});
    order->setCurrentIndex(1);
    layout_->setObjectName("monogramLayout");
    layout_->addItems({tr("side by side"), tr("stacked")});
    frame->setObjectName("monogramFrame");
    frame->addItems({tr("no frame"), tr("circle"), tr("oval"), tr("rectangle"), tr("diamond")});
    frame->setCurrentIndex(1);
    for (const auto& [label, box] : {std::pair(tr("Order"), order), std::pair(tr("Stand"), layout_),
                                     std::pair(tr("Frame"), frame)}) {
        column->addLayout(row(label, box));
        connect(box, &QComboBox::activated, this, [this] { refresh(); });
    }
    column->addLayout(pairRow(tr("Height"), cap, tr("Gap"), gap));
    cap->setRange(3, 300);
    gap->setRange(0, 100);
    connect(cap, &LengthEdit::typed, this, [this](double mm) { capMm = mm; });
    connect(gap, &LengthEdit::typed, this, [this](double mm) { gapMm = mm; });
    column->addWidget(words);
    makeIt->setObjectName("makeMonogram");
    column->addWidget(makeIt);
    column->addWidget(quietLabel(tr("Face and thread are those of the Words page.")));
    connect(makeIt, &QPushButton::clicked, this, &MonogramPage::make);
}

MonogramRequest MonogramPage::request() const {
    MonogramRequest r;
    r.given = given->text().toStdString();
    r.middle = middle->text().toStdString();
    r.surname = surname->text().toStdString();
    r.order = static_cast<MonogramOrder>(order->currentIndex());
    r.layout = static_cast<MonogramLayout>(layout_->currentIndex());
    r.frame = static_cast<MonogramFrame>(frame->currentIndex());
    r.frameGapMm = gapMm;
    r.look = session.newWords("");
    r.look.capHeightMm = capMm;
    return r;
}

void MonogramPage::make() {
    const auto made = makeMonogram(request());
    if (!made) return emit failed(tr("No monogram"), QString::fromStdString(made.error().reason));
    const auto field = session.field();
    const Vec2 at = field ? Vec2{field->pose.x, field->pose.y} : Vec2{};
    Pose pose;
    pose.x = at.x + made->shift.x;
    pose.y = at.y + made->shift.y;
    Piece letters = letteringPiece(made->lettering, pose);
    letters.id = unusedId(session.job(), "monogram");
    letters.name = "Monogram";
    std::vector<std::string> ids{letters.id};
    std::vector<Edit> edits;
    if (made->frame) {
        Piece ring;
        ring.id = unusedId(session.job(), "monogram frame");
        ring.name = "Monogram frame";
        ring.content = ShapeContent{std::make_shared<const Shape>(*made->frame)};
        ring.pose.x = at.x;
        ring.pose.y = at.y;
        ring.group = letters.group = letters.name;
        ids.push_back(ring.id);
        edits.push_back(addPiece(std::move(letters)));
        edits.push_back(addPiece(std::move(ring)));
    } else {
        edits.push_back(addPiece(std::move(letters)));
    }
    session.document.apply(together("Monogram", edits));
    session.selection.choose(ids);
}

void MonogramPage::refresh() {
    cap->setMm(capMm);
    gap->setMm(gapMm);
    const MonogramRequest r = request();
    const bool any = !r.given.empty() || !r.middle.empty() || !r.surname.empty();
    makeIt->setEnabled(any);
    if (!any) return words->setText(tr("One to three names or initials."));
    const auto made = makeMonogram(r);
    words->setText(QString::fromStdString(made ? made->order : made.error().reason));
}

} // namespace rapt::app
