#include "app/compose/piece_tree.h"

#include <QScopedValueRollback>
#include <QVBoxLayout>

namespace rapt::app {
namespace {

constexpr int lineHigh = 24, fewLines = 2, mostLines = 6;
/// From so many pieces on they are looked for by name.
constexpr std::size_t manyPieces = 9;

} // namespace

PieceTree::PieceTree(Session& s, QWidget* parent)
    : QWidget(parent), session(s), search(new QLineEdit), tree(new QTreeView) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    search->setObjectName("findPiece");
    search->setPlaceholderText(tr("Find a piece by its name"));
    search->setAccessibleName(search->placeholderText());
    search->setClearButtonEnabled(true);
    column->addWidget(search);
    column->addWidget(tree);
    shownRows.setSourceModel(&model);
    shownRows.setRecursiveFilteringEnabled(true);
    shownRows.setFilterCaseSensitivity(Qt::CaseInsensitive);
    shownRows.setFilterRole(Qt::EditRole);
    shownRows.setAutoAcceptChildRows(true);
    tree->setModel(&shownRows);
    tree->setObjectName("pieces");
    tree->setAccessibleName(tr("Pieces"));
    tree->setHeaderHidden(true);
    tree->setUniformRowHeights(true);
    tree->setIndentation(14);
    tree->setIconSize({44, 16});
    tree->setTextElideMode(Qt::ElideRight);
    tree->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    tree->setSelectionMode(QAbstractItemView::ExtendedSelection);
    tree->setEditTriggers(QAbstractItemView::EditKeyPressed);
    tree->setDragDropMode(QAbstractItemView::InternalMove);
    tree->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(tree, &QWidget::customContextMenuRequested, this,
            [this](QPoint at) { emit contextAsked(tree->viewport()->mapToGlobal(at)); });
    connect(tree->selectionModel(), &QItemSelectionModel::selectionChanged, this,
            &PieceTree::takeSelection);
    connect(tree, &QTreeView::expanded, this, &PieceTree::fitHeight);
    connect(tree, &QTreeView::collapsed, this, &PieceTree::fitHeight);
    connect(&model, &PieceModel::renamed, this, &PieceTree::rename);
    connect(&model, &PieceModel::moved, this,
            [this](const Edit& edit) { session.document.apply(edit); });
    // A name that is being typed while all is taken down has nowhere to go.
    connect(&session, &QObject::destroyed, this, [this] { model.disconnect(this); });
    connect(search, &QLineEdit::textChanged, this, [this](const QString& text) {
        const QScopedValueRollback guard(filling, true);
        shownRows.setFilterFixedString(text);
        // Where lines are left out, a place between two of them is none in the sewing order.
        tree->setDragEnabled(text.isEmpty());
        if (!text.isEmpty()) tree->expandAll();
        showSelection();
    });
}

void PieceTree::refresh() {
    const QScopedValueRollback guard(filling, true);
    const Job& job = session.job();
    model.setJob(job);
    search->setVisible(job.pieces.size() >= manyPieces || !search->text().isEmpty());
    const bool groups = std::any_of(job.pieces.begin(), job.pieces.end(),
                                    [](const Piece& p) { return !p.group.empty(); });
    tree->setRootIsDecorated(groups);
    showSelection();
    fitHeight();
}

/// As high as the lines that are opened, up to a few.
void PieceTree::fitHeight() {
    int lines = 0;
    for (QModelIndex i = shownRows.index(0, 0); i.isValid() && lines < mostLines;
         i = tree->indexBelow(i))
        ++lines;
    tree->setFixedHeight(lineHigh * std::max(lines, fewLines) + 8);
}

void PieceTree::takeSelection() {
    if (filling) return;
    const QModelIndexList lines = tree->selectionModel()->selectedRows();
    if (lines.size() == 1 && model.row(sourceOf(lines.front())).group)
        return session.selection.chooseGroup(model.row(sourceOf(lines.front())).id);
    std::vector<std::string> ids;
    std::set<std::string> known;
    for (const QModelIndex& line : lines)
        for (std::string& id : model.piecesOf(sourceOf(line)))
            if (known.insert(id).second) ids.push_back(std::move(id));
    session.selection.chooseSingly(std::move(ids));
}

/// A group all of whose pieces are chosen is marked itself, unless it is opened.
void PieceTree::markChosen(const QModelIndex& line, const std::set<std::string>& chosen,
                           QItemSelection& lines) {
    const std::vector<std::string> pieces = model.piecesOf(line);
    const auto isChosen = [&](const std::string& id) { return chosen.contains(id); };
    if (std::none_of(pieces.begin(), pieces.end(), isChosen)) return;
    const bool opened = model.row(line).group && !session.selection.opened().empty() &&
                        liesIn(session.selection.opened(), model.row(line).id);
    if (line.isValid() && !opened && std::all_of(pieces.begin(), pieces.end(), isChosen)) {
        const QModelIndex at = shownRows.mapFromSource(line);
        return lines.select(at, at);
    }
    for (int i = 0; i < model.rowCount(line); ++i)
        markChosen(model.index(i, 0, line), chosen, lines);
}

void PieceTree::showSelection() {
    const std::vector<std::string>& ids = session.selection.ids();
    QItemSelection lines;
    markChosen({}, {ids.begin(), ids.end()}, lines);
    const QScopedValueRollback guard(filling, true);
    if (lines != tree->selectionModel()->selection())
        tree->selectionModel()->select(lines, QItemSelectionModel::ClearAndSelect);
    if (std::exchange(shown, ids) == ids || lines.isEmpty()) return;
    // What is chosen elsewhere is opened and brought into view.
    const QModelIndex first = lines.indexes().front();
    if (!tree->hasFocus())
        tree->selectionModel()->setCurrentIndex(first, QItemSelectionModel::NoUpdate);
    tree->scrollTo(first);
}

void PieceTree::rename(const PieceRow& row, const QString& name) {
    session.document.apply(row.group ? renameGroup(row.id, name.toStdString())
                                     : renamePiece(row.id, name.toStdString()));
}

} // namespace rapt::app
