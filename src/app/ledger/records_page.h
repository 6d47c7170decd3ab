#pragma once
// Records: keep this stitch-out, find earlier ones, open them as they were, sew them again.

#include "app/kit/page.h"
#include "app/ledger/record_model.h"
#include "app/ledger/record_pane.h"

#include <QListView>
#include <QStackedWidget>
#include <QTableView>
#include <QTimer>

namespace rapt::app {

struct JobSewn;

class RecordsPage : public Page {
    Q_OBJECT
public:
    explicit RecordsPage(Session& session);
    void refresh() override;
    /// Asks how the open job came out, and keeps it.
    void keepThis();

signals:
    /// A job as it was then is to be opened, under no file; its words may be changed first.
    void jobAsked(const Job& job);

private:
    QHBoxLayout* searchRow();
    void buildViews();
    void buildActions();
    void look();
    void showCount();
    void keepChosen();
    void showChosen();
    void showActions();
    void keep(const StitchOut& before, const JobSewn& sewn);
    void changeChosen();
    void removeChosen();
    void openChosen(bool again);
    /// The chosen record with all that is known; null while it is looked up.
    const StitchOut* whole() const;

    RecordModel model;
    RecordCard card;
    RecordCell cell;
    QLineEdit* search;
    QComboBox *outcome, *fabric;
    QPushButton* asPictures;
    QStackedWidget* views; ///< the table, the gallery
    QTableView* table;
    QListView* gallery;
    std::array<RecordPane*, 2> panes; ///< of the chosen records, side by side
    QLabel* count;
    QPushButton *open, *again, *change, *remove;
    QStringList shownUids;
    QTimer typing;
};

} // namespace rapt::app
