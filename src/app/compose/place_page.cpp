#include "app/compose/place_page.h"

#include "place/clearance.h"
#include "place/sizing.h"

#include <QGridLayout>

namespace rapt::app {
namespace {

constexpr double farMm = 300;

} // namespace

PlacePage::PlacePage(Session& s)
    : Page(s), to(new QComboBox), margin(new LengthEdit(s, "Margin")), gaps(wordsLabel()),
      fieldWords(quietLabel({})) {
    column->addWidget(gaps);
    column->addWidget(hairLine());
    to->setObjectName("alignTo");
    to->addItems({tr("the cloth"), tr("the field"), tr("the selection"), tr("the datum lines")});
    column->addLayout(row(tr("Align with"), to));
    struct How {
        Align how;
        const char* words;
        const char* name;
    };
    auto* grid = new QGridLayout;
    grid->setSpacing(6);
    int n = 0;
    for (const How& h :
         {How{Align::left, "Left", "alignLeft"}, How{Align::middleAcross, "Middle", "alignMiddle"},
          How{Align::right, "Right", "alignRight"}, How{Align::top, "Far", "alignTop"},
          How{Align::middleDown, "Centre", "alignCentre"},
          How{Align::bottom, "Near", "alignBottom"}}) {
        auto* b = button(tr(h.words), h.name, [this, how = h.how] { align(how); });
        b->setToolTip(h.how == Align::middleAcross ? tr("Middles on one upright line")
                      : h.how == Align::middleDown ? tr("Middles on one level line")
                                                   : tr("Edges on one line"));
        needSelection.push_back(b);
        grid->addWidget(b, n / 3, n % 3);
        ++n;
    }
    column->addLayout(grid);
    auto* across = button(tr("Across"), "distributeAcross", [this] { distribute(true); });
    auto* down = button(tr("Down"), "distributeDown", [this] { distribute(false); });
    for (QPushButton* b : {across, down})
        b->setToolTip(tr("Equal gaps between three pieces or more"));
    auto* gapsRow = new QHBoxLayout;
    auto* gapsWords = quietLabel(tr("Equal gaps"));
    gapsWords->setMinimumWidth(74);
    for (QWidget* w : std::initializer_list<QWidget*>{gapsWords, across, down})
        gapsRow->addWidget(w, w == gapsWords ? 0 : 1);
    column->addLayout(gapsRow);
    column->addWidget(hairLine());
    column->addWidget(headLabel(tr("Largest size that fits")));
    margin->setRange(0, 200);
    margin->setMm(marginMm);
    connect(margin, &LengthEdit::typed, this, [this](double mm) { marginMm = mm; });
    column->addLayout(row(tr("Margin"), margin));
    auto* field = button(tr("In the field"), "fitField", [this] { fit(false); });
    auto* between = button(tr("Between others"), "fitBetween", [this] { fit(true); });
    field->setToolTip(tr("Moved to the middle of the field and as large as it takes"));
    between->setToolTip(
        tr("About its own middle, up to the margin from every neighbour's thread and the field"));
    column->addLayout(sideBySide({field, between}));
    column->addWidget(fieldWords);
    for (QPushButton* b : {across, down, field, between}) needSelection.push_back(b);
}

void PlacePage::refresh() {
    for (QPushButton* b : needSelection) b->setEnabled(!session.selection.ids().empty());
    const auto field = session.field();
    fieldWords->setText(
        field ? tr("Field %1, %2.")
                    .arg(QString::fromStdString(field->hoop.name),
                         session.hooping() >= 0 ? tr("as planned") : tr("centred on the datum"))
              : tr("Name a hoop in Brief to fit to its field."));
    showGaps();
}

std::vector<Movable> PlacePage::movables() const {
    std::vector<Movable> items;
    const Derived* checked = session.checked();
    if (!checked) return items;
    std::map<std::string, std::size_t> groups;
    for (const PieceSpan& span : checked->stitched().spans) {
        if (!session.selection.contains(span.source) || span.outline) continue;
        const Piece* piece = session.job().piece(span.source);
        // Linked copies move with their original, grouped pieces with each other.
        const Repeat* repeat = session.job().repeatOf(span.source);
        const std::string key = repeat                           ? "repeat " + repeat->id
                                : piece && !piece->group.empty() ? "group " + piece->group
                                                                 : "piece " + span.source;
        const auto [it, isNew] = groups.emplace(key, items.size());
        if (isNew) items.push_back({});
        Movable& item = items[it->second];
        if (item.ids.empty() ||
            std::find(item.ids.begin(), item.ids.end(), span.source) == item.ids.end())
            item.ids.push_back(span.source);
        // Mirrored copies would run away from the line: their original alone is lined up.
        if (!repeat || repeat->kind != Repeat::Kind::mirror || span.copy == 1)
            item.box.add(span.extents);
    }
    return items;
}

Box PlacePage::target() const {
    switch (to->currentIndex()) {
    case toField:
        if (const auto field = session.field()) return field->box();
        return {};
    case toSelection: {
        Box box;
        for (const Movable& m : movables()) box.add(m.box);
        return box;
    }
    case toDatum:
        return {0, 0, 0, 0};
    default:
        return session.job().cloth.box();
    }
}

void PlacePage::align(Align how) {
    const auto items = movables();
    session.document.apply(moveEach("Align", items, alignMoves(items, how, target())));
}

void PlacePage::distribute(bool across) {
    const auto items = movables();
    if (items.size() < 3) {
        emit failed(tr("Nothing to share out"),
                    tr("Equal gaps need three pieces or more; choose them first."));
        return;
    }
    session.document.apply(moveEach("Equal gaps", items, distributeMoves(items, across)));
}

void PlacePage::fit(bool betweenNeighbours) {
    const auto field = session.field();
    if (!field) {
        emit failed(tr("No field to fit to"), tr("Name a hoop in Brief first."));
        return;
    }
    const auto fitted = betweenNeighbours
                            ? fitBetweenNeighbours(session.job(), session.selection.ids(),
                                                   field->hoop, field->pose, marginMm)
                            : fitToField(session.job(), session.selection.ids(), field->hoop,
                                         field->pose, marginMm);
    applyOrSay(tr("It does not fit"), fitted);
}

void PlacePage::showGaps() {
    const Derived* checked = session.checked();
    if (!checked || session.selection.ids().empty()) {
        gaps->setText(tr("Choose a piece to see how near its neighbours are."));
        return;
    }
    const Clearance clearance(checked->stitched(), session.selection.ids());
    QStringList words;
    if (const auto gap = clearance.nearest({}, farMm)) {
        const Piece* piece = session.job().piece(gap->piece);
        const QString name = piece ? QString::fromStdString(piece->name) : QString();
        words
            << (gap->mm > 0
                    ? tr("%1 to %2, from thread to thread.").arg(session.lengthText(gap->mm), name)
                    : tr("Its threads overlap those of %1.").arg(name));
    } else {
        words << tr("No neighbour within %1.").arg(session.lengthText(farMm, 0));
    }
    if (const auto field = session.field()) {
        const double mm = clearance.insideField({}, field->hoop, field->pose);
        words << (mm >= 0 ? tr("%1 to the field's edge.").arg(session.lengthText(mm))
                          : tr("Reaches %1 out of the field.").arg(session.lengthText(-mm)));
    }
    gaps->setText(words.join("\n"));
}

} // namespace rapt::app
