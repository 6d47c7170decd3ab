#pragma once
// Many items of this layout: how many fit one clamping of each frame, and what that costs.

#include "app/compose/compose_page.h"
#include "divide/batch.h"

#include <QPlainTextEdit>
#include <QTableWidget>

namespace rapt::app {

class BatchPage : public ComposePage {
    Q_OBJECT
public:
    explicit BatchPage(Session& session);
    void refresh() override;

signals:
    /// One clamping laid out, as a job of its own.
    void jobMade(const Job& job);

private:
    /// What came of what was asked.
    struct Answer {
        std::optional<quint64> revision; ///< of the job that was asked about
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
    std::unique_ptr<Errands> planning = session.errands(), laying = session.errands();
};

} // namespace rapt::app
