#pragma once
// Register: where the cloth really is in the hoop, and the correction that follows.

#include "app/stages/stage_view.h"
#include "registration/fit.h"
#include "registration/from_scan.h"

#include <QTableWidget>

namespace rapt::app {

class RegisterStage : public StageView {
    Q_OBJECT
public:
    explicit RegisterStage(Session& session, QWidget* parent = nullptr);

    /// Reads a scan of the chosen hooping, in the background; its cards become the seen points.
    void readScanFile(const QString& path);
    /// The same with a picture from the stand-in camera.
    void takePicture();
    bool isReading() const { return reading; }

protected:
    void refresh() override;

private:
    void buildTable();
    Registration current() const;
    struct TakenScan {
        ScannedMarks marks;
        std::string bytes;
    };
    using ScanOrProblem = Result<TakenScan>;
    std::optional<Hoop> hoopOfChosen() const;
    void read(const QString& title, std::function<ScanOrProblem()> make);
    void takeScan();
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
    QFutureWatcher<std::shared_ptr<const ScanOrProblem>> watcher;
    bool reading = false; ///< until what was read is taken, which is after the watcher is done
    QString titleOfProblem;
    quint64 pictures = 0; ///< taken so far; each has a seed of its own
};

} // namespace rapt::app
