#pragma once
// The shelf: designs as cards, found and brought onto the cloth.

#include "app/document/session.h"
#include "app/shelf/shelf_model.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListView>

namespace rapt::app {

class ShelfPanel : public QWidget {
    Q_OBJECT
public:
    explicit ShelfPanel(Session& session, QWidget* parent = nullptr);

    ShelfModel& model() { return *designs; }
    /// Shows these folders, also the next time.
    void setFolders(const QStringList& folders);
    /// Path of the chosen card; empty if none is.
    QString chosen() const;
    /// Asks for a folder and shows it too.
    void addFolder();

signals:
    /// Enter or a double click on a card.
    void sent(const QString& path);
    /// A card in place of the selected piece's design.
    void replaceAsked(const QString& path);

protected:
    bool eventFilter(QObject* object, QEvent* event) override;

private:
    void showState();
    void editTags();
    void showMenu(QPoint at);

    Session& session;
    ShelfModel* designs;
    ShelfFilter* filter;
    QLineEdit* search;
    QComboBox* order;
    QListView* cards;
    QLabel* state;
};

} // namespace rapt::app
