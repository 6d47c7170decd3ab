#include "app/brief/brief_stage.h"

#include "app/ledger/last_time.h"

#include "app/theme/theme.h"

#include <QColorDialog>
#include <QSignalBlocker>

namespace rapt::app {

BriefStage::BriefStage(Session& s, QWidget* parent)
    : StageView(s, parent), jobName(new QLineEdit), item(new QLineEdit), fabric(new QComboBox),
      machine(new QComboBox), quantity(new QSpinBox), width(new LengthEdit(s, "Cloth width")),
      height(new LengthEdit(s, "Cloth height")), colour(new QPushButton(tr("Choose…"))),
      held(new QComboBox), hoops(new QListWidget), advice(wordsLabel()) {
    buildFields();
    connect(jobName, &QLineEdit::editingFinished, this, [this] {
        const QString name = jobName->text().trimmed();
        if (!name.isEmpty()) session.document.apply(setJobName(name.toStdString()));
    });
    connect(item, &QLineEdit::editingFinished, this, [this] {
        editBrief(tr("Describe the item"),
                  [this](Brief& b) { b.item = item->text().trimmed().toStdString(); });
    });
    connect(fabric, &QComboBox::activated, this, [this](int i) {
        editBrief(tr("Choose the fabric"),
                  [this, i](Brief& b) { b.fabric = fabric->itemData(i).toString().toStdString(); });
    });
    connect(machine, &QComboBox::activated, this, [this](int i) {
        editBrief(tr("Choose the machine"), [this, i](Brief& b) {
            b.machine = machine->itemData(i).toString().toStdString();
        });
    });
    connect(held, &QComboBox::activated, this, [this](int i) {
        editBrief(tr("Choose how it is held"), [i](Brief& b) { b.floated = i == 1; });
    });
    connect(quantity, &QSpinBox::valueChanged, this, [this](int n) {
        editBrief(tr("Set the quantity"), [n](Brief& b) { b.quantity = n; });
    });
    connect(width, &LengthEdit::typed, this, [this](double mm) {
        editCloth(tr("Set the cloth's width"), [mm](Cloth& c) { c.widthMm = mm; });
    });
    connect(height, &LengthEdit::typed, this, [this](double mm) {
        editCloth(tr("Set the cloth's height"), [mm](Cloth& c) { c.heightMm = mm; });
    });
    connect(colour, &QPushButton::clicked, this, &BriefStage::chooseColour);
    connect(hoops, &QListWidget::itemChanged, this, &BriefStage::takeHoops);
}

void BriefStage::buildFields() {
    for (const Fabric& f : session.library.fabrics)
        fabric->addItem(QString::fromStdString(f.name), QString::fromStdString(f.id));
    for (const Machine& m : session.library.machines)
        machine->addItem(QString::fromStdString(m.name), QString::fromStdString(m.id));
    hoops->setFixedHeight(8 + 20 * 9);
    held->addItems({tr("clamped by the ring"), tr("floated on stabilizer")});
    held->setObjectName("held");
    hoops->setAccessibleName(tr("Hoops owned"));
    quantity->setRange(1, 1'000'000);
    quantity->setKeyboardTracking(false);
    width->setRange(1, 20'000);
    height->setRange(1, 20'000);
    jobName->setObjectName("Job name");
    fabric->setObjectName("Fabric");
    column->addLayout(row(tr("Job"), jobName));
    column->addLayout(row(tr("Item"), item));
    column->addLayout(row(tr("Quantity"), quantity));
    column->addWidget(hairLine());
    column->addWidget(headLabel(tr("Cloth")));
    column->addLayout(pairRow(tr("Width"), width, tr("Height"), height));
    column->addLayout(row(tr("Colour"), colour));
    column->addLayout(row(tr("Fabric"), fabric));
    column->addWidget(advice);
    column->addWidget(new LastTime(session));
    column->addWidget(hairLine());
    column->addLayout(row(tr("Machine"), machine));
    column->addLayout(row(tr("Held"), held));
    column->addWidget(headLabel(tr("Hoops owned")));
    column->addWidget(hoops);
    column->addStretch();
}

/// Frames that a person added appear as soon as they are kept.
void BriefStage::listHoops() {
    if (hoops->count() == static_cast<int>(session.library.hoops.size())) return;
    hoops->clear();
    for (const Hoop& h : session.library.hoops) {
        auto* entry = new QListWidgetItem(QString::fromStdString(h.name), hoops);
        entry->setData(Qt::UserRole, QString::fromStdString(h.id));
        entry->setFlags(Qt::ItemIsUserCheckable | Qt::ItemIsEnabled | Qt::ItemIsSelectable);
        entry->setCheckState(Qt::Unchecked);
    }
}

void BriefStage::refresh() {
    const Job& job = session.job();
    const auto setText = [](QLineEdit* edit, const std::string& text) {
        if (!edit->isModified() || !edit->hasFocus()) edit->setText(QString::fromStdString(text));
    };
    setText(jobName, job.name);
    setText(item, job.brief.item);
    fabric->setCurrentIndex(fabric->findData(QString::fromStdString(job.brief.fabric)));
    machine->setCurrentIndex(machine->findData(QString::fromStdString(job.brief.machine)));
    const QSignalBlocker quiet(quantity), quietHoops(hoops);
    listHoops();
    held->setCurrentIndex(job.brief.floated ? 1 : 0);
    quantity->setValue(job.brief.quantity);
    width->setMm(job.cloth.widthMm);
    height->setMm(job.cloth.heightMm);
    const QColor c(job.cloth.color.r, job.cloth.color.g, job.cloth.color.b);
    QPixmap swatch(16, 16);
    swatch.fill(c);
    colour->setIcon(swatch);
    colour->setText(tr("%1 — choose…").arg(c.name()));
    for (int i = 0; i < hoops->count(); ++i) {
        const std::string id = hoops->item(i)->data(Qt::UserRole).toString().toStdString();
        const auto& owned = job.brief.hoops;
        const bool has = std::find(owned.begin(), owned.end(), id) != owned.end();
        hoops->item(i)->setCheckState(has ? Qt::Checked : Qt::Unchecked);
    }
    const auto f = session.library.fabric(job.brief.fabric);
    if (!f) {
        judgement->say(tr("The fabric is not in the library."),
                       QString::fromStdString(f.error().reason));
        advice->clear();
        return;
    }
    judgement->say(tr("%1 takes %2 layers of thread.")
                       .arg(QString::fromStdString(f->name))
                       .arg(f->maxLayers, 0, 'f', 1),
                   tr("That is a starting value (%1), as is the limit of %2 needle hits per mm².")
                       .arg(QString::fromStdString(sourceOf(*f)))
                       .arg(f->maxHits, 0, 'f', 0));
    QString text =
        tr("Stabilizer: %1. Needle: %2. At most %3 stitches a minute.")
            .arg(QString::fromStdString(f->stabilizer), QString::fromStdString(f->needle))
            .arg(f->topSpeed);
    if (job.brief.floated)
        text +=
            tr(" Floated: adhesive stabilizer, one layer more, and a basting line. Sprays only in "
               "the open air, away from flames and machine, as their makers say.");
    advice->setText(text);
}

void BriefStage::editBrief(const QString& name, const std::function<void(Brief&)>& change) {
    Brief brief = session.job().brief;
    change(brief);
    session.document.apply(setBrief(brief, name.toStdString()));
}

void BriefStage::editCloth(const QString& name, const std::function<void(Cloth&)>& change) {
    Cloth cloth = session.job().cloth;
    change(cloth);
    session.document.apply(setCloth(cloth, name.toStdString()));
}

void BriefStage::takeHoops() {
    editBrief(tr("Choose the hoops owned"), [this](Brief& b) {
        b.hoops.clear();
        for (int i = 0; i < hoops->count(); ++i)
            if (hoops->item(i)->checkState() == Qt::Checked)
                b.hoops.push_back(hoops->item(i)->data(Qt::UserRole).toString().toStdString());
    });
}

void BriefStage::chooseColour() {
    const Rgb now = session.job().cloth.color;
    const QColor c =
        QColorDialog::getColor(QColor(now.r, now.g, now.b), window(), tr("Colour of the cloth"),
                               QColorDialog::DontUseNativeDialog);
    if (!c.isValid()) return;
    editCloth(tr("Colour the cloth"), [&](Cloth& cloth) {
        cloth.color = {static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()),
                       static_cast<std::uint8_t>(c.blue())};
    });
}

} // namespace rapt::app
