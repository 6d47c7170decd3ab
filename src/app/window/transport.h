#pragma once
// Playing the stitch-out: start and stop, steps, speed, and where it stands.

#include "app/document/session.h"

#include <QComboBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QPushButton>
#include <QTimer>

namespace rapt::app {

/// Moves the session's playhead. Everything has a key on the thread line: Space plays, comma and
/// full stop step by stitch, with Shift by thread run, Page up and Page down by thread change; Home
/// and End.
class Transport : public QWidget {
    Q_OBJECT
public:
    explicit Transport(Session& session, QWidget* parent = nullptr);

    bool isPlaying() const { return timer.isActive(); }
    void play();
    void pause();
    void step(PlayStep step, bool forward);
    void toStart();
    /// Everything is shown again.
    void toEnd();
    /// One of the keys above; false for others.
    bool takeKey(int key, Qt::KeyboardModifiers modifiers);

private:
    void tick();
    double factor() const;
    void refresh();
    const TimeLine* time() const;
    QPushButton* button(const QString& text, const char* name, const QString& help,
                        std::function<void()> act);

    Session& session;
    QPushButton* playButton;
    QComboBox* speed;
    QLabel* place;
    QTimer timer;
    QElapsedTimer clock;
    double seconds = 0; ///< of the stitch-out, while playing
};

} // namespace rapt::app
