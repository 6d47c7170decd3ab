#include "app/stitchout/needles_page.h"
#include "app/state/sewing_state.h"
#include "base/number.h"

#include "app/compose/thread_choice.h"
#include "app/theme/theme.h"

#include <QSignalBlocker>

namespace rapt::app {

NeedlesPage::NeedlesPage(Session& s) : ComposePage(s), grid(new QGridLayout), plan(wordsLabel()) {
    column->addWidget(headLabel(tr("On the needles now")));
    grid->setHorizontalSpacing(6);
    grid->setVerticalSpacing(3);
    grid->setColumnStretch(1, 1);
    column->addLayout(grid);
    asPlanned = button(tr("They are threaded as planned"), "threadAsPlanned",
                       [this] { threadAsPlanned(); });
    column->addWidget(asPlanned);
    column->addWidget(hairLine());
    column->addWidget(headLabel(tr("Fewest cone changes")));
    plan->setObjectName("needlePlan");
    column->addWidget(plan);
    column->addWidget(quietLabel(tr("Power off while you thread or change needles. The maker's "
                                    "instructions come first.")));
    column->addStretch();
}

std::optional<Machine> NeedlesPage::machine() const {
    const auto found = session.library.machine(session.job().brief.machine);
    return found ? std::optional(*found) : std::nullopt;
}

void NeedlesPage::makeRows(std::size_t count) {
    if (rows.size() == count) return;
    for (const Row& r : rows)
        for (QWidget* w : std::initializer_list<QWidget*>{r.number, r.cone, r.left, r.keep})
            delete w;
    rows.clear();
    for (std::size_t n = 0; n < count; ++n) {
        Row r{new QLabel(QString::number(n + 1)), new QComboBox, new QLineEdit,
              new QCheckBox(tr("keep"))};
        const QString number = QString::number(n + 1);
        r.cone->setObjectName("needle" + number);
        r.cone->setAccessibleName(tr("Needle %1").arg(number));
        r.left->setObjectName("needleLeft" + number);
        r.left->setAccessibleName(tr("Metres left on needle %1").arg(number));
        r.left->setPlaceholderText(tr("m left"));
        r.left->setFixedWidth(66);
        r.keep->setObjectName("needleKeep" + number);
        r.number->setFont(faceOf(13, true));
        const int line = static_cast<int>(n);
        grid->addWidget(r.number, line, 0);
        grid->addWidget(r.cone, line, 1);
        grid->addWidget(r.left, line, 2);
        grid->addWidget(r.keep, line, 3);
        connect(r.cone, &QComboBox::activated, this, [this, n](int i) { takeCone(n, i); });
        connect(r.left, &QLineEdit::editingFinished, this, [this, n] { takeLeft(n); });
        connect(r.keep, &QCheckBox::clicked, this, [this, n](bool on) { takeKeep(n, on); });
        rows.push_back(r);
    }
}

void NeedlesPage::refresh() {
    const auto m = machine();
    makeRows(m ? static_cast<std::size_t>(m->needles) : 0);
    const auto* result = session.handing();
    const Handing* handing = result && *result ? (**result).get() : nullptr;
    choices.clear();
    const auto add = [&](const Thread& t) {
        for (const Thread& known : choices)
            if (known.sameThread(t)) return;
        choices.push_back(t);
    };
    const Needles now = m ? session.sewing.needlesOf(*m) : Needles();
    if (handing)
        for (const ThreadNeed& t : handing->work.threads) add(t.thread);
    for (const auto& cone : now)
        if (cone) add(cone->thread);
    for (const OwnedThread& t : session.threads.palette().threads) add(t.thread);
    for (std::size_t n = 0; n < rows.size(); ++n) fillRow(n, now[n], handing);
    asPlanned->setEnabled(handing && handing->needles.start != now);
    if (handing)
        plan->setText(planWords(*handing));
    else
        plan->setText(result ? QString::fromStdString(result->error().reason)
                             : tr("It is being worked out."));
}

void NeedlesPage::fillRow(std::size_t n, const std::optional<Cone>& cone, const Handing*) {
    Row& r = rows[n];
    const QSignalBlocker quiet(r.cone), quietLeft(r.left), quietKeep(r.keep);
    r.cone->clear();
    r.cone->addItem(tr("empty"));
    for (const Thread& t : choices)
        r.cone->addItem(QIcon(threadSwatch(t)), QString::fromStdString(t.name));
    int chosen = 0;
    for (std::size_t k = 0; cone && k < choices.size(); ++k)
        if (choices[k].sameThread(cone->thread)) chosen = static_cast<int>(k) + 1;
    r.cone->setCurrentIndex(chosen);
    if (!r.left->hasFocus())
        r.left->setText(cone && cone->leftM ? tr("%1 m").arg(*cone->leftM, 0, 'f', 0) : QString());
    r.left->setEnabled(cone.has_value());
    r.keep->setChecked(cone && cone->fixed);
    r.keep->setEnabled(cone.has_value());
}

void NeedlesPage::set(const Needles& needles) {
    const auto m = machine();
    if (!m) return;
    const Status kept = session.sewing.setNeedles(m->id, needles);
    if (!kept)
        emit failed(tr("The needles are not kept"), QString::fromStdString(kept.error().line()));
    refresh();
}

void NeedlesPage::takeCone(std::size_t needle, int choice) {
    Needles needles = session.sewing.needlesOf(*machine());
    needles[needle].reset();
    if (choice > 0)
        needles[needle] = Cone{choices[static_cast<std::size_t>(choice) - 1], {}, false};
    set(needles);
}

void NeedlesPage::takeLeft(std::size_t needle) {
    Needles needles = session.sewing.needlesOf(*machine());
    if (!needles[needle]) return;
    QString text = rows[needle].left->text();
    text.remove('m').remove(' ');
    const auto metres = parseNumber(text.toStdString());
    if (text.isEmpty())
        needles[needle]->leftM.reset();
    else if (metres && *metres >= 0 && *metres < 1e6)
        needles[needle]->leftM = *metres;
    set(needles);
}

void NeedlesPage::takeKeep(std::size_t needle, bool on) {
    Needles needles = session.sewing.needlesOf(*machine());
    if (needles[needle]) needles[needle]->fixed = on;
    set(needles);
}

void NeedlesPage::threadAsPlanned() {
    const auto* result = session.handing();
    if (result && *result) set((**result)->needles.start);
}

QString NeedlesPage::planWords(const Handing& h) const {
    QStringList lines;
    int stops = 0;
    for (const ConeChange& c : h.needles.changes) stops += c.at > 0;
    lines << tr("%1 threads on %2 needles: %3 cones to put on, %4 of them while a hooping waits.")
                 .arg(h.work.threads.size())
                 .arg(h.machine.needles)
                 .arg(h.needles.changes.size())
                 .arg(stops);
    for (const ConeChange& c : h.needles.changes)
        lines
            << tr("Needle %1: %2, %3")
                   .arg(c.needle)
                   .arg(QString::fromStdString(c.thread.name),
                        c.at > 0
                            ? tr("stop in hooping %1 after stitch %L2").arg(c.hooping + 1).arg(c.at)
                            : tr("before hooping %1").arg(c.hooping + 1));
    for (const ShortCone& s : h.needles.runOut)
        lines << tr("⚠ Needle %1, %2: %3 m are left, %4 m are needed; it runs out in hooping %5.")
                     .arg(s.needle)
                     .arg(QString::fromStdString(s.thread.name))
                     .arg(s.leftM, 0, 'f', 0)
                     .arg(s.neededM, 0, 'f', 0)
                     .arg(s.hooping + 1);
    return lines.join("\n");
}

} // namespace rapt::app
