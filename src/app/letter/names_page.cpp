#include "app/letter/names_page.h"

#include "app/kit/questions.h"
#include "app/raster/thread_raster.h"
#include "app/theme/theme.h"
#include "base/file_io.h"
#include "formats/job_file.h"
#include "job/edit_lettering.h"
#include "job/stitching.h"

#include <QDir>

namespace rapt::app {
namespace {

constexpr std::size_t maxListBytes = 2'000'000;
constexpr QSize pictureSize(150, 46);
constexpr std::size_t mostPictures = 200;

QString pictureKey(const NamedLettering& n) {
    return QString("%1 %2").arg(n.capHeightMm).arg(QString::fromStdString(n.name));
}

QString fileNameOf(int number, const std::string& name) {
    QString plain;
    for (const QChar c : QString::fromStdString(name))
        plain += c.isLetterOrNumber() ? c.toLower() : QChar('-');
    return QString("%1-%2.rapt").arg(number, 2, 10, QChar('0')).arg(plain);
}

} // namespace

NamesPage::NamesPage(Session& s)
    : Page(s), hint(quietLabel(tr("Choose the words that the names are to replace."))),
      fields(new QWidget), names(new QPlainTextEdit), room(new LengthEdit(s, "Room for a name")),
      least(new LengthEdit(s, "Least height")), sizing(new QComboBox), words(wordsLabel()),

      table(new RowsTable({tr("Name"), tr("Capitals"), tr("Width"), tr("Doubts")}, "nameTable")),
      onCopies(mainButton(tr("Letter them on the copies"))),
      asJobs(new QPushButton(tr("One job for each…"))) {
    column->addWidget(hint);
    auto* all = new QVBoxLayout(fields);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(6);
    column->addWidget(fields);
    names->setObjectName("nameList");
    names->setAccessibleName(tr("Names, one in a line"));
    names->setPlaceholderText(tr("One name in a line"));
    names->setTabChangesFocus(true);
    names->setFixedHeight(64);
    all->addWidget(names);
    all->addWidget(button(tr("Open a list…"), "openNames", [this] { openList(); }));
    all->addLayout(pairRow(tr("Room"), room, tr("Least"), least));
    sizing->setObjectName("nameSizing");
    sizing->addItems({tr("the longest decides"), tr("each as large as fits")});
    all->addLayout(row(tr("Size"), sizing));
    all->addWidget(words);
    auto* middle = makeCentre();
    middle->addWidget(headLabel(tr("Each name as it would be sewn")));
    table->setPictureSize(pictureSize);
    middle->addWidget(table, 1);
    onCopies->setObjectName("lettersOnCopies");
    asJobs->setObjectName("namesAsJobs");
    all->addLayout(sideBySide({onCopies, asJobs}));
    room->setRange(5, 2000);
    least->setRange(2, 100);
    connect(names, &QPlainTextEdit::textChanged, this, [this] { showPlan(); });
    connect(room, &LengthEdit::typed, this, [this](double mm) {
        roomMm = mm;
        showPlan();
    });
    connect(least, &LengthEdit::typed, this, [this](double mm) {
        leastMm = mm;
        showPlan();
    });
    connect(sizing, &QComboBox::activated, this, [this] { showPlan(); });
    connect(onCopies, &QPushButton::clicked, this, &NamesPage::letterCopies);
    connect(asJobs, &QPushButton::clicked, this, &NamesPage::saveJobs);
}

void NamesPage::openList() {
    const QString path = askOpenName(window(), tr("A list of names"), tr("Lists (*.csv *.txt)"));
    if (path.isEmpty()) return;
    const auto text = readWholeFile(path.toStdString(), maxListBytes);
    if (!text)
        return emit failed(tr("The list cannot be read"),
                           QString::fromStdString(text.error().line()));
    const auto list = namesOf(*text, path.toStdString());
    if (!list)
        return emit failed(tr("The list cannot be read"),
                           QString::fromStdString(list.error().line()));
    QStringList lines;
    for (const std::string& n : *list) lines << QString::fromStdString(n);
    names->setPlainText(lines.join('\n'));
}

Result<NameListPlan> NamesPage::plan() const {
    const Lettering* look = session.selection.words();
    if (!look) return cannotDo("no words are chosen");
    std::vector<std::string> list;
    for (const QString& line : names->toPlainText().split('\n'))
        if (!line.trimmed().isEmpty()) list.push_back(line.trimmed().toStdString());
    if (list.empty()) return cannotDo("no names are listed yet");
    return planNames(list, scaled(*look, sizeFactor(*onePiece())), roomMm, leastMm,
                     sizing->currentIndex() == 0 ? NameSizing::longestDecides
                                                 : NameSizing::eachFits);
}

void NamesPage::showPlan() {
    const auto worked = plan();
    onCopies->setEnabled(bool(worked));
    asJobs->setEnabled(bool(worked));
    planned = worked ? worked->names : std::vector<NamedLettering>();
    showRows();
    if (!worked) {
        words->setText(QString::fromStdString(worked.error().reason));
        return;
    }
    orderPictures();
    const QString first = tr("%1 names; the longest is “%2”.")
                              .arg(worked->names.size())
                              .arg(QString::fromStdString(worked->longest));
    words->setText(worked->doubtful == 0
                       ? first + tr(" All of them fit.")
                       : first + tr(" %1 are doubtful: look at them before anything is sewn.")
                                     .arg(worked->doubtful));
}

void NamesPage::showRows() {
    std::vector<TableRow> rows;
    for (const NamedLettering& n : planned) {
        QStringList doubts;
        for (const std::string& d : n.doubts) doubts << QString::fromStdString(d);
        const QString name = QString::fromStdString(n.name);
        const auto picture = pictures.find(pictureKey(n));
        rows.push_back({QString::number(rows.size()) + name,
                        {name, session.lengthText(n.capHeightMm), session.lengthText(n.widthMm),
                         doubts.isEmpty() ? QString::fromUtf8("✓")
                                          : QString::fromUtf8("△ ") + doubts.join("; ")},
                        {},
                        doubts.isEmpty() ? QColor() : theme().caution,
                        picture == pictures.end() ? QImage() : picture->second});
    }
    table->setRows(rows);
}

/// Those that are not there yet, one after the other in the background.
void NamesPage::orderPictures() {
    std::vector<NamedLettering> missing;
    for (const NamedLettering& n : planned)
        if (n.usable && !pictures.contains(pictureKey(n)) && missing.size() < mostPictures)
            missing.push_back(n);
    if (missing.empty() || session.selection.ids().empty()) return;
    if (pictures.size() > 4 * mostPictures) pictures.clear();
    drawing->ask(
        session.inThisJob(),
        [job = session.job(), id = session.selection.ids()[0], missing](std::stop_token stop) {
            std::map<QString, QImage> drawn;
            for (const NamedLettering& n : missing) {
                if (stop.stop_requested()) break;
                const Job own = withName(job, id, n.name, n.capHeightMm);
                Piece piece = *own.piece(id);
                piece.pose.rotationDeg = 0;
                if (const auto sewn = stitchPieces({&piece}, {}))
                    drawn[pictureKey(n)] = framedPicture(
                        threadPicture(sewn->list, 2 * pictureSize.width()), pictureSize);
            }
            return drawn;
        },
        [this](std::map<QString, QImage> drawn) {
            pictures.merge(drawn);
            showRows();
        });
}

void NamesPage::letterCopies() {
    const auto worked = plan();
    if (!worked) return;
    std::vector<std::string> list;
    std::vector<double> caps;
    for (const NamedLettering& n : worked->names)
        if (n.usable) {
            list.push_back(n.name);
            caps.push_back(n.capHeightMm);
        }
    if (list.empty())
        return emit failed(tr("Nothing can be lettered"),
                           tr("No name of the list can be lettered in this face."));
    session.document.apply(letterNames(session.selection.ids()[0], list, caps));
    if (list.size() < worked->names.size())
        emit failed(tr("Some names were left out"),
                    tr("%1 names need letters that the face does not have.")
                        .arg(worked->names.size() - list.size()));
}

void NamesPage::saveJobs() {
    const auto worked = plan();
    if (!worked) return;
    const QString folder = askFolder(window(), tr("Folder for the jobs"));
    if (folder.isEmpty()) return;
    QStringList files;
    int number = 0, saved = 0;
    for (const NamedLettering& n : worked->names)
        if (++number; n.usable) files << fileNameOf(number, n.name);
    if (!mayReplace(window(), folder, files)) return;
    number = 0;
    for (const NamedLettering& n : worked->names) {
        ++number;
        if (!n.usable) continue;
        const Job job = withName(session.job(), session.selection.ids()[0], n.name, n.capHeightMm);
        const Status wrote =
            writeJobFile(QDir(folder).filePath(fileNameOf(number, n.name)).toStdString(), job);
        if (!wrote)
            return emit failed(tr("A job was not saved"),
                               QString::fromStdString(wrote.error().line()));
        ++saved;
    }
    const QString said = saved == 1 ? tr("1 job was saved in %1.").arg(folder)
                                    : tr("%1 jobs were saved in %2.").arg(saved).arg(folder);
    words->setText(saved == number
                       ? said
                       : said + " " +
                             tr("%1 names were left out, as the list says.").arg(number - saved));
}

void NamesPage::refresh() {
    const bool has = session.selection.words() != nullptr;
    if (std::exchange(hasWords, has) != has) emit centreChanged();
    hint->setVisible(!has);
    fields->setVisible(has);
    room->setMm(roomMm);
    least->setMm(leastMm);
    if (!has) return;
    onCopies->setText(session.job().repeatOf(session.selection.ids()[0])
                          ? tr("Letter them on the copies")
                          : tr("Letter them one by one"));
    showPlan();
}

} // namespace rapt::app
