#pragma once
// Copy and paste of pieces, within and between windows and jobs.

#include "app/document/session.h"

#include <QByteArray>

namespace rapt::app {

/// Puts what is chosen on the clipboard, whole: a job of its pieces for this program, their shapes
/// as SVG and their words for others. Fails as packJob does.
Status copyPieces(const Session& session);

/// Brings in what is on the clipboard: pieces, or plain text as words in the look of the next ones.
/// False for what it does not take. Fails as unpackJob does.
Result<bool> pastePieces(Session& session);

/// What another program drew and copied: an SVG, else a picture as PNG; empty if there is none.
QByteArray copiedDrawing();

} // namespace rapt::app
