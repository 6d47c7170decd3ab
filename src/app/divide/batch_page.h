#pragma once
// Many items of this layout: how many fit one clamping of each frame, and what that costs.

#include "app/compose/compose_page.h"
#include "divide/batch.h"

#include <QFutureWatcher>
#include <QPlainTextEdit>
#include <QTableWidget>

namespace rapt::app {

class BatchPage : public ComposePage {
    Q_OBJECT
public:
    explicit BatchPage(Session& session);
    ~BatchPage() override;
    void refresh() override;

signals:
    /// One clamping laid out, as a job of its own.
    void jobMade(const Job& job);

private:
    /// What is asked, and what came of it.
    struct Answer {
        quint64 revision = 0;
        BatchRequest request;
        std::vector<BatchOffer> offers;
        QString reason;
    };
    void ask();
    void fill();
    void lay();
    std::vector<std::string> names() const;

    NumberEdit* quantity;
    LengthEdit* gap;
    QTableWidget* table;
    QLabel* words;
    QPlainTextEdit* nameList;
    QPushButton* layOut;
    BatchRequest request;
    int quantityInBrief = 0;
    Answer answer;
    QFutureWatcher<Answer> watcher;
    QFutureWatcher<std::shared_ptr<const Result<Job>>> laying;
};

} // namespace rapt::app
