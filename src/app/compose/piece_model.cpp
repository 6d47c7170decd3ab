#include "app/compose/piece_model.h"

#include "app/compose/thread_choice.h"
#include "app/theme/theme.h"
#include "job/edit_threads.h"

#include <QIODevice>
#include <QMimeData>
#include <QPainter>
#include <map>
#include <set>

namespace rapt::app {
namespace {

const char rowsMime[] = "application/x-rapt-thimble-rows";

QString q(const std::string& text) { return QString::fromStdString(text); }

/// The threads of a piece as a strip of colours.
QPixmap swatches(const std::vector<Thread>& threads) {
    QPixmap pixmap(44, 16);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    const int n = static_cast<int>(std::min<std::size_t>(5, threads.size()));
    for (int i = 0; i < n; ++i)
        painter.drawPixmap(i * 9, 2, threadSwatch(threads[static_cast<std::size_t>(i)], 9));
    return pixmap;
}

/// What is special about a piece, in few words.
QString remarksOf(const Job& job, const Piece& p) {
    QStringList words;
    if (const Repeat* r = job.repeatOf(p.id)) words << QString("×%1").arg(r->copies());
    if (p.outline) words << (p.outline->cut ? QObject::tr("cut line") : QObject::tr("basted"));
    if (p.locked) words << QObject::tr("locked");
    if (p.hidden) words << QObject::tr("hidden, not sewn");
    return words.join(", ");
}

} // namespace

struct PieceModel::Node {
    PieceRow row;
    Node* parent = nullptr;
    int place = 0; ///< among its parent's
    std::vector<std::unique_ptr<Node>> children{};

    Node& add(PieceRow r) {
        children.push_back(std::make_unique<Node>(Node{std::move(r), this, 0}));
        return *children.back();
    }
    void number() {
        for (std::size_t i = 0; i < children.size(); ++i) {
            children[i]->place = static_cast<int>(i);
            children[i]->parent = this;
        }
    }
    void collect(std::vector<std::string>& ids) const {
        if (!row.group && parent) ids.push_back(row.id);
        for (const auto& c : children) c->collect(ids);
    }
    std::vector<std::string> pieces() const {
        std::vector<std::string> ids;
        collect(ids);
        return ids;
    }
};

PieceModel::PieceModel() : root(std::make_unique<Node>()) {}
PieceModel::~PieceModel() = default;

void PieceModel::setJob(const Job& job) {
    Node fresh;
    Node* at = &fresh;
    std::map<std::string, int> parts; // of a group that others are sewn between
    for (const Piece& p : job.pieces) {
        while (at->parent && !(liesIn(p.group, at->row.id))) at = at->parent;
        while (at->row.id != p.group) {
            const std::string path = groupBelow(p.group, at->row.id);
            if (path.empty()) break;
            const int part = ++parts[path];
            at = &at->add({QString("group %1 %2").arg(part).arg(q(path)), path, true,
                           q(lastName(path)), part > 1 ? tr("goes on") : QString()});
        }
        at->add({"piece " + q(p.id), p.id, false, q(p.name), remarksOf(job, p), p.hidden,
                 threadsOf(p)});
    }
    update(*root, fresh.children);
}

/// Lines that begin and end the list alike stay; what lies between is taken out and put in.
void PieceModel::update(Node& node, std::vector<std::unique_ptr<Node>>& fresh) {
    auto& old = node.children;
    const auto same = [](const auto& a, const auto& b) { return a->row.key == b->row.key; };
    const std::size_t least = std::min(old.size(), fresh.size());
    std::size_t head = 0, tail = 0;
    while (head < least && same(old[head], fresh[head])) ++head;
    while (tail < least - head && same(old[old.size() - 1 - tail], fresh[fresh.size() - 1 - tail]))
        ++tail;
    const QModelIndex parent = indexOf(node);
    const auto at = [](auto& list, std::size_t i) {
        return list.begin() + static_cast<std::ptrdiff_t>(i);
    };
    if (old.size() > head + tail) {
        beginRemoveRows(parent, static_cast<int>(head), static_cast<int>(old.size() - tail) - 1);
        old.erase(at(old, head), at(old, old.size() - tail));
        node.number();
        endRemoveRows();
    }
    const std::size_t comes = fresh.size() - head - tail;
    if (comes > 0) {
        beginInsertRows(parent, static_cast<int>(head), static_cast<int>(head + comes) - 1);
        old.insert(at(old, head), std::make_move_iterator(at(fresh, head)),
                   std::make_move_iterator(at(fresh, head + comes)));
        node.number();
        for (std::size_t i = head; i < head + comes; ++i) old[i]->number();
        endInsertRows();
    }
    for (std::size_t i = 0; i < old.size(); ++i) {
        if (!fresh[i]) continue; // it came whole
        if (old[i]->row != fresh[i]->row) {
            old[i]->row = fresh[i]->row;
            emit dataChanged(indexOf(*old[i]), indexOf(*old[i]));
        }
        update(*old[i], fresh[i]->children);
    }
}

PieceModel::Node& PieceModel::nodeOf(const QModelIndex& index) const {
    return index.isValid() ? *static_cast<Node*>(index.internalPointer()) : *root;
}

QModelIndex PieceModel::indexOf(const Node& node) const {
    return node.parent ? createIndex(node.place, 0, &node) : QModelIndex();
}

const PieceRow& PieceModel::row(const QModelIndex& index) const { return nodeOf(index).row; }

std::vector<std::string> PieceModel::piecesOf(const QModelIndex& index) const {
    return nodeOf(index).pieces();
}

QModelIndex PieceModel::index(int row, int column, const QModelIndex& parent) const {
    const Node& node = nodeOf(parent);
    if (column != 0 || row < 0 || row >= static_cast<int>(node.children.size())) return {};
    return createIndex(row, 0, node.children[static_cast<std::size_t>(row)].get());
}

QModelIndex PieceModel::parent(const QModelIndex& index) const {
    return index.isValid() ? indexOf(*nodeOf(index).parent) : QModelIndex();
}

int PieceModel::rowCount(const QModelIndex& parent) const {
    return static_cast<int>(nodeOf(parent).children.size());
}

int PieceModel::columnCount(const QModelIndex&) const { return 1; }

QVariant PieceModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid()) return {};
    const Node& node = nodeOf(index);
    const PieceRow& r = node.row;
    switch (role) {
    case Qt::DisplayRole: {
        QString remarks = r.remarks;
        if (r.group) {
            const int n = static_cast<int>(node.pieces().size());
            remarks = tr("%n pieces", nullptr, n) + (remarks.isEmpty() ? "" : ", " + remarks);
        }
        return remarks.isEmpty() ? r.name : r.name + "   " + remarks;
    }
    case Qt::ToolTipRole:
        return data(index, Qt::DisplayRole);
    case Qt::EditRole:
        return r.name;
    case Qt::DecorationRole:
        return r.group ? QVariant() : QVariant(swatches(r.threads));
    case Qt::ForegroundRole:
        return r.hidden ? QVariant(theme().ink2) : QVariant();
    default:
        return {};
    }
}

bool PieceModel::setData(const QModelIndex& index, const QVariant& value, int role) {
    const QString name = value.toString().trimmed();
    if (role != Qt::EditRole || !index.isValid() || name.isEmpty() || name == row(index).name)
        return false;
    emit renamed(row(index), name);
    return true;
}

Qt::ItemFlags PieceModel::flags(const QModelIndex& index) const {
    if (!index.isValid()) return Qt::ItemIsDropEnabled;
    return Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsEditable | Qt::ItemIsDragEnabled |
           Qt::ItemIsDropEnabled;
}

QStringList PieceModel::mimeTypes() const { return {rowsMime}; }

QMimeData* PieceModel::mimeData(const QModelIndexList& indexes) const {
    QByteArray bytes;
    QDataStream stream(&bytes, QIODevice::WriteOnly);
    for (const QModelIndex& i : indexes)
        if (i.isValid()) stream << row(i).key;
    auto* data = new QMimeData;
    data->setData(rowsMime, bytes);
    return data;
}

/// The piece that is sewn first from the line at `row` of a group on; empty: none.
std::string PieceModel::pieceAfter(const Node& node, int row) const {
    for (std::size_t i = static_cast<std::size_t>(row); i < node.children.size(); ++i) {
        const auto pieces = node.children[i]->pieces();
        if (!pieces.empty()) return pieces.front();
    }
    return node.parent ? pieceAfter(*node.parent, node.place + 1) : std::string();
}

bool PieceModel::dropMimeData(const QMimeData* data, Qt::DropAction, int row, int,
                              const QModelIndex& parent) {
    if (!data->hasFormat(rowsMime)) return false;
    QByteArray bytes = data->data(rowsMime);
    QDataStream stream(&bytes, QIODevice::ReadOnly);
    std::set<QString> keys;
    while (!stream.atEnd()) {
        QString key;
        stream >> key;
        if (stream.status() != QDataStream::Ok) return false;
        keys.insert(key);
    }
    // Dropped on a piece: before it; on a group: at its end.
    const Node* into = &nodeOf(parent);
    if (row < 0 && into->parent && !into->row.group) {
        row = into->place;
        into = into->parent;
    }
    if (row < 0) row = static_cast<int>(into->children.size());
    const std::string before = pieceAfter(*into, row), to = into->row.id;
    std::vector<std::string> ids;
    std::vector<Edit> edits;
    const std::function<bool(const Node&)> take = [&](const Node& node) {
        if (!node.parent || !keys.contains(node.row.key)) {
            for (const auto& c : node.children)
                if (!take(*c)) return false;
            return true;
        }
        if (node.row.group && liesIn(to, node.row.id)) return false; // into itself
        const auto pieces = node.pieces();
        ids.insert(ids.end(), pieces.begin(), pieces.end());
        edits.push_back(moveToGroup(pieces, node.parent->row.id, to));
        return true;
    };
    if (!take(*root) || ids.empty()) return false;
    edits.insert(edits.begin(), sewBefore(ids, before));
    const std::string name = edits.front().name;
    emit moved(together(name, std::move(edits)));
    return false; // the job tells what became of it; the view is not to take lines out
}

} // namespace rapt::app
