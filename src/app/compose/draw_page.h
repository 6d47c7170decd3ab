#pragma once
// Draw: a customer's picture under the cloth, and the tools that draw over it.

#include "app/compose/thread_choice.h"
#include "app/kit/page.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QSlider>

namespace rapt::app {

class DrawPage : public Page {
    Q_OBJECT
public:
    explicit DrawPage(Session& session);
    void refresh() override;
    /// Asks for a picture and lays it under the cloth.
    void layPicture();

private:
    void changeArtwork(const std::function<void(Artwork&)>& change, const char* mergeKey = "");

    QWidget* pictureFields;
    LengthEdit *width, *x, *y;
    QSlider* opacity;
    QButtonGroup* tools;
    ThreadChoice* thread;
    QCheckBox* smooth;
    QLabel* help;
};

} // namespace rapt::app
