#include "app/document/owned_threads.h"

#include "base/paths.h"
#include "formats/palette_files.h"

#include <QFile>

namespace rapt::app {

OwnedThreads::OwnedThreads() {
    auto threads = loadThreads(dataFolder(), userDataFolder());
    if (!threads) {
        unreadable = QString::fromStdString(threads.error().line());
        threads = loadThreads(dataFolder(), {});
    }
    if (threads) owned = std::move(*threads);
}

Status OwnedThreads::setPalette(Palette palette) {
    const QString file = QString::fromStdString(userDataFolder()) + "/threads.json";
    if (!unreadable.isEmpty()) {
        QFile::remove(file + ".unreadable");
        QFile::rename(file, file + ".unreadable");
        unreadable.clear();
    }
    const Status saved = saveThreads(userDataFolder(), palette);
    if (!saved) return saved;
    owned = std::move(palette);
    emit changed();
    return saved;
}

} // namespace rapt::app
