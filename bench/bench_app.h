#pragma once
// One application without a display for all benchmarks that need one.

#include <QApplication>
#include <QTemporaryDir>

namespace rapt::bench {

inline QApplication& application() {
    static int argc = 1;
    static char name[] = "rapt-bench";
    static char* argv[] = {name, nullptr};
    qputenv("QT_QPA_PLATFORM", "offscreen");
    // Nothing of a person's own is read or written.
    static QTemporaryDir home;
    qputenv("XDG_CONFIG_HOME", home.path().toUtf8());
    qputenv("XDG_DATA_HOME", home.path().toUtf8());
    qputenv("XDG_CACHE_HOME", home.path().toUtf8());
    // Never taken down: other static objects of the benchmarks may outlive it.
    static auto* app = new QApplication(argc, argv);
    return *app;
}

} // namespace rapt::bench
