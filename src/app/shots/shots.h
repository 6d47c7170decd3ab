#pragma once
// Pictures of each main view, taken from the running window.

#include <QString>
#include <QStringList>

namespace rapt::app {

class MainWindow;

/// Walks through the stages of the job that is open, does in each what the picture should show,
/// and writes 1280 × 800 PNGs into a folder. Gives the file names; empty if one fails.
QStringList takeShots(MainWindow& window, const QString& folder);

/// The open job in some views and no others, as it is but for a plan, which it gets in Divide if it
/// has none: "2" is the second stage, "6.3" the fourth tab of the sixth. Says of each that it is
/// taken.
QStringList takeViews(MainWindow& window, const QString& folder, const QStringList& views);

} // namespace rapt::app
