#pragma once
// Thread: what the job uses, in metres, and what is owned.

#include "app/compose/thread_choice.h"
#include "app/kit/page.h"

#include <QCheckBox>
#include <QTableWidget>

namespace rapt::app {

class ThreadsPage : public Page {
    Q_OBJECT
public:
    explicit ThreadsPage(Session& session);
    void refresh() override;

private:
    struct Used {
        Thread thread;
        std::size_t stitches = 0;
        double metres = 0;
    };
    std::vector<Used> used() const;
    std::optional<Thread> chosenThread() const;
    void recolourTo(const Thread& to);
    void joinLike();
    void editPalette();
    bool keepPalette(Palette palette);
    void takePalette();
    void givePalette();
    void showNearest();

    QTableWidget* table;
    QLabel* nearest;
    ThreadChoice* to;
    QCheckBox* everywhere;
    QLabel* owned;
    std::vector<Used> shown;
};

} // namespace rapt::app
