#include "app/stitchout/sheets_page.h"

#include "app/kit/questions.h"
#include "base/file_io.h"
#include "base/paths.h"

#include <QApplication>
#include <QtConcurrent>

namespace rapt::app {

SheetsPage::SheetsPage(Session& s, SheetPreview& p)
    : Page(s), preview(p), paper(new QComboBox), look(new QComboBox), scope(new QComboBox),
      mirror(new QCheckBox(tr("Mirrored, for marking from behind"))),
      grid(new LengthEdit(s, tr("Grid"))), cut(new LengthEdit(s, tr("Cut line"))),
      note(wordsLabel()) {
    preview.setParent(this);
    preview.hide();
    central = &preview;
    column->addWidget(headLabel(tr("Sheets")));
    auto* parts = new QGridLayout;
    parts->setVerticalSpacing(2);
    int at = 0;
    for (QCheckBox* box : {job = part(tr("The job"), "sheetJob", true),
                          hoopings = part(tr("Each hooping"), "sheetHoopings", true),
                          marking = part(tr("Marking plan"), "sheetMarking", true),
                          layout = part(tr("Template"), "sheetTemplate", false),
                          cards = part(tr("Locator cards"), "sheetCards", false),
                          tags = part(tr("Frame tags"), "sheetTags", false),
                          board = part(tr("Calibration board"), "sheetBoard", false)}) {
        parts->addWidget(box, at / 2, at % 2);
        ++at;
    }
    column->addLayout(parts);
    paper->addItems({tr("A4"), tr("Letter")});
    paper->setObjectName("paper");
    column->addLayout(row(tr("Paper"), paper));
    column->addWidget(hairLine());
    column->addWidget(headLabel(tr("Template at true scale")));
    look->addItems({tr("Thread"), tr("Outline")});
    look->setObjectName("templateLook");
    column->addLayout(row(tr("Drawn as"), look));
    column->addLayout(pairRow(tr("Grid"), grid, tr("Cut line"), cut));
    mirror->setObjectName("mirror");
    column->addWidget(mirror);
    column->addWidget(chart = part(tr("With a thread chart"), "chart", false));
    grid->setRange(0, 500);
    cut->setRange(0, 100);
    connect(grid, &TypedEdit::typed, this, [this](double mm) {
        gridMm = mm > 0 ? std::max(1.0, mm) : 0;
        refresh();
    });
    connect(cut, &TypedEdit::typed, this, [this](double mm) {
        cutMm = mm;
        refresh();
    });
    for (QComboBox* box : {paper, look})
        connect(box, &QComboBox::activated, this, &SheetsPage::refresh);
    connect(mirror, &QCheckBox::clicked, this, &SheetsPage::refresh);
    saveButton = button(tr("Save as PDF…"), "saveSheets", [this] { save(); });
    saveButton->setProperty("main", true);
    printButton = button(tr("Print…"), "printSheets", [this] { preview.printShown(window()); });
    column->addLayout(sideBySide({saveButton, printButton}));
    scope->addItems({tr("the chosen hooping"), tr("the chosen piece"), tr("the whole cloth")});
    scope->setObjectName("templateScope");
    column->addLayout(row(tr("Of"), scope));
    column->addWidget(ownCard = new QCheckBox(tr("With a card, for the camera to find the paper")));
    ownCard->setObjectName("ownCard");
    column->addWidget(button(tr("Template alone as PDF…"), "template", [this] { saveTemplate(); }));
    note->setObjectName("done");
    column->addWidget(note);
    column->addWidget(quietLabel(tr("Print at 100 %; the bar on every page is 100 mm long.")));
    column->addStretch();
    connect(&preview, &SheetPreview::shown, this,
            [this] { printButton->setEnabled(preview.pages() > 0); });
}

QCheckBox* SheetsPage::part(const QString& text, const char* name, bool on) {
    auto* box = new QCheckBox(text);
    box->setObjectName(name);
    box->setChecked(on);
    connect(box, &QCheckBox::clicked, this, &SheetsPage::refresh);
    return box;
}

SheetParts SheetsPage::parts() const {
    return {job->isChecked(),   hoopings->isChecked(), marking->isChecked(), layout->isChecked(),
            cards->isChecked(), tags->isChecked(),     board->isChecked()};
}

TemplateOptions SheetsPage::printing() const {
    return {mirror->isChecked(),
            paper->currentIndex() == 1 ? Paper::letter : Paper::a4,
            dataFolder() + "/faces",
            look->currentIndex() == 1 ? TemplateLook::outline : TemplateLook::thread,
            gridMm,
            cutMm,
            chart->isChecked()};
}

std::optional<SheetInput> SheetsPage::input() {
    const auto* handing = session.handing();
    const Derived* checked = session.checked();
    if (!handing || !*handing || !checked) return std::nullopt;
    return SheetInput{session.job(),
                      **handing,
                      checked->sewn,
                      checked->judged,
                      session.sharedLibrary(),
                      session.sewing.needlesOf((**handing)->machine),
                      session.threads.palette(),
                      parts(),
                      printing()};
}

void SheetsPage::refresh() {
    grid->setMm(gridMm);
    cut->setMm(cutMm);
    const auto now = input();
    saveButton->setEnabled(now.has_value());
    printButton->setEnabled(now.has_value() && preview.pages() > 0);
    const Derived* checked = session.checked();
    findChild<QPushButton*>("template")->setEnabled(checked && checked->time().stitches > 0);
    if (now && isVisible()) preview.show(*now);
}

void SheetsPage::save() {
    const auto now = input();
    if (!now) return;
    const QString path = askSaveName(window(), tr("Sheets as PDF"),
                                     QString::fromStdString(session.job().name) + tr(" sheets.pdf"),
                                     tr("PDF (*.pdf)"));
    if (path.isEmpty()) return;
    saveButton->setEnabled(false);
    note->setText(tr("The sheets are being written."));
    QtConcurrent::run([input = *now, path]() -> Result<int> {
        const auto made = makeSheets(input.request());
        if (!made) return made.error();
        const Status written = writeWholeFile(path.toStdString(), made->pdf);
        if (!written) return written.error();
        return made->pages;
    }).then(this, [this, path](const Result<int>& pages) {
        saveButton->setEnabled(true);
        note->setText({});
        if (!pages)
            emit failed(tr("No sheets"), QString::fromStdString(pages.error().line()));
        else
            note->setText(*pages == 1 ? tr("One page written to %1.").arg(path)
                                      : tr("%1 pages written to %2.").arg(*pages).arg(path));
    });
}

/// One hooping or piece on one page where it fits, or the cloth over as many as it takes.
Result<TemplateDocument> SheetsPage::makeScoped() const {
    const Derived& d = *session.checked();
    if (scope->currentIndex() == 2)
        return makeTemplate(templateOf(session.job(), d.stitched().list, session.library),
                            printing());
    TemplateScope what;
    if (scope->currentIndex() == 1) {
        if (session.selection.ids().size() != 1)
            return cannotDo("choose one piece first, in Compose");
        what.piece = session.selection.ids()[0];
    } else if (!session.job().hoopings.empty()) {
        what.hooping = session.hooping() + 1;
    }
    static const std::vector<HoopingList> none;
    const auto cropped =
        templateOf(session.job(), d.stitched(), d.planned ? d.hoopings() : none, what);
    if (!cropped) return cropped.error();
    TemplateOptions options = printing();
    options.card = ownCard->isChecked();
    return makeTemplate(cropped->content, options);
}

void SheetsPage::saveTemplate() {
    const QString suggestion = QString::fromStdString(session.job().name) + ".pdf";
    const QString path =
        askSaveName(window(), tr("Template as PDF"), suggestion, tr("PDF (*.pdf)"));
    if (path.isEmpty() || !session.checked()) return;
    const auto document = makeScoped();
    if (!document)
        return emit failed(tr("No template"), QString::fromStdString(document.error().line()));
    const Status written = writeWholeFile(path.toStdString(), document->pdf);
    if (!written)
        return emit failed(tr("No template"), QString::fromStdString(written.error().line()));
    note->setText(document->pages == 1
                      ? tr("Template written to %1, one page.").arg(path)
                      : tr("Template written to %1, %2 pages.").arg(path).arg(document->pages));
}

} // namespace rapt::app
