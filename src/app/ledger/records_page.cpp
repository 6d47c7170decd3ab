#include "app/ledger/records_page.h"

#include "app/ledger/keeping_dialog.h"
#include "app/ledger/outcome_dialog.h"
#include "app/theme/theme.h"
#include "estimate/timing.h"
#include "formats/job_file.h"
#include "job/edit_lettering.h"

#include <QHeaderView>
#include <QInputDialog>
#include <QMenu>
#include <QMessageBox>
#include <QSettings>

namespace rapt::app {
namespace {

constexpr int typingMs = 120;

QString text(const std::string& s) { return QString::fromStdString(s); }

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
    : Page(s), model(s.ledger), search(new QLineEdit), outcome(new QComboBox),
      fabric(new QComboBox), asPictures(new QPushButton), views(new QStackedWidget),
      table(new QTableView), gallery(new QListView), panes{new RecordPane(s), new RecordPane(s)},
      count(wordsLabel()), open(nullptr), again(nullptr), change(nullptr), remove(nullptr) {
    auto* keep = mainButton(tr("Keep how this job came out…"));
    keep->setObjectName("record");
    column->addWidget(keep);
    connect(keep, &QPushButton::clicked, this, &RecordsPage::keepThis);
    buildActions();
    auto* middle = makeCentre();
    middle->addLayout(searchRow());
    buildViews();
    middle->addWidget(views, 1);
    auto* sideBySidePanes = new QHBoxLayout;
    sideBySidePanes->setSpacing(24);
    for (RecordPane* pane : panes) {
        sideBySidePanes->addWidget(pane, 1);
        connect(pane, &RecordPane::known, this, &RecordsPage::showActions);
    }
    for (RecordPane* pane : panes) pane->hide();
    middle->addLayout(sideBySidePanes);
    typing.setSingleShot(true);
    typing.setInterval(typingMs);
    connect(&typing, &QTimer::timeout, this, &RecordsPage::look);
    connect(&session.ledger, &LedgerState::changed, this, &RecordsPage::look);
    connect(&session.ledger, &LedgerState::noticeChanged, this, &RecordsPage::showCount);
    connect(&model, &RecordModel::looked, this, &RecordsPage::showCount);
    connect(table->selectionModel(), &QItemSelectionModel::selectionChanged, this,
            &RecordsPage::showChosen);
    connect(&model, &QAbstractItemModel::modelReset, this, &RecordsPage::keepChosen);
    look();
}

QHBoxLayout* RecordsPage::searchRow() {
    search->setObjectName("recordSearch");
    search->setPlaceholderText(tr("Find by word, name, thread, date, size"));
    search->setClearButtonEnabled(true);
    outcome->setObjectName("recordOutcome");
    outcome->addItem(tr("Any outcome"), "");
    for (const std::string& o : outcomes()) outcome->addItem(text(o), text(o));
    fabric->setObjectName("recordFabric");
    fabric->addItem(tr("Any fabric"), "");
    for (const Fabric& f : session.library.fabrics) fabric->addItem(text(f.name), text(f.id));
    asPictures->setObjectName("recordPictures");
    asPictures->setText(tr("Pictures"));
    asPictures->setCheckable(true);
    auto* line = new QHBoxLayout;
    line->setSpacing(8);
    line->addWidget(search, 1);
    for (QWidget* w : std::initializer_list<QWidget*>{outcome, fabric, asPictures})
        line->addWidget(w);
    connect(search, &QLineEdit::textChanged, &typing, qOverload<>(&QTimer::start));
    connect(outcome, &QComboBox::activated, this, &RecordsPage::look);
    connect(fabric, &QComboBox::activated, this, &RecordsPage::look);
    connect(asPictures, &QPushButton::toggled, views, &QStackedWidget::setCurrentIndex);
    return line;
}

/// The same records as a table and as a gallery; what is chosen in one is chosen in the other.
void RecordsPage::buildViews() {
    table->setObjectName("recordList");
    table->setModel(&model);
    table->setItemDelegate(&cell);
    table->verticalHeader()->hide();
    table->verticalHeader()->setDefaultSectionSize(36);
    table->setShowGrid(false);
    table->setWordWrap(true); // rows have room for two lines
    table->setSortingEnabled(true);
    QHeaderView* heads = table->horizontalHeader();
    heads->setSortIndicator(0, Qt::DescendingOrder);
    heads->setSectionsMovable(true);
    heads->setHighlightSections(false);
    heads->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    const int widths[] = {88, 44, 124, 110, 62, 82, 84, 116, 58, 66};
    for (int c = 0; c < recordColumnCount; ++c) table->setColumnWidth(c, widths[c]);
    for (const RecordColumn c : {RecordColumn::customer, RecordColumn::metres})
        heads->setSectionHidden(static_cast<int>(c), true);
    for (const RecordColumn c : {RecordColumn::job, RecordColumn::trouble})
        heads->setSectionResizeMode(static_cast<int>(c), QHeaderView::Stretch);
    heads->restoreState(QSettings().value("ledger/heads").toByteArray());
    const auto keepColumns = [heads] { QSettings().setValue("ledger/heads", heads->saveState()); };
    connect(heads, &QHeaderView::sectionResized, this, keepColumns);
    connect(heads, &QHeaderView::sectionMoved, this, keepColumns);
    heads->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(heads, &QHeaderView::customContextMenuRequested, this,
            [this, heads, keepColumns](QPoint at) {
                QMenu menu(this);
                for (int c = 0; c < recordColumnCount; ++c) {
                    const QString name =
                        model.headerData(c, Qt::Horizontal, Qt::DisplayRole).toString();
                    QAction* choice = menu.addAction(name.isEmpty() ? tr("Picture") : name);
                    choice->setCheckable(true);
                    choice->setChecked(!heads->isSectionHidden(c));
                    choice->setEnabled(c != static_cast<int>(RecordColumn::job));
                    connect(choice, &QAction::toggled, this, [heads, keepColumns, c](bool on) {
                        heads->setSectionHidden(c, !on);
                        keepColumns();
                    });
                }
                menu.exec(heads->mapToGlobal(at));
            });
    gallery->setObjectName("recordGallery");
    gallery->setModel(&model);
    gallery->setModelColumn(static_cast<int>(RecordColumn::job));
    gallery->setSelectionModel(table->selectionModel());
    gallery->setItemDelegate(&card);
    gallery->setViewMode(QListView::IconMode);
    gallery->setMovement(QListView::Static);
    gallery->setUniformItemSizes(true);
    gallery->setResizeMode(QListView::Adjust);
    for (QAbstractItemView* view : std::initializer_list<QAbstractItemView*>{table, gallery}) {
        view->setAccessibleName(tr("Records"));
        view->setSelectionBehavior(QAbstractItemView::SelectRows);
        view->setSelectionMode(QAbstractItemView::ExtendedSelection);
        view->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
        view->setFrameShape(QFrame::NoFrame);
        view->setProperty("plain", true);
        view->setMinimumHeight(120);
        views->addWidget(view);
        connect(view, &QAbstractItemView::doubleClicked, this, [this] { openChosen(false); });
    }
}

void RecordsPage::buildActions() {
    count->setObjectName("recordCount");
    count->setToolTip(tr("Thread and time that they took together, and what they came to"));
    column->addWidget(count);
    column->addWidget(hairLine());
    column->addWidget(headLabel(tr("The chosen record")));
    open = button(tr("Open as it was"), "openRecord", [this] { openChosen(false); });
    again = button(tr("Again with another name…"), "againRecord", [this] { openChosen(true); });
    change = button(tr("Change…"), "changeRecord", [this] { changeChosen(); });
    remove = button(tr("Remove"), "removeRecord", [this] { removeChosen(); });
    for (QPushButton* b : {open, again}) column->addWidget(b);
    column->addLayout(sideBySide({change, remove}));
    column->addWidget(quietLabel(tr("Choose two with Ctrl to see them side by side. A click on a "
                                    "head sorts; its menu chooses columns.")));
    column->addStretch();
    auto* keeping = button(tr("Keeping…"), "keeping", [this] {
        KeepingDialog dialog(session, this);
        dialog.exec();
        look();
    });
    keeping->setToolTip(tr("Where the ledger is, backup, CSV, clearing out"));
    column->addWidget(keeping);
}

void RecordsPage::refresh() { showCount(); }

void RecordsPage::look() {
    RecordQuery query = model.query(); // its order stays
    query.text = search->text();
    query.outcome = outcome->currentData().toString();
    query.fabric = fabric->currentData().toString();
    model.look(query);
}

void RecordsPage::showCount() {
    QString words = !model.problem().isEmpty()
                        ? model.problem()
                        : tr("%n {record|records}", nullptr, static_cast<int>(model.total()));
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

/// What is asked anew keeps the chosen record, if it is still among them.
void RecordsPage::keepChosen() {
    if (model.rowCount() == 0 || shownUids.isEmpty()) return showChosen();
    for (int row = 0; row < model.rowCount(); ++row)
        if (text(model.at(row).uid) == shownUids.front()) {
            table->selectionModel()->setCurrentIndex(model.index(row, 0),
                                                     QItemSelectionModel::ClearAndSelect |
                                                         QItemSelectionModel::Rows);
            return panes[0]->showRecord(shownUids.front()); // it may have changed
        }
    showChosen();
}

void RecordsPage::showChosen() {
    QStringList uids;
    for (const QModelIndex& i : table->selectionModel()->selectedRows())
        uids << text(model.at(i.row()).uid);
    uids.resize(std::min<qsizetype>(uids.size(), 2));
    if (uids == shownUids && !uids.isEmpty()) return;
    shownUids = uids;
    for (qsizetype k = 0; k < 2; ++k) panes[static_cast<std::size_t>(k)]->showRecord(uids.value(k));
    for (qsizetype k = 0; k < 2; ++k)
        panes[static_cast<std::size_t>(k)]->setVisible(k < uids.size());
}

/// They are of one record; which of two is meant nobody could tell.
void RecordsPage::showActions() {
    const StitchOut* r = shownUids.size() == 1 ? whole() : nullptr;
    for (QPushButton* b : {change, remove}) b->setEnabled(r);
    for (QPushButton* b : {open, again}) b->setEnabled(r && !r->jobFile.empty());
}

const StitchOut* RecordsPage::whole() const {
    return panes[0]->record() ? &*panes[0]->record() : nullptr;
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
    if (!whole()) return;
    StitchOut record = *whole();
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
    if (!whole()) return;
    const StitchOut record = *whole(); // another may be shown when the question is answered
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
    if (!open->isEnabled()) return;
    const StitchOut record = *whole();
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
