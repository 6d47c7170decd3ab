#pragma once
// Register: where the cloth really is in the hoop, how far to trust it, and the correction.

#include "app/register/guide_strip.h"
#include "app/register/scan_reader.h"
#include "app/stages/stage_view.h"

#include <QButtonGroup>

namespace rapt::app {

class ComposePage;
class ScanPage;

class RegisterStage : public StageView {
    Q_OBJECT
public:
    enum Page { scan, points, fit, trace, practice };
    explicit RegisterStage(Session& session, QWidget* parent = nullptr);
    void showPage(Page page);

    /// Reads a scan of the chosen hooping, in the background; what it shows is proposed.
    void readScanFile(const QString& path) { reader->readFile(path); }
    bool isReading() const { return reader->isReading(); }
    ScanPage& scanPage() { return *scans; }

protected:
    void refresh() override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void addPage(const QString& title, ComposePage* page);
    void fillHoopings();
    void followPointer();
    void judge();
    void judgeFit(const Registration& r, const Assessment& a);

    std::optional<Vec2> followed; ///< by the machine's pointer
    ScanReader* reader;
    QComboBox* hooping;
    GuideStrip* guide;
    QButtonGroup* tabs;
    QHBoxLayout* tabRow;
    ScanPage* scans;
    std::vector<ComposePage*> pages; ///< one a tab; only the chosen one is shown
};

} // namespace rapt::app
