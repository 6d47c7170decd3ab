#include "app/window/command_search.h"

#include "app/window/commands.h"

#include <QAction>
#include <QKeyEvent>
#include <QLineEdit>
#include <QListView>
#include <QSortFilterProxyModel>
#include <QStandardItemModel>
#include <QVBoxLayout>

namespace rapt::app {
namespace {

/// Every word that was typed must be somewhere in it.
class WordFilter : public QSortFilterProxyModel {
public:
    using QSortFilterProxyModel::QSortFilterProxyModel;
    void setWords(const QString& typed) {
        wanted = typed.split(' ', Qt::SkipEmptyParts);
        invalidateFilter();
    }
    bool filterAcceptsRow(int row, const QModelIndex& parent) const override {
        const QString text = sourceModel()->index(row, 0, parent).data().toString();
        return std::all_of(wanted.begin(), wanted.end(),
                           [&](const QString& w) { return text.contains(w, Qt::CaseInsensitive); });
    }

private:
    QStringList wanted;
};

} // namespace

CommandSearch::CommandSearch(QMenuBar& menus, QWidget* parent)
    : QDialog(parent), words(new QLineEdit), list(new QListView), found(new WordFilter(this)) {
    setWindowTitle(tr("Find a command"));
    resize(460, 380);
    auto* model = new QStandardItemModel(this);
    for (const Command& c : commandsOf(menus)) {
        if (!c.action->isEnabled()) continue;
        const QString keys = c.action->shortcut().toString(QKeySequence::NativeText);
        auto* item = new QStandardItem(c.path + (keys.isEmpty() ? "" : "   " + keys));
        item->setEditable(false);
        item->setData(QVariant::fromValue(c.action), Qt::UserRole);
        model->appendRow(item);
    }
    found->setSourceModel(model);
    words->setObjectName("commandWords");
    words->setPlaceholderText(tr("A few letters of what you want"));
    words->setAccessibleName(tr("Find a command"));
    list->setObjectName("commands");
    list->setAccessibleName(tr("Commands"));
    list->setModel(found);
    auto* column = new QVBoxLayout(this);
    column->addWidget(words);
    column->addWidget(list);
    const auto markFirst = [this] { list->setCurrentIndex(found->index(0, 0)); };
    connect(words, &QLineEdit::textChanged, this, [this, markFirst](const QString& text) {
        static_cast<WordFilter*>(found)->setWords(text);
        markFirst();
    });
    connect(words, &QLineEdit::returnPressed, this, &QDialog::accept);
    connect(list, &QListView::activated, this, &QDialog::accept);
    words->installEventFilter(this);
    words->setFocus();
    markFirst();
}

QAction* CommandSearch::chosen() const {
    return list->currentIndex().data(Qt::UserRole).value<QAction*>();
}

/// Up and down walk the list while the words are typed.
bool CommandSearch::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        const int step = key == Qt::Key_Down ? 1 : key == Qt::Key_Up ? -1 : 0;
        const QModelIndex to = found->index(list->currentIndex().row() + step, 0);
        if (step != 0) {
            if (to.isValid()) list->setCurrentIndex(to);
            return true;
        }
    }
    return QDialog::eventFilter(watched, event);
}

} // namespace rapt::app
