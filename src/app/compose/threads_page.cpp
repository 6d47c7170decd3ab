#include "app/compose/threads_page.h"
#include "app/compose/palette_dialog.h"
#include "app/kit/questions.h"

#include "base/file_io.h"
#include "formats/palette_files.h"
#include "job/edit_threads.h"
#include "thread/measures.h"

#include <QHeaderView>
#include <QSignalBlocker>

namespace rapt::app {
namespace {

constexpr std::size_t maxPaletteBytes = 4'000'000;
// Threads that differ by less are taken for the same by most people.
constexpr double likeDifference = 3;
constexpr int rowPx = 24;

} // namespace

ThreadsPage::ThreadsPage(Session& s)
    : Page(s), table(new QTableWidget(0, 3)), nearest(wordsLabel()),
      to(new ThreadChoice(s.threads)),
      everywhere(new QCheckBox(tr("In all pieces, not only the chosen"))), owned(quietLabel({})) {
    table->setObjectName("threadTable");
    table->setAccessibleName(tr("Threads of the job"));
    table->setHorizontalHeaderLabels({tr("Thread"), tr("Stitches"), tr("Metres")});
    table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    for (const int c : {1, 2})
        table->horizontalHeader()->setSectionResizeMode(c, QHeaderView::ResizeToContents);
    table->verticalHeader()->hide();
    table->verticalHeader()->setMinimumSectionSize(rowPx);
    table->setSelectionBehavior(QAbstractItemView::SelectRows);
    table->setSelectionMode(QAbstractItemView::SingleSelection);
    table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table->setShowGrid(false);
    column->addWidget(table);
    column->addWidget(nearest);
    to->setObjectName("recolourTo");
    everywhere->setObjectName("recolourEverywhere");
    everywhere->setChecked(true);
    column->addLayout(row(tr("Recolour to"), to));
    column->addWidget(everywhere);
    auto* join = button(tr("Join like threads"), "joinThreads", [this] { joinLike(); });
    join->setToolTip(
        tr("Threads of one weight that look the same become one; stops between them go"));
    auto* own = button(tr("Use what is owned"), "useOwned", [this] {
        session.document.apply(useOwnedThreads(session.threads.palette()));
    });
    own->setToolTip(tr("Every thread becomes the owned one that looks most like it"));
    column->addLayout(sideBySide({join, own}));
    column->addWidget(hairLine());
    column->addWidget(owned);
    column->addLayout(sideBySide({button(tr("Edit…"), "paletteEdit", [this] { editPalette(); }),
                                  button(tr("In…"), "paletteIn", [this] { takePalette(); }),
                                  button(tr("Out…"), "paletteOut", [this] { givePalette(); })}));
    connect(table, &QTableWidget::itemSelectionChanged, this, &ThreadsPage::showNearest);
    connect(to, &ThreadChoice::chosen, this, &ThreadsPage::recolourTo);
    connect(&session.threads, &OwnedThreads::changed, this, [this] {
        if (isVisible()) refresh();
    });
}

std::vector<ThreadsPage::Used> ThreadsPage::used() const {
    std::vector<Used> list;
    for (const Thread& t : threadsOf(session.job())) list.push_back({t, 0, 0});
    if (const Derived* checked = session.checked())
        for (const ThreadUse& u : measure(checked->stitched().list).threads)
            for (Used& known : list)
                if (known.thread.sameThread(u.thread)) {
                    known.stitches = u.stitches;
                    known.metres = u.lengthMm / 1000;
                }
    return list;
}

void ThreadsPage::refresh() {
    const auto before = chosenThread();
    shown = used();
    const QSignalBlocker quiet(table);
    table->setRowCount(static_cast<int>(shown.size()));
    table->setFixedHeight(
        std::clamp(32 + rowPx * static_cast<int>(shown.size()), 84, 32 + 6 * rowPx));
    int select = -1;
    for (int i = 0; i < static_cast<int>(shown.size()); ++i) {
        const Used& u = shown[static_cast<std::size_t>(i)];
        QString name = QString::fromStdString(u.thread.name);
        if (u.thread.weight != 40) name += QString(", %1 wt").arg(u.thread.weight);
        auto* first = new QTableWidgetItem(threadSwatch(u.thread), name);
        table->setItem(i, 0, first);
        const QString numbers[] = {QLocale().toString(static_cast<qulonglong>(u.stitches)),
                                   QString::number(u.metres, 'f', 2)};
        for (int c = 0; c < 2; ++c) {
            auto* item = new QTableWidgetItem(numbers[c]);
            item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            table->setItem(i, c + 1, item);
        }
        table->setRowHeight(i, rowPx);
        if (before && before->sameThread(u.thread)) select = i;
    }
    table->clearSelection();
    if (select >= 0) table->selectRow(select);
    owned->setText(tr("%1: %2 threads owned.")
                       .arg(QString::fromStdString(session.threads.palette().name))
                       .arg(session.threads.palette().threads.size()));
    if (!session.threads.problem().isEmpty())
        owned->setText(tr("Your own threads could not be read, those that ship are shown. The file "
                          "is kept. %1")
                           .arg(session.threads.problem()));
    showNearest();
}

std::optional<Thread> ThreadsPage::chosenThread() const {
    const QModelIndexList rows = table->selectionModel()->selectedRows();
    if (rows.isEmpty() || rows[0].row() >= static_cast<int>(shown.size())) return std::nullopt;
    return shown[static_cast<std::size_t>(rows[0].row())].thread;
}

void ThreadsPage::showNearest() {
    const auto thread = chosenThread();
    to->setEnabled(thread.has_value());
    if (!thread) {
        nearest->setText(tr("Choose a thread to recolour it."));
        return;
    }
    to->show(*thread);
    const auto best = nearestThread(session.threads.palette(), thread->color, thread->weight);
    if (!best) {
        nearest->setText(tr("No threads are owned yet."));
        return;
    }
    const OwnedThread& t = session.threads.palette().threads[best->index];
    const QString cone =
        t.cone.empty() ? QString() : tr(", cone %1").arg(QString::fromStdString(t.cone));
    const QString how = best->difference < 1    ? tr("the same to the eye")
                        : best->difference < 3  ? tr("hardly to be told apart")
                        : best->difference < 10 ? tr("a near shade")
                                                : tr("plainly another colour");
    nearest->setText(tr("Nearest owned: %1%2. Difference %3: %4.")
                         .arg(QString::fromStdString(t.thread.name), cone)
                         .arg(best->difference, 0, 'f', 1)
                         .arg(how));
}

void ThreadsPage::recolourTo(const Thread& wanted) {
    const auto from = chosenThread();
    if (!from) return;
    const bool all = everywhere->isChecked() || session.selection.ids().empty();
    session.document.apply(
        recolour(all ? std::vector<std::string>() : session.selection.ids(), *from, wanted));
}

void ThreadsPage::joinLike() {
    const quint64 before = session.document.revision();
    session.document.apply(joinLikeThreads(likeDifference));
    if (session.document.revision() == before)
        emit failed(tr("Nothing to join"), tr("No two threads of one weight look alike."));
}

void ThreadsPage::editPalette() {
    PaletteDialog dialog(session.threads.palette(), window());
    if (dialog.exec() == QDialog::Accepted) keepPalette(dialog.palette());
}

bool ThreadsPage::keepPalette(Palette palette) {
    const Status saved = session.threads.setPalette(std::move(palette));
    if (!saved)
        emit failed(tr("The threads could not be kept"),
                    QString::fromStdString(saved.error().line()));
    return static_cast<bool>(saved);
}

void ThreadsPage::takePalette() {
    const std::string path =
        askOpenName(window(), tr("Palette of threads owned"), tr("Palettes (*.gpl)")).toStdString();
    if (path.empty()) return;
    const auto text = readWholeFile(path, maxPaletteBytes);
    const auto parsed = text ? parseGpl(*text, path) : Result<ParsedPalette>(text.error());
    if (!parsed) {
        emit failed(tr("This palette cannot be read"),
                    QString::fromStdString(parsed.error().line()));
        return;
    }
    Palette all = session.threads.palette();
    const std::size_t added = mergePalette(all, parsed->palette);
    if (keepPalette(std::move(all)) && !parsed->odd.empty()) {
        QStringList odd;
        for (std::size_t i = 0; i < parsed->odd.size() && i < 8; ++i)
            odd << QString::fromStdString(parsed->odd[i]);
        emit failed(tr("Some lines were left out"),
                    tr("%1 threads are new. These lines could not be read:\n%2")
                        .arg(added)
                        .arg(odd.join('\n')));
    }
}

void ThreadsPage::givePalette() {
    const QString path = askSaveName(window(), tr("Palette of threads owned"), "threads.gpl",
                                     tr("Palettes (*.gpl)"));
    if (path.isEmpty()) return;
    const Status written = writeWholeFile(path.toStdString(), formatGpl(session.threads.palette()));
    if (!written)
        emit failed(tr("The palette could not be written"),
                    QString::fromStdString(written.error().line()));
}

} // namespace rapt::app
