#pragma once
// Findings: how the load is spread over the cloth, what is wrong, and how it went last time.

#include "app/kit/page.h"

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

class FindingsPage : public Page {
    Q_OBJECT
public:
    explicit FindingsPage(Session& session);
    void refresh() override;

private:
    QComboBox* kind;
    LoadHistogram* histogram;
};

} // namespace rapt::app
