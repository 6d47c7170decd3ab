#pragma once
// Charts of the records, each with its numbers as a table.

#include "app/compose/compose_page.h"
#include "learn/chart_data.h"

#include <QTableWidget>

namespace rapt::app {

class ChartView : public QWidget {
    Q_OBJECT
public:
    using QWidget::QWidget;
    void setData(const ChartData& fresh);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    ChartData shown;
};

class ChartsPage : public ComposePage {
    Q_OBJECT
public:
    explicit ChartsPage(Session& session);
    void refresh() override;
    const ChartData& data() const { return shown; }
    /// Writes the chart as PNG or SVG, or its table as CSV, by the name's ending.
    Status save(const QString& path);

private:
    void draw();
    void fillTable();

    std::vector<StitchOut> records;
    ChartData shown;
    QComboBox *kind, *fabric;
    ChartView* view;
    QTableWidget* table;
    QLabel* words;
    bool stale = true;
};

} // namespace rapt::app
