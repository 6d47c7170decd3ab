#pragma once
// Stitch: the recipe of shape pieces.

#include "app/kit/page.h"

#include <QCheckBox>

namespace rapt::app {

class StitchPage : public Page {
    Q_OBJECT
public:
    explicit StitchPage(Session& session);
    void refresh() override;

private:
    /// Changes the parts that the page shows: one of them, or all.
    void change(const QString& name, const std::function<void(ShapePart&)>& change);
    std::vector<ShapePart> shownParts() const;

    QLabel* hint;
    QWidget* fields;
    QComboBox* part;
    LengthEdit *spacing, *stitchLength, *pull;
    NumberEdit *angle, *passes;
    QComboBox* underlay;
    QCheckBox* smooth;
    QLabel* words;
    std::vector<std::string> shownFor; ///< the selection that `part` lists
};

} // namespace rapt::app
