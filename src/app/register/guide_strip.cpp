#include "app/register/guide_strip.h"

#include "registration/guided.h"

namespace rapt::app {

GuideStrip::GuideStrip(Session& s, QWidget* parent)
    : QWidget(parent), session(s), next(wordsLabel()), tick(new QPushButton(tr("Done"))),
      more(new QToolButton), all(new QWidget), lines(new QVBoxLayout(all)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    auto* line = new QHBoxLayout;
    line->setSpacing(6);
    next->setObjectName("nextStep");
    tick->setObjectName("stepDone");
    tick->setFixedWidth(58);
    more->setObjectName("allSteps");
    more->setCheckable(true);
    more->setAutoRaise(true);
    more->setArrowType(Qt::DownArrow);
    more->setToolTip(tr("All steps"));
    line->addWidget(next, 1);
    line->addWidget(tick, 0, Qt::AlignTop);
    line->addWidget(more, 0, Qt::AlignTop);
    column->addLayout(line);
    lines->setContentsMargins(0, 0, 0, 0);
    lines->setSpacing(2);
    all->hide();
    column->addWidget(all);
    connect(more, &QToolButton::toggled, this, [this](bool on) {
        more->setArrowType(on ? Qt::UpArrow : Qt::DownArrow);
        all->setVisible(on);
    });
    connect(tick, &QPushButton::clicked, this, [this] {
        if (const auto step = nextStep(guidedSteps(session.job(), session.hooping() + 1)))
            session.document.apply(tickStep(session.hooping() + 1, step->id, true));
    });
}

void GuideStrip::refresh() {
    const auto steps = guidedSteps(session.job(), session.hooping() + 1);
    setVisible(!steps.empty());
    const auto step = nextStep(steps);
    std::size_t number = 1;
    for (const GuidedStep& s : steps) {
        if (!s.done) break;
        ++number;
    }
    if (step) {
        QString text = tr("<b>Step %1 of %2.</b> %3")
                           .arg(number)
                           .arg(steps.size())
                           .arg(QString::fromStdString(step->text));
        if (!step->caution.empty()) text += " <i>" + QString::fromStdString(step->caution) + "</i>";
        next->setText(text);
    } else {
        next->setText(tr("<b>✓ All steps are done.</b>"));
    }
    tick->setVisible(step && step->byHand);
    rebuild();
}

void GuideStrip::rebuild() {
    while (QLayoutItem* item = lines->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    for (const GuidedStep& s : guidedSteps(session.job(), session.hooping() + 1)) {
        auto* box = new QCheckBox;
        auto* text = wordsLabel(QString::fromStdString(s.text));
        box->setAccessibleName(text->text());
        box->setChecked(s.done);
        box->setEnabled(s.byHand);
        connect(box, &QCheckBox::clicked, this, [this, id = s.id](bool on) {
            session.document.apply(tickStep(session.hooping() + 1, id, on));
        });
        auto* step = new QWidget;
        auto* side = new QHBoxLayout(step);
        side->setContentsMargins(0, 0, 0, 0);
        side->setSpacing(6);
        side->addWidget(box, 0, Qt::AlignTop);
        side->addWidget(text, 1);
        lines->addWidget(step);
    }
}

} // namespace rapt::app
