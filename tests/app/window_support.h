#pragma once
// Driving the real window as a person does: mouse, keys, typed values, dialogs.

#include "app/kit/plurals.h"
#include "app/stitchout/sewing_state.h"
#include "support.h"

#include "app/register/register_stage.h"
#include "app/theme/theme.h"
#include "app/window/main_window.h"
#include "formats/demo_jobs.h"
#include "formats/job_file.h"

#include <QAbstractButton>
#include <QApplication>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QLineEdit>
#include <QMessageBox>
#include <QPushButton>
#include <QSettings>
#include <QTableWidget>
#include <QTimer>

// Answers come from the background, and machines that run tests are busy: what is waited for may
// take a while. Only what never comes costs the time.
#undef QTRY_VERIFY
#undef QTRY_VERIFY2
#undef QTRY_COMPARE
#define QTRY_VERIFY(...) QTRY_VERIFY_WITH_TIMEOUT((__VA_ARGS__), 30000)
#define QTRY_VERIFY2(expression, words) QTRY_VERIFY2_WITH_TIMEOUT(expression, words, 30000)
#define QTRY_COMPARE(actual, ...) QTRY_COMPARE_WITH_TIMEOUT(actual, (__VA_ARGS__), 30000)

namespace rapt::test {

/// Starts each test program with the application's look and no remembered state.
inline void startApplication() {
    static rapt::app::EnglishPlurals plurals;
    QCoreApplication::installTranslator(&plurals);
    QApplication::setOrganizationName("RaptThimble");
    QApplication::setApplicationName("rapt-thimble");
    QSettings().clear();
    app::loadFaces();
    app::applyTheme(app::Theme::light());
}

/// A shown window with an empty job, and a person's hands.
struct AppWindow {
    QTemporaryDir dir;
    app::MainWindow window{library()};

    AppWindow() {
        window.resize(1280, 800);
        window.show();
        settle();
    }

    app::Session& session() { return window.session(); }
    const Job& job() { return window.session().job(); }
    app::ClothView& cloth() { return window.cloth(); }

    void settle() {
        // The view orders its tiles when it paints.
        window.repaint();
        QTRY_VERIFY_WITH_TIMEOUT((window.cloth().repaint(), window.cloth().isSettled()) &&
                                     !session().derivation.isSeeking() && !session().isLooking() &&
                                     !session().sewing.isBusy() && !session().ledger.isBusy() &&
                                     !window.registerStage().isReading(),
                                 60'000);
    }
    QPoint px(Vec2 mm) { return cloth().map().toPixels(mm).toPoint(); }

    void drag(QPoint from, QPoint to, Qt::KeyboardModifiers modifiers = {}) {
        QTest::mousePress(&cloth(), Qt::LeftButton, modifiers, from);
        for (int k = 1; k <= 5; ++k) {
            const QPointF at = from + (to - from) * (k / 5.0);
            QMouseEvent move(QEvent::MouseMove, at, cloth().mapToGlobal(at), Qt::NoButton,
                             Qt::LeftButton, modifiers);
            QApplication::sendEvent(&cloth(), &move);
        }
        QTest::mouseRelease(&cloth(), Qt::LeftButton, modifiers, to);
    }

    void key(Qt::Key k, Qt::KeyboardModifiers modifiers = {}) {
        // Shortcuts belong to the active window, which a dialog may just have been.
        window.activateWindow();
        if (!QTest::qWaitForWindowActive(&window)) qFatal("the window is not active");
        QTest::keyClick(&window, k, modifiers);
    }

    template<class Widget>
    Widget* find(const char* name) {
        auto* widget = window.findChild<Widget*>(name);
        if (!widget) qFatal("there is no %s", name);
        return widget;
    }

    /// Types into a field and presses Enter.
    void type(const char* name, const QString& text) {
        auto* edit = find<QLineEdit>(name);
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
    }

    void press(const char* name) {
        auto* button = find<QAbstractButton>(name);
        if (!button->isEnabled()) qFatal("%s cannot be pressed", name);
        QTest::mouseClick(button, Qt::LeftButton, {},
                          QPoint(std::min(10, button->width() / 2), button->height() / 2));
    }

    /// Chooses an entry of a list that drops down, as a person does with the mouse.
    void choose(const char* name, const QString& entry) {
        auto* combo = find<QComboBox>(name);
        const int i = combo->findText(entry, Qt::MatchStartsWith);
        if (i < 0) qFatal("%s has no %s", name, qPrintable(entry));
        combo->setCurrentIndex(i);
        emit combo->activated(i);
    }

    /// Plans the hoopings with the frame of this size, through the Divide stage.
    void planWith(QString size) {
        size.remove(' ');
        key(Qt::Key_4, Qt::ControlModifier);
        QTableWidget* table = nullptr;
        for (auto* t : window.findChildren<QTableWidget*>())
            if (t->accessibleName() == "Frames compared") table = t;
        QVERIFY(table);
        QTRY_VERIFY(table->rowCount() > 5);
        const auto rowOf = [&] {
            for (int i = 0; i < table->rowCount(); ++i)
                if (table->item(i, 0)->text().remove("✓ ").startsWith(size)) return i;
            return -1;
        };
        QTRY_VERIFY_WITH_TIMEOUT(rowOf() >= 0 && !table->item(rowOf(), 1)->text().endsWith("…"),
                                 60'000);
        table->selectRow(rowOf());
        QTest::mouseClick(find<QPushButton>("plan"), Qt::LeftButton);
        settle();
    }

    QString judgement() {
        for (QLabel* label : window.findChildren<QLabel*>("judgement"))
            if (label->isVisible()) return label->text();
        return {};
    }
};

/// The demo jobs, written once a program; tests work on copies.
inline QString demoJobs() {
    static const QTemporaryDir dir;
    static const auto written = writeDemoJobs(dataFolder() + "/demo", dir.path().toStdString());
    if (!written) qFatal("%s", written.error().line().c_str());
    return dir.path();
}

/// The same with a demo job open, mostly the banner, all of it worked out.
struct DemoWindow : AppWindow {
    explicit DemoWindow(const char* job = "reading-room-banner") {
        QDir(dir.path()).mkdir("demo");
        for (const QString& name : QDir(demoJobs()).entryList({"*.rapt"}))
            QFile::copy(demoJobs() + "/" + name, dir.filePath("demo/" + name));
        if (!window.openFile(dir.filePath(QString("demo/%1.rapt").arg(job))))
            qFatal("%s does not open", job);
        settle();
    }
    QString banner() const { return dir.filePath("demo/reading-room-banner.rapt"); }
};

/// Waits for a dialog to open and then answers it; runs while the dialog's own loop does.
inline void whenDialogOpens(std::function<void(QDialog*)> answer) {
    auto* timer = new QTimer;
    timer->setInterval(20);
    QObject::connect(timer, &QTimer::timeout, timer, [timer, answer] {
        auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget());
        if (!dialog) return;
        timer->stop();
        timer->deleteLater();
        answer(dialog);
    });
    timer->start();
}

/// Presses a button of the next message; keeps its words.
inline void answerMessage(QMessageBox::StandardButton button, QString* words = nullptr) {
    whenDialogOpens([button, words](QDialog* dialog) {
        auto* box = qobject_cast<QMessageBox*>(dialog);
        if (!box) qFatal("this is not a message");
        if (words) *words = box->text();
        QTest::mouseClick(box->button(button), Qt::LeftButton);
    });
}

/// Types a file name into the next file dialog and accepts it; if `complaint` is given, the message
/// that follows is read into it and closed.
inline void answerFileDialog(const QString& path, QString* complaint = nullptr) {
    whenDialogOpens([path, complaint](QDialog* dialog) {
        auto* name = dialog->findChild<QLineEdit*>("fileNameEdit");
        if (!name) qFatal("this is not a file dialog");
        name->setText(path);
        dialog->done(QDialog::Accepted);
        if (complaint) answerMessage(QMessageBox::Ok, complaint);
    });
}

} // namespace rapt::test
