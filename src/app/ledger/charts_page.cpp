#include "app/ledger/charts_page.h"

#include "app/panels/plain_table.h"
#include "app/panels/questions.h"
#include "app/theme/theme.h"
#include "base/file_io.h"

#include <QBuffer>
#include <QtCharts/QBarCategoryAxis>
#include <QtCharts/QBarSeries>
#include <QtCharts/QBarSet>
#include <QtCharts/QChart>
#include <QtCharts/QChartView>
#include <QtCharts/QLineSeries>
#include <QtCharts/QScatterSeries>
#include <QtCharts/QValueAxis>
#include <QtSvg/QSvgGenerator>

namespace rapt::app {
namespace {

constexpr int mostRecords = 20'000;
constexpr QSize savedSize(900, 600);
const QStringList charted{"date", "job", "fabric", "outcome", "cause", "peak_layers", "method",
                          "gaps_mm", "seconds_estimated", "seconds_taken", "threads"};

QString text(const std::string& s) { return QString::fromStdString(s); }

/// Axis and pen of the theme; dashes tell lines apart where colour does not.
void dress(QAbstractAxis* axis, const std::string& title) {
    const Theme& t = theme();
    axis->setTitleText(text(title));
    axis->setTitleFont(faceOf(11));
    axis->setTitleBrush(t.ink2);
    axis->setLabelsFont(faceOf(10));
    axis->setLabelsColor(t.ink);
    axis->setLinePenColor(t.ink2);
    axis->setGridLineColor(t.rule);
}

QLineSeries* lineThrough(const std::vector<QPointF>& points, const QString& name,
                         Qt::PenStyle style) {
    auto* line = new QLineSeries;
    for (const QPointF& p : points) line->append(p);
    line->setName(name);
    line->setPen(QPen(theme().stop, 1.8, style));
    return line;
}

void addPoints(QChart& chart, const ChartData& d) {
    auto* series = new QScatterSeries;
    series->setName(QObject::tr("stitch-outs"));
    series->setMarkerSize(6);
    series->setColor(theme().tide);
    series->setBorderColor(theme().paper);
    double most = 1;
    for (const ChartRow& r : d.rows) {
        series->append(r.value, r.second);
        most = std::max({most, r.value, r.second});
    }
    chart.addSeries(series);
    auto* x = new QValueAxis;
    auto* y = new QValueAxis;
    for (QValueAxis* axis : {x, y}) {
        axis->setRange(0, most * 1.05);
        axis->setLabelFormat("%.0f");
        axis->setTickCount(5);
        axis->applyNiceNumbers();
    }
    dress(x, d.xTitle);
    dress(y, d.yTitle);
    chart.addAxis(x, Qt::AlignBottom);
    chart.addAxis(y, Qt::AlignLeft);
    series->attachAxis(x);
    series->attachAxis(y);
    auto* same = lineThrough({{0, 0}, {x->max(), x->max()}}, QObject::tr("as estimated"), Qt::DashLine);
    chart.addSeries(same);
    same->attachAxis(x);
    same->attachAxis(y);
}

void addBars(QChart& chart, const ChartData& d) {
    auto* set = new QBarSet(text(d.yTitle));
    QStringList names;
    double most = 0;
    for (const ChartRow& r : d.rows) {
        *set << r.value;
        names << text(r.name);
        most = std::max(most, r.value);
    }
    set->setBrush(QBrush(theme().tide, Qt::BDiagPattern));
    set->setPen(QPen(theme().tide, 1.2));
    auto* series = new QBarSeries;
    series->setBarWidth(0.7);
    series->append(set);
    chart.addSeries(series);
    auto* x = new QBarCategoryAxis;
    x->append(names);
    auto* y = new QValueAxis;
    y->setRange(0, most > 0 ? most * 1.08 : 1);
    y->setTickCount(5);
    y->applyNiceNumbers();
    y->setLabelFormat(y->max() < 5 ? "%.1f" : "%.0f");
    dress(x, d.xTitle);
    dress(y, d.yTitle);
    if (names.size() > 4) x->setLabelsAngle(-60);
    chart.addAxis(x, Qt::AlignBottom);
    chart.addAxis(y, Qt::AlignLeft);
    series->attachAxis(x);
    series->attachAxis(y);
    if (!d.line || d.rows.size() < 2) return;
    const double at = std::clamp(*d.line, -0.5, static_cast<double>(d.rows.size()) - 0.5);
    auto* limit = lineThrough({{at, 0}, {at, y->max()}}, text(d.lineName), Qt::DashLine);
    chart.addSeries(limit);
    limit->attachAxis(x);
    limit->attachAxis(y);
}

QChart* chartFor(const ChartData& d) {
    const Theme& t = theme();
    auto* chart = new QChart;
    chart->setTitle(text(d.title));
    chart->setTitleFont(faceOf(13, true));
    chart->setTitleBrush(t.ink);
    chart->setBackgroundBrush(t.paper);
    chart->setBackgroundRoundness(0);
    chart->setMargins(QMargins(2, 2, 6, 2));
    chart->legend()->setFont(faceOf(11));
    chart->legend()->setLabelColor(t.ink);
    chart->legend()->setAlignment(Qt::AlignBottom);
    chart->legend()->setVisible(d.points || d.line);
    if (d.points)
        addPoints(*chart, d);
    else
        addBars(*chart, d);
    return chart;
}

} // namespace

ChartsPage::ChartsPage(Session& s)
    : ComposePage(s), kind(new QComboBox), fabric(new QComboBox), view(new QChartView),
      table(new QTableWidget), words(quietLabel({})) {
    kind->setObjectName("chartKind");
    kind->addItems({tr("Joins by method"), tr("Trouble against load"), tr("Estimate against truth"),
                    tr("Thread by month"), tr("Mended and spoilt by cause")});
    fabric->setObjectName("chartFabric");
    for (const Fabric& f : session.library.fabrics) fabric->addItem(text(f.name), text(f.id));
    column->addWidget(kind);
    column->addWidget(fabric);
    view->setObjectName("chart");
    view->setRenderHint(QPainter::Antialiasing);
    view->setMinimumHeight(250);
    view->setFrameShape(QFrame::NoFrame);
    column->addWidget(view, 3);
    makePlain(*table, {"", "", ""}, 7);
    table->setObjectName("chartTable");
    column->addWidget(table);
    column->addWidget(words);
    column->addWidget(button(tr("Save as PNG, SVG or CSV…"), "saveChart", [this] {
        const QString path = askSaveName(this, tr("Save the chart"), "chart.png",
                                         tr("Picture or table (*.png *.svg *.csv)"));
        if (path.isEmpty()) return;
        if (const Status saved = save(path); !saved)
            emit failed(tr("The chart is not saved"), text(saved.error().line()));
    }));
    connect(kind, &QComboBox::activated, this, &ChartsPage::draw);
    connect(fabric, &QComboBox::activated, this, &ChartsPage::draw);
    connect(&session.ledger, &LedgerState::changed, this, [this] {
        stale = true;
        if (isVisible()) refresh();
    });
    connect(&session, &Session::viewChanged, this, [this] {
        if (isVisible()) draw();
    });
}

void ChartsPage::refresh() {
    if (!stale) return;
    stale = false;
    fabric->setCurrentIndex(std::max(0, fabric->findData(text(session.job().brief.fabric))));
    session.ledger.ask(
        this,
        [](SharedLedger& l) {
            return l.with([](Ledger& r) { return r.find({}, mostRecords, {}, charted); });
        },
        [this](Result<std::vector<StitchOut>> found) {
            if (!found) return words->setText(text(found.error().line()));
            records = std::move(*found);
            draw();
        });
}

void ChartsPage::draw() {
    const auto chosen = static_cast<ChartKind>(kind->currentIndex());
    fabric->setVisible(chosen == ChartKind::breaks);
    const auto cloth = session.library.fabric(fabric->currentData().toString().toStdString());
    shown = chartOf(chosen, records, cloth ? *cloth : Fabric());
    QChart* before = view->chart();
    view->setChart(chartFor(shown));
    delete before;
    words->setText(shown.rows.empty() ? tr("No record tells of it yet.") : QString());
    fillTable();
}

void ChartsPage::fillTable() {
    QStringList heads;
    for (const std::string& h : shown.heads) heads << text(h);
    table->setHorizontalHeaderLabels(heads);
    table->setRowCount(static_cast<int>(shown.rows.size()));
    const auto number = [](double v) {
        return QString::number(v, 'f', v == std::round(v) || v >= 100 ? 0 : v < 10 ? 2 : 1);
    };
    for (int i = 0; i < table->rowCount(); ++i) {
        const ChartRow& r = shown.rows[static_cast<std::size_t>(i)];
        const QString cells[] = {text(r.name), number(r.value), number(r.second)};
        for (int c = 0; c < 3; ++c) {
            auto* item = new QTableWidgetItem(cells[c]);
            if (c > 0) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            table->setItem(i, c, item);
        }
    }
}

Status ChartsPage::save(const QString& path) {
    const std::string name = path.toStdString();
    if (path.endsWith(".csv", Qt::CaseInsensitive)) return writeWholeFile(name, chartCsv(shown));
    QChartView large(chartFor(shown));
    large.chart()->setAnimationOptions(QChart::NoAnimation);
    large.resize(savedSize);
    large.setRenderHint(QPainter::Antialiasing);
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    if (path.endsWith(".svg", Qt::CaseInsensitive)) {
        QSvgGenerator svg;
        svg.setOutputDevice(&buffer);
        svg.setSize(savedSize);
        svg.setViewBox(QRect(QPoint(), savedSize));
        svg.setTitle(text(shown.title));
        QPainter painter(&svg);
        large.render(&painter);
    } else {
        large.grab().save(&buffer, "PNG");
    }
    return writeWholeFile(name, bytes.toStdString());
}

} // namespace rapt::app
