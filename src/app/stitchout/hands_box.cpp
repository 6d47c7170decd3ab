#include "app/stitchout/hands_box.h"

#include "app/kit/readout_parts.h"

namespace rapt::app {
namespace {

QHBoxLayout* inLine(std::initializer_list<QWidget*> widgets) {
    auto* line = new QHBoxLayout;
    line->setSpacing(6);
    for (QWidget* w : widgets) line->addWidget(w, 1);
    return line;
}

} // namespace

QPushButton* HandsBox::button(const QString& text, const char* name,
                              std::function<void(MachineRun&)> act) {
    auto* made = new QPushButton(text);
    made->setObjectName(name);
    connect(made, &QPushButton::clicked, this, [this, act = std::move(act)] {
        if (MachineRun* r = run()) act(*r);
    });
    return made;
}

HandsBox::HandsBox(std::function<MachineRun*()> given) : run(std::move(given)) {
    auto* lines = new QVBoxLayout(this);
    lines->setContentsMargins(0, 0, 0, 0);
    lines->setSpacing(4);
    lines->addWidget(hairLine());
    lines->addWidget(headLabel(tr("Your hands at the simulated machine")));
    mount = button(tr("Put the frame on"), "mountFrame", [](MachineRun& r) {
        if (r.task()) r.hands({{"mount", QString::fromStdString(r.task()->frame)}});
    });
    foot = button(tr("Foot down"), "footDown", [](MachineRun& r) {
        r.hands({{"foot", r.status()["foot"].toString() == "down" ? "up" : "down"}});
    });
    needle = button(tr("Needle down"), "needleDown", [](MachineRun& r) {
        r.hands({{"needle", r.status()["needle_down"].toBool() ? "up" : "down"}});
    });
    needle->setToolTip(tr("By the wheel, where the pointer stands: fingers away from under it"));
    mend = button(tr("It is mended"), "mendStop", [](MachineRun& r) { r.hands({{"mend", true}}); });
    power = button(tr("Power on"), "powerOn", [](MachineRun& r) {
        r.hands({{"power", r.state() == MachineRun::State::off ? "on" : "off"}});
    });
    lines->addLayout(inLine({mount, foot}));
    lines->addLayout(inLine({needle, mend, power}));
    times = new QComboBox;
    times->setObjectName("runSpeed");
    for (const int k : {1, 10, 100, 1000}) times->addItem(tr("%1 × as fast as life").arg(k), k);
    lines->addLayout(row(tr("Time"), times));
    connect(times, &QComboBox::activated, this, [this] {
        if (MachineRun* r = run()) r->setSpeed(speed());
    });
}

void HandsBox::fill(const MachineRun& r) {
    const bool sews = r.state() == MachineRun::State::sewing;
    const bool off = r.state() == MachineRun::State::off;
    const QString mounted = r.status()["frame"].toString();
    setVisible(r.isConnected());
    mount->setText(r.task() && mounted.toStdString() == r.task()->frame ? tr("The frame is on")
                                                                        : tr("Put the frame on"));
    foot->setText(r.status()["foot"].toString() == "down" ? tr("Foot up") : tr("Foot down"));
    needle->setText(r.status()["needle_down"].toBool() ? tr("Needle up") : tr("Needle down"));
    power->setText(off ? tr("Power on") : tr("Power off"));
    mount->setEnabled(!sews);
    foot->setEnabled(!sews);
    needle->setEnabled(!sews && !off);
    mend->setEnabled(!r.status()["mended"].toBool(true) && !sews);
}

} // namespace rapt::app
