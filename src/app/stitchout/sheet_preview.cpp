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

SheetPreview::SheetPreview(QWidget* parent)
    : QWidget(parent), pictures([](const SheetInput& i) { return draw(i, screenPixelsPerMm); }),
      view(new QPrintPreviewWidget(&paper, this)), words(new QLabel), back(new QToolButton),
      on(new QToolButton), all(new QToolButton) {
    paper.setFullPage(true);
    paper.setResolution(127);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(12, 4, 12, 4);
    words->setObjectName("previewWords");
    head->addWidget(words, 1);
    back->setText("‹");
    on->setText("›");
    all->setText(tr("All pages"));
    all->setCheckable(true);
    back->setAccessibleName(tr("Pages before"));
    on->setAccessibleName(tr("Next pages"));
    for (QToolButton* b : {back, on, all}) head->addWidget(b);
    column->addLayout(head);
    connect(back, &QToolButton::clicked, this, [this] { turnTo(view->currentPage() - 2); });
    connect(on, &QToolButton::clicked, this, [this] { turnTo(view->currentPage() + 2); });
    connect(all, &QToolButton::clicked, this, [this] { take(); });
    column->addWidget(view, 1);
    view->setObjectName("sheetPreview");
    connect(view, &QPrintPreviewWidget::paintRequested, this,
            [this](QPrinter* printer) { paint(printer, drawn, screenPixelsPerMm); });
    connect(&pictures, &LookupSignals::ready, this, &SheetPreview::take);
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
    paper.setPageLayout(layoutFor(input->printing.paper));
    view->updatePreview();
    if (all->isChecked())
        view->setAllPagesViewMode();
    else if (drawn.size() == 1)
        view->setSinglePageViewMode();
    else
        view->setFacingPagesViewMode();
    view->fitInView();
    turnTo(1);
    emit shown();
}

/// Two pages beside each other, the left one an odd one.
void SheetPreview::turnTo(int page) {
    const int last = std::max(1, pages());
    const int first = std::clamp(page, 1, last) | 1;
    view->setCurrentPage(std::min(first, last));
    const bool whole = all->isChecked() || last <= 2;
    back->setEnabled(!whole && first > 1);
    on->setEnabled(!whole && first + 1 < last);
    all->setVisible(last > 2);
    if (drawn.empty())
        words->setText(reason);
    else if (whole)
        words->setText(last == 1 ? tr("One page at true scale")
                                 : tr("%1 pages at true scale").arg(last));
    else
        words->setText(tr("Pages %1 and %2 of %3 at true scale")
                           .arg(first)
                           .arg(std::min(first + 1, last))
                           .arg(last));
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
