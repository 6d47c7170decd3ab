#include "app/ledger/keeping_dialog.h"

#include "app/kit/questions.h"
#include "app/kit/readout_parts.h"
#include "base/file_io.h"
#include "ledger/taking_in.h"
#include "record/record_csv.h"

#include <QDate>
#include <QDialogButtonBox>
#include <QFile>
#include <QGridLayout>
#include <QMessageBox>

namespace rapt::app {
namespace {

constexpr std::size_t mostCsvBytes = 1'000'000'000;
constexpr int pageRecords = 1000;

QString text(const std::string& s) { return QString::fromStdString(s); }

Status writeCsv(SharedLedger& l, const std::string& path, qint64& n) {
    std::vector<StitchOut> all;
    while (true) {
        const qint64 last = all.empty() ? 0 : all.back().id;
        auto page = l.with([&](Ledger& r) { return r.addedAfter(last, pageRecords); });
        if (!page) return page.error();
        if (page->empty()) break;
        all.insert(all.end(), page->begin(), page->end());
    }
    n = static_cast<qint64>(all.size());
    return writeWholeFile(path, formatRecordsCsv(all));
}

LedgerPlace fileAt(const QString& path) {
    LedgerPlace place;
    place.file = path;
    return place;
}

} // namespace

KeepingDialog::KeepingDialog(Session& s, QWidget* parent)
    : QDialog(parent), session(s), place(new QLineEdit), where(quietLabel({})), done(wordsLabel()),
      going(quietLabel({})), months(new QSpinBox),
      goodOnly(new QCheckBox(tr("only those that came out well"))),
      recordsToo(new QCheckBox(tr("the records too, not only their files"))), clear(nullptr) {
    setWindowTitle(tr("Keeping the ledger"));
    setObjectName("keepingDialog");
    resize(520, 460);
    auto* column = new QVBoxLayout(this);
    column->setSpacing(8);
    buildPlace();
    column->addWidget(hairLine());
    buildFiles();
    column->addWidget(hairLine());
    buildPruning();
    column->addWidget(hairLine());
    done->setObjectName("keepingDone");
    column->addWidget(done);
    column->addStretch();
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    column->addWidget(buttons);
}

QPushButton* KeepingDialog::button(const QString& words, const char* name,
                                   std::function<void()> act) {
    auto* made = new QPushButton(words);
    made->setObjectName(name);
    made->setAutoDefault(false);
    connect(made, &QPushButton::clicked, this, [act = std::move(act)] { act(); });
    return made;
}

void KeepingDialog::buildPlace() {
    auto* column = static_cast<QVBoxLayout*>(layout());
    column->addWidget(headLabel(tr("Where it is")));
    place->setObjectName("ledgerPlace");
    place->setText(LedgerState::setting());
    place->setPlaceholderText(tr("empty: a file on this computer"));
    auto* line = new QHBoxLayout;
    line->addWidget(place, 1);
    line->addWidget(button(tr("Use it"), "usePlace", [this] { takePlace(); }));
    column->addLayout(line);
    where->setText(
        tr("Several benches share one ledger by postgresql://USER@HOST/DATABASE. The password "
           "belongs into ~/.pgpass or PGPASSWORD, never here."));
    column->addWidget(where);
    if (qEnvironmentVariableIsSet("RAPT_LEDGER")) {
        place->setEnabled(false);
        where->setText(tr("RAPT_LEDGER says where it is."));
    }
}

void KeepingDialog::buildFiles() {
    auto* column = static_cast<QVBoxLayout*>(layout());
    column->addWidget(headLabel(tr("Copies")));
    auto* grid = new QGridLayout;
    grid->addWidget(button(tr("Back up into one file…"), "backUp", [this] { backUp(); }), 0, 0);
    grid->addWidget(button(tr("Restore from a backup…"), "restore", [this] { restore(); }), 0, 1);
    grid->addWidget(button(tr("Records as CSV…"), "exportCsv", [this] { exportCsv(); }), 1, 0);
    grid->addWidget(button(tr("Take in a CSV…"), "importCsv", [this] { importCsv(); }), 1, 1);
    column->addLayout(grid);
    column->addWidget(quietLabel(tr("Restoring and taking in add what is missing; nothing is "
                                    "doubled, nothing is overwritten.")));
}

void KeepingDialog::buildPruning() {
    auto* column = static_cast<QVBoxLayout*>(layout());
    column->addWidget(headLabel(tr("Clearing out")));
    months->setObjectName("pruneMonths");
    months->setRange(0, 600);
    months->setValue(24);
    months->setSuffix(tr(" months"));
    goodOnly->setObjectName("pruneGood");
    goodOnly->setChecked(true);
    recordsToo->setObjectName("pruneRecords");
    auto* line = new QHBoxLayout;
    line->addWidget(new QLabel(tr("Older than")));
    line->addWidget(months);
    line->addWidget(goodOnly, 1);
    column->addLayout(line);
    column->addWidget(recordsToo);
    going->setObjectName("pruneWhat");
    column->addWidget(going);
    clear = button(tr("Clear out"), "prune", [this] { clearOut(); });
    clear->setEnabled(false);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(button(tr("See what would go"), "prunePreview", [this] { preview(); }));
    buttons->addWidget(clear);
    column->addLayout(buttons);
    const auto forget = [this] {
        seen.reset();
        clear->setEnabled(false);
        going->clear();
    };
    connect(months, &QSpinBox::valueChanged, this, forget);
    connect(goodOnly, &QCheckBox::toggled, this, forget);
    connect(recordsToo, &QCheckBox::toggled, this, forget);
}

template<class Work>
void KeepingDialog::work(Work doIt) {
    say(tr("At work …"));
    session.ledger.ask(this, doIt, [this](const Result<QString>& words) {
        say(words ? *words : text(words.error().line()));
        session.ledger.changedSomething();
    });
}

void KeepingDialog::takePlace() {
    const Status taken = session.ledger.setSetting(place->text().trimmed());
    if (!taken) return say(text(taken.error().reason));
    work([](SharedLedger& l) -> Result<QString> {
        const auto n = l.with([](Ledger& r) { return r.count({}); });
        if (!n) return n.error();
        return QString("%1 records in %2.").arg(*n).arg(l.place().words());
    });
}

void KeepingDialog::backUp() {
    const QString path =
        askSaveName(this, tr("Back up the ledger"),
                    "ledger-" + QDate::currentDate().toString(Qt::ISODate) + ".sqlite",
                    tr("Ledger (*.sqlite)"));
    if (path.isEmpty()) return;
    work([path](SharedLedger& l) -> Result<QString> {
        // Made aside, so that an older backup stays until the new one is whole.
        const QString aside = path + ".new";
        QFile::remove(aside);
        {
            Ledger copy;
            if (const Status opened = copy.open(fileAt(aside)); !opened) return opened.error();
            const auto n = l.with([&](Ledger& r) { return copyLedger(r, copy); });
            if (!n) return n.error();
        }
        QFile::remove(path);
        if (!QFile::rename(aside, path))
            return badInput("cannot be written", {}, path.toStdString());
        const auto n = l.with([](Ledger& r) { return r.count({}); });
        return QString("%1 records in %2.").arg(n ? *n : 0).arg(path);
    });
}

void KeepingDialog::restore() {
    const QString path = askOpenName(this, tr("Restore from a backup"), tr("Ledger (*.sqlite)"));
    if (path.isEmpty()) return;
    work([path](SharedLedger& l) -> Result<QString> {
        Ledger backup;
        if (const Status opened = backup.open(fileAt(path)); !opened) return opened.error();
        const auto n = l.with([&](Ledger& r) { return copyLedger(backup, r); });
        if (!n) return n.error();
        return QString("%1 records came back.").arg(*n);
    });
}

void KeepingDialog::exportCsv() {
    const QString path =
        askSaveName(this, tr("Records as CSV"), "records.csv", tr("Table (*.csv)"));
    if (path.isEmpty()) return;
    work([path](SharedLedger& l) -> Result<QString> {
        qint64 n = 0;
        if (const Status written = writeCsv(l, path.toStdString(), n); !written)
            return written.error();
        return QString("%1 records in %2.").arg(n).arg(path);
    });
}

void KeepingDialog::importCsv() {
    const QString path = askOpenName(this, tr("Take in a CSV"), tr("Table (*.csv)"));
    if (path.isEmpty()) return;
    work([path](SharedLedger& l) -> Result<QString> {
        const auto bytes = readWholeFile(path.toStdString(), mostCsvBytes);
        if (!bytes) return bytes.error();
        const auto records = parseRecordsCsv(*bytes, path.toStdString());
        if (!records) return records.error();
        const auto added = l.with([&](Ledger& r) { return takeIn(r, *records); });
        if (!added) return added.error();
        return QString("%1 of %2 records were new.").arg(*added).arg(records->size());
    });
}

PruneRule KeepingDialog::rule() const {
    return {QDate::currentDate().addMonths(-months->value()).toString(Qt::ISODate),
            goodOnly->isChecked(), !recordsToo->isChecked()};
}

void KeepingDialog::preview() {
    session.ledger.ask(
        this,
        [r = rule()](SharedLedger& l) {
            return l.with([&](Ledger& all) { return prunable(all, r); });
        },
        [this](Result<Prunable> found) {
            if (!found) return going->setText(text(found.error().line()));
            seen = std::move(*found);
            clear->setEnabled(!seen->uids.empty());
            going->setText(seen->uids.empty() ? tr("Nothing would go.")
                                              : tr("%1 records from %2 to %3, %4 files, %5 MB.")
                                                    .arg(seen->uids.size())
                                                    .arg(seen->oldest, seen->newest)
                                                    .arg(seen->files.size())
                                                    .arg(seen->bytes / 1e6, 0, 'f', 1));
        });
}

void KeepingDialog::clearOut() {
    if (!seen) return;
    QMessageBox box(QMessageBox::Warning, tr("Clear out?"),
                    going->text() + "\n" + tr("This cannot be undone; a backup keeps them."),
                    QMessageBox::Cancel, this);
    box.addButton(tr("Clear out"), QMessageBox::AcceptRole);
    box.exec();
    if (box.buttonRole(box.clickedButton()) != QMessageBox::AcceptRole) return;
    work([r = rule(), what = *seen](SharedLedger& l) -> Result<QString> {
        const Status gone = l.with([&](Ledger& all) { return prune(all, r, what); });
        if (!gone) return gone.error();
        return QString("%1 cleared out.")
            .arg(r.filesOnly ? QString("%1 files").arg(what.files.size())
                             : QString("%1 records").arg(what.uids.size()));
    });
    seen.reset();
    clear->setEnabled(false);
    going->clear();
}

} // namespace rapt::app
