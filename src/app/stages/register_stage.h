#pragma once
// Register: where the cloth really is in the hoop, and the correction that follows.

#include "app/stages/stage_view.h"
#include "registration/fit.h"

#include <QTableWidget>

namespace rapt::app {

class RegisterStage : public StageView {
    Q_OBJECT
public:
    explicit RegisterStage(Session& session, QWidget* parent = nullptr);

    /// Reads a scan of the chosen hooping; its cards become the seen points.
    Status readScanFile(const QString& path);
    /// The same with a picture from the stand-in camera.
    void takePicture();

protected:
    void refresh() override;

private:
    void buildTable();
    Registration current() const;
    Status takeScan(const std::string& bytes, const std::string& file);
    void takeCell(int row, int column);
    void fillTable(const Registration& registration);
    void judge(const Registration& registration);
    void showNumbers(const FitReport& report, const std::vector<PointPair>& pairs);
    void forgetSeen();

    QComboBox* hooping;
    QTableWidget* table;
    QLabel* numbers;
    QLabel* scanNote;
    QLabel* cellProblem;
    quint64 pictures = 0; ///< taken so far; each has a seed of its own
};

} // namespace rapt::app
