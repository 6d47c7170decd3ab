#pragma once
// The sheets as they will be printed, where the cloth is otherwise.

#include "app/document/session.h"
#include "sheets/sheets.h"

#include <QPrintPreviewWidget>
#include <QPrinter>
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

class SheetPreview : public QWidget {
    Q_OBJECT
public:
    explicit SheetPreview(QWidget* parent = nullptr);

    /// Shows these sheets as soon as they are drawn.
    void show(const SheetInput& input);
    bool isBusy() const { return pictures.isBusy(); }
    int pages() const { return static_cast<int>(drawn.size()); }
    /// Why there is nothing to show; may be empty.
    const QString& problem() const { return reason; }
    /// Asks for a printer and prints what is shown.
    void printShown(QWidget* over);

signals:
    void shown();

private:
    struct Pages {
        std::vector<QImage> images;
        QString problem;
    };
    static Pages draw(const SheetInput& input, double pixelsPerMm);
    void take();
    void turnTo(int page);
    static void paint(QPrinter* printer, const std::vector<QImage>& images, double pixelsPerMm);

    Lookup<SheetInput, Pages> pictures;
    std::optional<SheetInput> input;
    std::vector<QImage> drawn;
    QString reason;
    QPrinter paper;
    QPrintPreviewWidget* view;
    QLabel* words;
    QToolButton *back, *on, *all;
};

} // namespace rapt::app
