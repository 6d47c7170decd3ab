#pragma once
// The sheets as they will be printed, where the cloth is otherwise.

#include "app/document/session.h"
#include "app/stitchout/sewing_state.h"
#include "sheets/sheets.h"

#include <QPrinter>
#include <QScrollArea>
#include <QToolButton>

namespace rapt::app {

/// All that sheets are made of. Values shared with the workers.
struct SheetInput {
    Job job;
    std::shared_ptr<const Handing> handing;
    std::shared_ptr<const StitchedJob> stitched;
    std::shared_ptr<const std::vector<Finding>> findings;
    std::shared_ptr<const Library> library;
    Needles threaded;
    Palette owned;
    SheetParts parts;
    TemplateOptions printing;

    SheetsRequest request() const;
    friend bool operator==(const SheetInput&, const SheetInput&) = default;
};

/// Pages below each other, as wide as there is room, or several in a row.
class PageColumn : public QWidget {
    Q_OBJECT
public:
    using QWidget::QWidget;
    void setPages(std::vector<QImage> pages);
    const std::vector<QImage>& pages() const { return sheets; }
    /// Whole pages small in rows, instead of one as wide as there is room.
    void setOverview(bool on);
    void fit(int width);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void layOut();

    std::vector<QImage> sheets;
    std::vector<QRect> places;
    std::vector<QPixmap> scaled; ///< as large as they are shown
    bool overview = false;
    int room = 600;
};

class SheetPreview : public QWidget {
    Q_OBJECT
public:
    explicit SheetPreview(QWidget* parent = nullptr);

    /// Shows these sheets as soon as they are drawn.
    void show(const SheetInput& input);
    bool isBusy() const { return pictures.isBusy(); }
    int pages() const { return static_cast<int>(column->pages().size()); }
    /// Why there is nothing to show; may be empty.
    const QString& problem() const { return reason; }
    /// Asks for a printer and prints what is shown.
    void printShown(QWidget* over);

signals:
    void shown();

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    struct Pages {
        std::vector<QImage> images;
        QString problem;
    };
    static Pages draw(const SheetInput& input, double pixelsPerMm);
    void take();
    static void paint(QPrinter* printer, const std::vector<QImage>& images, double pixelsPerMm);

    Lookup<SheetInput, Pages> pictures;
    std::optional<SheetInput> input;
    QString reason;
    QScrollArea* area;
    PageColumn* column;
    QLabel* words;
    QToolButton* all;
};

} // namespace rapt::app
