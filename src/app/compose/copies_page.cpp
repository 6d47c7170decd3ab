#include "app/compose/copies_page.h"

#include "app/kit/kept_lines.h"
#include "job/edit_copies.h"
#include "job/expansion.h"
#include "place/sizing.h"

#include <QSignalBlocker>

namespace rapt::app {
namespace {

using Kind = Repeat::Kind;

QWidget* wrapped(QLayout* layout) {
    auto* widget = new QWidget;
    layout->setContentsMargins(0, 0, 0, 0);
    widget->setLayout(layout);
    return widget;
}

} // namespace

CopiesPage::CopiesPage(Session& s)
    : Page(s), hint(quietLabel({})), kind(new QComboBox), fields(new QWidget),
      columns(new NumberEdit("Columns", "", 0)), rowCount(new NumberEdit("Rows", "", 0)),
      count(new NumberEdit("Copies", "", 0)), direction(new NumberEdit("Direction", "°", 1)),
      sweep(new NumberEdit("Sweep", "°", 1)), across(new LengthEdit(s, "Step across")),
      down(new LengthEdit(s, "Step down")), centreX(new LengthEdit(s, "Centre across")),
      centreY(new LengthEdit(s, "Centre down")), step(new QComboBox),
      turned(new QCheckBox(tr("Turn with the circle"))),
      leftRight(new QCheckBox(tr("Across the upright datum line"))),
      nearFar(new QCheckBox(tr("Across the level datum line"))), words(wordsLabel()),
      exceptionFields(new QWidget), copyWords(headLabel({})),
      shiftX(new LengthEdit(s, "Copy across")), shiftY(new LengthEdit(s, "Copy down")),
      copyTurn(new NumberEdit("Copy turn", "°", 1)), leftOut(new QCheckBox(tr("Leave it out"))),
      exceptions(new QListWidget), borderHead(headLabel(tr("Or a border of it, to an exact size"))),
      border(new BorderPage(s)) {
    kind->setObjectName("copiesKind");
    kind->addItems({tr("no copies"), tr("rows and columns"), tr("along a line"),
                    tr("round a circle"), tr("mirrored")});
    column->addWidget(hint);
    column->addLayout(row(tr("Copies"), kind));
    buildLayoutFields();
    buildExceptionFields();
    column->addWidget(borderHead);
    column->addWidget(border);
    connect(border, &Page::failed, this, &Page::failed);
    connect(kind, &QComboBox::activated, this, &CopiesPage::chooseKind);
}

void CopiesPage::buildLayoutFields() {
    auto* form = new QVBoxLayout(fields);
    form->setContentsMargins(0, 0, 0, 0);
    form->setSpacing(6);
    const auto add = [&](QWidget* widget, std::vector<Kind> kinds) {
        form->addWidget(widget);
        rows.emplace_back(widget, std::move(kinds));
    };
    const auto labelled = [&](const QString& label, QWidget* field, std::vector<Kind> kinds) {
        add(wrapped(row(label, field)), std::move(kinds));
    };
    for (NumberEdit* n : {columns, rowCount, count}) n->setRange(1, 1000);
    sweep->setRange(-360, 360);
    for (LengthEdit* e : {across, down}) e->setRange(-2000, 2000);
    step->setObjectName("copiesStep");
    step->addItems({tr("bare gap"), tr("pitch, from middle to middle")});
    turned->setObjectName("copiesTurned");
    leftRight->setObjectName("mirrorLeftRight");
    nearFar->setObjectName("mirrorNearFar");
    fill = button(tr("As many as the field holds"), "fillWithCopies", [this] { fillField(); });
    add(wrapped(pairRow(tr("Columns"), columns, tr("Rows"), rowCount)), {Kind::grid});
    labelled(tr("Number"), count, {Kind::line, Kind::circle});
    labelled(tr("Step is a"), step, {Kind::grid, Kind::line});
    labelled(tr("Across"), across, {Kind::grid, Kind::line});
    labelled(tr("Down"), down, {Kind::grid});
    labelled(tr("Direction"), direction, {Kind::line});
    labelled(tr("Centre, x"), centreX, {Kind::circle});
    labelled(tr("Centre, y"), centreY, {Kind::circle});
    labelled(tr("Sweep"), sweep, {Kind::circle});
    add(turned, {Kind::circle});
    add(leftRight, {Kind::mirror});
    add(nearFar, {Kind::mirror});
    add(fill, {Kind::grid});
    form->addWidget(words);
    form->addLayout(sideBySide({button(tr("Unlink"), "unlinkCopies", [this] {
        if (const auto r = present()) session.document.apply(unlinkCopies(r->id));
    })}));
    column->addWidget(fields);
    connectLayoutFields();
}

void CopiesPage::connectLayoutFields() {
    const auto whole = [](double n) { return static_cast<int>(std::lround(n)); };
    connect(columns, &NumberEdit::typed, this,
            [=, this](double n) { change([=](Repeat& r) { r.columns = whole(n); }); });
    connect(rowCount, &NumberEdit::typed, this,
            [=, this](double n) { change([=](Repeat& r) { r.rows = whole(n); }); });
    connect(count, &NumberEdit::typed, this,
            [=, this](double n) { change([=](Repeat& r) { r.count = whole(n); }); });
    connect(direction, &NumberEdit::typed, this,
            [this](double d) { change([=](Repeat& r) { r.directionDeg = d; }); });
    connect(sweep, &NumberEdit::typed, this,
            [this](double d) { change([=](Repeat& r) { r.sweepDeg = d; }); });
    connect(across, &LengthEdit::typed, this,
            [this](double mm) { change([=](Repeat& r) { r.acrossMm = mm; }); });
    connect(down, &LengthEdit::typed, this,
            [this](double mm) { change([=](Repeat& r) { r.downMm = mm; }); });
    connect(centreX, &LengthEdit::typed, this,
            [this](double mm) { change([=](Repeat& r) { r.centre.x = mm; }); });
    connect(centreY, &LengthEdit::typed, this,
            [this](double mm) { change([=](Repeat& r) { r.centre.y = mm; }); });
    connect(step, &QComboBox::activated, this,
            [this](int i) { change([=](Repeat& r) { r.byGap = i == 0; }); });
    connect(turned, &QCheckBox::clicked, this,
            [this](bool on) { change([=](Repeat& r) { r.turned = on; }); });
    connect(leftRight, &QCheckBox::clicked, this,
            [this](bool on) { change([=](Repeat& r) { r.leftRight = on; }); });
    connect(nearFar, &QCheckBox::clicked, this,
            [this](bool on) { change([=](Repeat& r) { r.nearFar = on; }); });
}

void CopiesPage::buildExceptionFields() {
    auto* form = new QVBoxLayout(exceptionFields);
    form->setContentsMargins(0, 0, 0, 0);
    form->setSpacing(6);
    form->addWidget(hairLine());
    form->addWidget(copyWords);
    leftOut->setObjectName("leaveOut");
    exceptions->setObjectName("exceptions");
    exceptions->setAccessibleName(tr("Copies that differ"));
    exceptions->setFixedHeight(64);
    form->addWidget(leftOut);
    form->addLayout(pairRow(tr("Moved"), shiftX, tr("down"), shiftY));
    form->addLayout(row(tr("Turned"), copyTurn));
    form->addWidget(exceptions);
    column->addWidget(exceptionFields);
    connect(leftOut, &QCheckBox::clicked, this,
            [this](bool on) { changeException([=](CopyException& e) { e.leftOut = on; }); });
    connect(shiftX, &LengthEdit::typed, this,
            [this](double mm) { changeException([=](CopyException& e) { e.shift.x = mm; }); });
    connect(shiftY, &LengthEdit::typed, this,
            [this](double mm) { changeException([=](CopyException& e) { e.shift.y = mm; }); });
    connect(copyTurn, &NumberEdit::typed, this,
            [this](double d) { changeException([=](CopyException& e) { e.turnDeg = d; }); });
    connect(exceptions, &QListWidget::itemClicked, this, [this](const QListWidgetItem* item) {
        session.selection.chooseSingly(session.selection.ids(), item->data(Qt::UserRole).toInt());
    });
}

std::optional<Repeat> CopiesPage::present() const {
    if (session.selection.ids().empty()) return std::nullopt;
    const Repeat* r = session.job().repeatOf(session.selection.ids()[0]);
    return r ? std::optional<Repeat>(*r) : std::nullopt;
}

void CopiesPage::chooseKind(int index) {
    const auto now = present();
    if (index == 0) {
        if (now) session.document.apply(removeRepeat(now->id));
        return;
    }
    if (session.selection.ids().empty()) return;
    Repeat wanted = now.value_or(Repeat{});
    if (!now) wanted.pieces = session.selection.ids();
    wanted.kind = static_cast<Kind>(index - 1);
    if (!now && wanted.kind == Kind::circle) wanted.count = 6;
    session.document.apply(setRepeat(wanted));
}

void CopiesPage::change(const std::function<void(Repeat&)>& changeRepeat) {
    auto repeat = present();
    if (!repeat) return;
    changeRepeat(*repeat);
    if (repeat->copies() > mostCopies) {
        emit failed(tr("Too many copies"), tr("At most %L1 copies can be made.").arg(mostCopies));
        refresh();
        return;
    }
    session.document.apply(setRepeat(*repeat));
}

void CopiesPage::fillField() {
    const auto repeat = present();
    const auto field = session.field();
    if (!repeat) return;
    if (!field) {
        emit failed(tr("No field to fill"), tr("Name a hoop in Brief first."));
        return;
    }
    StitchCache cache;
    const Box box = boxOfOriginals(session.job(), *repeat, cache);
    if (box.empty()) return;
    const GridSize size = gridThatFits(*repeat, box, field->hoop, field->pose.rotationDeg, 0);
    if (size.columns == 0) {
        emit failed(tr("It does not fit"), tr("One alone is larger than the field."));
        return;
    }
    Repeat full = *repeat;
    full.columns = size.columns;
    full.rows = size.rows;
    // The whole grid in the middle of the field.
    const Vec2 last = copyMap(full, full.copies(), box)({0, 0});
    const Vec2 middle = box.centre() + last * 0.5, at{field->pose.x, field->pose.y};
    session.document.apply(together("Fill the field with copies",
                                    {setRepeat(full), movePieces(full.pieces, at - middle)}));
}

void CopiesPage::changeException(const std::function<void(CopyException&)>& changeOne) {
    const auto repeat = present();
    if (!repeat) return;
    const int copy = session.selection.copy();
    CopyException exception{copy, false, {}, 0};
    if (const CopyException* known = repeat->exception(copy)) exception = *known;
    changeOne(exception);
    session.document.apply(setException(repeat->id, exception));
}

void CopiesPage::refresh() {
    const auto repeat = present();
    const bool chosen = !session.selection.ids().empty();
    kind->setEnabled(chosen);
    hint->setVisible(!chosen);
    hint->setText(tr("Choose what is to be copied; several pieces keep their layout."));
    kind->setCurrentIndex(repeat ? static_cast<int>(repeat->kind) + 1 : 0);
    fields->setVisible(repeat.has_value());
    exceptionFields->setVisible(repeat.has_value());
    const bool canBorder = !repeat && onePiece();
    borderHead->setVisible(canBorder);
    border->setVisible(canBorder);
    if (canBorder) border->refresh();
    if (!repeat) return;
    showRows(*repeat);
    showExceptions(*repeat);
}

void CopiesPage::showRows(const Repeat& r) {
    for (auto& [widget, kinds] : rows)
        widget->setVisible(std::find(kinds.begin(), kinds.end(), r.kind) != kinds.end());
    columns->setValue(r.columns);
    rowCount->setValue(r.rows);
    count->setValue(r.count);
    step->setCurrentIndex(r.byGap ? 0 : 1);
    across->setMm(r.acrossMm);
    down->setMm(r.downMm);
    direction->setValue(r.directionDeg);
    centreX->setMm(r.centre.x);
    centreY->setMm(r.centre.y);
    sweep->setValue(r.sweepDeg);
    turned->setChecked(r.turned);
    leftRight->setChecked(r.leftRight);
    nearFar->setChecked(r.nearFar);
    Box all;
    int sewn = 0;
    if (const Derived* checked = session.checked())
        for (const PieceSpan& span : checked->stitched().spans)
            if (r.has(span.source)) {
                all.add(span.extents);
                sewn += span.source == r.pieces.front() && !span.outline;
            }
    words->setText(tr("%1 sewn, together %2 × %3. Linked: a change of one changes all.")
                       .arg(sewn)
                       .arg(session.lengthText(all.width()), session.lengthText(all.height())));
}

void CopiesPage::showExceptions(const Repeat& r) {
    const int copy = session.selection.copy();
    const CopyException* e = r.exception(copy);
    copyWords->setText(tr("Copy %1 of %2").arg(copy).arg(r.copies()));
    leftOut->setChecked(e && e->leftOut);
    shiftX->setMm(e ? e->shift.x : 0);
    shiftY->setMm(e ? e->shift.y : 0);
    copyTurn->setValue(e ? e->turnDeg : 0);
    std::vector<ListLine> lines;
    exceptions->setVisible(!r.exceptions.empty());
    for (const CopyException& x : r.exceptions) {
        const QString what =
            x.leftOut ? tr("left out")
                      : tr("moved %1, %2, turned %3°")
                            .arg(session.lengthText(x.shift.x), session.lengthText(x.shift.y))
                            .arg(x.turnDeg, 0, 'f', 1);
        lines.push_back({tr("Copy %1: %2").arg(x.copy).arg(what), x.copy});
    }
    showLines(*exceptions, lines);
}

} // namespace rapt::app
