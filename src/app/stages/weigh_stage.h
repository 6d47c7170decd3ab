#pragma once
// Weigh: how much thread the cloth carries, where it is too much, and what to do about it.

#include "app/compose/compose_page.h"
#include "app/panels/findings_list.h"
#include "app/stages/stage_view.h"

#include <QButtonGroup>

namespace rapt::app {

/// How much of the sewn cloth carries which load, with the limit marked.
class LoadHistogram : public QWidget {
    Q_OBJECT
public:
    explicit LoadHistogram(Session& session, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {280, 124}; }
    void refresh();

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Session& session;
    std::vector<double> bars; ///< share of cells, from 0 to `top`
    double top = 1;
    double limit = 0;
    std::shared_ptr<const void> shown; ///< the weighing that the bars are of
    LoadKind shownKind = LoadKind::layers;
};

class WeighStage : public StageView {
    Q_OBJECT
public:
    enum Page { findings, pieces, mend, cloth };
    explicit WeighStage(Session& session, QWidget* parent = nullptr);
    void showPage(Page page);

protected:
    void refresh() override;

private:
    void buildPages();
    void judge();
    void addPage(const QString& title, QWidget* page);

    QComboBox* kind;
    LoadHistogram* histogram;
    QButtonGroup* tabs;
    QHBoxLayout* tabRow;
    std::vector<QWidget*> sheets; ///< one a tab; only the chosen one is shown
    std::vector<ComposePage*> livePages;
};

} // namespace rapt::app
