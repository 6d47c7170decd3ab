#pragma once
// Compose: the pieces in sewing order, and the numbers of the one that is selected.

#include "app/stages/stage_view.h"

#include <QCheckBox>
#include <QListWidget>

namespace rapt::app {

class ComposeStage : public StageView {
    Q_OBJECT
public:
    explicit ComposeStage(Session& session, QWidget* parent = nullptr);

    /// Asks for a stitch list and adds it as a piece.
    void bringIn();
    /// Adds the stitch list of a file in the middle of the cloth.
    Status bringIn(const QString& path);

    /// Shows actions of the window as a row of buttons above the list.
    void addTools(const QList<QAction*>& actions);

protected:
    void refresh() override;

private:
    void buildFields();
    void refreshList();
    void refreshNumbers();
    void takeListSelection();
    /// The one selected piece, its box before the scale, and its centre on the cloth.
    struct Chosen {
        const Piece* piece;
        Box unscaled;
        Vec2 centre;
    };
    std::optional<Chosen> chosen() const;
    void moveTo(std::optional<double> x, std::optional<double> y);
    void resizeTo(std::optional<double> width, std::optional<double> height);
    void turnTo();

    QHBoxLayout* tools;
    QListWidget* list;
    QWidget* numbers;
    QLineEdit* name;
    LengthEdit* x;
    LengthEdit* y;
    LengthEdit* width;
    LengthEdit* height;
    QCheckBox* locked;
    QLineEdit* turn;
    QComboBox* keep;
    QLabel* facts;
};

} // namespace rapt::app
