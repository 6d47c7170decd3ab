#pragma once
// What the tests of the Compose stage share: the shelf, pages, and where things are sewn.

#include "window_support.h"

#include "app/compose/compose_stage.h"
#include "app/shelf/shelf_panel.h"

#include <QListView>

namespace rapt::test {

/// Each test starts as if the application had never run here: no settings, no threads of one's own.
inline void forgetEverything() {
    QSettings().clear();
    QFile::remove(QString::fromStdString(userDataFolder()) + "/threads.json");
}

inline QString designs() { return QString::fromStdString(dataFolder()) + "/designs"; }

/// Waits until the shelf has read everything.
inline void settleShelf(AppWindow& w) {
    QTRY_VERIFY_WITH_TIMEOUT(w.window.shelf().model().isSettled(), 60'000);
}

inline QListView* cards(AppWindow& w) { return w.find<QListView>("shelfCards"); }

inline QStringList cardNames(AppWindow& w) {
    QStringList names;
    for (int i = 0; i < cards(w)->model()->rowCount(); ++i)
        names << cards(w)->model()->index(i, 0).data().toString();
    return names;
}

/// Finds a design on the open shelf by typing, and sends it to the cloth by Enter.
inline void take(AppWindow& w, const QString& name, Qt::KeyboardModifiers modifiers = {}) {
    auto* search = w.find<QLineEdit>("shelfSearch");
    search->clear();
    QTest::keyClicks(search, name);
    QVERIFY2(cards(w)->model()->rowCount() > 0, qPrintable(name));
    cards(w)->setCurrentIndex(cards(w)->model()->index(0, 0));
    // A drawing is asked about first; here it is taken element by element.
    QTimer asked;
    QObject::connect(&asked, &QTimer::timeout, [] {
        const QWidget* dialog = QApplication::activeModalWidget();
        auto* accept = dialog ? dialog->findChild<QPushButton*>("takeDrawing") : nullptr;
        if (!accept || !accept->isEnabled()) return;
        auto* asDrawn = dialog->findChild<QCheckBox*>("asDrawn");
        if (asDrawn->isChecked())
            accept->click();
        else
            asDrawn->click();
    });
    asked.start(20);
    QTest::keyClick(cards(w), Qt::Key_Return, modifiers);
    asked.stop();
    w.settle();
}

inline void openShelf(AppWindow& w) {
    w.key(Qt::Key_2, Qt::ControlModifier);
    w.key(Qt::Key_L, Qt::ControlModifier);
    QVERIFY(w.window.shelf().isVisible());
    settleShelf(w);
}

inline Box boxOf(AppWindow& w, const std::string& id, int copy = 1) {
    for (const PieceSpan& span : w.session().checked()->stitched().spans)
        if (span.source == id && span.copy == copy && !span.outline) return span.extents;
    return {};
}

inline std::size_t sewn(AppWindow& w, const std::string& id) {
    std::size_t n = 0;
    for (const PieceSpan& span : w.session().checked()->stitched().spans)
        n += span.source == id && !span.outline;
    return n;
}

inline void page(AppWindow& w, app::ComposeStage::Tab which) {
    w.press(("tab" + std::to_string(which)).c_str());
}

inline void click(AppWindow& w, Vec2 mm) {
    QTest::mouseClick(&w.cloth(), Qt::LeftButton, {}, w.px(mm));
}

} // namespace rapt::test
