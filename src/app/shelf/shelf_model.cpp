#include "app/shelf/shelf_model.h"

#include "geometry/lengths.h"

#include <QDirIterator>
#include <QFileInfo>
#include <QMimeData>
#include <QRegularExpression>
#include <QSettings>

namespace rapt::app {
namespace {

constexpr int mostDesigns = 20'000;

QString tagKey(const QString& path) { return "shelf/tags/" + QString(path).replace('/', '|'); }

} // namespace

ShelfModel::ShelfModel(QString cacheFolder, QObject* parent)
    : QAbstractListModel(parent), cache(std::move(cacheFolder)) {
    pool.setMaxThreadCount(2);
}

ShelfModel::~ShelfModel() {
    ++*current;
    pool.clear();
    pool.waitForDone();
}

std::vector<ShelfModel::Row> ShelfModel::listFolder(const QString& folder, QStringList& gone) {
    std::vector<Row> found;
    if (!QFileInfo(folder).isDir()) {
        gone << folder;
        return found;
    }
    QDirIterator files(folder, {"*.stitch.csv", "*.svg"}, QDir::Files,
                       QDirIterator::Subdirectories);
    while (files.hasNext() && static_cast<int>(found.size()) < mostDesigns) {
        Row row;
        row.path = files.next();
        const QString below = QDir(folder).relativeFilePath(QFileInfo(row.path).path());
        row.folder = below == "." ? QFileInfo(folder).fileName() : below;
        row.facts.name = QFileInfo(row.path).fileName().section('.', 0, 0);
        found.push_back(std::move(row));
    }
    return found;
}

void ShelfModel::setFolders(const QStringList& folders) {
    shownFolders = folders;
    listing = true;
    const quint64 generation = ++*current;
    pool.clear();
    pool.start([this, folders, generation] {
        std::vector<Row> found;
        QStringList gone;
        for (const QString& folder : folders)
            for (Row& row : listFolder(folder, gone)) found.push_back(std::move(row));
        QMetaObject::invokeMethod(this,
                                  [this, generation, found = std::move(found), gone]() mutable {
                                      takeList(generation, std::move(found), gone);
                                  });
    });
}

void ShelfModel::takeList(quint64 generation, std::vector<Row> found, QStringList gone) {
    if (generation != *current) return;
    beginResetModel();
    rows = std::move(found);
    missingFolders = std::move(gone);
    ownTags.clear();
    QSettings settings;
    for (const Row& row : rows)
        if (settings.contains(tagKey(row.path)))
            ownTags[row.path] = settings.value(tagKey(row.path)).toStringList();
    endResetModel();
    listing = false;
    startReading();
    emit listed();
}

void ShelfModel::startReading() {
    reading = static_cast<int>(rows.size());
    const quint64 generation = *current;
    for (int i = 0; i < static_cast<int>(rows.size()); ++i)
        pool.start(
            [this, path = rows[static_cast<std::size_t>(i)].path, i, generation, state = current] {
                if (generation != *state) return;
                const DesignFacts facts = cachedDesignFacts(path, cache);
                if (generation != *state) return;
                QMetaObject::invokeMethod(
                    this, [this, generation, i, facts] { takeFacts(generation, i, facts); });
            });
}

void ShelfModel::takeFacts(quint64 generation, int row, const DesignFacts& facts) {
    if (generation != *current) return;
    rows[static_cast<std::size_t>(row)].facts = facts;
    rows[static_cast<std::size_t>(row)].isRead = true;
    --reading;
    emit dataChanged(index(row), index(row));
    emit read();
}

void ShelfModel::setOwnTags(const QString& path, const QStringList& tags) {
    QSettings settings;
    if (tags.isEmpty())
        settings.remove(tagKey(path));
    else
        settings.setValue(tagKey(path), tags);
    ownTags[path] = tags;
    for (int i = 0; i < static_cast<int>(rows.size()); ++i)
        if (rows[static_cast<std::size_t>(i)].path == path) emit dataChanged(index(i), index(i));
}

int ShelfModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows.size());
}

QVariant ShelfModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount()) return {};
    const Row& row = rows[static_cast<std::size_t>(index.row())];
    switch (role) {
    case Qt::DisplayRole:
    case Qt::AccessibleTextRole:
        return row.facts.name;
    case Qt::ToolTipRole:
        return row.facts.problem.isEmpty() ? row.path : row.path + "\n" + row.facts.problem;
    case pathRole:
        return row.path;
    case factsRole:
        return QVariant::fromValue(row.facts);
    case tagsRole:
        return QStringList(row.folder) + row.facts.tags + ownTags.value(row.path);
    case readRole:
        return row.isRead;
    default:
        return {};
    }
}

Qt::ItemFlags ShelfModel::flags(const QModelIndex& index) const {
    return QAbstractListModel::flags(index) | Qt::ItemIsDragEnabled;
}

QMimeData* ShelfModel::mimeData(const QModelIndexList& indexes) const {
    if (indexes.isEmpty()) return nullptr;
    auto* mime = new QMimeData;
    mime->setData(shelfMimeType, indexes.first().data(pathRole).toString().toUtf8());
    return mime;
}

void ShelfFilter::setSearch(const QString& text) {
    words.clear();
    underMm = 1e9;
    overMm = -1;
    threads = -1;
    QString rest = text;
    static const QRegularExpression size(
        "([<>])\\s*([0-9.]+(?:\\s*[0-9]+/[0-9]+)?)\\s*(mm|cm|in)?");
    for (auto m = size.match(rest); m.hasMatch(); m = size.match(rest)) {
        const QString unit = m.captured(3).isEmpty() ? "mm" : m.captured(3);
        const auto mm =
            parseLength((m.captured(2) + " " + unit).toStdString(), LengthUnit::millimetre);
        if (mm) (m.captured(1) == "<" ? underMm : overMm) = *mm;
        rest.remove(m.capturedStart(), m.capturedLength());
    }
    static const QRegularExpression count("\\b([0-9]+)\\s*threads?\\b");
    if (const auto m = count.match(rest); m.hasMatch()) {
        threads = m.captured(1).toInt();
        rest.remove(m.capturedStart(), m.capturedLength());
    }
    words = rest.split(' ', Qt::SkipEmptyParts);
    invalidateFilter();
}

void ShelfFilter::setOrder(Order order) {
    wanted = order;
    invalidate();
    sort(0);
}

bool ShelfFilter::filterAcceptsRow(int row, const QModelIndex& parent) const {
    const QModelIndex index = sourceModel()->index(row, 0, parent);
    const auto facts = index.data(ShelfModel::factsRole).value<DesignFacts>();
    const QString all =
        facts.name + " " + index.data(ShelfModel::tagsRole).toStringList().join(' ');
    for (const QString& word : words)
        if (!all.contains(word, Qt::CaseInsensitive)) return false;
    const double largest = std::max(facts.widthMm, facts.heightMm);
    const bool sized = underMm < 1e9 || overMm >= 0;
    if (sized && (largest <= 0 || largest > underMm || largest < overMm)) return false;
    return threads < 0 || facts.threads == threads;
}

bool ShelfFilter::lessThan(const QModelIndex& a, const QModelIndex& b) const {
    const auto x = a.data(ShelfModel::factsRole).value<DesignFacts>();
    const auto y = b.data(ShelfModel::factsRole).value<DesignFacts>();
    const auto byName = [&] { return QString::localeAwareCompare(x.name, y.name) < 0; };
    switch (wanted) {
    case Order::name:
        return byName();
    case Order::size:
        return std::pair(std::max(x.widthMm, x.heightMm), x.name) <
               std::pair(std::max(y.widthMm, y.heightMm), y.name);
    case Order::stitches:
        return std::pair(x.stitches, x.name) < std::pair(y.stitches, y.name);
    case Order::threads:
        return std::pair(x.threads, x.name) < std::pair(y.threads, y.name);
    }
    return byName();
}

} // namespace rapt::app
