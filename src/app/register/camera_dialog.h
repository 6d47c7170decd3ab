#pragma once
// Calibrating a camera: the board to print, its pictures, and how good the result is.

#include "app/document/session.h"
#include "scan/calibration.h"

#include <QDialog>
#include <QFutureWatcher>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>

namespace rapt::app {

class CameraDialog : public QDialog {
    Q_OBJECT
public:
    explicit CameraDialog(Session& session, QWidget* parent = nullptr);
    ~CameraDialog() override;
    /// Calibrates with these pictures, in the background.
    void read(const QStringList& files);

private:
    void printBoard();
    void choosePictures();
    void done();
    void keep();
    void showKnown();

    Session& session;
    QLabel *words, *known;
    QListWidget* views;
    QLineEdit* name;
    QPushButton* keepButton;
    std::stop_source stopper;
    QFutureWatcher<std::shared_ptr<const Result<Calibration>>> watcher;
    std::shared_ptr<const Result<Calibration>> result;
};

} // namespace rapt::app
