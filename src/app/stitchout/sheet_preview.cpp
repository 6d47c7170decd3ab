#include "app/stitchout/sheet_preview.h"

#include "app/theme/theme.h"

#include <QPainter>
#include <QPrintDialog>

namespace rapt::app {
namespace {

constexpr double screenPixelsPerMm = 5, paperPixelsPerMm = 300 / 25.4;

/// Upright pages of that paper; what is level is turned to fit.
QPageLayout layoutFor(Paper paper) {
    return {QPageSize(paper == Paper::letter ? QPageSize::Letter : QPageSize::A4),
            QPageLayout::Portrait,
            {}};
}

} // namespace

SheetsRequest SheetInput::request() const {
    SheetsRequest r{job,      handing->lists,   stitched->list,
                    *library, handing->machine, handing->fabric};
    r.findings = *findings;
    r.threaded = threaded;
    r.owned = owned;
    r.parts = parts;
    r.printing = printing;
    return r;
}

void PageColumn::setPages(std::vector<QImage> pages) {
    sheets = std::move(pages);
    layOut();
}

void PageColumn::setOverview(bool on) {
    overview = on;
    layOut();
}

void PageColumn::fit(int width) {
    if (width == room) return;
    room = width;
    layOut();
}

void PageColumn::layOut() {
    constexpr int gap = 16;
    const int across = overview ? 3 : 1;
    const int wide = std::max(80, (room - gap * (across + 1)) / across);
    places.clear();
    scaled.clear();
    int y = gap, rowHeight = 0;
    for (std::size_t i = 0; i < sheets.size(); ++i) {
        const int column = static_cast<int>(i) % across;
        if (column == 0 && i > 0) y += std::exchange(rowHeight, 0) + gap;
        const int high = wide * sheets[i].height() / std::max(1, sheets[i].width());
        places.emplace_back(gap + column * (wide + gap), y, wide, high);
        rowHeight = std::max(rowHeight, high);
    }
    scaled.resize(sheets.size());
    resize(room, y + rowHeight + gap);
    update();
}

void PageColumn::paintEvent(QPaintEvent* event) {
    QPainter painter(this);
    painter.fillRect(event->rect(), theme().rule);
    for (std::size_t i = 0; i < places.size(); ++i) {
        if (!places[i].intersects(event->rect())) continue;
        if (scaled[i].isNull()) {
            QImage image = sheets[i].scaled(places[i].size() * devicePixelRatioF(),
                                            Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
            image.setDevicePixelRatio(devicePixelRatioF());
            scaled[i] = QPixmap::fromImage(image);
        }
        painter.drawPixmap(places[i].topLeft(), scaled[i]);
    }
}

SheetPreview::SheetPreview(QWidget* parent)
    : QWidget(parent), pictures([](const SheetInput& i) { return draw(i, screenPixelsPerMm); }),
      area(new QScrollArea), column(new PageColumn), words(new QLabel), all(new QToolButton) {
    auto* lines = new QVBoxLayout(this);
    lines->setContentsMargins(0, 0, 0, 0);
    lines->setSpacing(0);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(12, 4, 12, 4);
    words->setObjectName("previewWords");
    head->addWidget(words, 1);
    all->setText(tr("Overview"));
    all->setObjectName("previewOverview");
    all->setCheckable(true);
    head->addWidget(all);
    lines->addLayout(head);
    area->setWidget(column);
    area->setObjectName("sheetPreview");
    area->setFrameShape(QFrame::NoFrame);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOn);
    lines->addWidget(area, 1);
    connect(all, &QToolButton::toggled, column, &PageColumn::setOverview);
    connect(&pictures, &LookupSignals::ready, this, &SheetPreview::take);
}

void SheetPreview::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    column->fit(area->viewport()->width());
}

SheetPreview::Pages SheetPreview::draw(const SheetInput& input, double pixelsPerMm) {
    const auto made = pictureSheets(input.request(), pixelsPerMm);
    if (!made) return {{}, QString::fromStdString(made.error().reason)};
    Pages pages;
    for (const Image& m : *made) {
        const QImage image(m.pixels.data(), m.width, m.height, 3 * m.width, QImage::Format_RGB888);
        const bool level = m.width > m.height;
        pages.images.push_back(level ? image.transformed(QTransform().rotate(90)) : image.copy());
    }
    return pages;
}

void SheetPreview::show(const SheetInput& wanted) {
    if (input && *input == wanted && !pictures.isBusy() && pages() > 0) return;
    input = wanted;
    words->setText(tr("The sheets are being drawn."));
    take();
}

void SheetPreview::take() {
    if (!input) return;
    const Pages* made = pictures.find(*input);
    if (!made) return;
    reason = made->problem;
    column->setPages(made->images);
    column->fit(area->viewport()->width());
    words->setText(pages() == 0   ? reason
                   : pages() == 1 ? tr("One page")
                                  : tr("%1 pages, as they will be printed").arg(pages()));
    emit shown();
}

void SheetPreview::paint(QPrinter* printer, const std::vector<QImage>& images, double pixelsPerMm) {
    if (images.empty()) return;
    QPainter painter(printer);
    for (std::size_t i = 0; i < images.size(); ++i) {
        if (i > 0) printer->newPage();
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        // By the picture's own millimetres, so that it is true on any paper.
        const double scale = printer->resolution() / 25.4 / pixelsPerMm;
        painter.drawImage(QRectF(QPointF(), QSizeF(images[i].size()) * scale), images[i]);
    }
}

void SheetPreview::printShown(QWidget* over) {
    if (!input) return;
    QPrinter printer(QPrinter::HighResolution);
    printer.setFullPage(true);
    printer.setPageLayout(layoutFor(input->printing.paper));
    QPrintDialog dialog(&printer, over);
    dialog.setWindowTitle(tr("Print the sheets"));
    if (dialog.exec() != QDialog::Accepted) return;
    paint(&printer, draw(*input, paperPixelsPerMm).images, paperPixelsPerMm);
}

} // namespace rapt::app
