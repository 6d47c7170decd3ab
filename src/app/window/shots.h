#pragma once
// Pictures of each main view, taken from the running window.

#include <QString>
#include <QStringList>

namespace rapt::app {

class MainWindow;

/// Walks through the stages of the job that is open, does in each what the picture should show,
/// and writes 1280 × 800 PNGs into a folder. Gives the file names; empty if one fails.
QStringList takeShots(MainWindow& window, const QString& folder);

} // namespace rapt::app
