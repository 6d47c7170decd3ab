// Random hands at the real window: keys, clicks, drags, typed junk, undo, stages, copies, other
// jobs. Seeded; RAPT_MONKEY gives the steps of each seed.

#include "compose_support.h"

#include "formats/job_file.h"

#include <QLineEdit>
#include <malloc.h>
#include <random>

using namespace rapt;
using namespace rapt::app;
using namespace rapt::test;

namespace {

/// Closes whatever asks, as a person does who thought better of it.
class Closer : public QObject {
public:
    Closer() {
        timer.setInterval(15);
        connect(&timer, &QTimer::timeout, this, [] {
            if (auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget()))
                dialog->reject();
            if (auto* popup = QApplication::activePopupWidget()) popup->close();
        });
        timer.start();
    }

private:
    QTimer timer;
};

class Monkey {
public:
    Monkey(DemoWindow& w, quint32 seed) : window(w), dice(seed) {}

    void step() {
        switch (below(10)) {
        case 0:
        case 1:
            return pressKey();
        case 2:
            return click();
        case 3:
            return drag();
        case 4:
        case 5:
            return pressButton();
        case 6:
            return type();
        case 7:
            return window.key(static_cast<Qt::Key>(Qt::Key_1 + below(7)), Qt::ControlModifier);
        case 8:
            return window.key(Qt::Key_Z, below(3) == 0 ? Qt::ControlModifier | Qt::ShiftModifier
                                                       : Qt::ControlModifier);
        default:
            choosePieces();
        }
    }
    QString last; ///< what was done

private:
    int below(int n) { return static_cast<int>(dice() % static_cast<unsigned>(n)); }
    template<class Widget>
    Widget* any() {
        QList<Widget*> all;
        for (Widget* w : window.window.findChildren<Widget*>())
            if (w->isVisible() && w->isEnabled()) all << w;
        return all.isEmpty() ? nullptr : all[below(static_cast<int>(all.size()))];
    }
    QPoint place() {
        return {below(std::max(1, window.cloth().width())),
                below(std::max(1, window.cloth().height()))};
    }

    void pressKey() {
        static constexpr Qt::Key keys[] = {
            Qt::Key_Delete, Qt::Key_Left, Qt::Key_Up,     Qt::Key_Escape, Qt::Key_Return,
            Qt::Key_Space,  Qt::Key_Tab,  Qt::Key_PageUp, Qt::Key_Comma,  Qt::Key_Period,
            Qt::Key_A,      Qt::Key_D,    Qt::Key_G,      Qt::Key_R,      Qt::Key_M,
            Qt::Key_H,      Qt::Key_K,    Qt::Key_C,      Qt::Key_V,      Qt::Key_X,
            Qt::Key_U,      Qt::Key_T,    Qt::Key_F6,     Qt::Key_F7};
        static constexpr Qt::KeyboardModifiers with[] = {Qt::NoModifier, Qt::ControlModifier,
                                                         Qt::ShiftModifier,
                                                         Qt::ControlModifier | Qt::ShiftModifier};
        const Qt::Key key = keys[below(std::size(keys))];
        const auto modifiers = with[below(std::size(with))];
        last = QKeySequence(key | modifiers).toString();
        QWidget* at = below(2) ? QApplication::focusWidget() : nullptr;
        QTest::keyClick(at ? at : static_cast<QWidget*>(&window.cloth()), key, modifiers);
    }
    void click() {
        last = "click";
        const QPoint at = place();
        if (below(4) == 0)
            QTest::mouseDClick(&window.cloth(), Qt::LeftButton, {}, at);
        else
            QTest::mouseClick(&window.cloth(), Qt::LeftButton,
                              below(3) ? Qt::NoModifier : Qt::ShiftModifier, at);
    }
    void drag() {
        last = "drag";
        window.drag(place(), place(), below(3) ? Qt::NoModifier : Qt::ShiftModifier);
    }
    void pressButton() {
        auto* button = any<QAbstractButton>();
        // No process of its own, and no sound.
        if (!button || button->objectName() == "startStandIn") return;
        last = "press " + button->objectName() + " " + button->text();
        button->click();
    }
    void type() {
        static const char* junk[] = {"",      "0",   "-3",      "12,5", "1e9",  "3 1/8 in", "nan",
                                     "seven", "100", "9999999", "50 %", "7 cm", "'\"<&>",   "2.5"};
        auto* edit = any<QLineEdit>();
        if (!edit) return;
        const char* text = junk[below(std::size(junk))];
        last = "type " + edit->objectName() + " " + text;
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, QString::fromUtf8(text));
        if (below(3)) QTest::keyClick(edit, Qt::Key_Return);
    }
    void choosePieces() {
        last = "choose";
        std::vector<std::string> ids;
        for (const Piece& p : window.job().pieces)
            if (below(3) == 0) ids.push_back(p.id);
        window.session().selection.choose(ids);
    }

    DemoWindow& window;
    std::mt19937 dice;
};

} // namespace

class TestMonkey : public QObject {
    Q_OBJECT
    std::size_t closed = 0; ///< bytes on the heap after a window was closed

private slots:
    void initTestCase() { startApplication(); }
    void init() { forgetEverything(); }
    void cleanup() {
        // What a window and its undoing took is given back when it closes; the first one fills
        // what all share.
        const std::size_t now = mallinfo2().uordblks + mallinfo2().hblkhd;
        if (closed > 0) QVERIFY2(now < closed + 20'000'000, qPrintable(QString::number(now)));
        closed = std::max(closed, now);
    }

    void nothingIsLostWhateverIsDone_data() {
        QTest::addColumn<quint32>("seed");
        for (quint32 seed = 1; seed <= 3; ++seed) QTest::addRow("%u", seed) << seed;
    }
    void nothingIsLostWhateverIsDone() {
        QFETCH(quint32, seed);
        DemoWindow w;
        const Closer closer;
        Monkey monkey(w, seed);
        const int given = qEnvironmentVariableIntValue("RAPT_MONKEY");
        const int steps = given > 0 ? given : 250;
        for (int i = 0; i < steps; ++i) {
            monkey.step();
            QApplication::processEvents();
            if (i % 25 != 0) continue;
            // What stands there can be saved, and is the same then.
            const auto packed = packJob(w.job());
            QVERIFY2(packed, packed ? "" : packed.error().line().c_str());
            const auto read = unpackJob(*packed, "job");
            QVERIFY2(read && *packJob(*read) == *packed, qPrintable(monkey.last));
        }
        // Everything can be taken back and done again.
        Document& document = w.session().document;
        while (document.canRedo()) document.redo();
        const Job latest = w.job();
        while (document.canUndo()) document.undo();
        while (document.canRedo()) document.redo();
        QVERIFY(w.job() == latest);
        w.settle();
    }
};

RAPT_TEST(TestMonkey)
#include "test_monkey.moc"
