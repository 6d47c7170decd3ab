#include "app/stages/register_stage.h"

#include "app/theme/theme.h"
#include "base/file_io.h"
#include "geometry/lengths.h"
#include "registration/seen_pairs.h"
#include "standins/camera.h"

#include <QHeaderView>
#include <QSignalBlocker>
#include <QtConcurrent>

namespace rapt::app {
namespace {

enum Column { nameColumn, plannedColumn, seenXColumn, seenYColumn };
constexpr std::size_t maxScanBytes = 200'000'000;

} // namespace

RegisterStage::RegisterStage(Session& s, QWidget* parent)
    : StageView(s, parent), hooping(new QComboBox), table(new QTableWidget), numbers(wordsLabel()),
      scanNote(quietLabel({})), cellProblem(new QLabel) {
    column->addLayout(row(tr("Hooping"), hooping));
    hooping->setAccessibleName(tr("Hooping"));
    buildTable();
    column->addWidget(headLabel(tr("Marks: planned, and where they really are")));
    column->addWidget(table);
    cellProblem->setProperty("wrong", true);
    cellProblem->setWordWrap(true);
    cellProblem->hide();
    column->addWidget(cellProblem);
    auto* read = mainButton(tr("Read a scan…"));
    read->setObjectName("readScan");
    auto* picture = new QPushButton(tr("Stand-in picture"));
    picture->setObjectName("takePicture");
    picture->setToolTip(tr("Takes a made-up picture of this hooping and reads it, for practice"));
    auto* forget = new QPushButton(tr("Forget"));
    forget->setToolTip(tr("Forget where the marks were seen"));
    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(6);
    for (QPushButton* b : {read, picture, forget}) {
        b->setStyleSheet("padding: 5px 7px;");
        buttons->addWidget(b);
    }
    column->addLayout(buttons);
    column->addWidget(scanNote);
    column->addWidget(hairLine());
    column->addWidget(numbers);
    column->addStretch();
    connect(hooping, &QComboBox::activated, this, [this](int i) { session.setHooping(i); });
    connect(table, &QTableWidget::cellChanged, this, &RegisterStage::takeCell);
    connect(picture, &QPushButton::clicked, this, &RegisterStage::takePicture);
    connect(forget, &QPushButton::clicked, this, &RegisterStage::forgetSeen);
    connect(read, &QPushButton::clicked, this, [this] {
        const QString path =
            askOpenName(window(), tr("Read a scan"), tr("Pictures (*.png *.jpg *.jpeg)"));
        if (!path.isEmpty()) readScanFile(path);
    });
    connect(&watcher, &QFutureWatcherBase::finished, this, &RegisterStage::takeScan);
}

void RegisterStage::buildTable() {
    table->setColumnCount(4);
    table->setHorizontalHeaderLabels({tr("Mark"), tr("Planned x, y"), tr("Seen x"), tr("Seen y")});
    table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table->horizontalHeader()->setSectionResizeMode(nameColumn, QHeaderView::ResizeToContents);
    table->horizontalHeader()->setSectionResizeMode(plannedColumn, QHeaderView::ResizeToContents);
    table->verticalHeader()->hide();
    table->verticalHeader()->setDefaultSectionSize(28);
    table->setAccessibleName(tr("Marks"));
    table->setObjectName("marks");
    table->setToolTip(
        tr("Millimetres from the middle of the hoop's field; x to the right, y towards "
           "you"));
    table->setFixedHeight(30 + 28 * 3 + 4);
}

Registration RegisterStage::current() const {
    const int n = session.hooping() + 1;
    if (const Registration* r = session.job().registration(n)) return *r;
    Registration fresh;
    fresh.hooping = n;
    const Hooping& h = session.job().hoopings[static_cast<std::size_t>(n - 1)];
    const Affine toField = h.pose.affine().inverse();
    for (const Mark& m : h.marks) fresh.points.push_back({m.name, toField(m.at), {}});
    return fresh;
}

void RegisterStage::refresh() {
    const QSignalBlocker quiet(hooping);
    hooping->clear();
    const auto& hoopings = session.job().hoopings;
    for (std::size_t i = 0; i < hoopings.size(); ++i) {
        const Registration* r = session.job().registration(static_cast<int>(i) + 1);
        const bool found = r && fitPoints(seenPairs(*r));
        hooping->addItem(tr("%1, %2%3")
                             .arg(i + 1)
                             .arg(QString::fromStdString(hoopings[i].hoop))
                             .arg(found ? tr(" — found") : QString()));
    }
    const bool any = !hoopings.empty();
    for (QWidget* w : findChildren<QPushButton*>()) w->setEnabled(any);
    table->setVisible(any);
    numbers->setVisible(any);
    scanNote->setVisible(any);
    if (!any) {
        judgement->say(tr("There is nothing to register yet."),
                       tr("Plan the hoopings in Divide first."));
        return;
    }
    hooping->setCurrentIndex(session.hooping());
    const Registration r = current();
    fillTable(r);
    judge(r);
    scanNote->setText(
        session.scan()
            ? tr("The scan lies under the design, as seen straight from above.")
            : tr("Lay a locator card on each mark, photograph the whole hoop from above, "
                 "and read the picture; or type what you measured."));
}

void RegisterStage::fillTable(const Registration& r) {
    const QSignalBlocker quiet(table);
    table->setRowCount(static_cast<int>(r.points.size()));
    for (int i = 0; i < table->rowCount(); ++i) {
        const SeenPoint& p = r.points[static_cast<std::size_t>(i)];
        const QString planned =
            QString("%1, %2").arg(p.planned.x, 0, 'f', 1).arg(p.planned.y, 0, 'f', 1);
        const QString texts[] = {QString::fromStdString(p.name), planned,
                                 p.seen ? QString::number(p.seen->x, 'f', 2) : QString(),
                                 p.seen ? QString::number(p.seen->y, 'f', 2) : QString()};
        for (int c = 0; c < 4; ++c) {
            // A half typed pair stays as it was typed.
            auto* old = table->item(i, c);
            if (c >= seenXColumn && !p.seen && old && !old->text().isEmpty() &&
                old->data(Qt::UserRole).toInt() == r.hooping)
                continue;
            auto* cell = new QTableWidgetItem(texts[c]);
            cell->setData(Qt::UserRole, r.hooping);
            if (c < seenXColumn) cell->setFlags(Qt::ItemIsEnabled);
            table->setItem(i, c, cell);
        }
    }
}

void RegisterStage::takeCell(int rowIndex, int columnIndex) {
    if (columnIndex < seenXColumn) return;
    Registration r = current();
    SeenPoint& point = r.points[static_cast<std::size_t>(rowIndex)];
    std::optional<double> values[2];
    cellProblem->hide();
    for (int k = 0; k < 2; ++k) {
        const auto* cell = table->item(rowIndex, seenXColumn + k);
        const QString text = cell ? cell->text().trimmed() : QString();
        if (text.isEmpty()) continue;
        const auto mm = parseLength(text.toStdString(), session.unit());
        if (mm && std::abs(*mm) <= maxCoordinateMm) {
            values[k] = *mm;
            continue;
        }
        cellProblem->setText(
            tr("Mark %1: %2")
                .arg(QString::fromStdString(point.name),
                     mm ? tr("this is too far away") : QString::fromStdString(mm.error().reason)));
        cellProblem->show();
        return;
    }
    if (!values[0] || !values[1]) {
        // Half a place says nothing; an emptied place is forgotten.
        if (values[0] || values[1] || !point.seen) return;
        point.seen.reset();
    } else {
        point.seen = Vec2{*values[0], *values[1]};
    }
    session.document.apply(setRegistration(r));
}

void RegisterStage::judge(const Registration& r) {
    const auto pairs = seenPairs(r);
    if (pairs.size() < 2) {
        judgement->say(tr("Hooping %1 is not found yet.").arg(r.hooping),
                       tr("Two marks give the correction; a third tells whether to trust it."));
        numbers->clear();
        return;
    }
    const auto report = fitPoints(pairs);
    if (!report) {
        judgement->say(tr("These points give no correction."),
                       QString::fromStdString(report.error().reason) + ".");
        numbers->clear();
        return;
    }
    const char* sentences[] = {"Sew it with this correction.", "Look again before you sew.",
                               "Do not sew: hoop or measure again."};
    judgement->say(tr(sentences[static_cast<int>(report->verdict)]),
                   QString::fromStdString(report->text));
    showNumbers(*report, pairs);
}

void RegisterStage::showNumbers(const FitReport& report, const std::vector<PointPair>& pairs) {
    std::vector<Vec2> planned;
    for (const PointPair& p : pairs) planned.push_back(p.planned);
    double farthest = 0;
    const auto derived = session.derived();
    const auto index = static_cast<std::size_t>(session.hooping());
    if (derived && index < derived->hoopings().size()) {
        const Box& e = derived->hoopings()[index].extents;
        for (const Vec2 corner : e.corners())
            farthest = std::max(farthest, predictedErrorMm(planned, corner, defaultPlacingSigmaMm));
    }
    const RigidFit& f = report.fit;
    QStringList rows;
    const auto add = [&](const QString& what, const QString& value) {
        rows << QString("<tr><td style='padding-right:14px'>%1</td><td><b>%2</b></td></tr>")
                    .arg(what, value);
    };
    add(tr("Turn"), tr("%1°").arg(f.rotationDeg, 0, 'f', 2));
    add(tr("Move"),
        tr("x %1, y %2")
            .arg(session.lengthText(f.translation.x, 2), session.lengthText(f.translation.y, 2)));
    add(tr("Fits to"), tr("%1 mm RMS").arg(f.rmsMm, 0, 'f', 2));
    add(tr("Cloth scale"), tr("%1 %").arg(100 * report.scale, 0, 'f', 2));
    add(tr("Out of square"), report.squareErrorDeg
                                 ? tr("%1°").arg(*report.squareErrorDeg, 0, 'f', 2)
                                 : tr("needs three marks"));
    if (farthest > 0) add(tr("Expect at the far corner"), tr("%1 mm").arg(farthest, 0, 'f', 2));
    numbers->setText("<table cellspacing='3'>" + rows.join("") + "</table>" +
                     tr("Arrows on the cloth show the residuals, 20 times enlarged."));
}

void RegisterStage::forgetSeen() {
    Registration r = current();
    for (SeenPoint& p : r.points) p.seen.reset();
    r.scan.clear();
    session.document.apply(setRegistration(r));
    table->clearContents();
    refresh();
}

void RegisterStage::readScanFile(const QString& path) {
    const auto hoop = hoopOfChosen();
    if (!hoop) return;
    read(tr("This scan cannot be read"),
         [file = path.toStdString(), hoop = *hoop, marks = current()]() -> ScanOrProblem {
             Result<std::string> bytes = readWholeFile(file, maxScanBytes);
             if (!bytes) return bytes.error();
             auto seen = marksFromScan(*bytes, file, hoop, marks);
             if (!seen) return seen.error();
             return TakenScan{std::move(*seen), std::move(*bytes)};
         });
}

void RegisterStage::takePicture() {
    const auto hoop = hoopOfChosen();
    if (!hoop) return;
    PhotographOptions options;
    options.hooping = session.hooping() + 1;
    options.seed = ++pictures;
    read(tr("No picture"),
         [options, job = session.job(), library = session.library, hoop = *hoop,
          marks = current()]() -> ScanOrProblem {
             const auto photo = photograph(job, library, options);
             if (!photo) return photo.error();
             Result<std::string> png = encodePng(photo->picture);
             if (!png) return png.error();
             auto seen = marksFromScan(*png, "picture", hoop, marks);
             if (!seen) return seen.error();
             return TakenScan{std::move(*seen), std::move(*png)};
         });
}

std::optional<Hoop> RegisterStage::hoopOfChosen() const {
    if (session.hooping() < 0 || isReading()) return std::nullopt;
    const Hooping& h = session.job().hoopings[static_cast<std::size_t>(session.hooping())];
    const auto hoop = session.library.hoop(h.hoop);
    return hoop ? std::optional(*hoop) : std::nullopt;
}

/// In the background: a picture takes a second or more.
void RegisterStage::read(const QString& title, std::function<ScanOrProblem()> make) {
    titleOfProblem = title;
    reading = true;
    scanNote->setText(tr("Reading the picture…"));
    watcher.setFuture(QtConcurrent::run(
        [make = std::move(make)] { return std::make_shared<const ScanOrProblem>(make()); }));
}

void RegisterStage::takeScan() {
    reading = false;
    const auto taken = watcher.result();
    if (!*taken) {
        refreshIfShown();
        return complain(titleOfProblem, QString::fromStdString(taken->error().line()));
    }
    const ScannedMarks& marks = (*taken)->marks;
    if (marks.registration.hooping > static_cast<int>(session.job().hoopings.size())) return;
    session.document.apply(
        setRegistration(marks.registration, std::make_shared<const std::string>((*taken)->bytes)));
    QStringList words{tr("Read %1 of %2 cards at %3 pixels per mm (%4).")
                          .arg(marks.found)
                          .arg(marks.registration.points.size())
                          .arg(marks.reading.pxPerMm, 0, 'f', 1)
                          .arg(nameOf(marks.reading.quality))};
    for (const std::string& reason : marks.reading.reasons) words << QString::fromStdString(reason);
    scanNote->setText(words.join(" "));
}

} // namespace rapt::app
