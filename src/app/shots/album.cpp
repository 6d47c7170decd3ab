#include "app/shots/album.h"

#include "app/divide/offers.h"
#include "app/register/register_stage.h"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QMouseEvent>
#include <QPushButton>
#include <QThread>

namespace rapt::app {
namespace {

constexpr qint64 longestMs = 20'000;

bool isOffering(MainWindow& window) {
    const auto* offers = window.findChild<FrameOffers*>();
    return offers && window.session().stage() == Stage::divide && offers->isBusy();
}

} // namespace

void settle(MainWindow& window) {
    QElapsedTimer clock;
    clock.start();
    int quiet = 0;
    while (quiet < 8 && clock.elapsed() < longestMs) {
        QApplication::processEvents(QEventLoop::AllEvents, 20);
        QThread::msleep(5);
        window.cloth().repaint();
        const bool settled = window.cloth().isSettled() &&
                             !window.session().derivation.isSeeking() &&
                             !window.registerStage().isReading() && !window.session().isLooking() &&
                             !window.session().ledger.isBusy() && !isOffering(window);
        quiet = settled ? quiet + 1 : 0;
    }
}

void hover(MainWindow& window, Vec2 mm) {
    const QPointF px = window.cloth().map().toPixels(mm);
    QMouseEvent move(QEvent::MouseMove, px, window.cloth().mapToGlobal(px), Qt::NoButton,
                     Qt::NoButton, Qt::NoModifier);
    QApplication::sendEvent(&window.cloth(), &move);
}

void click(MainWindow& window, const char* name) {
    if (auto* button = window.findChild<QPushButton*>(name)) button->click();
}

} // namespace rapt::app
