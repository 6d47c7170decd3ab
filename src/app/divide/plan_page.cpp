#include "app/divide/plan_page.h"

#include "app/divide/stand_picture.h"
#include "app/kit/frame_name.h"
#include "app/kit/kept_lines.h"
#include "app/kit/plain_table.h"
#include "app/theme/theme.h"
#include "divide/frames.h"
#include "divide/ring.h"
#include "divide/sewn_hoopings.h"
#include "job/hooping_name.h"

#include <QSignalBlocker>

namespace rapt::app {
namespace {

enum Column { frameColumn, hoopingsColumn, joinColumn, timeColumn, columnCount };

QString countText(int n, const QString& one, const QString& many) {
    return n == 1 ? one : many.arg(n);
}

} // namespace

PlanPage::PlanPage(Session& s, FrameOffers& o)
    : Page(s), offers(o), method(new QComboBox), part(new QCheckBox(tr("Part letters"))),
      cut(new QCheckBox(tr("Cut the too large"))), straight(new QCheckBox(tr("straight"))),
      margin(new LengthEdit(s, "Kept free at the edge")), most(new QSpinBox),
      table(new QTableWidget), plan(mainButton(tr("Plan with this frame"))),
      stop(new QPushButton(tr("Stop"))), misses(new QVBoxLayout), hoopings(new QListWidget),
      details(wordsLabel()), pin(new QPushButton(tr("Pin"))), turn(new QPushButton(tr("Turn"))),
      sewn(new QPushButton(tr("It is sewn"))), back(new QToolButton), on(new QToolButton),
      stepping(new QCheckBox(tr("Step through"))), picture(new StandPicture(s)) {
    buildChoices();
    buildTable();
    buildHoopings();
    connect(&offers, &FrameOffers::changed, this, [this] {
        for (const FrameOffer& offer : offers.list())
            if (!planNext.empty() && offer.hoop == planNext && offer.division) {
                planNext.clear();
                takePlan(offer);
                return;
            }
        if (isVisible()) refresh();
    });
}

void PlanPage::buildChoices() {
    method->addItems({tr("drawn lines"), tr("sewn crosses"), tr("turning the frame")});
    method->setObjectName("method");
    method->setAccessibleName(tr("How later hoopings find the cloth"));
    method->setToolTip(
        tr("Drawn lines: every hooping from the datum. Sewn crosses: each from marks "
           "that an earlier one sewed. Turning: the cloth is hooped once."));
    part->setObjectName("mayPart");
    cut->setObjectName("mayCut");
    cut->setToolTip(tr("Only what fits no field whole"));
    straight->setObjectName("straightCuts");
    margin->setRange(0, 200);
    margin->setToolTip(tr("Kept free along the field's edge"));
    most->setObjectName("mostHoopings");
    most->setRange(0, 99);
    most->setSpecialValueText(tr("any"));
    most->setAccessibleName(tr("Most hoopings"));
    most->setToolTip(tr("A plan of more hoopings than this is none"));
    column->addLayout(row(tr("Found by"), method));
    column->addLayout(pairRow(tr("Edge"), margin, tr("Hoopings"), most));
    auto* line = new QHBoxLayout;
    for (QCheckBox* box : {part, cut, straight}) line->addWidget(box);
    line->addStretch();
    column->addLayout(line);
    connect(method, &QComboBox::activated, this, &PlanPage::takeChoices);
    for (QCheckBox* box : {part, cut, straight})
        connect(box, &QCheckBox::clicked, this, &PlanPage::takeChoices);
    connect(most, &QSpinBox::valueChanged, this, &PlanPage::takeChoices);
    connect(margin, &LengthEdit::typed, this, [this](double mm) {
        auto c = session.dividing.choices();
        c.marginMm = mm;
        session.dividing.choose(c);
    });
}

void PlanPage::buildTable() {
    makePlain(*table, {tr("Frame"), tr("Hooped"), tr("Joins"), tr("h:min")}, 4);
    table->setAccessibleName(tr("Frames compared"));
    table->setObjectName("framesCompared");
    plan->setObjectName("plan");
    stop->setObjectName("stopOffers");
    column->addWidget(table);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(plan, 1);
    buttons->addWidget(stop);
    column->addLayout(buttons);
    misses->setSpacing(4);
    column->addLayout(misses);
    connect(plan, &QPushButton::clicked, this, &PlanPage::planChosen);
    connect(stop, &QPushButton::clicked, this, [this] { offers.stop(); });
    connect(table, &QTableWidget::cellDoubleClicked, this, &PlanPage::planChosen);
    connect(table, &QTableWidget::itemSelectionChanged, this, [this] {
        chosenByHand = true;
        if (const FrameOffer* offer = chosenOffer()) showMisses(*offer);
    });
}

void PlanPage::buildHoopings() {
    auto* head = new QHBoxLayout;
    head->addWidget(headLabel(tr("Hoopings, in sewing order")));
    head->addStretch();
    back->setArrowType(Qt::LeftArrow);
    on->setArrowType(Qt::RightArrow);
    back->setAccessibleName(tr("Hooping before"));
    on->setAccessibleName(tr("Next hooping"));
    back->setObjectName("hoopingBack");
    on->setObjectName("hoopingOn");
    head->addWidget(stepping);
    head->addWidget(back);
    head->addWidget(on);
    column->addLayout(head);
    hoopings->setAccessibleName(tr("Hoopings"));
    hoopings->setObjectName("hoopings");
    hoopings->setFixedHeight(58);
    column->addWidget(hoopings);
    pin->setObjectName("pinClamping");
    turn->setObjectName("turnClamping");
    stepping->setObjectName("stepThrough");
    pin->setToolTip(tr("It stays where it is when the layout is planned again"));
    column->addWidget(details);
    sewn->setObjectName("hoopingSewn");
    sewn->setToolTip(tr("Its stitches stay as they are: planning, edits and hand-over leave them "
                        "alone"));
    column->addLayout(sideBySide({pin, turn, sewn}));
    column->addWidget(picture);
    connect(hoopings, &QListWidget::currentRowChanged, this,
            [this](int i) { session.setHooping(i); });
    connect(back, &QToolButton::clicked, this, [this] { step(-1); });
    connect(on, &QToolButton::clicked, this, [this] { step(1); });
    connect(stepping, &QCheckBox::clicked, this,
            [this](bool yes) { session.dividing.setStepping(yes); });
    connect(pin, &QPushButton::clicked, this, [this] {
        const Hooping& h = session.job().hoopings[static_cast<std::size_t>(session.hooping())];
        session.document.apply(pinClamping(h.clamping, !h.pinned));
    });
    connect(turn, &QPushButton::clicked, this, [this] {
        const Hooping& h = session.job().hoopings[static_cast<std::size_t>(session.hooping())];
        const auto hoop = session.library.hoop(h.hoop);
        if (!hoop) return;
        std::size_t next = 0;
        for (std::size_t i = 0; i < hoop->turns.size(); ++i)
            if (std::abs(std::remainder(hoop->turns[i] - h.frame.rotationDeg, 360)) < 1e-6)
                next = (i + 1) % hoop->turns.size();
        session.document.apply(
            moveClamping(h.clamping, {}, hoop->turns[next] - h.frame.rotationDeg, session.library));
    });
    connect(sewn, &QPushButton::clicked, this, [this] {
        const auto index = static_cast<std::size_t>(session.hooping());
        const auto derived = session.derived();
        if (!derived || !derived->planned || index >= derived->hoopings().size()) return;
        const bool begun = session.job().hoopings[index].sewn > 0;
        session.document.apply(
            markSewn(static_cast<int>(index) + 1, begun ? 0 : allSewn, derived->hoopings()[index]));
    });
    connect(&session, &Session::hoopingChanged, this, [this] {
        if (isVisible()) refreshHoopings();
    });
}

void PlanPage::step(int by) {
    const int n = static_cast<int>(session.job().hoopings.size());
    if (n > 0) session.setHooping(std::clamp(session.hooping() + by, 0, n - 1));
}

void PlanPage::takeChoices() {
    auto c = session.dividing.choices();
    c.method = static_cast<Method>(method->currentIndex());
    c.mayPart = part->isChecked();
    c.mayCut = cut->isChecked();
    c.straight = straight->isChecked();
    c.mostHoopings = most->value();
    session.dividing.choose(c);
}

const FrameOffer* PlanPage::chosenOffer() const {
    const int i = table->currentRow();
    return i < 0 || i >= static_cast<int>(offers.list().size())
               ? nullptr
               : &offers.list()[static_cast<std::size_t>(i)];
}

void PlanPage::refresh() {
    const auto& c = session.dividing.choices();
    method->setCurrentIndex(static_cast<int>(c.method));
    part->setChecked(c.mayPart);
    cut->setChecked(c.mayCut);
    straight->setChecked(c.straight);
    straight->setEnabled(c.mayCut);
    margin->setMm(c.marginMm);
    const QSignalBlocker quiet(most);
    most->setValue(c.mostHoopings);
    fillTable();
    refreshHoopings();
}

void PlanPage::fillTable() {
    const QSignalBlocker quiet(table);
    const int kept = table->currentRow();
    const int n = static_cast<int>(offers.list().size());
    const bool anew = table->rowCount() != n;
    table->setRowCount(n);
    int best = -1;
    for (int i = 0; i < n; ++i) {
        const FrameOffer& offer = offers.list()[static_cast<std::size_t>(i)];
        fillRow(i, offer);
        if (!offer.owned || !offer.division) continue;
        const auto& now = best < 0 ? offer : offers.list()[static_cast<std::size_t>(best)];
        const auto cost = [](const Division& d) {
            return std::pair{d.clampings, d.hoopings.size()};
        };
        if (best < 0 || cost(*offer.division) < cost(*now.division)) best = i;
    }
    if (anew) chosenByHand = false;
    table->selectRow(chosenByHand && kept >= 0 ? kept : std::max(0, best));
    stop->setVisible(offers.isBusy());
    const FrameOffer* chosen = chosenOffer();
    plan->setEnabled(chosen && chosen->division);
    if (chosen) showMisses(*chosen);
}

void PlanPage::fillRow(int r, const FrameOffer& offer) {
    const auto hoop = session.library.hoop(offer.hoop);
    const QString name = frameName(session.library, offer.hoop);
    QString size = hoop ? QString("%1×%2").arg(hoop->widthMm).arg(hoop->heightMm) : QString();
    if (hoop && hoop->slide) size += "↔";
    if (hoop && hoop->positions.size() > 1) size += QString(" ×%1").arg(hoop->positions.size());
    QStringList texts{(offer.owned ? "✓ " : "") + size, offer.done ? tr("no") : tr("…"), {}, {}};
    QString tip = name + (offer.owned ? tr(", owned") : QString()) +
                  (offer.reason.isEmpty() ? QString() : "\n" + offer.reason);
    if (offer.division) {
        const Division& d = *offer.division;
        const QString sure = d.provenMinimal ? QString() : tr("≥%1").arg(d.lowerBoundClampings);
        texts[hoopingsColumn] = QString::number(d.clampings) + sure + (offer.improving ? "…" : "");
        if (static_cast<int>(d.hoopings.size()) != d.clampings)
            tip += "\n" + tr("The cloth is hooped %1 for %2 lists.")
                              .arg(QString::fromStdString(timesText(d.clampings)))
                              .arg(d.hoopings.size());
        texts[joinColumn] =
            offer.joins.empty() ? tr("none") : QString::number(offer.worstJoinMm(), 'f', 1);
        texts[timeColumn] = hoursText(offer.seconds);
        std::size_t parted = 0;
        for (const Hooping& h : d.hoopings) parted += h.parts.size();
        tip +=
            "\n" +
            (d.provenMinimal ? tr("Proved: no plan needs fewer.")
                             : tr("Not proved: at least %1 hoopings, %2.")
                                   .arg(d.lowerBound)
                                   .arg(QString::fromStdString(timesText(d.lowerBoundClampings)))) +
            (offer.improving ? tr(" Fewer are still looked for.") : QString());
        tip += "\n" + tr("%1 cut, %2 in parts; stabilizer %3 cm²")
                          .arg(countText(static_cast<int>(d.cutPieces().size()), tr("one piece"),
                                         tr("%1 pieces")))
                          .arg(parted)
                          .arg(offer.stabilizerCm2, 0, 'f', 0);
        tip += "\n" + tr("Joins: the widest gap to expect (95 %), in mm");
    }
    for (int c = 0; c < columnCount; ++c) {
        auto* cell = new QTableWidgetItem(texts[c]);
        cell->setToolTip(tip);
        if (c > 0) cell->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        if (!offer.division) cell->setForeground(theme().ink2);
        table->setItem(r, c, cell);
    }
}

void PlanPage::showMisses(const FrameOffer& offer) {
    while (QLayoutItem* item = misses->takeAt(0)) {
        if (QWidget* gone = item->widget()) {
            gone->hide(); // it goes when the event loop runs again
            gone->deleteLater();
        }
        delete item;
    }
    plan->setEnabled(offer.division.has_value());
    if (!offer.advice.isEmpty()) misses->addWidget(quietLabel(offer.advice));
    for (const NearMiss& miss : offer.misses) {
        auto* words = wordsLabel(QString::fromStdString(miss.text));
        auto* take = new QPushButton(tr("Do so and plan"));
        take->setObjectName("takeNearMiss");
        misses->addWidget(words);
        misses->addWidget(take);
        connect(take, &QPushButton::clicked, this, [this, edit = miss.edit, id = offer.hoop] {
            planNext = id; // once it is known what the changed layout takes
            session.document.apply(edit);
        });
    }
}

void PlanPage::planChosen() {
    const FrameOffer* offer = chosenOffer();
    if (!offer) return;
    if (!offer->division) {
        if (offer->done) emit failed(tr("This frame cannot take the layout."), offer->reason);
        return;
    }
    takePlan(*offer);
}

void PlanPage::takePlan(const FrameOffer& offer) {
    const Division& d = *offer.division;
    session.document.apply(setHoopings(d.hoopings, d.predictedJoinRmsMm, d.cuts));
}

void PlanPage::refreshHoopings() {
    const QSignalBlocker quiet(hoopings);
    const Job& job = session.job();
    std::vector<ListLine> lines;
    int clamping = 0;
    for (std::size_t i = 0; i < job.hoopings.size(); ++i) {
        const Hooping& h = job.hoopings[i];
        QString text = tr("%1   ").arg(i + 1);
        text += h.clamping != clamping
                    ? tr("hoop at %1, %2")
                          .arg(session.lengthText(h.frame.x), session.lengthText(h.frame.y))
                    : tr("the cloth stays in");
        clamping = h.clamping;
        if (h.frame.rotationDeg != 0) text += tr(", turned %1°").arg(h.frame.rotationDeg);
        if (const auto hoop = session.library.hoop(h.hoop); hoop && hoop->positions.size() > 1)
            text += tr(", position %1").arg(h.position);
        if (h.sewn > 0)
            text += h.sewn == allSewn ? tr(" · sewn") : tr(" · sewn up to stitch %L1").arg(h.sewn);
        else if (h.pinned)
            text += tr(" · pinned");
        lines.push_back({text});
    }
    showLines(*hoopings, lines);
    const int chosen = session.hooping();
    hoopings->setCurrentRow(chosen);
    stepping->setChecked(session.dividing.isStepping());
    for (QWidget* w : std::initializer_list<QWidget*>{pin, turn, sewn, back, on, stepping, picture})
        w->setVisible(chosen >= 0);
    details->setVisible(chosen >= 0);
    if (chosen < 0) return;
    const Hooping& h = job.hoopings[static_cast<std::size_t>(chosen)];
    pin->setText(h.pinned ? tr("Free the frame") : tr("Pin the frame"));
    const auto hoop = session.library.hoop(h.hoop);
    pin->setEnabled(h.sewn == 0);
    turn->setEnabled(h.sewn == 0 && hoop && hoop->turns.size() > 1);
    sewn->setText(h.sewn > 0 ? tr("Not sewn after all") : tr("It is sewn"));
    const auto derived = session.derived();
    sewn->setEnabled(session.isCurrent() && derived && derived->planned &&
                     static_cast<int>(derived->hoopings().size()) > chosen);
    details->setText(detailsOf(chosen));
    picture->update();
}

QString PlanPage::detailsOf(int chosen) const {
    const Job& job = session.job();
    const auto derived = session.derived();
    const Hooping& h = job.hoopings[static_cast<std::size_t>(chosen)];
    // Copies and outlines are counted with the piece that they come from.
    std::vector<std::pair<const Piece*, int>> counted;
    for (const std::string& id : h.pieces) {
        const Piece* p = job.piece(id);
        if (!p) continue;
        const auto same = std::find_if(counted.begin(), counted.end(),
                                       [&](const auto& c) { return c.first == p; });
        const bool outline = id.find(":outline") != std::string::npos;
        if (same == counted.end())
            counted.emplace_back(p, outline ? 0 : 1);
        else if (!outline)
            ++same->second;
    }
    QStringList names;
    for (const auto& [p, n] : counted) {
        QString name =
            QString::fromStdString(p->name) + (n > 1 ? QString(" ×%1").arg(n) : QString());
        for (const PieceParts& some : h.parts)
            if (some.piece == p->id) name = tr("part of %1").arg(name);
        names << name;
    }
    QString stitches;
    if (derived && derived->planned &&
        static_cast<std::size_t>(chosen) < derived->hoopings().size())
        stitches = tr(" (%L1 stitches)")
                       .arg(derived->hoopings()[static_cast<std::size_t>(chosen)].stitches);
    return tr("<b>Sews</b> %1%2.")
        .arg(names.isEmpty() ? tr("only the crosses of later marks")
                             : names.join(", ").toHtmlEscaped(),
             stitches);
}

} // namespace rapt::app
