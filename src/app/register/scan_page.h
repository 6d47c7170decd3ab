#pragma once
// Reading scans: what a picture is worth, what it shows, and what of it counts.

#include "app/kit/page.h"
#include "app/register/scan_reader.h"

#include <QFileSystemWatcher>
#include <QListWidget>
#include <QProgressBar>
#include <QSet>
#include <QSlider>
#include <QTimer>

namespace rapt::app {

class ScanPage : public Page {
    Q_OBJECT
public:
    ScanPage(Session& session, ScanReader& reader);
    void refresh() override;
    /// Reads what is on the clipboard, if it is a picture or a file.
    void paste();
    /// Pictures that arrive in the folder are read; an empty path ends it.
    void watch(const QString& folder);

private:
    void buildReading();
    void buildProposals();
    void buildComparing();
    void say(const ProposedScan& scan);
    void takeTicked();
    void lookIntoFolder();
    void walkStep();
    std::vector<Vec2> walkPlaces() const;

    ScanReader& reader;
    QLabel* note;
    QProgressBar* progress;
    QPushButton *readButton, *cancelButton, *watchButton, *takeButton, *dropButton, *walkButton,
        *blinkButton;
    QWidget* proposals;
    QListWidget* list;
    QSlider* fade;
    QFileSystemWatcher folder;
    QSet<QString> known; ///< files that were in the folder before
    QTimer arrival;      ///< until a file that arrives is whole
    QTimer walk;
    std::size_t walked = 0;
    QString said; ///< about the last picture
};

} // namespace rapt::app
