#pragma once
// Charts of the records, each with its numbers as a table.

#include "app/kit/page.h"
#include "app/kit/rows_table.h"
#include "learn/chart_data.h"

namespace rapt::app {

class ChartView : public QWidget {
    Q_OBJECT
public:
    using QWidget::QWidget;
    void setData(const ChartData& fresh);
    const ChartData& data() const { return shown; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    ChartData shown;
};

class ChartsPage : public Page {
    Q_OBJECT
public:
    explicit ChartsPage(Session& session);
    void refresh() override;
    const ChartData& data() const { return view->data(); }
    /// Writes the chart as PNG or SVG, or its table as CSV, by the name's ending.
    Status save(const QString& path);

private:
    void draw();
    void fillTable();

    std::vector<StitchOut> records;
    QComboBox *kind, *fabric;
    ChartView* view;
    RowsTable* table;
    QLabel* words;
    bool stale = true;
};

} // namespace rapt::app
