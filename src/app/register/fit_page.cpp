#include "app/register/fit_page.h"

#include "app/kit/plain_table.h"
#include "registration/guided.h"

#include <QSignalBlocker>

namespace rapt::app {
namespace {

enum Column { nameColumn, howColumn, offColumn, sigmaColumn };
constexpr int shownRows = 4;

} // namespace

FitPage::FitPage(Session& s)
    : Page(s), table(new QTableWidget), model(new QComboBox), numbers(wordsLabel()),
      trustWords(wordsLabel()), missWords(wordsLabel()), panelWords(wordsLabel()) {
    makePlain(*table, {tr("Seen"), tr("How"), tr("Off mm"), tr("± mm")}, shownRows);
    table->setObjectName("seen");
    table->setAccessibleName(tr("What was seen"));
    table->setToolTip(tr("Untick what you do not trust; Delete forgets it"));
    column->addWidget(table);
    connect(table, &QTableWidget::itemChanged, this, [this](QTableWidgetItem* item) {
        if (item->column() == nameColumn)
            session.document.apply(leaveOut(session.hooping() + 1,
                                            static_cast<std::size_t>(item->row()),
                                            item->checkState() != Qt::Checked));
    });
    auto* forget = button(tr("Forget it"), "forgetSeen", [this] {
        if (table->currentRow() >= 0)
            session.document.apply(removeObservation(
                session.hooping() + 1, static_cast<std::size_t>(table->currentRow())));
    });
    model->setObjectName("model");
    model->setAccessibleName(tr("What the correction may do"));
    model->addItems({tr("turn and move"), tr("stretch, too"), tr("stretch and skew")});
    connect(model, &QComboBox::activated, this, [this](int i) {
        session.document.apply(setModel(session.hooping() + 1, static_cast<MotionModel>(i)));
    });
    column->addWidget(model);
    trust = button(tr("Trust map"), "trustMap",
                   [this] { session.registering.setShowsTrust(trust->isChecked()); });
    trust->setCheckable(true);
    trust->setToolTip(tr("Lines of the error to expect, all over the field"));
    column->addLayout(sideBySide({trust, forget}));
    column->addWidget(numbers);
    numbers->setObjectName("fitNumbers");
    column->addWidget(hairLine());
    trustWords->setObjectName("trustWords");
    column->addWidget(trustWords);
    column->addWidget(hairLine());
    missWords->setObjectName("missWords");
    column->addWidget(missWords);
    correct = mainButton(tr("Sew with the correction"));
    correct->setObjectName("sewCorrected");
    connect(correct, &QPushButton::clicked, this, [this] { choose(CorrectionChoice::corrected); });
    planned =
        button(tr("Sew as planned"), "sewPlanned", [this] { choose(CorrectionChoice::asPlanned); });
    again = button(tr("Choose anew"), "chooseAnew", [this] { choose(CorrectionChoice::open); });
    column->addWidget(correct);
    column->addLayout(sideBySide({planned, again}));
    panelWords->setObjectName("panelWords");
    column->addWidget(panelWords);
    column->addStretch();
}

void FitPage::choose(CorrectionChoice choice) {
    session.document.apply(chooseCorrection(session.hooping() + 1, choice));
}

void FitPage::refresh() {
    const Registration* r = session.job().registration(session.hooping() + 1);
    const auto* known = session.assessment();
    const Assessment* a = known && *known ? &**known : nullptr;
    const bool any = r && !r->observations.empty();
    for (QWidget* w : findChildren<QWidget*>()) w->setEnabled(any);
    trust->setChecked(session.registering.showsTrust());
    if (!any) {
        table->setRowCount(0);
        numbers->setText(tr("Nothing was seen yet: read a scan, or find points."));
        trustWords->clear();
        missWords->clear();
        panelWords->clear();
        return;
    }
    fillTable(*r, a);
    model->setCurrentIndex(static_cast<int>(r->model));
    if (known && !*known)
        numbers->setText(QString::fromStdString((*known).error().reason) + ".");
    else if (!a)
        numbers->setText(tr("Being worked out…"));
    else
        showNumbers(*a);
    if (a) showTrust(*a);
    if (!a) trustWords->clear();
    const bool misses = a && a->miss;
    missWords->setVisible(misses);
    if (misses) {
        // The judgement above says what is short; this is what can be done.
        QString text = QString::fromStdString(a->miss->text);
        text = text.mid(text.indexOf("At most"));
        missWords->setText("<b>" + tr("Stop:") + "</b> " + text);
    }
    const bool moved = r->choice == CorrectionChoice::corrected;
    panelWords->setText(!a || !a->panel ? QString()
                        : moved ? tr("The list is moved already: key in nothing at the panel.")
                                : "<b>" + tr("Or at the panel,") + "</b> " +
                                      tr("with the list as planned: ") +
                                      QString::fromStdString(a->panel->text));
    correct->setEnabled(a && !misses && r->choice != CorrectionChoice::corrected);
    planned->setEnabled(r->choice != CorrectionChoice::asPlanned);
    again->setEnabled(r->choice != CorrectionChoice::open);
}

void FitPage::fillTable(const Registration& r, const Assessment* a) {
    const QSignalBlocker quiet(table);
    const int row = table->currentRow();
    table->setRowCount(static_cast<int>(r.observations.size()));
    const bool same = a && a->report.fit.residuals.size() == r.observations.size();
    for (int i = 0; i < table->rowCount(); ++i) {
        const auto k = static_cast<std::size_t>(i);
        const Observation& o = r.observations[k];
        const bool suspect = same && a->report.suspectIsSerious && a->report.suspect == k;
        const QString off =
            same ? QString::number(length(a->report.fit.residuals[k]), 'f', 2) : QString("…");
        const QString texts[] = {QString::fromStdString(o.name) + (suspect ? " ⚠" : ""),
                                 tr(o.by.c_str()), off, QString::number(o.sigmaMm, 'f', 2)};
        for (int c = nameColumn; c <= sigmaColumn; ++c) {
            auto* item = new QTableWidgetItem(texts[c]);
            if (c >= offColumn) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            if (c == nameColumn) {
                item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
                item->setCheckState(o.leftOut ? Qt::Unchecked : Qt::Checked);
            }
            table->setItem(i, c, item);
        }
    }
    if (row >= 0) table->selectRow(row);
}

void FitPage::showNumbers(const Assessment& a) {
    const MotionFit& f = a.report.fit;
    QStringList rows;
    const auto add = [&](const QString& what, const QString& value) {
        rows << QString("<tr><td style='padding-right:12px'>%1</td><td><b>%2</b></td></tr>")
                    .arg(what, value);
    };
    add(tr("Turn"), tr("%1°").arg(f.rotationDeg, 0, 'f', 2));
    add(tr("Move"),
        tr("x %1, y %2")
            .arg(session.lengthText(f.translation.x, 2), session.lengthText(f.translation.y, 2)));
    add(tr("Agrees to"), tr("%1 mm RMS").arg(f.rmsMm, 0, 'f', 2));
    if (f.model != MotionModel::rigid)
        add(tr("Stretch"), tr("%1 % across, %2 % down")
                               .arg((f.stretchX - 1) * 100, 0, 'f', 2)
                               .arg((f.stretchY - 1) * 100, 0, 'f', 2));
    else if (a.report.scale)
        add(tr("Cloth scale"), tr("%1 %").arg(100 * *a.report.scale, 0, 'f', 2));
    const ObservationReport& r = a.report;
    add(tr("Out of square"), !r.squareErrorDeg  ? tr("needs three places or two lines")
                             : r.squareSigmaDeg ? tr("%1° (±%2°)")
                                                      .arg(*r.squareErrorDeg, 0, 'f', 2)
                                                      .arg(2 * *r.squareSigmaDeg, 0, 'f', 2)
                                                : tr("%1°").arg(*r.squareErrorDeg, 0, 'f', 2));
    numbers->setText("<table cellspacing='2'>" + rows.join("") + "</table>");
}

void FitPage::showTrust(const Assessment& a) {
    QStringList words;
    if (!a.places.empty())
        words << tr("Expect %1 mm at the worst place (%2).")
                     .arg(a.places.front().errorMm, 0, 'f', 2)
                     .arg(QString::fromStdString(a.places.front().name));
    for (const JoinCheck& j : a.joins) {
        words << tr("%1 Join %2–%3: gap %4, at most %5 mm; the limit is %6.")
                     .arg(j.held ? "✓" : "△")
                     .arg(j.join.earlier + 1)
                     .arg(j.join.later + 1)
                     .arg(j.medianMm, 0, 'f', 2)
                     .arg(j.p95Mm, 0, 'f', 2)
                     .arg(a.limitMm, 0, 'f', 2);
        if (!j.held && !(j.earlierKnown && j.laterKnown))
            words.back() += tr(" Hooping %1 is not registered; most of it comes from there.")
                                .arg((j.laterKnown ? j.join.earlier : j.join.later) + 1);
    }
    if (a.advice)
        words << tr("One more card or point at x %1, y %2 brings the worst from %3 to %4 mm.")
                     .arg(a.advice->at.x, 0, 'f', 0)
                     .arg(a.advice->at.y, 0, 'f', 0)
                     .arg(a.advice->beforeMm, 0, 'f', 2)
                     .arg(a.advice->afterMm, 0, 'f', 2);
    trustWords->setText(words.join("<br>"));
}

} // namespace rapt::app
