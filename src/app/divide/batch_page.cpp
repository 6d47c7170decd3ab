#include "app/divide/batch_page.h"

#include "app/panels/plain_table.h"

#include <QSignalBlocker>

namespace rapt::app {
BatchPage::BatchPage(Session& s)
    : ComposePage(s), quantity(new NumberEdit("Items", "", 0)), gap(new LengthEdit(s, "Gap")),
      table(new QTableWidget), words(wordsLabel()), nameList(new QPlainTextEdit),
      layOut(button(tr("Lay out one clamping"), "layBatch", [this] { lay(); })) {
    quantity->setRange(1, 100'000);
    gap->setRange(0, 500);
    column->addLayout(pairRow(tr("Items"), quantity, tr("Gap"), gap));
    makePlain(*table, {tr("Frame"), tr("Each"), tr("Clamp"), tr("Over"), tr("h:min")}, 8);
    table->setObjectName("batchTable");
    table->setAccessibleName(tr("Frames for the batch"));
    nameList->setObjectName("batchNames");
    nameList->setPlaceholderText(tr("One name a line, for a layout with one piece of lettering"));
    nameList->setFixedHeight(84);
    column->addWidget(table);
    column->addWidget(words);
    column->addWidget(headLabel(tr("Names, if each item bears one")));
    column->addWidget(nameList);
    column->addWidget(layOut);
    connect(quantity, &NumberEdit::typed, this, [this](double n) {
        request.quantity = static_cast<int>(n);
        ask();
    });
    connect(gap, &LengthEdit::typed, this, [this](double mm) {
        request.gapMm = mm;
        ask();
    });
    connect(table, &QTableWidget::itemSelectionChanged, this, &BatchPage::fill);
    connect(nameList, &QPlainTextEdit::textChanged, this, &BatchPage::fill);
    connect(laying.get(), &Errands::busyChanged, this, &BatchPage::fill);
}

void BatchPage::refresh() {
    if (const int briefed = session.job().brief.quantity; briefed != quantityInBrief)
        request.quantity = quantityInBrief = briefed;
    quantity->setValue(request.quantity);
    gap->setMm(request.gapMm);
    if (answer.revision != session.document.revision() && !planning->isBusy()) ask();
    fill();
}

void BatchPage::ask() {
    planning->ask(
        session.asItIsNow(),
        [job = session.job(), library = session.library, asked = request,
         revision = session.document.revision()](std::stop_token) {
            Answer a{revision, {}, {}};
            const auto offers = planBatch(job, library.hoops, library, asked);
            if (offers)
                a.offers = *offers;
            else
                a.reason = QString::fromStdString(offers.error().reason);
            return a;
        },
        [this](const Answer& made) {
            answer = made;
            fill();
        });
}

std::vector<std::string> BatchPage::names() const {
    std::vector<std::string> list;
    for (const QString& line : nameList->toPlainText().split('\n', Qt::SkipEmptyParts))
        if (!line.trimmed().isEmpty()) list.push_back(line.trimmed().toStdString());
    return list;
}

void BatchPage::fill() {
    const QSignalBlocker quiet(table);
    const auto& owned = session.job().brief.hoops;
    const int n = static_cast<int>(answer.offers.size());
    const int kept = table->rowCount() == n ? table->currentRow() : -1;
    int firstOwned = -1;
    table->setRowCount(n);
    for (int i = 0; i < n; ++i) {
        const BatchOffer& o = answer.offers[static_cast<std::size_t>(i)];
        const auto hoop = session.library.hoop(o.hoop);
        QString name = hoop ? QString("%1×%2").arg(hoop->widthMm).arg(hoop->heightMm) : QString();
        if (hoop && hoop->slide) name += " ↔";
        if (hoop && hoop->positions.size() > 1) name += QString(" ×%1").arg(hoop->positions.size());
        if (std::find(owned.begin(), owned.end(), o.hoop) != owned.end()) {
            name = "✓ " + name;
            if (firstOwned < 0) firstOwned = i;
        }
        const QString texts[] = {name, QString::number(o.perClamping()),
                                 QString::number(o.clampings), QString::number(o.leftOver),
                                 hoursText(o.seconds)};
        for (int c = 0; c < 5; ++c) {
            auto* cell = new QTableWidgetItem(texts[c]);
            if (hoop) cell->setToolTip(QString::fromStdString(hoop->name));
            if (c > 0) cell->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            table->setItem(i, c, cell);
        }
    }
    if (n > 0) table->selectRow(kept >= 0 ? kept : std::max(0, firstOwned));
    layOut->setEnabled(n > 0 && !laying->isBusy());
    if (n == 0) {
        words->setText(answer.reason);
        return;
    }
    const BatchOffer& o = answer.offers[static_cast<std::size_t>(table->currentRow())];
    QString text = tr("%1 cm² of stabilizer. ").arg(o.stabilizerCm2, 0, 'f', 0);
    if (!o.lastIn.empty()) {
        const auto last = session.library.hoop(o.lastIn);
        text += tr("The last clamping is not full: in %1 it saves %2 cm². ")
                    .arg(QString::fromStdString(last ? last->name : o.lastIn))
                    .arg(o.lastSavesCm2, 0, 'f', 0);
    }
    if (const auto given = names();
        !given.empty() && static_cast<int>(given.size()) > o.perClamping())
        text += tr("%1 names are left for the next clamping.")
                    .arg(static_cast<int>(given.size()) - o.perClamping());
    words->setText(text);
}

void BatchPage::lay() {
    const int i = table->currentRow();
    if (i < 0 || i >= static_cast<int>(answer.offers.size()) || laying->isBusy()) return;
    laying->ask(
        session.inThisJob(),
        [job = session.job(), library = session.library,
         offer = answer.offers[static_cast<std::size_t>(i)],
         given = names()](std::stop_token) { return batchJob(job, offer, library, given); },
        [this](const Result<Job>& made) {
            if (made)
                emit jobMade(*made);
            else
                emit failed(tr("The batch was not laid out."),
                            QString::fromStdString(made.error().reason));
        });
}

} // namespace rapt::app
