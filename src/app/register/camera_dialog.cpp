#include "app/register/camera_dialog.h"

#include "app/kit/questions.h"
#include "app/kit/readout_parts.h"
#include "base/file_io.h"
#include "base/paths.h"
#include "sheets/board_pdf.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QtConcurrent>

namespace rapt::app {

CameraDialog::CameraDialog(Session& s, QWidget* parent)
    : QDialog(parent), session(s), words(wordsLabel()), known(quietLabel({})),
      views(new QListWidget), name(new QLineEdit), keepButton(mainButton(tr("Keep it"))) {
    setWindowTitle(tr("Calibrate a camera"));
    setMinimumWidth(480);
    auto* column = new QVBoxLayout(this);
    column->addWidget(wordsLabel(tr(
        "Print the board at true scale, glue it flat, and take eight pictures or more, each from "
        "another side. Pictures that this camera takes are then read without their lens's "
        "bend.")));
    auto* print = new QPushButton(tr("Print the board…"));
    print->setObjectName("printBoard");
    connect(print, &QPushButton::clicked, this, &CameraDialog::printBoard);
    auto* choose = new QPushButton(tr("Read its pictures…"));
    choose->setObjectName("readBoards");
    connect(choose, &QPushButton::clicked, this, &CameraDialog::choosePictures);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(print);
    buttons->addWidget(choose);
    column->addLayout(buttons);
    views->setObjectName("boardViews");
    views->setFixedHeight(130);
    column->addWidget(views);
    words->setObjectName("calibrationWords");
    column->addWidget(words);
    name->setObjectName("cameraName");
    name->setPlaceholderText(tr("maker and model, as its pictures say"));
    column->addLayout(row(tr("Camera"), name));
    keepButton->setObjectName("keepCamera");
    keepButton->setEnabled(false);
    connect(keepButton, &QPushButton::clicked, this, &CameraDialog::keep);
    connect(name, &QLineEdit::textChanged, this, [this](const QString& text) {
        keepButton->setEnabled(result && *result && !text.trimmed().isEmpty());
    });
    column->addWidget(keepButton);
    column->addWidget(known);
    connect(&watcher, &QFutureWatcherBase::finished, this, &CameraDialog::done);
    showKnown();
}

CameraDialog::~CameraDialog() {
    stopper.request_stop();
    watcher.waitForFinished();
}

void CameraDialog::printBoard() {
    const QString path =
        askSaveName(this, tr("Calibration board"), "calibration-board.pdf", tr("PDF (*.pdf)"));
    if (path.isEmpty()) return;
    const auto pdf = boardPdf(dataFolder() + "/faces");
    const Status written = pdf ? writeWholeFile(path.toStdString(), *pdf) : Status(pdf.error());
    words->setText(written ? tr("Written. Print it at 100 %, and measure its bar.")
                           : QString::fromStdString(written.error().line()));
}

void CameraDialog::choosePictures() {
    read(QFileDialog::getOpenFileNames(this, tr("Pictures of the board"), {},
                                       tr("Pictures (*.png *.jpg *.jpeg)")));
}

void CameraDialog::read(const QStringList& files) {
    if (files.isEmpty() || watcher.isRunning()) return;
    words->setText(tr("Reading %1 pictures…").arg(files.size()));
    views->clear();
    result.reset();
    keepButton->setEnabled(false);
    watcher.setFuture(QtConcurrent::run([files, stop = stopper.get_token()] {
        std::vector<BoardPicture> pictures;
        for (const QString& file : files) {
            auto image = readImageFile(file.toStdString());
            if (!image) return std::make_shared<const Result<Calibration>>(image.error());
            pictures.push_back({QFileInfo(file).fileName().toStdString(), std::move(*image)});
        }
        return std::make_shared<const Result<Calibration>>(calibrate(pictures, stop));
    }));
}

void CameraDialog::done() {
    result = watcher.result();
    if (!*result) {
        words->setText(QString::fromStdString(result->error().line()));
        return;
    }
    const Calibration& c = **result;
    for (const BoardView& v : c.views)
        views->addItem(v.seen ? tr("%1: %2 px%3")
                                    .arg(QString::fromStdString(v.file))
                                    .arg(v.rmsPx, 0, 'f', 2)
                                    .arg(v.leftOut ? tr(", left out") : QString())
                              : tr("%1: the whole board is not seen, left out")
                                    .arg(QString::fromStdString(v.file)));
    words->setText(QString::fromStdString(c.text));
    if (!c.camera.id.empty()) name->setText(QString::fromStdString(c.camera.id));
    keepButton->setEnabled(!name->text().trimmed().isEmpty());
}

void CameraDialog::keep() {
    Camera camera = (*result)->camera;
    camera.id = name->text().trimmed().toStdString();
    const Status saved = session.setCamera(camera);
    words->setText(saved ? tr("Kept. Its pictures are read with it from now on.")
                         : QString::fromStdString(saved.error().line()));
    keepButton->setEnabled(!saved);
    showKnown();
}

void CameraDialog::showKnown() {
    QStringList names;
    for (const Camera& c : session.library.cameras)
        names << tr("%1 (%2 × %3, %4 px)")
                     .arg(QString::fromStdString(c.id))
                     .arg(c.width)
                     .arg(c.height)
                     .arg(c.rmsPx, 0, 'f', 2);
    known->setText(names.isEmpty() ? tr("No camera is calibrated yet.")
                                   : tr("Calibrated: %1").arg(names.join("; ")));
}

} // namespace rapt::app
