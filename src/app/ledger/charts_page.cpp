#include "app/ledger/charts_page.h"

#include "app/ledger/chart_painter.h"

#include "app/kit/questions.h"
#include "app/theme/theme.h"
#include "base/file_io.h"

#include <QBuffer>
#include <QSvgGenerator>

namespace rapt::app {
namespace {

constexpr int mostRecords = 20'000;
constexpr QSize savedSize(640, 420);
const QStringList charted{"date",        "job",    "fabric",  "outcome",           "cause",
                          "peak_layers", "method", "gaps_mm", "seconds_estimated", "seconds_taken",
                          "threads"};

QString text(const std::string& s) { return QString::fromStdString(s); }

} // namespace

void ChartView::setData(const ChartData& fresh) {
    shown = fresh;
    setAccessibleName(text(fresh.title));
    update();
}

void ChartView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    paintChart(painter, rect(), shown);
}

ChartsPage::ChartsPage(Session& s)
    : Page(s), kind(new QComboBox), fabric(new QComboBox), view(new ChartView),
      table(new RowsTable({"", "", ""}, "chartTable")), words(quietLabel({})) {
    kind->setObjectName("chartKind");
    kind->addItems({tr("Joins by method"), tr("Trouble against load"), tr("Estimate against truth"),
                    tr("Thread by month"), tr("Mended and spoilt by cause")});
    fabric->setObjectName("chartFabric");
    for (const Fabric& f : session.library.fabrics) fabric->addItem(text(f.name), text(f.id));
    column->addWidget(kind);
    column->addWidget(fabric);
    view->setObjectName("chart");
    auto* middle = makeCentre();
    middle->addWidget(view, 1);
    table->setVisibleRows(8);
    middle->addWidget(table);
    column->addWidget(words);
    column->addWidget(button(tr("Save as PNG, SVG or CSV…"), "saveChart", [this] {
        const QString path = askSaveName(this, tr("Save the chart"), "chart.png",
                                         tr("Picture or table (*.png *.svg *.csv)"));
        if (path.isEmpty()) return;
        if (const Status saved = save(path); !saved)
            emit failed(tr("The chart is not saved"), text(saved.error().line()));
    }));
    column->addStretch();
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
    view->setData(chartOf(chosen, records, cloth ? *cloth : Fabric()));
    words->setText(data().rows.empty() ? tr("No record tells of it yet.") : QString());
    fillTable();
}

void ChartsPage::fillTable() {
    QStringList heads;
    for (const std::string& h : data().heads) heads << text(h);
    table->setHeads(heads);
    const auto number = [](double v) {
        return QString::number(v, 'f', v == std::round(v) || v >= 100 ? 0 : v < 10 ? 2 : 1);
    };
    std::vector<TableRow> rows;
    for (const ChartRow& r : data().rows)
        rows.push_back(
            {QString::number(rows.size()), {text(r.name), number(r.value), number(r.second)}});
    table->setRows(rows);
}

Status ChartsPage::save(const QString& path) {
    const std::string name = path.toStdString();
    if (path.endsWith(".csv", Qt::CaseInsensitive)) return writeWholeFile(name, chartCsv(data()));
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    if (path.endsWith(".svg", Qt::CaseInsensitive)) {
        QSvgGenerator svg;
        svg.setOutputDevice(&buffer);
        svg.setSize(savedSize);
        svg.setViewBox(QRect(QPoint(), savedSize));
        svg.setTitle(text(data().title));
        QPainter painter(&svg);
        paintChart(painter, QRectF(QPointF(), savedSize), data());
    } else {
        QImage image(2 * savedSize, QImage::Format_RGB32);
        image.setDevicePixelRatio(2);
        QPainter painter(&image);
        paintChart(painter, QRectF(QPointF(), savedSize), data());
        painter.end();
        image.save(&buffer, "PNG");
    }
    return writeWholeFile(name, bytes.toStdString());
}

} // namespace rapt::app
