#include "app/ledger/records_page.h"

#include "app/ledger/keeping_dialog.h"
#include "app/ledger/outcome_dialog.h"
#include "app/theme/theme.h"
#include "estimate/timing.h"
#include "formats/job_file.h"
#include "job/edit_lettering.h"

#include <QInputDialog>
#include <QMessageBox>

namespace rapt::app {
namespace {

constexpr int typingMs = 120;

QString text(const std::string& s) { return QString::fromStdString(s); }

QString detailsOf(const StitchOut& r) {
    QStringList lines;
    const auto add = [&](const QString& name, const QString& value) {
        if (!value.isEmpty()) lines << name + ": " + value;
    };
    QString what = outcomeWords(r.outcome);
    for (const Cause& c : causes())
        if (c.id == r.cause) what += ", " + text(c.words);
    if (r.spotX && r.spotY)
        what += QString(" at %1, %2 mm").arg(*r.spotX, 0, 'f', 0).arg(*r.spotY, 0, 'f', 0);
    lines << what;
    if (!r.note.empty()) lines << text(r.note).simplified();
    add(QObject::tr("For"), text(r.customer));
    add(QObject::tr("Cloth"), text(r.cloth));
    QStringList threads;
    for (const ThreadUsed& t : r.threads)
        threads << QString("%1 %2 m")
                       .arg(text(t.name.empty() ? t.color : t.name))
                       .arg(t.lengthM, 0, 'f', 0);
    add(QObject::tr("Threads"), threads.join(", "));
    if (r.peakLayers) add(QObject::tr("Load"), QString("%1 layers").arg(*r.peakLayers, 0, 'f', 1));
    QStringList words;
    for (const WordsSewn& w : r.lettering)
        words << QString("“%1” %2 mm").arg(text(w.text).simplified()).arg(w.capMm, 0, 'f', 0);
    add(QObject::tr("Words"), words.join(", "));
    QStringList gaps;
    for (const double g : r.gapsMm) gaps << QString::number(g);
    if (!gaps.isEmpty()) add(QObject::tr("Joins"), gaps.join(", ") + " mm");
    if (r.secondsTaken && r.secondsEstimated)
        add(QObject::tr("Time"), QObject::tr("%1, estimated %2")
                                     .arg(text(formatDuration(*r.secondsTaken)),
                                          text(formatDuration(*r.secondsEstimated))));
    return lines.join("\n");
}

/// The job's first words become others; the record's name goes with them.
bool replaceWords(Job& job, const std::string& from, const std::string& to) {
    for (Piece& piece : job.pieces)
        if (auto* l = std::get_if<LetteringContent>(&piece.content);
            l && l->lettering->text == from) {
            auto changed = std::make_shared<Lettering>(*l->lettering);
            changed->text = to;
            l->lettering = std::move(changed);
            return true;
        }
    return false;
}

} // namespace

RecordsPage::RecordsPage(Session& s)
    : ComposePage(s), model(s.ledger), search(new QLineEdit), outcome(new QComboBox),
      fabric(new QComboBox), asPictures(new QPushButton), list(new QListView),
      count(quietLabel({})), details(wordsLabel()), open(nullptr), again(nullptr), change(nullptr),
      remove(nullptr) {
    auto* keep = mainButton(tr("Keep how this job came out…"));
    keep->setObjectName("record");
    column->addWidget(keep);
    connect(keep, &QPushButton::clicked, this, &RecordsPage::keepThis);
    buildSearch();
    buildList();
    buildChosen();
    typing.setSingleShot(true);
    typing.setInterval(typingMs);
    connect(&typing, &QTimer::timeout, this, &RecordsPage::look);
    connect(&session.ledger, &LedgerState::changed, this, &RecordsPage::look);
    connect(&session.ledger, &LedgerState::noticeChanged, this, &RecordsPage::showCount);
    connect(&model, &RecordModel::looked, this, &RecordsPage::showCount);
    connect(list->selectionModel(), &QItemSelectionModel::currentChanged, this,
            &RecordsPage::showChosen);
    connect(&model, &QAbstractItemModel::modelReset, this, &RecordsPage::showChosen);
    look();
}

void RecordsPage::buildSearch() {
    search->setObjectName("recordSearch");
    search->setPlaceholderText(tr("Find by word, name, thread, date, size"));
    search->setClearButtonEnabled(true);
    column->addWidget(search);
    outcome->setObjectName("recordOutcome");
    outcome->addItem(tr("Any outcome"), "");
    for (const std::string& o : outcomes()) outcome->addItem(text(o), text(o));
    fabric->setObjectName("recordFabric");
    fabric->addItem(tr("Any fabric"), "");
    for (const Fabric& f : session.library.fabrics) fabric->addItem(text(f.name), text(f.id));
    asPictures->setObjectName("recordPictures");
    asPictures->setText(tr("Pictures"));
    asPictures->setCheckable(true);
    auto* keeping = new QPushButton;
    keeping->setObjectName("keeping");
    keeping->setText(tr("Keeping…"));
    keeping->setToolTip(tr("Where the ledger is, backup, CSV, clearing out"));
    auto* line = new QHBoxLayout;
    line->setSpacing(4);
    outcome->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    fabric->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    line->addWidget(outcome, 1);
    line->addWidget(fabric, 1);
    line->addWidget(asPictures);
    column->addLayout(line);
    auto* second = new QHBoxLayout;
    count->setObjectName("recordCount");
    count->setToolTip(tr("Thread and time that they took together, and what they came to"));
    second->addWidget(count, 1);
    second->addWidget(keeping);
    column->addLayout(second);
    connect(search, &QLineEdit::textChanged, &typing, qOverload<>(&QTimer::start));
    connect(outcome, &QComboBox::activated, this, &RecordsPage::look);
    connect(fabric, &QComboBox::activated, this, &RecordsPage::look);
    connect(keeping, &QPushButton::clicked, this, [this] {
        KeepingDialog dialog(session, this);
        dialog.exec();
        look();
    });
    connect(asPictures, &QPushButton::toggled, this, [this](bool on) {
        card.asPicture = on;
        list->setViewMode(on ? QListView::IconMode : QListView::ListMode);
        list->setMovement(QListView::Static);
        list->doItemsLayout();
    });
}

void RecordsPage::buildList() {
    list->setObjectName("recordList");
    list->setAccessibleName(tr("Records"));
    list->setModel(&model);
    list->setItemDelegate(&card);
    list->setUniformItemSizes(true);
    list->setResizeMode(QListView::Adjust);
    list->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list->setMinimumHeight(120);
    column->addWidget(list, 5);
    connect(list, &QListView::doubleClicked, this, [this] { openChosen(false); });
}

void RecordsPage::buildChosen() {
    details->setObjectName("recordDetails");
    details->setTextFormat(Qt::PlainText);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    details->setAlignment(Qt::AlignTop);
    scroll->setWidget(details);
    scroll->setMinimumHeight(90);
    column->addWidget(scroll, 3);
    open = button(tr("Open as it was"), "openRecord", [this] { openChosen(false); });
    again = button(tr("Again with another name…"), "againRecord", [this] { openChosen(true); });
    change = button(tr("Change…"), "changeRecord", [this] { changeChosen(); });
    remove = button(tr("Remove"), "removeRecord", [this] { removeChosen(); });
    column->addLayout(sideBySide({open, again}));
    column->addLayout(sideBySide({change, remove}));
}

void RecordsPage::refresh() { showCount(); }

void RecordsPage::look() {
    RecordQuery query;
    query.text = search->text();
    query.outcome = outcome->currentData().toString();
    query.fabric = fabric->currentData().toString();
    model.look(query);
}

void RecordsPage::showCount() {
    QString words = !model.problem().isEmpty()
                        ? model.problem()
                        : tr("%1 record%2").arg(model.total()).arg(model.total() == 1 ? "" : "s");
    if (const auto& sums = model.sums(); sums && model.problem().isEmpty())
        words += tr(", %L1 m, %2\n%3 good, %4 mended, %5 spoilt")
                     .arg(sums->threadM, 0, 'f', 0)
                     .arg(QString::fromStdString(formatDuration(sums->seconds)))
                     .arg(sums->good)
                     .arg(sums->mended)
                     .arg(sums->spoilt);
    if (!session.ledger.notice().isEmpty() && model.problem().isEmpty())
        words += ". " + session.ledger.notice();
    count->setText(words);
}

const StitchOut* RecordsPage::chosen() const {
    const QModelIndex index = list->currentIndex();
    return index.isValid() ? &model.at(index.row()) : nullptr;
}

void RecordsPage::showChosen() {
    whole.reset();
    const StitchOut* r = chosen();
    for (QPushButton* b : {open, again, change, remove}) b->setEnabled(false);
    details->setText(r ? QString() : tr("Choose a record to see what was sewn."));
    if (!r) return;
    const QString uid = text(r->uid);
    session.ledger.ask(
        this,
        [uid](SharedLedger& l) {
            return l.with([&](Ledger& records) { return records.record(uid); });
        },
        [this, uid](const Result<std::optional<StitchOut>>& found) {
            const StitchOut* now = chosen();
            if (!now || text(now->uid) != uid || !found || !*found) return;
            whole = **found;
            details->setText(detailsOf(*whole));
            change->setEnabled(true);
            remove->setEnabled(true);
            open->setEnabled(!whole->jobFile.empty());
            again->setEnabled(!whole->jobFile.empty());
        });
}

void RecordsPage::keepThis() {
    StitchOut said;
    said.job = session.job().name;
    said.jobId = session.job().identity.text;
    said.customer = session.job().brief.item;
    keep(said, jobSewn(session));
}

/// Asks, and keeps it; asks again with what was said already if that fails.
void RecordsPage::keep(const StitchOut& before, const JobSewn& sewn) {
    OutcomeDialog dialog(before, this);
    // What fills itself is worked out while the person says the rest.
    auto filled = std::make_shared<std::optional<Result<FilledRecord>>>();
    session.ledger.ask(
        &dialog, [sewn](SharedLedger&) { return fillRecord(sewn); },
        [&dialog, filled](Result<FilledRecord> result) {
            filled->emplace(std::move(result));
            if (!**filled) return dialog.setFacts(text((**filled).error().line()));
            const StitchOut& r = (**filled)->record;
            dialog.setPicture(QImage::fromData((**filled)->files[1].bytes));
            dialog.setFacts(tr("%L1 stitches, peak %2 layers, hoopings: %3, stops in the run: %4")
                                .arg(r.stitches.value_or(0), 0, 'f', 0)
                                .arg(r.peakLayers.value_or(0), 0, 'f', 1)
                                .arg(r.hoopings.value_or(0))
                                .arg(r.events.size()));
        });
    if (dialog.exec() != QDialog::Accepted) return;
    StitchOut said = before;
    dialog.writeTo(said);
    const Said words{said, dialog.photo(), dialog.photoPixels()};
    session.ledger.ask(
        this,
        [words, sewn, filled](SharedLedger& l) {
            return keepRecord(l, sewn, filled->has_value() ? **filled : fillRecord(sewn), words);
        },
        [this, said, sewn](const Result<std::optional<qint64>>& added) {
            session.ledger.changedSomething();
            if (added) return;
            emit failed(tr("The record is not kept"), text(added.error().line()));
            keep(said, sewn);
        });
}

void RecordsPage::changeChosen() {
    if (!whole) return;
    StitchOut record = *whole;
    OutcomeDialog dialog(record, this);
    const QString hash = text(record.picture);
    if (!hash.isEmpty())
        session.ledger.ask(
            &dialog,
            [hash](SharedLedger& l) { return l.with([&](Ledger& r) { return r.file(hash); }); },
            [&dialog](const Result<QByteArray>& bytes) {
                if (bytes) dialog.setPicture(QImage::fromData(*bytes));
            });
    dialog.setFacts(text(record.date));
    if (dialog.exec() != QDialog::Accepted) return;
    dialog.writeTo(record);
    const QString photo = dialog.photo();
    const int pixels = dialog.photoPixels();
    session.ledger.ask(
        this,
        [record, photo, pixels](SharedLedger& l) mutable -> Status {
            std::vector<LedgerFile> files;
            if (const Status added = addPhoto(photo, pixels, record, files); !added) return added;
            return l.with([&](Ledger& r) { return r.change(record, files); });
        },
        [this](const Status& changed) {
            if (!changed) emit failed(tr("Not changed"), text(changed.error().reason));
            session.ledger.changedSomething();
        });
}

void RecordsPage::removeChosen() {
    if (!whole) return;
    const StitchOut record = *whole; // another may be shown when the question is answered
    QMessageBox box(QMessageBox::Question, tr("Remove this record?"),
                    tr("%1 of %2 goes for good; what was learnt from it may change.")
                        .arg(text(record.job), text(record.date)),
                    QMessageBox::Cancel, this);
    box.addButton(tr("Remove"), QMessageBox::AcceptRole);
    box.exec();
    if (box.buttonRole(box.clickedButton()) != QMessageBox::AcceptRole) return;
    const QString uid = text(record.uid);
    session.ledger.ask(
        this, [uid](SharedLedger& l) { return l.with([&](Ledger& r) { return r.remove({uid}); }); },
        [this](const Status& removed) {
            if (!removed) emit failed(tr("Not removed"), text(removed.error().line()));
            session.ledger.changedSomething();
        });
}

void RecordsPage::openChosen(bool withNewName) {
    if (!whole || whole->jobFile.empty()) return;
    const StitchOut record = *whole;
    std::string from, to;
    if (withNewName && !record.lettering.empty()) {
        from = record.lettering.front().text;
        bool good = false;
        to = QInputDialog::getText(this, tr("Again with another name"),
                                   tr("Instead of “%1”:").arg(text(from)), QLineEdit::Normal,
                                   text(from), &good)
                 .trimmed()
                 .toStdString();
        if (!good || to.empty()) return;
    }
    const QString hash = text(record.jobFile);
    session.ledger.ask(
        this,
        [hash](SharedLedger& l) -> Result<Job> {
            const auto bytes = l.with([&](Ledger& r) { return r.file(hash); });
            if (!bytes) return bytes.error();
            if (bytes->isEmpty()) return badInput("its job was cleared out of the ledger");
            return unpackJob(bytes->toStdString(), "the record's job");
        },
        [this, from, to, withNewName](Result<Job> job) {
            if (!job) return emit failed(tr("It cannot be opened"), text(job.error().line()));
            if (withNewName) {
                // It is sewn anew: nothing of it was found on the cloth yet.
                job->registrations.clear();
                if (!to.empty() && replaceWords(*job, from, to)) job->name += " – " + to;
            }
            emit jobAsked(*job);
        });
}

} // namespace rapt::app
