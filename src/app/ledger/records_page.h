#pragma once
// Records: keep this stitch-out, find earlier ones, open them as they were, sew them again.

#include "app/compose/compose_page.h"
#include "app/ledger/record_model.h"

#include <QListView>
#include <QTimer>

namespace rapt::app {

struct JobSewn;

class RecordsPage : public ComposePage {
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
    void buildSearch();
    void buildList();
    void buildChosen();
    void look();
    void showCount();
    void showChosen();
    void keep(const StitchOut& before, const JobSewn& sewn);
    void changeChosen();
    void removeChosen();
    void openChosen(bool again);
    const StitchOut* chosen() const;

    RecordModel model;
    RecordCard card;
    QLineEdit* search;
    QComboBox *outcome, *fabric;
    QPushButton* asPictures;
    QListView* list;
    QLabel *count, *details;
    QPushButton *open, *again, *change, *remove;
    QTimer typing;
    std::optional<StitchOut> whole; ///< the chosen record with all that is known
};

} // namespace rapt::app
