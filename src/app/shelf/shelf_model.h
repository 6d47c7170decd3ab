#pragma once
// The designs of the shelf's folders: listed at once, read in the background.

#include "app/shelf/design_facts.h"

#include <QAbstractListModel>
#include <QSortFilterProxyModel>
#include <QThreadPool>
#include <atomic>
#include <memory>
#include <vector>

namespace rapt::app {

inline constexpr const char* shelfMimeType = "application/x-rapt-thimble-design";

/// One row a file. Names are there at once; facts and pictures follow.
class ShelfModel : public QAbstractListModel {
    Q_OBJECT
public:
    enum Role { pathRole = Qt::UserRole, factsRole, tagsRole, readRole };

    explicit ShelfModel(QString cacheFolder, QObject* parent = nullptr);
    ~ShelfModel() override;

    /// Lists the folders (in the background: one may be slow or gone) and reads what is in them.
    void setFolders(const QStringList& folders);
    const QStringList& folders() const { return shownFolders; }
    /// Folders that are not there, with the reason.
    const QStringList& missing() const { return missingFolders; }
    void reload() { setFolders(shownFolders); }
    bool isSettled() const { return !listing && reading == 0; }

    /// Tags that a person gave to a design.
    void setOwnTags(const QString& path, const QStringList& tags);

    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    QStringList mimeTypes() const override { return {shelfMimeType}; }
    QMimeData* mimeData(const QModelIndexList& indexes) const override;

signals:
    void listed();
    void read();

private:
    struct Row {
        QString path;
        QString folder; ///< below the shelf's folder: a tag
        DesignFacts facts;
        bool isRead = false;
    };
    void takeList(quint64 generation, std::vector<Row> found, QStringList gone);
    void startReading();
    void takeFacts(quint64 generation, int row, const DesignFacts& facts);
    static std::vector<Row> listFolder(const QString& folder, QStringList& gone);

    QString cache;
    QStringList shownFolders, missingFolders;
    std::vector<Row> rows;
    QHash<QString, QStringList> ownTags;
    /// Grows with every new list; work of an older one is dropped. Shared with the workers.
    std::shared_ptr<std::atomic<quint64>> current = std::make_shared<std::atomic<quint64>>(0);
    bool listing = false;
    int reading = 0;
    QThreadPool pool;
};

/// Finds and sorts. The search takes words (of names and tags), sizes (`<100mm`, `>4in`) and thread
/// counts (`3 threads`); all of them must hold.
class ShelfFilter : public QSortFilterProxyModel {
    Q_OBJECT
public:
    enum class Order { name, size, stitches, threads };
    using QSortFilterProxyModel::QSortFilterProxyModel;

    void setSearch(const QString& text);
    void setOrder(Order order);

protected:
    bool filterAcceptsRow(int row, const QModelIndex& parent) const override;
    bool lessThan(const QModelIndex& a, const QModelIndex& b) const override;

private:
    QStringList words;
    double underMm = 1e9, overMm = -1;
    int threads = -1;
    Order wanted = Order::name;
};

} // namespace rapt::app

Q_DECLARE_METATYPE(rapt::app::DesignFacts)
