#pragma once
// The seven stages, threaded together by a running stitch that is solid where a stage is settled.

#include "app/document/session.h"
#include "app/window/stage_summary.h"

#include <QAbstractButton>
#include <QLabel>
#include <QWidget>
#include <array>

namespace rapt::app {

class StageButton : public QAbstractButton {
    Q_OBJECT
public:
    StageButton(Session& session, Stage stage, QWidget* parent = nullptr);
    void show(const StageSummary& summary, bool settledBefore);
    QSize sizeHint() const override { return {212, 66}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void paintState(QPainter& painter, QPointF centre) const;

    Session& session;
    Stage stage;
    StageSummary summary;
    bool settledBefore = false;
};

class WorkOrder : public QWidget {
    Q_OBJECT
public:
    explicit WorkOrder(Session& session, QWidget* parent = nullptr);
    void showPointer(Vec2 mm);
    void hidePointer();

private:
    void refresh();

    Session& session;
    std::array<StageButton*, stageCount> buttons{};
    QLabel* clothSwatch;
    QLabel* pointerPlace;
    QLabel* pointerHem;
};

} // namespace rapt::app
