#include "app/register/scan_page.h"

#include "app/kit/kept_lines.h"
#include "app/kit/questions.h"
#include "app/register/camera_dialog.h"
#include "registration/guided.h"
#include "thread/measures.h"

#include <QApplication>
#include <QBuffer>
#include <QClipboard>
#include <QDir>
#include <QFileDialog>
#include <QMimeData>

namespace rapt::app {
namespace {

constexpr int arrivalMs = 700, walkMs = 550;
const QStringList pictures{"*.png", "*.jpg", "*.jpeg", "*.PNG", "*.JPG", "*.JPEG"};

QString howText(const Observation& o) {
    if (o.by == "card") return QObject::tr("card");
    if (o.by == "line") return QObject::tr("drawn line");
    if (o.by == "cross") return QObject::tr("sewn cross");
    return QObject::tr("matched to what was sewn");
}

} // namespace

ScanPage::ScanPage(Session& s, ScanReader& r)
    : Page(s), reader(r), note(wordsLabel()), progress(new QProgressBar), proposals(new QWidget),
      list(new QListWidget), fade(new QSlider(Qt::Horizontal)) {
    buildReading();
    column->addWidget(note);
    buildProposals();
    column->addWidget(hairLine());
    buildComparing();
    column->addStretch();
    connect(&reader, &ScanReader::started, this, &ScanPage::refresh);
    connect(&reader, &ScanReader::ended, this, &ScanPage::refresh);
    connect(&reader, &ScanReader::progressed, progress, &QProgressBar::setValue);
    connect(&reader, &ScanReader::failed, this, &Page::failed);
    connect(&reader, &ScanReader::proposed, this, [this] {
        if (const ProposedScan* scan = session.registering.proposed()) say(*scan);
        refresh();
    });
    connect(&reader, &ScanReader::measuredBefore, this, [this](const QString& words) {
        said = words;
        refresh();
    });
    connect(&session, &Session::hoopingChanged, this, [this] {
        said.clear();
        session.registering.dropProposed();
    });
}

void ScanPage::buildReading() {
    readButton = mainButton(tr("Read a scan…"));
    readButton->setObjectName("readScan");
    connect(readButton, &QPushButton::clicked, this, [this] {
        const QString path =
            askOpenName(window(), tr("Read a scan"), tr("Pictures (*.png *.jpg *.jpeg)"));
        if (!path.isEmpty()) reader.readFile(path);
    });
    auto* take = button(tr("Stand-in"), "takePicture", [this] {
        PhotographOptions options;
        options.seed = ++session.registering.pictures;
        options.motif = session.job().brief.fabric == "cotton";
        reader.takePicture(options);
    });
    take->setToolTip(tr("Takes a made-up picture of this hooping and reads it, for practice"));
    column->addLayout(sideBySide({readButton, take}));
    watchButton = button(tr("Watch a folder…"), "watchFolder", [this] {
        if (!folder.directories().isEmpty()) return watch({});
        const QString path =
            QFileDialog::getExistingDirectory(window(), tr("Where a phone's pictures arrive"));
        if (!path.isEmpty()) watch(path);
    });
    auto* camera = button(tr("Camera…"), "cameraDialog", [this] {
        CameraDialog dialog(session, window());
        dialog.exec();
    });
    column->addLayout(sideBySide({watchButton, camera}));
    cancelButton = button(tr("Cancel"), "cancelScan", [this] { reader.cancel(); });
    progress->setObjectName("scanProgress");
    progress->setTextVisible(false);
    column->addLayout(sideBySide({progress, cancelButton}));
    arrival.setSingleShot(true);
    arrival.setInterval(arrivalMs);
    connect(&folder, &QFileSystemWatcher::directoryChanged, &arrival, qOverload<>(&QTimer::start));
    connect(&arrival, &QTimer::timeout, this, &ScanPage::lookIntoFolder);
}

void ScanPage::buildProposals() {
    auto* box = new QVBoxLayout(proposals);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(6);
    box->addWidget(headLabel(tr("Found in this picture")));
    list->setObjectName("proposals");
    list->setAccessibleName(tr("Found in this picture"));
    list->setFixedHeight(118);
    box->addWidget(list);
    takeButton = mainButton(tr("Take what is ticked"));
    takeButton->setObjectName("takeProposed");
    connect(takeButton, &QPushButton::clicked, this, &ScanPage::takeTicked);
    dropButton = button(tr("Drop"), "dropProposed", [this] {
        session.registering.dropProposed();
        said.clear();
        refresh();
    });
    box->addLayout(sideBySide({takeButton, dropButton}));
    column->addWidget(proposals);
    connect(list, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        session.registering.tick(static_cast<std::size_t>(list->row(item)),
                                 item->checkState() == Qt::Checked);
    });
}

void ScanPage::buildComparing() {
    column->addWidget(headLabel(tr("Scan and stitches")));
    fade->setObjectName("fade");
    fade->setRange(0, 100);
    fade->setAccessibleName(tr("Fade from cloth to stitches"));
    connect(fade, &QSlider::valueChanged, this,
            [this](int v) { session.registering.setFade(v / 100.0); });
    column->addLayout(row(tr("Cloth – stitches"), fade));
    blinkButton = button(tr("Blink"), "blink", [this] {
        session.registering.setBlinking(!session.registering.isBlinking());
        refresh();
    });
    blinkButton->setCheckable(true);
    blinkButton->setToolTip(tr("Cloth and stitches by turns, to compare"));
    walkButton = button(tr("Walk the outline"), "walkOutline", [this] {
        walked = 0;
        walk.isActive() ? walk.stop() : walk.start(walkMs);
        if (walk.isActive()) walkStep();
        refresh();
    });
    walkButton->setCheckable(true);
    walkButton->setToolTip(
        tr("The pointer goes to the design's centre, its corners and round its outline"));
    column->addLayout(sideBySide({blinkButton, walkButton}));
    connect(&walk, &QTimer::timeout, this, &ScanPage::walkStep);
}

std::vector<Vec2> ScanPage::walkPlaces() const {
    const auto derived = session.derived();
    const auto index = static_cast<std::size_t>(std::max(0, session.hooping()));
    if (!derived || !derived->planned || index >= derived->hoopings().size()) return {};
    const auto motion = correctionOf(session.job(), session.hooping() + 1);
    const Registration* r = session.job().registration(session.hooping() + 1);
    const bool planned = r && r->choice == CorrectionChoice::asPlanned;
    return outlineWalk(derived->hoopings()[index].list, motion && !planned ? *motion : Affine());
}

void ScanPage::walkStep() {
    const auto places = walkPlaces();
    if (walked >= places.size()) {
        walk.stop();
        walked = 0;
        session.registering.setPointer({});
        session.setTool(ToolKind::select);
        return refresh();
    }
    session.setTool(ToolKind::needle);
    session.registering.setPointer(places[walked++]);
}

void ScanPage::refresh() {
    const bool reading = reader.isReading();
    progress->setVisible(reading);
    cancelButton->setVisible(reading);
    readButton->setText(reader.readsBefore() ? tr("Scan before hooping…") : tr("Read a scan…"));
    watchButton->setText(folder.directories().isEmpty() ? tr("Watch a folder…")
                                                        : tr("Stop watching"));
    const ProposedScan* scan = session.registering.proposed();
    proposals->setVisible(scan && !reading);
    if (scan) {
        std::vector<ListLine> lines;
        for (std::size_t i = 0; i < scan->proposals.found.size(); ++i) {
            const Observation& o = scan->proposals.found[i];
            lines.push_back({tr("%1: %2, ± %3 mm")
                                 .arg(QString::fromStdString(o.name), howText(o))
                                 .arg(o.sigmaMm, 0, 'f', 2),
                             {},
                             static_cast<bool>(scan->ticked[i])});
        }
        showLines(*list, lines);
    }
    const bool shown = session.scan() != nullptr;
    for (QWidget* w : std::initializer_list<QWidget*>{fade, blinkButton}) w->setEnabled(shown);
    const QSignalBlocker quiet(fade);
    if (!session.registering.isBlinking())
        fade->setValue(static_cast<int>(session.registering.fade() * 100));
    blinkButton->setChecked(session.registering.isBlinking());
    walkButton->setChecked(walk.isActive());
    if (reading)
        note->setText(tr("Reading the picture…"));
    else if (!said.isEmpty())
        note->setText(said);
    else
        note->setText(
            tr("Lay a locator card on each mark, photograph the whole frame from above, and read "
               "the picture; or drop or paste it here."));
}

void ScanPage::say(const ProposedScan& scan) {
    const ScanReading& r = scan.proposals.reading;
    const char* verdicts[] = {"A good picture", "A usable picture", "Take it again"};
    QStringList words{tr("<b>%1</b>: %2 pixels per mm, tilted %3°, %4 frame tags.")
                          .arg(tr(verdicts[static_cast<int>(r.quality)]))
                          .arg(r.pxPerMm, 0, 'f', 1)
                          .arg(r.tiltDeg, 0, 'f', 0)
                          .arg(r.frameTags)};
    const auto sentence = [](const std::string& text) {
        QString s = QString::fromStdString(text).toHtmlEscaped();
        if (!s.isEmpty()) s[0] = s[0].toUpper();
        return s + ".";
    };
    for (const std::string& reason : r.reasons) words << sentence(reason);
    for (const std::string& text : scan.proposals.notes) words << sentence(text);
    QStringList missing;
    for (const std::string& name : scan.proposals.missing)
        missing << QString::fromStdString(name).toHtmlEscaped();
    if (!missing.isEmpty()) words << tr("Not found: %1.").arg(missing.join(", "));
    if (!r.camera) words << tr("Its lens is not calibrated (Camera…), so errors are taken larger.");
    said = words.join(" ");
}

void ScanPage::takeTicked() {
    const ProposedScan* scan = session.registering.proposed();
    if (!scan || scan->hooping > static_cast<int>(session.job().hoopings.size())) return;
    std::vector<Observation> taken;
    for (std::size_t i = 0; i < scan->ticked.size(); ++i)
        if (scan->ticked[i]) taken.push_back(scan->proposals.found[i]);
    session.document.apply(takeScan(scan->hooping, std::move(taken), scan->bytes));
    session.registering.dropProposed();
    refresh();
}

void ScanPage::paste() {
    const QMimeData* held = QApplication::clipboard()->mimeData();
    if (!held) return;
    if (held->hasUrls() && held->urls().first().isLocalFile())
        return reader.readFile(held->urls().first().toLocalFile());
    if (!held->hasImage()) return;
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    qvariant_cast<QImage>(held->imageData()).save(&buffer, "PNG");
    reader.readBytes(bytes.toStdString(), tr("the pasted picture"));
}

void ScanPage::watch(const QString& path) {
    if (!folder.directories().isEmpty()) folder.removePaths(folder.directories());
    known.clear();
    if (!path.isEmpty()) {
        folder.addPath(path);
        for (const QString& name : QDir(path).entryList(pictures, QDir::Files)) known.insert(name);
        said = tr("Pictures that arrive in %1 are read.").arg(QDir(path).dirName());
    } else {
        said.clear();
    }
    refresh();
}

/// The newest picture that was not there before, once it does not grow any more.
void ScanPage::lookIntoFolder() {
    if (folder.directories().isEmpty()) return;
    const QDir dir(folder.directories().first());
    for (const QFileInfo& info : dir.entryInfoList(pictures, QDir::Files, QDir::Time)) {
        if (known.contains(info.fileName())) continue;
        if (info.size() == 0 || info.lastModified().msecsTo(QDateTime::currentDateTime()) < 300) {
            arrival.start();
            return;
        }
        known.insert(info.fileName());
        return reader.readFile(info.absoluteFilePath());
    }
}

} // namespace rapt::app
