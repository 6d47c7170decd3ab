#include "app/ledger/charts_page.h"

#include "app/ledger/chart_painter.h"

#include "app/panels/plain_table.h"
#include "app/panels/questions.h"
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
    : ComposePage(s), kind(new QComboBox), fabric(new QComboBox), view(new ChartView),
      table(new QTableWidget), words(quietLabel({})) {
    kind->setObjectName("chartKind");
    kind->addItems({tr("Joins by method"), tr("Trouble against load"), tr("Estimate against truth"),
                    tr("Thread by month"), tr("Mended and spoilt by cause")});
    fabric->setObjectName("chartFabric");
    for (const Fabric& f : session.library.fabrics) fabric->addItem(text(f.name), text(f.id));
    column->addWidget(kind);
    column->addWidget(fabric);
    view->setObjectName("chart");
    view->setMinimumHeight(250);
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
    view->setData(shown);
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
        paintChart(painter, QRectF(QPointF(), savedSize), shown);
    } else {
        QImage image(2 * savedSize, QImage::Format_RGB32);
        image.setDevicePixelRatio(2);
        QPainter painter(&image);
        paintChart(painter, QRectF(QPointF(), savedSize), shown);
        painter.end();
        image.save(&buffer, "PNG");
    }
    return writeWholeFile(name, bytes.toStdString());
}

} // namespace rapt::app
