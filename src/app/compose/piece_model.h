#pragma once
// The pieces of a job in sewing order as a tree: a group holds what follows each other in it.

#include "job/groups.h"

#include <QAbstractItemModel>
#include <QIcon>

#include <memory>

namespace rapt::app {

/// What one line stands for.
struct PieceRow {
    QString key;        ///< stays when the job changes
    std::string id;     ///< of the piece, or the path of the group
    bool group = false; ///< a group, or a part of one that others are sewn between
    QString name, remarks;
    bool hidden = false;           ///< not sewn
    std::vector<Thread> threads{}; ///< of a piece
    friend bool operator==(const PieceRow&, const PieceRow&) = default;
};

/// Tells its views of lines that went, came or changed, and of no others.
class PieceModel : public QAbstractItemModel {
    Q_OBJECT
public:
    PieceModel();
    ~PieceModel() override;

    void setJob(const Job& job);
    const PieceRow& row(const QModelIndex& index) const;
    /// Ids of the pieces that a line stands for, in sewing order.
    std::vector<std::string> piecesOf(const QModelIndex& index) const;

    QModelIndex index(int row, int column, const QModelIndex& parent = {}) const override;
    QModelIndex parent(const QModelIndex& index) const override;
    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    Qt::DropActions supportedDropActions() const override { return Qt::MoveAction; }
    QStringList mimeTypes() const override;
    QMimeData* mimeData(const QModelIndexList& indexes) const override;
    bool dropMimeData(const QMimeData* data, Qt::DropAction action, int row, int column,
                      const QModelIndex& parent) override;

signals:
    void renamed(const rapt::app::PieceRow& row, const QString& name);
    /// Lines were dragged: all of it as one edit.
    void moved(const rapt::Edit& edit);

private:
    struct Node;
    Node& nodeOf(const QModelIndex& index) const;
    QModelIndex indexOf(const Node& node) const;
    void update(Node& node, std::vector<std::unique_ptr<Node>>& fresh);
    std::string pieceAfter(const Node& node, int row) const;

    std::unique_ptr<Node> root;
};

} // namespace rapt::app
