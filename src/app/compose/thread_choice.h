#pragma once
// Choosing one of the threads owned.

#include "app/document/owned_threads.h"

#include <QComboBox>

namespace rapt::app {

/// The owned threads with their colours; what is shown may be a thread that is not owned.
class ThreadChoice : public QComboBox {
    Q_OBJECT
public:
    explicit ThreadChoice(OwnedThreads& threads, QWidget* parent = nullptr);
    void show(const Thread& thread);

signals:
    void chosen(const Thread& thread);

private:
    void fill();
    OwnedThreads& owned;
    Thread shown;
};

/// A small square of the thread's colour.
QPixmap threadSwatch(const Thread& thread, int side = 14);

} // namespace rapt::app
