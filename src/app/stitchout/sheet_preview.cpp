#include "app/stitchout/sheet_preview.h"

#include "app/theme/theme.h"

#include <QPainter>
#include <QPrintDialog>

namespace rapt::app {
namespace {

constexpr double screenPixelsPerMm = 5, paperPixelsPerMm = 300 / 25.4;

QPageLayout layoutFor(const QImage& page) {
    const bool level = page.width() > page.height();
    // Letter is the wider one of the two.
    const double shape = static_cast<double>(std::max(page.width(), page.height())) /
                         std::min(page.width(), page.height());
    const QPageSize size(shape < 1.35 ? QPageSize::Letter : QPageSize::A4);
    return {size, level ? QPageLayout::Landscape : QPageLayout::Portrait, {}};
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

SheetPreview::SheetPreview(QWidget* parent)
    : QWidget(parent), pictures([](const SheetInput& i) { return draw(i, screenPixelsPerMm); }),
      view(new QPrintPreviewWidget(&paper, this)), words(new QLabel) {
    paper.setFullPage(true);
    paper.setResolution(127);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    words->setContentsMargins(12, 6, 12, 6);
    words->setObjectName("previewWords");
    column->addWidget(words);
    column->addWidget(view, 1);
    view->setObjectName("sheetPreview");
    view->setAllPagesViewMode();
    connect(view, &QPrintPreviewWidget::paintRequested, this,
            [this](QPrinter* on) { paint(on, drawn); });
    connect(&pictures, &LookupSignals::ready, this, &SheetPreview::take);
}

SheetPreview::Pages SheetPreview::draw(const SheetInput& input, double pixelsPerMm) {
    const auto made = pictureSheets(input.request(), pixelsPerMm);
    if (!made) return {{}, QString::fromStdString(made.error().reason)};
    Pages pages;
    for (const Image& m : *made) {
        const QImage image(m.pixels.data(), m.width, m.height, 3 * m.width, QImage::Format_RGB888);
        pages.images.push_back(image.copy());
    }
    return pages;
}

void SheetPreview::show(const SheetInput& wanted) {
    if (input && *input == wanted && !pictures.isBusy() && !drawn.empty()) return;
    input = wanted;
    words->setText(tr("The sheets are being drawn."));
    take();
}

void SheetPreview::take() {
    if (!input) return;
    const Pages* pages = pictures.find(*input);
    if (!pages) return;
    drawn = pages->images;
    reason = pages->problem;
    words->setText(drawn.empty()       ? reason
                   : drawn.size() == 1 ? tr("One page at true scale")
                                       : tr("%1 pages at true scale").arg(drawn.size()));
    if (!drawn.empty()) paper.setPageLayout(layoutFor(drawn.front()));
    view->updatePreview();
    if (drawn.size() == 1)
        view->setSinglePageViewMode();
    else
        view->setAllPagesViewMode();
    emit shown();
}

void SheetPreview::paint(QPrinter* on, const std::vector<QImage>& images) {
    if (images.empty()) return;
    on->setFullPage(true);
    on->setPageLayout(layoutFor(images.front()));
    QPainter painter(on);
    for (std::size_t i = 0; i < images.size(); ++i) {
        if (i > 0) {
            on->setPageLayout(layoutFor(images[i]));
            on->newPage();
        }
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        // By millimetres, so that it is true on any printer.
        const QRectF page = on->paperRect(QPrinter::DevicePixel);
        painter.drawImage(QRectF({0, 0}, page.size()), images[i]);
    }
}

void SheetPreview::printShown(QWidget* over) {
    if (!input) return;
    QPrinter printer(QPrinter::HighResolution);
    QPrintDialog dialog(&printer, over);
    dialog.setWindowTitle(tr("Print the sheets"));
    if (dialog.exec() != QDialog::Accepted) return;
    paint(&printer, draw(*input, paperPixelsPerMm).images);
}

} // namespace rapt::app
