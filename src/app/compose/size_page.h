#pragma once
// Size: where what is chosen lies, how large it is, how it is turned. Several pieces are sized as
// one.

#include "app/kit/page.h"
#include "place/sizing.h"

#include <QCheckBox>
#include <deque>

namespace rapt::app {

class SizePage : public Page {
    Q_OBJECT
public:
    explicit SizePage(Session& session);
    void refresh() override;

private:
    void refreshSeveral();
    void refreshOne(const Piece& piece, const StitchList& list, const Box& box);
    void showName(const QString& text);
    void rename();
    void nameGroup(const std::string& text);
    void moveTo(std::optional<double> x, std::optional<double> y);
    void resizeTo(std::optional<double> width, std::optional<double> height);
    void scaleTo(std::optional<double> across, std::optional<double> down);
    void turnTo(double degrees);
    void showFacts(const Piece& piece, const StitchList& list);

    /// What makes the edit of a size that was typed, from the job as it is then.
    using Sizing = std::function<Result<Edit>(const Job&, std::stop_token)>;
    void ask(Sizing sizing);
    void workOut();

    QLabel* hint;
    QWidget* fields;
    QLineEdit* name;
    LengthEdit *x, *y, *width, *height;
    NumberEdit *percent, *percentDown, *turn;
    QWidget* downRow; ///< of `percentDown`; shown when the sides are free
    QCheckBox* locked;
    QComboBox* keep;
    QLabel* facts;
    Vec2 centre;              ///< of the shown copy, cloth frame
    std::deque<Sizing> asked; ///< in the order typed: none is lost while another is worked out
    Address askedIn;          ///< the job that they are for
    std::unique_ptr<Errands> working = session.errands();
};

} // namespace rapt::app
