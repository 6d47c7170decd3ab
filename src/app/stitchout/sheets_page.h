#pragma once
// Stitch-out's first page: which sheets go with the job, on what paper.

#include "app/kit/page.h"
#include "app/stitchout/sheet_preview.h"

#include <QCheckBox>

namespace rapt::app {

class SheetsPage : public Page {
    Q_OBJECT
public:
    SheetsPage(Session& session, SheetPreview& preview);
    void refresh() override;

private:
    QCheckBox* part(const QString& text, const char* name, bool on);
    SheetParts parts() const;
    TemplateOptions printing() const;
    std::optional<SheetInput> input();
    void save();
    void saveTemplate();
    Result<TemplateDocument> makeScoped() const;

    SheetPreview& preview;
    QCheckBox *job, *hoopings, *marking, *layout, *cards, *tags, *board;
    QComboBox *paper, *look, *scope;
    QCheckBox *mirror, *chart, *ownCard;
    LengthEdit *grid, *cut;
    double gridMm = 0, cutMm = 0;
    QPushButton *saveButton, *printButton;
    QLabel* note;
};

} // namespace rapt::app
