#pragma once
// A border or frame of the chosen piece: whole motifs over an exact length.

#include "app/kit/page.h"
#include "border/border.h"

#include <QCheckBox>

namespace rapt::app {

class BorderPage : public Page {
    Q_OBJECT
public:
    explicit BorderPage(Session& session);
    void refresh() override;

private:
    std::shared_ptr<const StitchList> motif() const;
    void make();

    QLabel* hint;
    LengthEdit *lengthEdit, *height, *strip;
    QCheckBox *frame, *block;
    QLabel* words;
    QPushButton* makeButton;
    BorderRequest request;
};

} // namespace rapt::app
