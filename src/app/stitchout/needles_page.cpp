#include "app/stitchout/needles_page.h"
#include "app/stitchout/sewing_state.h"
#include "base/number.h"

#include "app/compose/thread_choice.h"
#include "app/theme/theme.h"

#include <QPainter>
#include <QPainterPath>
#include <QSignalBlocker>

namespace rapt::app {

namespace {

constexpr int coneHigh = 92, coneTop = 34;

/// A cone of thread standing on its wide end.
void paintCone(QPainter& p, const QRectF& box, const QColor& colour) {
    QPainterPath cone;
    cone.moveTo(box.left() + 0.32 * box.width(), box.top());
    cone.lineTo(box.right() - 0.32 * box.width(), box.top());
    cone.lineTo(box.right() - 0.06 * box.width(), box.bottom());
    cone.lineTo(box.left() + 0.06 * box.width(), box.bottom());
    cone.closeSubpath();
    p.setPen(QPen(colour.darker(150), 1.2));
    p.setBrush(colour);
    p.drawPath(cone);
    p.setPen(QPen(colour.darker(118), 1));
    for (double y = box.top() + 8; y < box.bottom(); y += 8) {
        const double in = 0.06 + 0.26 * (box.bottom() - y) / box.height();
        p.drawLine(QPointF(box.left() + in * box.width(), y + 3),
                   QPointF(box.right() - in * box.width(), y));
    }
}

} // namespace

NeedleRow::NeedleRow(QWidget* parent) : QWidget(parent) {
    setObjectName("needleRow");
    setMinimumHeight(330);
}

void NeedleRow::show(const Needles& threaded, const std::vector<ConeChange>& planned) {
    now = threaded;
    changes = planned;
    update();
}

void NeedleRow::paintEvent(QPaintEvent*) {
    if (now.empty()) return;
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const double slot = std::min(112.0, width() / static_cast<double>(now.size()));
    for (std::size_t n = 0; n < now.size(); ++n) {
        const QRectF column(static_cast<double>(n) * slot, 0, slot - 6, height());
        p.setFont(faceOf(17, true));
        p.setPen(t.ink);
        p.drawText(QRectF(column.left(), 0, column.width(), 26), Qt::AlignCenter,
                   QString::number(n + 1));
        const double wide = std::min(66.0, column.width() - 8);
        const QRectF box(column.center().x() - wide / 2, coneTop, wide, coneHigh);
        p.setFont(faceOf(12));
        if (!now[n]) {
            p.setPen(QPen(t.ink2, 1.2, Qt::DashLine));
            p.setBrush(Qt::NoBrush);
            p.drawRoundedRect(box, 6, 6);
            p.setPen(t.ink2);
            p.drawText(box, Qt::AlignCenter, tr("empty"));
        } else {
            const Rgb c = now[n]->thread.color;
            paintCone(p, box, QColor(c.r, c.g, c.b));
        }
        QStringList lines;
        if (now[n]) {
            lines << QString::fromStdString(now[n]->thread.name);
            if (now[n]->leftM) lines << tr("%1 m left").arg(*now[n]->leftM, 0, 'f', 0);
            if (now[n]->fixed) lines << tr("stays");
        }
        p.setPen(t.ink);
        QRectF words(column.left(), box.bottom() + 6, column.width(), 52);
        p.drawText(words, Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, lines.join('\n'));
        double y = words.bottom() + 6;
        for (const ConeChange& change : changes) {
            if (change.needle != static_cast<int>(n) + 1 || y + 60 > height()) continue;
            const QRectF card(column.left() + 1, y, column.width() - 2, 60);
            p.setPen(QPen(t.rule, 1));
            p.setBrush(t.paper);
            p.drawRoundedRect(card, 4, 4);
            const Rgb c = change.thread.color;
            p.fillRect(QRectF(card.left() + 4, card.top() + 4, card.width() - 8, 7),
                       QColor(c.r, c.g, c.b));
            p.setPen(t.ink);
            p.drawText(card.adjusted(3, 14, -3, -2), Qt::AlignHCenter | Qt::TextWordWrap,
                       change.at > 0 ? tr("%1\nin hooping %2\nafter %L3")
                                           .arg(QString::fromStdString(change.thread.name))
                                           .arg(change.hooping + 1)
                                           .arg(change.at)
                                     : tr("%1\nbefore hooping %2")
                                           .arg(QString::fromStdString(change.thread.name))
                                           .arg(change.hooping + 1));
            y += 66;
        }
    }
}

NeedlesPage::NeedlesPage(Session& s)
    : Page(s), picture(new NeedleRow), grid(new QGridLayout), plan(wordsLabel()) {
    auto* middle = makeCentre();
    middle->addWidget(headLabel(tr("The needles, and what comes on them next")));
    middle->addWidget(picture, 1);
    middle->addWidget(hairLine());
    middle->addWidget(headLabel(tr("Fewest cone changes")));
    plan->setObjectName("needlePlan");
    middle->addWidget(plan);
    middle->addStretch();
    column->addWidget(headLabel(tr("On the needles now")));
    grid->setHorizontalSpacing(6);
    grid->setVerticalSpacing(3);
    grid->setColumnStretch(1, 1);
    column->addLayout(grid);
    asPlanned = button(tr("They are threaded as planned"), "threadAsPlanned",
                       [this] { threadAsPlanned(); });
    column->addWidget(asPlanned);
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
    picture->show(now, handing ? handing->needles.changes : std::vector<ConeChange>());
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
    lines << tr("%n {thread|threads}", nullptr, static_cast<int>(h.work.threads.size())) +
                 tr(" on %n {needle|needles}: ", nullptr, h.machine.needles) +
                 tr("%n {cone|cones} to put on", nullptr,
                    static_cast<int>(h.needles.changes.size())) +
                 (stops > 0 ? tr(", %n of them while a hooping waits.", nullptr, stops) : ".");
    for (const ConeChange& c : h.needles.changes)
        if (c.at > 0)
            lines << tr("Needle %1: %2, stop in hooping %3 after stitch %L4")
                         .arg(c.needle)
                         .arg(QString::fromStdString(c.thread.name))
                         .arg(c.hooping + 1)
                         .arg(c.at);
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
