#pragma once
// Mend: how the chosen piece is laid at its size, what it gives way to, what of it is sewn.

#include "app/kit/page.h"
#include "app/weigh/scale_ruler.h"
#include "sequence/job_order.h"

#include <QCheckBox>
#include <QListWidget>
#include <QSlider>
#include <memory>
#include <stop_token>

namespace rapt::app {

class MendPage : public Page {
    Q_OBJECT
public:
    explicit MendPage(Session& session);
    void refresh() override;

private:
    void buildPiece();
    void connectPiece();
    void buildJob();
    void showRange(const Piece& piece);
    void showSpacing(const Piece& piece);
    void showRuns(const Piece& piece);
    void changeRespacing(const std::function<void(RespaceOptions&)>& change);
    void changeRelief(bool on);
    void orderThreads();
    void takeOrder(const Result<JobOrder>& ordered);

    QLabel* hint;
    QWidget* fields;
    ScaleRuler* ruler;
    QLabel *reasons, *shareWords;
    QSlider* share;
    LengthEdit *spacing, *longest, *tuck;
    QPushButton* ownSpacing;
    QCheckBox* relieved;
    QLabel* runsHead;
    QListWidget* runs;
    QCheckBox* compare;
    QLabel* orderWords;
    QPushButton* orderButton = nullptr;
    std::unique_ptr<Errands> ordering = session.errands();
    struct RangeKey {
        Piece made; ///< as it was made
        Fabric fabric;
        friend bool operator==(const RangeKey&, const RangeKey&) = default;
    };
    Lookup<RangeKey, std::optional<SafeRange>> ranges;
    bool refreshing = false;
};

} // namespace rapt::app
