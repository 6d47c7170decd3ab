#include "app/divide/marks_page.h"

#include "app/kit/questions.h"
#include "base/file_io.h"
#include "base/paths.h"
#include "divide/marking_plan.h"
#include "sheets/template_pdf.h"

#include <QFileDialog>

namespace rapt::app {

MarksPage::MarksPage(Session& s)
    : Page(s), words(new QTextBrowser),
      printButton(button(tr("Template with this plan…"), "printMarks", [this] { print(); })) {
    words->setObjectName("markingPlan");
    words->setFrameShape(QFrame::NoFrame);
    words->setAccessibleName(tr("Marking plan"));
    words->setMinimumHeight(420);
    words->document()->setIndentWidth(16);
    column->addWidget(words, 1);
    column->addWidget(printButton);
}

void MarksPage::refresh() {
    const auto plan = markingPlan(session.job(), session.library);
    QString html;
    for (const MarkingStep& step : plan) {
        html += "<p><b>" + QString::fromStdString(step.head).toHtmlEscaped() + "</b></p><ul>";
        for (const std::string& line : step.lines)
            html += "<li>" + QString::fromStdString(line).toHtmlEscaped() + "</li>";
        html += "</ul>";
    }
    if (plan.empty())
        html = tr("Plan the hoopings first; then this says what to draw on the cloth.");
    if (words->toHtml() != html) words->setHtml(html);
    printButton->setEnabled(!plan.empty() && session.checked());
}

void MarksPage::print() {
    const QString path = askSaveName(window(), tr("Template with the marking plan"),
                                     "marking-plan.pdf", tr("PDF (*.pdf)"));
    if (path.isEmpty() || !session.checked()) return;
    const TemplateOptions options{false, Paper::a4, dataFolder() + "/faces"};
    const auto made = makeTemplate(
        templateOf(session.job(), session.checked()->stitched().list, session.library), options);
    const Status written =
        made ? writeWholeFile(path.toStdString(), made->pdf) : Status(made.error());
    if (!written)
        emit failed(tr("The template was not written."),
                    QString::fromStdString(written.error().line()));
}

} // namespace rapt::app
