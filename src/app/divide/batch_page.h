#pragma once
// Many items of this layout: how many fit one clamping of each frame, and what that costs.

#include "app/kit/page.h"
#include "app/kit/rows_table.h"
#include "divide/batch.h"

#include <QPlainTextEdit>

namespace rapt::app {

/// One hooping of a frame with the items in it, in its true shape.
class BatchPicture : public QWidget {
    Q_OBJECT
public:
    explicit BatchPicture(QWidget* parent = nullptr);
    /// `thread`: of one item, of so many mm.
    void show(const std::optional<Hoop>& frame, const std::vector<BatchPlace>& items,
              const Box& item, const QImage& thread);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::optional<Hoop> frame;
    std::vector<BatchPlace> items;
    Box item;
    QImage thread;
};

class BatchPage : public Page {
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
        Box item;      ///< of one item, mm
        QImage thread; ///< of one item
    };
    void ask();
    void fill();
    void showOffer();
    const BatchOffer* chosen() const;
    void lay();
    std::vector<std::string> names() const;

    NumberEdit* quantity;
    LengthEdit* gap;
    RowsTable* table;
    BatchPicture* picture;
    QLabel* words;
    QPlainTextEdit* nameList;
    QPushButton* layOut;
    BatchRequest request;
    int quantityInBrief = 0;
    Answer answer;
    std::unique_ptr<Errands> planning = session.errands(), laying = session.errands();
};

} // namespace rapt::app
