#pragma once
// Colours and type of the window, light and dark (docs/architecture.md, "The look").

#include <QColor>
#include <QFont>
#include <QIcon>
#include <QString>

namespace rapt::app {

struct Theme {
    bool dark = false;
    QColor paper, panel, rule, ink, ink2, tide, kite, stop, caution, note;
    QColor tideSoft; ///< ground of what is chosen

    static Theme light();
    static Theme darkOne();
};

/// The theme in force. Set on the interface thread only; widgets read it when they paint.
const Theme& theme();
/// Sets palette, style sheet and fonts of the whole application.
void applyTheme(const Theme& theme);

/// Loads the shipped faces; text falls back to the desktop's if they are missing.
void loadFaces();
/// Lato with tabular figures.
QFont faceOf(int pixelSize, bool bold = false);

/// One of the application's own line icons (data/icons/NAME.svg), in the theme's ink.
QIcon icon(const QString& name);

} // namespace rapt::app
