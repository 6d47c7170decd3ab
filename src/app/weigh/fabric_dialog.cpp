#include "app/weigh/fabric_dialog.h"

#include "app/kit/readout_parts.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QPushButton>

namespace rapt::app {
namespace {

/// One number of a fabric, declared once: what it is, its unit, bounds and steps.
struct Setting {
    double Fabric::*value;
    const char* name;
    const char* label;
    const char* unit;
    double low, high, step;
    int decimals;
};
constexpr Setting settings[] = {
    {&Fabric::maxLayers, "maxLayers", "Most layers", "", 0.5, 20, 0.1, 1},
    {&Fabric::maxHits, "maxHits", "Most hits", " per mm²", 0.5, 100, 0.5, 1},
    {&Fabric::leastColumnMm, "leastColumn", "Least column width", " mm", 0.2, 20, 0.1, 1},
    {&Fabric::mostColumnMm, "mostColumn", "Most column width", " mm", 0.5, 50, 0.5, 1},
    {&Fabric::leastLetterMm, "leastLetter", "Least letter height", " mm", 1, 100, 0.5, 1},
    {&Fabric::pullMm, "pull", "Pull compensation", " mm", 0, 2, 0.05, 2},
    {&Fabric::tuckMm, "tuck", "Tuck under a cover", " mm", 0, 10, 0.1, 1},
    {&Fabric::thicknessMm, "thickness", "Thickness", " mm", 0.01, 50, 0.1, 2},
};

} // namespace

FabricDialog::FabricDialog(Session& s, QWidget* parent)
    : QDialog(parent), session(s), tears(new QCheckBox(tr("Tears along lines of needle points"))),
      lineHits(new QDoubleSpinBox), speed(new QSpinBox), stabilizer(new QLineEdit),
      topper(new QLineEdit), needle(new QLineEdit), problem(quietLabel({})) {
    if (const auto f = session.library.fabric(session.job().brief.fabric)) original = *f;
    setWindowTitle(tr("What %1 takes").arg(QString::fromStdString(original.name)));
    setMinimumWidth(430);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 18, 20, 16);
    column->setSpacing(10);
    auto* head = new Judgement;
    head->say(QString::fromStdString(original.name),
              tr("Limits: %1. They are starting values; your own stitch-outs know better. Changes "
                 "are kept in your library and hold for every job.")
                  .arg(QString::fromStdString(sourceOf(original))));
    column->addWidget(head);
    auto* form = new QFormLayout;
    form->setFieldGrowthPolicy(QFormLayout::AllNonFixedFieldsGrow);
    form->setHorizontalSpacing(16);
    form->setVerticalSpacing(6);
    addLimits(*form);
    addAdvice(*form);
    column->addLayout(form);
    column->addWidget(quietLabel(tr("Change needles with the power off. The maker's instructions "
                                    "and local rules come first.")));
    column->addWidget(problem);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
    keep = buttons->addButton(tr("Keep these limits"), QDialogButtonBox::AcceptRole);
    keep->setObjectName("keepFabric");
    column->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &FabricDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    check();
}

/// The numbers that findings are judged by.
void FabricDialog::addLimits(QFormLayout& form) {
    for (const Setting& setting : settings) {
        auto* box = new QDoubleSpinBox;
        box->setObjectName(setting.name);
        box->setDecimals(setting.decimals);
        box->setRange(setting.low, setting.high);
        box->setSingleStep(setting.step);
        box->setSuffix(tr(setting.unit));
        box->setValue(original.*setting.value);
        form.addRow(tr(setting.label), box);
        numbers.push_back({setting.value, box, box->value()});
        connect(box, &QDoubleSpinBox::valueChanged, this, &FabricDialog::check);
    }
    tears->setObjectName("tears");
    tears->setChecked(original.maxLineHits.has_value());
    lineHits->setObjectName("lineHits");
    lineHits->setRange(0.1, 100);
    lineHits->setDecimals(1);
    lineHits->setSingleStep(0.1);
    lineHits->setSuffix(tr(" points per mm"));
    lineHits->setValue(original.maxLineHits.value_or(2.0));
    lineHitsShown = lineHits->value();
    lineHits->setEnabled(tears->isChecked());
    form.addRow(tears);
    form.addRow(tr("From"), lineHits);
    connect(tears, &QCheckBox::toggled, lineHits, &QWidget::setEnabled);
}

/// What to sew it with.
void FabricDialog::addAdvice(QFormLayout& form) {
    speed->setRange(50, 5000);
    speed->setSingleStep(50);
    speed->setSuffix(tr(" stitches a minute"));
    speed->setValue(original.topSpeed);
    form.addRow(tr("Top speed"), speed);
    stabilizer->setText(QString::fromStdString(original.stabilizer));
    topper->setText(QString::fromStdString(original.topper));
    topper->setPlaceholderText(tr("none"));
    needle->setText(QString::fromStdString(original.needle));
    form.addRow(tr("Stabilizer"), stabilizer);
    form.addRow(tr("Topper"), topper);
    form.addRow(tr("Needle"), needle);
}

Fabric FabricDialog::typed() const {
    Fabric f = original;
    // What was not touched stays as exact as it was, and is not called the person's own.
    for (const Number& n : numbers)
        if (n.box->value() != n.shown) f.*n.value = n.box->value();
    if (!tears->isChecked())
        f.maxLineHits.reset();
    else if (!f.maxLineHits || lineHits->value() != lineHitsShown)
        f.maxLineHits = lineHits->value();
    f.topSpeed = speed->value();
    f.stabilizer = stabilizer->text().trimmed().toStdString();
    f.topper = topper->text().trimmed().toStdString();
    f.needle = needle->text().trimmed().toStdString();
    if (f != original) f.source = "your own value";
    return f;
}

void FabricDialog::check() {
    const auto problems = problemsOf(typed());
    keep->setEnabled(problems.empty());
    problem->setText(problems.empty() ? QString() : QString::fromStdString(problems[0]));
}

void FabricDialog::accept() {
    const Fabric fabric = typed();
    if (fabric != original) {
        const Status saved = session.setFabric(fabric);
        if (!saved) {
            problem->setText(QString::fromStdString(saved.error().line()));
            return;
        }
    }
    QDialog::accept();
}

} // namespace rapt::app
