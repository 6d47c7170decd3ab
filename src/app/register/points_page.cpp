#include "app/register/points_page.h"

#include "geometry/lengths.h"
#include "registration/guided.h"
#include "registration/needle_targets.h"

#include <QHeaderView>
#include <QSignalBlocker>

namespace rapt::app {
namespace {

enum Column { nameColumn, plannedColumn, seenXColumn, seenYColumn };
constexpr int clickedAnchor = 9;

} // namespace

PointsPage::PointsPage(Session& s)
    : Page(s), table(new QTableWidget), cellProblem(new QLabel), target(new QComboBox),
      x(new LengthEdit(s, tr("Needle across"))), y(new LengthEdit(s, tr("Needle down"))),
      stepsRight(new QSpinBox), stepsTowards(new QSpinBox), needleNote(quietLabel({})),
      card(new QComboBox), anchor(new QComboBox) {
    column->addWidget(headLabel(tr("Marks: planned, and where they are (mm)")));
    buildTable();
    column->addWidget(hairLine());
    column->addWidget(headLabel(tr("With the needle")));
    buildNeedle();
    column->addWidget(hairLine());
    column->addWidget(headLabel(tr("One card for the design")));
    buildCard();
    column->addStretch();
    connect(&session, &Session::toolChanged, this, [this] {
        if (isVisible()) refresh();
    });
    connect(&session.registering, &RegisterState::changed, this, [this] {
        if (isVisible()) refresh();
    });
    connect(&session.registering, &RegisterState::pointerTaken, this, &PointsPage::takePointer);
}

void PointsPage::buildTable() {
    table->setColumnCount(4);
    table->setHorizontalHeaderLabels({tr("Mark"), tr("Planned x, y"), tr("Seen x"), tr("Seen y")});
    table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table->horizontalHeader()->setSectionResizeMode(nameColumn, QHeaderView::ResizeToContents);
    table->horizontalHeader()->setSectionResizeMode(plannedColumn, QHeaderView::ResizeToContents);
    table->verticalHeader()->hide();
    table->verticalHeader()->setDefaultSectionSize(28);
    table->setAccessibleName(tr("Marks"));
    table->setObjectName("marks");
    table->setToolTip(
        tr("Millimetres from the middle of the hoop's field; x to the right, y towards you"));
    table->setFixedHeight(30 + 28 * 3 + 4);
    column->addWidget(table);
    cellProblem->setProperty("wrong", true);
    cellProblem->setWordWrap(true);
    cellProblem->hide();
    column->addWidget(cellProblem);
    connect(table, &QTableWidget::cellChanged, this, &PointsPage::takeCell);
}

void PointsPage::buildNeedle() {
    target->setObjectName("needleTarget");
    target->setAccessibleName(tr("What the needle is brought to"));
    column->addLayout(row(tr("Bring it to"), target));
    column->addLayout(pairRow(tr("x"), x, tr("y"), y));
    stepsRight->setObjectName("stepsRight");
    stepsTowards->setObjectName("stepsTowards");
    stepsRight->setAccessibleName(tr("Steps to the right of where it should be"));
    stepsTowards->setAccessibleName(tr("Steps towards you of where it should be"));
    for (QSpinBox* steps : {stepsRight, stepsTowards}) {
        steps->setRange(-9999, 9999);
        steps->setToolTip(tr("How far the needle stands from where it should be, in steps of the "
                             "machine's panel; negative to the left, away from you"));
        connect(steps, &QSpinBox::valueChanged, this, &PointsPage::pointBySteps);
    }
    column->addLayout(pairRow(tr("Steps →"), stepsRight, tr("Steps ↓"), stepsTowards));
    connect(target, &QComboBox::currentIndexChanged, this, [this] {
        for (QSpinBox* steps : {stepsRight, stepsTowards}) {
            const QSignalBlocker quiet(steps);
            steps->setValue(0);
        }
    });
    needle = button(tr("Jog on the cloth"), "jog", [this] {
        const bool on = session.tool() != ToolKind::needle;
        if (on && !session.registering.pointer()) {
            const auto list = targets();
            const int i = target->currentIndex();
            if (i >= 0 && i < static_cast<int>(list.size()))
                session.registering.setPointer(list[static_cast<std::size_t>(i)].planned);
        }
        session.setTool(on ? ToolKind::needle : ToolKind::select);
    });
    needle->setCheckable(true);
    take = mainButton(tr("Take this place"));
    take->setObjectName("takePointer");
    connect(take, &QPushButton::clicked, this, &PointsPage::takePointer);
    column->addLayout(sideBySide({needle, take}));
    column->addWidget(needleNote);
    connect(x, &LengthEdit::typed, this, [this](double mm) {
        const Vec2 p = session.registering.pointer().value_or(Vec2{});
        session.registering.setPointer(Vec2{mm, p.y});
    });
    connect(y, &LengthEdit::typed, this, [this](double mm) {
        const Vec2 p = session.registering.pointer().value_or(Vec2{});
        session.registering.setPointer(Vec2{p.x, mm});
    });
}

void PointsPage::buildCard() {
    card->setObjectName("oneCard");
    card->setAccessibleName(tr("Card"));
    anchor->setObjectName("anchor");
    anchor->setAccessibleName(tr("Point of the design that goes onto the card"));
    for (const char* name : {"far left", "far middle", "far right", "middle left", "centre",
                             "middle right", "near left", "near middle", "near right"})
        anchor->addItem(tr(name));
    anchor->addItem(tr("where the needle stands"));
    anchor->setCurrentIndex(4);
    column->addLayout(row(tr("Card"), card));
    column->addLayout(row(tr("Goes under"), anchor));
    putButton = button(tr("Put the design there"), "putOnCard", [this] { takeCard(); });
    column->addWidget(putButton);
}

const Hooping* PointsPage::hooping() const {
    return session.hooping() < 0
               ? nullptr
               : &session.job().hoopings[static_cast<std::size_t>(session.hooping())];
}

std::vector<NeedleTarget> PointsPage::targets() {
    const Hooping* h = hooping();
    const auto hoop = h ? session.library.hoop(h->hoop) : Result<Hoop>(cannotDo(""));
    if (!hoop) return {};
    auto list = needleTargets(session.job(), session.hooping() + 1, *hoop, {});
    const auto derived = session.derived();
    // What is seen of the cloth leaves the design where it is planned: no need to wait for it.
    if (session.isCurrent() && derived && derived->planned &&
        (ofPlan != derived->planned || ofHooping != *h)) {
        ofPlan = derived->planned;
        ofDesign = designTargets(session.job(), session.hooping() + 1, derived->hoopings(), *hoop);
        ofHooping = *h;
    }
    if (ofHooping == *h) list.insert(list.end(), ofDesign.begin(), ofDesign.end());
    return list;
}

const Observation* PointsPage::seenOf(const std::string& name) const {
    const Registration* r = session.job().registration(session.hooping() + 1);
    if (!r || r->hooping != session.hooping() + 1) return nullptr;
    for (const Observation& o : r->observations)
        if (o.name == name && o.kind != Observation::Kind::line) return &o;
    return nullptr;
}

void PointsPage::refresh() {
    const Hooping* h = hooping();
    setEnabled(h != nullptr);
    if (!h) return;
    fillTable();
    const auto list = targets();
    QStringList names;
    for (const NeedleTarget& t : list) names << QString::fromStdString(t.name);
    QStringList shown;
    for (int i = 0; i < target->count(); ++i) shown << target->itemText(i);
    if (names != shown) {
        const QString before = target->currentText();
        target->clear();
        target->addItems(names);
        target->setCurrentIndex(std::max(0, target->findText(before)));
    }
    needle->setChecked(session.tool() == ToolKind::needle);
    const auto at = session.registering.pointer();
    take->setEnabled(at.has_value() && !list.empty());
    const auto chosen = static_cast<std::size_t>(target->currentIndex());
    for (QSpinBox* steps : {stepsRight, stepsTowards})
        steps->setEnabled(chosen < list.size() && list[chosen].kind == Observation::Kind::point);
    x->setMm(at ? at->x : 0);
    y->setMm(at ? at->y : 0);
    needleNote->setText(
        tr("Arrow keys 1 mm, Alt 0.1, Shift 10. Hands clear of the needle while it moves."));
    const ProposedScan* scan = session.registering.proposed();
    const QSignalBlocker quiet(card);
    const int before = card->currentIndex();
    card->clear();
    if (scan && scan->hooping == session.hooping() + 1)
        for (const SeenCard& c : scan->proposals.reading.cards)
            card->addItem(tr("card %1").arg(c.id), c.id);
    card->setCurrentIndex(std::clamp(before, std::min(0, card->count() - 1), card->count() - 1));
    if (card->count() == 0) card->addItem(tr("read a scan with a card first"));
    putButton->setEnabled(card->itemData(0).isValid());
}

void PointsPage::fillTable() {
    const QSignalBlocker quiet(table);
    const Hooping& h = *hooping();
    const int number = session.hooping() + 1;
    const Affine toField = h.pose.affine().inverse();
    table->setRowCount(static_cast<int>(h.marks.size()));
    for (int i = 0; i < table->rowCount(); ++i) {
        const Mark& m = h.marks[static_cast<std::size_t>(i)];
        const Vec2 p = toField(m.at);
        const Observation* seen = seenOf(m.name);
        const QString texts[] = {QString::fromStdString(m.name),
                                 QString("%1, %2").arg(p.x, 0, 'f', 1).arg(p.y, 0, 'f', 1),
                                 seen ? QString::number(seen->seen.x, 'f', 2) : QString(),
                                 seen ? QString::number(seen->seen.y, 'f', 2) : QString()};
        for (int c = 0; c < 4; ++c) {
            // A half typed pair stays as it was typed.
            auto* old = table->item(i, c);
            if (c >= seenXColumn && !seen && old && !old->text().isEmpty() &&
                old->data(Qt::UserRole).toInt() == number)
                continue;
            auto* cell = new QTableWidgetItem(texts[c]);
            cell->setData(Qt::UserRole, number);
            if (c < seenXColumn) cell->setFlags(Qt::ItemIsEnabled);
            table->setItem(i, c, cell);
        }
    }
}

void PointsPage::takeCell(int rowIndex, int columnIndex) {
    if (columnIndex < seenXColumn || !hooping()) return;
    const Mark& mark = hooping()->marks[static_cast<std::size_t>(rowIndex)];
    std::optional<double> values[2];
    cellProblem->hide();
    for (int k = 0; k < 2; ++k) {
        const auto* cell = table->item(rowIndex, seenXColumn + k);
        const QString text = cell ? cell->text().trimmed() : QString();
        if (text.isEmpty()) continue;
        const auto mm = parseLength(text.toStdString(), session.unit());
        if (mm && std::abs(*mm) <= maxCoordinateMm) {
            values[k] = *mm;
            continue;
        }
        cellProblem->setText(
            tr("Mark %1: %2")
                .arg(QString::fromStdString(mark.name),
                     mm ? tr("this is too far away") : QString::fromStdString(mm.error().reason)));
        cellProblem->show();
        return;
    }
    const int number = session.hooping() + 1;
    if (values[0] && values[1]) {
        session.document.apply(
            addObservations(number, {pointSeen(*hooping(), mark, {*values[0], *values[1]}, "typed",
                                               session.library.practice.placingSigmaMm())}));
    } else if (const Observation* seen = seenOf(mark.name); seen && !values[0] && !values[1]) {
        // Half a place says nothing; an emptied place is forgotten.
        const Registration* r = session.job().registration(number);
        session.document.apply(
            removeObservation(number, static_cast<std::size_t>(seen - r->observations.data())));
    }
}

void PointsPage::takePointer() {
    const auto at = session.registering.pointer();
    const auto list = targets();
    const int i = target->currentIndex();
    if (!at || i < 0 || i >= static_cast<int>(list.size())) return;
    const NeedleTarget& t = list[static_cast<std::size_t>(i)];
    const Registration* r = session.job().registration(session.hooping() + 1);
    session.document.apply(addObservations(
        session.hooping() + 1, {needleSeen(t, *at, r, session.library.practice.placingSigmaMm())}));
    // On to the next mark; an edge takes as many places as the person likes.
    if (t.kind == Observation::Kind::point && i + 1 < target->count()) {
        target->setCurrentIndex(i + 1);
        if (list[static_cast<std::size_t>(i) + 1].kind == Observation::Kind::point)
            session.registering.setPointer(list[static_cast<std::size_t>(i) + 1].planned);
    }
}

/// The needle stands so many steps of the panel from where the target was planned.
void PointsPage::pointBySteps() {
    const auto list = targets();
    const int i = target->currentIndex();
    const auto machine = session.library.machine(session.job().brief.machine);
    if (i < 0 || i >= static_cast<int>(list.size()) || !machine) return;
    const Vec2 steps{double(stepsRight->value()), double(stepsTowards->value())};
    session.registering.setPointer(list[static_cast<std::size_t>(i)].planned +
                                   steps * machine->panelStepMm);
}

void PointsPage::takeCard() {
    const ProposedScan* scan = session.registering.proposed();
    const auto derived = session.derived();
    const auto index = static_cast<std::size_t>(session.hooping());
    if (!scan || !derived || !derived->planned || index >= derived->hoopings().size()) return;
    const int id = card->currentData().toInt();
    for (const SeenCard& c : scan->proposals.reading.cards) {
        if (c.id != id) continue;
        Vec2 planned = anchorOf(derived->hoopings()[index].extents, anchor->currentIndex() % 9);
        if (anchor->currentIndex() == clickedAnchor && session.registering.pointer())
            planned = *session.registering.pointer();
        session.document.apply(
            takeScan(scan->hooping, {cardUnder(*hooping(), c, planned)}, scan->bytes));
        session.registering.dropProposed();
        return;
    }
}

} // namespace rapt::app
